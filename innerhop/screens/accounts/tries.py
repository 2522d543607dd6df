"""Tries to sign in, counted: of a name from an address, and of all names from it."""

from __future__ import annotations

from typing import Any

from axes.attempts import get_cool_off_threshold
from axes.handlers.database import AxesDatabaseHandler
from axes.models import AccessAttempt
from django.db.models import Sum
from django.http import HttpRequest

MOST = 50  # wrong passwords from one address while one is remembered, whatever the names


class Tries(AxesDatabaseHandler):  # type: ignore[misc]
    """Shuts an address out of a name that it guesses at, and out of all where it goes through
    many: a few passwords tried on each name are never five on one (OWASP ASVS 5, 6.3.1)."""

    def is_locked(self, request: HttpRequest, credentials: dict[str, Any] | None = None) -> bool:
        """Whether nobody may try that now."""
        return super().is_locked(request, credentials) or self._goes_through_names(request)

    def _goes_through_names(self, request: HttpRequest) -> bool:
        address = request.axes_ip_address  # type: ignore[attr-defined]
        since = get_cool_off_threshold(request)
        tries = AccessAttempt.objects.filter(ip_address=address, attempt_time__gte=since)
        return (tries.aggregate(all=Sum("failures_since_start"))["all"] or 0) >= MOST
