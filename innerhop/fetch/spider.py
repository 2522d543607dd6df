"""Which addresses are asked for, and what is told of what came."""

from __future__ import annotations

import contextlib
import hashlib
from collections.abc import AsyncIterator, Iterable, Iterator
from typing import Any
from urllib.parse import urlsplit

from scrapy import Request, Spider
from scrapy.exceptions import CloseSpider
from scrapy.http import Response
from scrapy.utils.sitemap import sitemap_urls_from_robots

from innerhop.core.addresses import urls
from innerhop.core.facts.page_facts import gather
from innerhop.core.site import page_parts
from innerhop.core.site.scope import Scope, folder_of, same_host
from innerhop.core.site.sketch import sketch
from innerhop.core.site.unfound import Unfound
from innerhop.core.source import file_encoding
from innerhop.fetch import answers, faults, sitemaps
from innerhop.fetch.asked import (
    DEEPEST,
    LARGEST_FILE,
    LARGEST_LIST,
    LARGEST_PAGE,
    LARGEST_TOTAL,
    MEGABYTE,
    MOST_FILES,
    SECONDS_IN_ALL,
    Asked,
)
from innerhop.fetch.records import Begun, FetchedFile, FetchedPage, Note, Out, Same, Teller
from innerhop.fetch.resolver import refused

_PAGE, _FILE, _LIST, _PROBE = "page", "file", "list", "probe"
_LARGEST = {_FILE: LARGEST_FILE, _LIST: LARGEST_LIST}
_PRIORITY = {_PROBE: 30, _LIST: 20, _PAGE: 10, _FILE: 0}


