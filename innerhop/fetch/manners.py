"""Between Scrapy and the network: only what is safe is asked for, and a server that asks to be left
alone is left alone."""

from __future__ import annotations

import email.utils
import time
from typing import Any
from urllib.parse import urlsplit

from scrapy.exceptions import DownloadTimeoutError, IgnoreRequest
from scrapy.utils.defer import maybe_deferred_to_future
from twisted.internet.task import deferLater

from innerhop.core.addresses import public
from innerhop.core.addresses.public import NotPublic
from innerhop.fetch.asked import LONGEST_WAIT
from innerhop.fetch.records import Waits
from innerhop.fetch.resolver import refused

_ASKS_TO_WAIT = (429, 503)  # RFC 6585, 4; RFC 9110, 15.6.4
_USUAL_WAIT = 10  # seconds, where it isn't said


class NotTaken(IgnoreRequest):
    """An address that isn't asked for; says why."""


class OnlySafe:
    """Each address is judged before it is asked for, those that others led to too."""

    def __init__(self, crawler: Any) -> None:
        self.crawler = crawler

    @classmethod
    def from_crawler(cls, crawler: Any) -> OnlySafe:
        """Scrapy's way of making it."""
        return cls(crawler)

    def process_request(self, request: Any) -> None:
        """Raises NotTaken."""
        asked = self.crawler.spider.asked
        try:
            public.require(request.url, frozenset(asked.let_through))
        except NotPublic as problem:
            raise NotTaken(problem.message) from None
        if why := self.crawler.spider.why_not(request):
            raise NotTaken(why)


# Hosts whose robots.txt can't be read.
unread: set[str] = set()


class RobotsOrNothing:
    """Where a site's server fails at its robots.txt, nothing of the site is asked for.

    https://www.rfc-editor.org/rfc/rfc9309#section-2.3.1.4
    """

    def process_response(self, request: Any, response: Any) -> Any:
        """The answer, or one that forbids all."""
        parts = urlsplit(request.url)
        if parts.path != "/robots.txt" or response.status < 500:
            return response
        unread.add(parts.hostname or "")
        return response.replace(status=200, body=b"User-agent: *\nDisallow: /\n")


class Patient:
    """Leaves a server alone that asks for it (RFC 9110, 10.2.3): nothing is asked of it until
    then. What failed is tried again by Scrapy, unless it would be refused again."""

    def __init__(self, crawler: Any) -> None:
        self.crawler = crawler

    @classmethod
    def from_crawler(cls, crawler: Any) -> Patient:
        """Scrapy's way of making it."""
        return cls(crawler)

    def process_exception(self, request: Any, exception: Exception) -> None:
        """Let it go on."""
        has_waited = isinstance(exception, DownloadTimeoutError) and "retry_times" in request.meta
        if has_waited or urlsplit(request.url).hostname in refused:
            request.meta["dont_retry"] = True

    async def process_response(self, request: Any, response: Any) -> Any:
        """The answer, once another one may be asked for."""
        if response.status not in _ASKS_TO_WAIT or "cached" in response.flags:
            return response
        seconds = seconds_to_wait(response.headers.get("Retry-After"), time.time())
        if seconds > LONGEST_WAIT:
            request.meta["dont_retry"] = True
            return response
        from twisted.internet import reactor  # noqa: PLC0415  (installs itself when imported)

        later: Any = reactor
        self.crawler.spider.teller.tell(Waits(seconds))
        engine = self.crawler.engine
        if not engine.paused:
            engine.pause()
            later.callLater(seconds, engine.unpause)
        await maybe_deferred_to_future(deferLater(later, seconds))
        return response


def seconds_to_wait(said: bytes | None, now: float) -> int:
    """What a `Retry-After` asks for: seconds, or a moment. now: seconds since 1970.

    >>> seconds_to_wait(b"120", 0), seconds_to_wait(b"Thu, 01 Jan 1970 00:01:00 GMT", 0)
    (120, 60)
    """
    text = (said or b"").decode("latin-1").strip()
    if text.isascii() and text.isdigit():
        return int(text[:9])
    try:
        moment = email.utils.parsedate_to_datetime(text)
    except ValueError:
        return _USUAL_WAIT
    return max(0, round(moment.timestamp() - now))
