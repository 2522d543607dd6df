"""Why something didn't come, in plain words."""

from __future__ import annotations

from http import HTTPStatus
from typing import Any

from scrapy import exceptions

from innerhop.fetch.asked import LARGEST_FILE, LARGEST_PAGE, MEGABYTE
from innerhop.fetch.manners import NotTaken, unread
from innerhop.fetch.resolver import refused

_LOCKED = (401, 403, 407)


def of_status(status: int) -> str:
    """Why an answer with that status is no page."""
    if status in _LOCKED:
        return f"it asks for a password or lets nobody in ({status})"
    if status in (404, 410):
        return f"the site says that there is nothing there ({status})"
    if status == 429:
        return "the site asks to be left alone for longer than a fetch waits (429)"
    if status >= 500:
        return f"the site's server failed at it, several times ({status})"
    try:
        name = HTTPStatus(status).phrase
    except ValueError:
        name = "an answer that is no page"
    return f"the site answers {name} ({status})"


def of_problem(problem: BaseException, host: str, is_page: bool) -> str:
    """Why asking for something failed. host: whose it is, without its port."""
    if isinstance(problem, NotTaken):
        return str(problem)
    if host in refused:
        return f"{host} stands for {refused[host]}, which is inside a network"
    if isinstance(problem, exceptions.IgnoreRequest):
        return _ignored(str(problem), host, is_page)
    for kind, said in _SAID:
        if isinstance(problem, kind):
            return said.format(host=host, limit=_limit(is_page))
    text = repr(problem)
    if "certificate" in text or "SSL" in text:
        return f"the certificate of {host} can't be trusted"
    return f"{host} broke the connection off"


# There was nobody, or nobody any more.
NO_ANSWER = (
    exceptions.CannotResolveHostError,
    exceptions.DownloadConnectionRefusedError,
    exceptions.DownloadTimeoutError,
    exceptions.DownloadFailedError,
)
_SAID: tuple[tuple[Any, str], ...] = (
    (exceptions.CannotResolveHostError, "no such name as {host} can be found"),
    (exceptions.DownloadConnectionRefusedError, "{host} takes no connection"),
    (exceptions.DownloadTimeoutError, "{host} gave no whole answer in good time"),
    (exceptions.DownloadCancelledError, "it is over {limit}"),
)


def _ignored(text: str, host: str, is_page: bool) -> str:
    if "robots.txt" in text and host in unread:
        return "the site's server fails at its robots.txt, which says what may be fetched"
    if "robots.txt" in text:
        return "the site's robots.txt asks programs not to fetch it"
    if "redirections" in text:
        return "it leads on and on, and never to a page"
    return f"it is over {_limit(is_page)}" if "decompress" in text.lower() else text


def _limit(is_page: bool) -> str:
    if is_page:
        return f"{LARGEST_PAGE // MEGABYTE} MB, the limit for a page"
    return f"{LARGEST_FILE // MEGABYTE} MB, the limit for a file"
