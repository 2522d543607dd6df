"""What is logged, and how: one line or one JSON object each, with the number of the request that
it came of, and without what an address holds that is nobody else's to know."""

from __future__ import annotations

import logging
import re
import secrets
import time
from collections.abc import Callable, MutableMapping
from typing import Any

import structlog
from django.conf import settings
from django.http import HttpRequest
from django.http.response import HttpResponseBase

Event = MutableMapping[str, Any]

NUMBER = "X-Request-ID"
_NUMBER = re.compile(r"[A-Za-z0-9-]{8,64}")
_asked = logging.getLogger("innerhop.asked")


class Numbered:
    """Gives each request a number, which stands in all that is logged until the thread takes
    up the next, and in the answer; and logs what was asked and how long it took."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        number = _number_of(request)
        structlog.contextvars.clear_contextvars()
        structlog.contextvars.bind_contextvars(request=number)
        request.number = number  # type: ignore[attr-defined]
        begin = time.perf_counter()
        answer = self.get_response(request)
        answer[NUMBER] = number
        took = round(1000 * (time.perf_counter() - begin))
        _asked.info("%s %s %d in %d ms", request.method, route(request), answer.status_code, took)
        return answer


def _number_of(request: HttpRequest) -> str:
    """The one that a proxy of our own gave it, or one made here."""
    given = request.headers.get(NUMBER, "")
    is_ours = bool(settings.ALLAUTH_TRUSTED_PROXY_COUNT) and _NUMBER.fullmatch(given)
    return given if is_ours else secrets.token_hex(8)


def route(request: HttpRequest) -> str:
    """What was asked for, by the pattern of its address: what stands in the address itself may
    open a feed, a sheet or an account."""
    match = request.resolver_match
    if match is None:
        return "an address that is nothing here"
    site = match.kwargs.get("slug", "")
    return f"/{match.route}" + (f" ({site})" if site else "")


def without_addresses(_logger: object, _name: str, event: Event) -> Event:
    """Takes the addresses that Django logs for the patterns that they are of."""
    record = event.get("_record")
    request = getattr(record, "request", None)
    if isinstance(request, HttpRequest):
        event["event"] = str(event["event"]).replace(request.path, route(request))
    return event


_ALL = [
    structlog.contextvars.merge_contextvars,
    structlog.stdlib.add_log_level,
    structlog.stdlib.add_logger_name,
    structlog.processors.TimeStamper(fmt="iso", utc=True),
    without_addresses,
]


def configuration(kind: str, *, asked: bool) -> dict[str, Any]:
    """Django's LOGGING. kind: lines or json. asked: whether each request is
    logged, and what happens to accounts."""
    if kind == "json":
        ends = [structlog.processors.format_exc_info, structlog.processors.JSONRenderer()]
    else:
        ends = [structlog.dev.ConsoleRenderer(colors=False, pad_event_to=0, pad_level=False)]
    level = "INFO" if asked else "WARNING"
    formatter = {
        "()": structlog.stdlib.ProcessorFormatter,
        "foreign_pre_chain": _ALL,
        "processors": [structlog.stdlib.ProcessorFormatter.remove_processors_meta, *ends],
    }
    return {
        "version": 1,
        "disable_existing_loggers": False,
        "filters": {"once": {"()": "innerhop.project.once.OnceInAWhile"}},
        "formatters": {"told": formatter},
        "handlers": {
            "console": {
                "class": "logging.StreamHandler",
                "filters": ["once"],
                "formatter": "told",
            },
            "each": {"class": "logging.StreamHandler", "formatter": "told"},
        },
        "loggers": {
            name: {"handlers": ["each"], "level": level, "propagate": False}
            for name in ("innerhop.asked", "innerhop.accounts")
        },
        "root": {"handlers": ["console"], "level": "WARNING"},
    }
