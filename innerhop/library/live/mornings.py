"""Sites that are looked at every morning."""

from __future__ import annotations

from datetime import datetime, timedelta

from django.db import transaction
from django.utils import timezone

from innerhop.library.jobs import jobs
from innerhop.library.live import looking
from innerhop.library.models import Job, Site

HOUR = 5  # by the server's clock: before anybody is at work


def begin(now: datetime | None = None) -> list[Job]:
    """Have every site looked at that is to be, and wasn't this morning yet. now: None for the
    clock's. Returns what was begun."""
    now = timezone.localtime(now)
    morning = next_one(now) - timedelta(days=1)
    begun = []
    for site in Site.objects.filter(daily=True, daily_from__lt=morning):
        with transaction.atomic():
            own = Site.objects.filter(pk=site.pk, daily=True, daily_from__lt=morning)
            if own.update(daily_from=now):  # else another worker was first
                begun.append(jobs.begin_unasked(site, looking.KIND, {}))
    return begun


def set_daily(site: Site, on: bool) -> None:
    """Whether a site is to be looked at every morning: from the next one on."""
    site.daily, site.daily_from = on, timezone.now()
    site.save(update_fields=["daily", "daily_from"])


def next_one(now: datetime | None = None) -> datetime:
    """When the next morning's looks begin."""
    now = timezone.localtime(now)
    morning = now.replace(hour=HOUR, minute=0, second=0, microsecond=0)
    return morning if now < morning else morning + timedelta(days=1)
