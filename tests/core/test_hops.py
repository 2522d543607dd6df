"""What becomes of a reader who follows a link (HTML Standard, "scroll to fragment" and "find a
potential indicated element"; URL Fragment Text Directives, words before IDs)."""

from __future__ import annotations

from typing import NamedTuple

import pytest

from innerhop.core.addresses import urls
from innerhop.core.facts import hidden_parts
from innerhop.core.facts.page_facts import gather
from innerhop.core.site import hops
from innerhop.core.site.hops import (
    BACK,
    BROKEN,
    HERE,
    HIDDEN,
    MENU,
    NO_HASH,
    NO_ID,
    NO_PAGE,
    NO_WORDS,
    NONE,
    THERE,
    Verdict,
)
from innerhop.core.source.tree import Source


class _Link(NamedTuple):
    """A link of the first page."""

    href: str
    region: str = ""
    permalink: bool = False
    page_id: int = 0

    @property
    def key(self) -> str:
        address = urls.resolve(self.href, "https://canal.example/a/")
        assert address is not None
        return urls.page_key(address.path) if address.origin == "https://canal.example" else ""

    @property
    def fragment(self) -> str | None:
        return self.href.partition("#")[2] if "#" in self.href else None


class _Ends:
    """Two pages. `fees` and `Über uns` stand on both, `shut` opens and `gone` is hidden on the
    second; the words “a lock” stand on both, “a boat” on the first alone."""

    marks = gather(Source("<p id=fees><a name=faq-7></a><p id='Über uns'><p id=shut><p id=gone>"))
    states = {1: {"shut": hidden_parts.OPENS, "gone": hidden_parts.HIDDEN}}

    def page(self, key: str) -> int | None:
        return {"/a": 0, "/b": 1}.get(key)

    def targets(self, page: int) -> object:
        return self.marks.targets()

    def state(self, page: int, number: int) -> str:
        value = next(one.value for one in self.marks.marks if one.number == number)
        return self.states.get(page, {}).get(value, "")

    def words(self, page: int, fragment: str) -> int | None:
        if "a%20lock" in fragment:
            return 99
        return 98 if "a%20boat" in fragment and page == 0 else None


def _number(value: str) -> int:
    return next(one.number for one in _Ends.marks.marks if one.value == value)


FEES = _number("fees")
JUDGED: list[tuple[_Link, Verdict]] = [
    (_Link("#fees"), Verdict(HERE, 0, FEES)),
    (_Link("/b/#fees"), Verdict(THERE, 1, FEES)),
    (_Link("/b/#faq-7"), Verdict(THERE, 1, _number("faq-7"))),  # the name of an `a`
    (_Link("#%C3%9Cber%20uns"), Verdict(HERE, 0, _number("Über uns"))),
    (_Link("#Fees"), Verdict(BROKEN, 0, why=NO_ID)),  # capitals count
    (_Link("#fees", "header"), Verdict(MENU, 0, FEES)),
    (_Link("/b/#fees", "nav"), Verdict(MENU, 1, FEES)),
    (_Link("/b/#fees", "footer"), Verdict(THERE, 1, FEES)),
    (_Link("#top"), Verdict(BACK, 0)),
    (_Link("#TOP"), Verdict(BACK, 0)),
    (_Link("#"), Verdict(BACK, 0)),
    (_Link("/b/#"), Verdict(THERE, 1)),
    (_Link("#top", "header"), Verdict(MENU, 0)),
    (_Link("#fees", permalink=True), NONE),
    (_Link("https://other.example/#fees"), NONE),
    (_Link("/b/"), NONE),
    (_Link("/c/#fees"), Verdict(BROKEN, why=NO_PAGE)),
    (_Link("/c/"), Verdict(BROKEN, why=NO_PAGE)),
    (_Link("/c.pdf"), NONE),  # may be kept elsewhere
    (_Link("/c.PHP"), Verdict(BROKEN, why=NO_PAGE)),
    (_Link("faq-7"), Verdict(BROKEN, why=NO_HASH)),
    (_Link("fees"), Verdict(BROKEN, why=NO_HASH)),
    (_Link("/fees/"), Verdict(BROKEN, why=NO_PAGE)),  # a path, as it has a slash
    (_Link("fees-2"), Verdict(BROKEN, why=NO_PAGE)),
    (_Link("/b/#shut"), Verdict(THERE, 1, _number("shut"), opens=True)),
    (_Link("/b/#gone"), Verdict(BROKEN, 1, _number("gone"), HIDDEN)),
    (_Link("#gone"), Verdict(HERE, 0, _number("gone"))),
    # words come first, and the ID where they aren't found
    (_Link("#:~:text=a%20lock"), Verdict(HERE, 0, 99)),
    (_Link("/b/#:~:text=a%20lock"), Verdict(THERE, 1, 99)),
    (_Link("/b/#:~:text=a%20boat"), Verdict(BROKEN, 1, why=NO_WORDS)),
    (_Link("/b/#fees:~:text=a%20boat"), Verdict(THERE, 1, FEES)),
    (_Link("#fees:~:text=a%20boat"), Verdict(HERE, 0, 98)),
]


@pytest.mark.parametrize(("link", "verdict"), JUDGED, ids=[one.href for one, _ in JUDGED])
def test_where_a_hop_leads(link: _Link, verdict: Verdict) -> None:
    assert hops.judge(link, _Ends()) == verdict  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("why", "is_here", "sentence"),
    [
        (NO_HASH, True, "It has no #, so it leads to a page /c that is not there."),
        (NO_PAGE, True, "No page of this site has the address /c/."),
        (NO_ID, True, "Nothing on this page has this ID, so nothing happens."),
        (NO_ID, False, "Nothing on “Fees” has this ID, so nothing happens."),
        ("", True, ""),
    ],
)
def test_why_it_is_broken(why: str, is_here: bool, sentence: str) -> None:
    assert hops.reason(why, "/c", "/c/#x", "Fees", is_here) == sentence