class SiteSpider(Spider):
    """Fetches one site. asked: what of it. teller: where it tells what came."""

    name = "site"

    def __init__(self, asked: Asked, teller: Teller) -> None:
        super().__init__()
        self.asked = asked
        self.teller = teller
        self.scope = Scope(_origin(asked.address), asked.below)
        self.unfound = Unfound()
        self.known: set[str] = set()  # addresses that were asked for
        self.taken: set[str] = set()  # of pages
        self.pages = 1  # that were asked for
        self.files = self.total = self.beyond = self.elsewhere = self.deep = 0
        self.is_cut = False
        self.unanswered = 0  # requests in a row that got no answer at all

    async def start(self) -> AsyncIterator[Any]:
        """First the page that was asked for: it may lead on to the site's own address."""
        self.known.add(self.asked.address)
        yield self._request(self.asked.address, _PAGE, self.first, self.first_failed)

    def _request(self, url: str, kind: str, callback: Any, errback: Any = None) -> Request:
        limit = _LARGEST.get(kind, LARGEST_PAGE)
        return Request(
            url,
            callback,
            errback=errback or self.failed,
            priority=_PRIORITY[kind],
            dont_filter=True,  # each is asked for once, see `known`; again where a try failed
            meta={"kind": kind, "download_maxsize": limit, "handle_httpstatus_list": _FAILING},
        )

    def why_not(self, request: Request) -> str:
        """Why an address is not asked for that others led to; "" where it is."""
        if not request.meta.get("redirect_urls") or request.meta["kind"] == _FILE:
            return ""
        if request.meta["redirect_urls"][0] == self.asked.address:
            return ""
        origin = _origin(request.url)
        if not same_host(origin, self.scope.origin):
            return f"it leads to another site, {origin.partition('//')[2]}"
        return ""

    # The first page

    def first(self, response: Response) -> Iterator[Request]:
        """What came for the address that was asked for."""
        found = urls.resolve(response.url, response.url)
        assert found is not None  # it was fetched
        self.scope.origin = found.origin
        if not self.scope.is_below(found.path):  # the part that was asked for is called otherwise
            self.scope.below = folder_of(found.path)
        self.teller.tell(Begun(found.origin, self.scope.below))
        self.known.add(f"{found.origin}{found.path}")
        name = hashlib.sha256(found.origin.encode()).hexdigest()[:12]
        probe = self._request(f"{found.origin}/{name}-no-such-page", _PROBE, self.probed)
        yield probe.replace(
            cb_kwargs={"first": response}, errback=lambda _: self._all_else(response)
        )

    def quiet(self, failure: Any) -> None:
        """Something that needn't be there isn't."""

    def first_failed(self, failure: Any) -> Iterator[Request]:
        """Nobody answered at the address that was asked for."""
        plain = failure.request.url.replace("https://", "http://", 1)
        is_refused = urlsplit(failure.request.url).hostname in refused
        is_silent = isinstance(failure.value, faults.NO_ANSWER) and not is_refused
        if self.asked.is_guess and is_silent and plain != failure.request.url:
            self.known.add(plain)
            yield self._request(plain, _PAGE, self.first)
        else:
            self.failed(failure)

    def probed(self, response: Response, first: Response) -> Iterator[Request]:
        """What the site answers for a page that isn't there: some say 200."""
        if response.status == 200 and answers.is_html(response):
            with contextlib.suppress(file_encoding.NotText):
                self.unfound.learn(answers.source_of(response).text)
        yield from self._all_else(first)

    def _all_else(self, first: Response) -> Iterator[Request]:
        if not self.asked.is_only:
            robots = f"{self.scope.origin}/robots.txt"
            yield self._request(robots, _LIST, self.robots, self.no_robots)
        yield from self.page(first)
        for url in self.asked.also:
            yield from self._page(url, first.url, is_named=True)

    def no_robots(self, _failure: Any) -> Iterator[Request]:
        """The site has none, or forbids it."""
        yield from self._list(f"{self.scope.origin}/sitemap.xml")

    # Lists of addresses

    def robots(self, response: Response) -> Iterator[Request]:
        """The site's robots.txt, which may name its sitemaps (RFC 9309, 2.2.4)."""
        named: list[str] = []
        if response.status == 200:
            named = list(sitemap_urls_from_robots(response.body, response.url))
        for url in named or [f"{self.scope.origin}/sitemap.xml"]:
            yield from self._list(url)

    def _list(self, url: str) -> Iterator[Request]:
        if url not in self.known and same_host(_origin(url), self.scope.origin):
            self.known.add(url)
            yield self._request(url, _LIST, self.sitemap, self.quiet)

    def sitemap(self, response: Response) -> Iterator[Request]:
        """A sitemap, or a list of them."""
        if response.status != 200:
            return
        found = sitemaps.read(response.body, LARGEST_LIST)
        for url in found.lists:
            yield from self._list(url)
        for url in found.pages:
            if not same_host(_origin(url), self.scope.origin):
                self.elsewhere += 1
            yield from self._page(url, response.url, is_named=True)

    # Pages and files

    def _page(self, href: str, base: str, *, is_named: bool = False) -> Iterator[Request]:
        """Ask for a page, unless that was done, or enough are."""
        url = self.scope.page(href, base, is_named=is_named)
        if url is None or url in self.known:
            return
        self.known.add(url)
        if self.pages >= self.asked.most:
            self.beyond += 1
        else:
            self.pages += 1
            yield self._request(url, _PAGE, self.page)

    def page(self, response: Response) -> Iterator[Request]:
        """What came for a page's address."""
        asked = _plain(response.meta.get("redirect_urls", [response.url])[0])
        url = _plain(response.url)
        if response.status != 200:
            self._out(asked, faults.of_status(response.status), response.status in _GONE)
        elif not answers.is_html(response):
            kind = answers.media_type(response) or "nothing of its kind"
            self._out(asked, f"the site says that it is {kind}, and no page")
        elif self._is_to_be_taken(asked, url):
            self.taken.add(url)
            yield from self._take(response)

    def _is_to_be_taken(self, asked: str, url: str) -> bool:
        """Whether a page that came from `url` is one of those that were asked for, and new."""
        if url != asked:
            if self.scope.page(url, url) is None and asked != self.asked.address:
                self._out(asked, f"it leads on to {url}, which is not among what was asked for")
                return False
            self.teller.tell(Same(asked, url))
        return url not in self.taken

    def _take(self, response: Response) -> Iterator[Request]:
        try:
            source = answers.source_of(response)
        except file_encoding.NotText as problem:
            self._out(response.url, problem.message)
            return
        if self.unfound.is_like(source.text):
            self._out(response.url, "it says what the site says where there is nothing", True)
            return
        facts = gather(source)
        base = urls.base_address(response.url, facts.base_href)
        drawn = sketch(source, facts, urlsplit(response.url).path)
        self._count(response)
        self.teller.tell(
            FetchedPage(
                _plain(response.url),
                self.teller.put(response.body),
                answers.charset(response),
                page_parts.canonical(source, base) or "",
                page_parts.is_drawn_by_scripts(source, facts, drawn["words"]),
                self.pages,
                dict(drawn),
            )
        )
        is_deep = response.meta.get("depth", 0) >= DEEPEST
        self.deep += is_deep and bool(facts.links)
        for link in () if self.asked.is_only or is_deep else facts.links:
            yield from self._page(link.href, base)
        if self.asked.parts and not self.asked.is_only:
            yield from self._parts(page_parts.parts(source, base))
            # Of others only what makes it look as it does: no script of theirs runs here.
            looks = page_parts.parts(source, base, scripts=False)
            yield from self._parts(looks, is_elsewhere=True)

    def _parts(self, addresses: Iterable[str], *, is_elsewhere: bool = False) -> Iterator[Request]:
        for url in addresses:
            is_own = same_host(_origin(url), self.scope.origin)
            if url in self.known or is_own is is_elsewhere:
                continue
            if self.files >= MOST_FILES or self.total >= LARGEST_TOTAL:
                return
            self.known.add(url)
            self.files += 1
            yield self._request(url, _FILE, self.file)

    def file(self, response: Response) -> Iterator[Request]:
        """A file that pages use."""
        kind = answers.media_type(response)
        if response.status != 200 or answers.is_html(response):
            is_page = "the site says that it is a page, and no file of one"
            why = is_page if response.status == 200 else faults.of_status(response.status)
            self._out(response.url, why)
            return
        self._count(response)
        self.teller.tell(FetchedFile(_plain(response.url), self.teller.put(response.body), kind))
        if kind == "text/css":
            css = response.body.decode("utf-8", "replace")
            found = page_parts.css_parts(css, response.url)
            yield from self._parts(found)
            yield from self._parts(found, is_elsewhere=True)

    def _count(self, response: Response) -> None:
        self.unanswered = 0
        self.total += len(response.body)
        if self.total > LARGEST_TOTAL:
            raise CloseSpider(_TOO_MUCH)

    def failed(self, failure: Any) -> None:
        """Asking for something failed."""
        request = failure.request
        is_own = same_host(_origin(request.url), self.scope.origin)
        if is_own and isinstance(failure.value, faults.NO_ANSWER):
            self.unanswered += 1
            if self.unanswered >= _DOWN and self.taken:
                raise CloseSpider(_IS_DOWN)  # who is not there any more isn't asked on and on
        asked = request.meta.get("redirect_urls", [request.url])[0]
        host = urlsplit(request.url).hostname or ""
        is_page = request.meta["kind"] == _PAGE
        self._out(asked, faults.of_problem(failure.value, host, is_page))

    def _out(self, url: str, why: str, gone: bool = False) -> None:
        self.teller.tell(Out(_plain(url), why, gone))

    def closed(self, reason: str) -> None:
        """At the end: what is to be said of the whole."""
        self.is_cut = reason == _IS_DOWN
        if reason in _CLOSED:
            self.teller.tell(Note(_CLOSED[reason]))
        for why, count in self.scope.left_out.items():
            first = self.scope.first[why]
            links = "address was" if count == 1 else "addresses were"
            self.teller.tell(Note(f"{count} {links} not asked for because {why}, such as {first}."))
        if self.deep:
            text = f"Links were followed up to {DEEPEST} from the first page, and no further."
            self.teller.tell(Note(text))
        if self.elsewhere:
            which = "1 address of another host, which was" if self.elsewhere == 1 else (
                f"{self.elsewhere} addresses of other hosts, which were")  # fmt: skip
            self.teller.tell(Note(f"The sitemap names {which} not asked for."))
        if self.beyond:
            self.teller.tell(Note(f"{self.asked.most} pages were asked for, as was said; the site "
                                  f"has {self.beyond} more at least."))  # fmt: skip


_FAILING = list(range(400, 600))  # told here, in our words
_GONE = (404, 410)  # RFC 9110, 15.5.5 and 15.5.11
_DOWN = 3  # requests in a row without an answer
_TOO_MUCH, _IS_DOWN = "too much", "down"
_CLOSED = {
    _TOO_MUCH: f"Over {LARGEST_TOTAL // MEGABYTE} MB came, so no more was asked for.",
    "closespider_timeout": f"It took over {SECONDS_IN_ALL // 3600} hours, so no more was asked "
    "for.",
}


def _origin(url: str) -> str:
    found = urls.resolve(url, url)
    return found.origin if found else ""


def _plain(url: str) -> str:
    """An address as the URL Standard writes it, without its fragment."""
    found = urls.resolve(url, url)
    return f"{found.origin}{found.path}{found.query}" if found else url
