"""Where and when somebody was last here, for the list of their sessions."""

from __future__ import annotations

import time
from collections.abc import Callable

from allauth.usersessions.middleware import UserSessionsMiddleware
from django.http import HttpRequest
from django.http.response import HttpResponseBase

_OFTEN_ENOUGH = 60.0  # s: the list says it to the minute
_MOST_KNOWN = 10_000  # sessions


class Activity:
    """Notes that a session was used, in each process once a minute: noted with every request,
    as allauth does, it would be a write for every look at a page."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self.get_response = get_response
        self._noting = UserSessionsMiddleware(get_response)
        self._noted: dict[str, float] = {}

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        key = request.session.session_key
        if key is None or not self._is_due(key):
            return self.get_response(request)
        answer: HttpResponseBase = self._noting(request)
        return answer

    def _is_due(self, key: str) -> bool:
        now = time.monotonic()
        if now - self._noted.get(key, -_OFTEN_ENOUGH) < _OFTEN_ENOUGH:
            return False
        if len(self._noted) >= _MOST_KNOWN:
            self._noted.clear()
        self._noted[key] = now
        return True
