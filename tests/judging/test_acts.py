"""Every act on pages that people wrote: readers keep their words and links but for those that
the plan names, as a second parser reads both texts (lexbor, by selectolax); and what it names
is said before, by an act whose purpose it is."""

from __future__ import annotations

import random
import re
from collections import Counter
from collections.abc import Iterator
from itertools import islice
from typing import Any

import pytest
from selectolax.lexbor import LexborHTMLParser

from innerhop.core import words_law
from innerhop.core.menus import item_rows
from innerhop.core.planners import markers
from innerhop.core.proof import proved
from innerhop.core.refusals import Refusal
from innerhop.library.acts.table import ACTS, planned
from innerhop.library.index.texts import current
from innerhop.library.models import Editor, Page, Site
from judging.corpora import MANUALS, Corpus
from tests.judging.test_mends import links_of
from tests.library.test_any_acts import sent
from tests.library.test_findings import site_with

pytestmark = pytest.mark.django_db
_PAGES = 6
_TIMES = 2  # that each act is tried
_PLANS = 2  # pages of an act
_LARGEST = 120_000  # characters of a page


def asked(chance: random.Random, page: Page, name: str) -> dict[str, Any]:
    """What a screen might send: an act on a menu, too, and on parts that it fits."""
    found = sent(chance, page, name)
    headings = list(page.sections.values_list("number", flat=True)) or [1]
    if name in ("link-part", "put-link", "level", "ways-back", "usual-list"):
        found["number"] = chance.choice(headings)
    if name in ("contents", "put-link", "marker", "menu-new"):
        found["side"] = chance.choice([markers.BEFORE, markers.AFTER])
    if name == "contents":
        found |= {"there": None, "at": chance.choice(headings), "number": chance.choice(headings)}
    menu = page.menus.first()
    if name.startswith("menu") and menu:
        items = item_rows.from_text(menu.items)
        rows: list[dict[str, Any]] = [{"item": at, "depth": 0} for at in range(len(items))]
        chance.shuffle(rows)
        found |= {"number": menu.number, "items": rows[1:], "label": "See more"}
    return found


def gone_of(old: str, new: str, named: Counter[str]) -> list[str]:
    """Words that are gone however an element that begins inside a word is read."""
    ways = [said(old, apart) - said(new, apart) - named for apart in (" ", "")]
    return sorted(ways[0] & ways[1])[:5] if all(ways) else []


def said(markup: str, apart: str) -> Counter[str]:
    body = LexborHTMLParser(markup).body
    assert body is not None
    for unseen in body.css("script, style, template"):
        unseen.decompose()
    return Counter(re.findall(r"\w+", body.text(separator=apart)))


def lost(name: str, page: Page, sent: dict[str, Any], tried: Counter[str]) -> Iterator[str]:
    """What readers lose on the first pages of an act beside what it names."""
    try:
        act = planned(name, page, sent)
        told = act.told()
        plans = [(current(one.page), one) for one in islice(act.plans, _PLANS)]
        made = [(text, one.make(text)) for text, one in plans]
        after = [proved(text.source, plan).text for text, plan in made]
    except Refusal:
        return  # said to the editor, and nothing happens
    tried[name] += len(made)
    for (text, plan), new in zip(made, after, strict=True):
        named = words_law.taken_by(text.source, plan)
        fewer = links_of(text.text) - links_of(new) - named.links.total()
        gone = gone_of(text.text, new, named.words)
        if gone or fewer > 0:
            yield f"{name} on {text.page.path} with {sent}: {gone}, {fewer} links"
        if named.is_any and not (ACTS[name].takes and words_law.sentence([named])):
            yield f"{name} on {text.page.path}: takes what it doesn't say, {told}"


def site_of(editor: Editor, corpus: Corpus, most: int, largest: int) -> Site:
    """A site of the first pages of a corpus that are no longer than so many characters."""
    if not corpus.is_here:
        pytest.skip(f"{corpus.package} is not installed")
    texts = {one.name: one.read().decode("utf-8", "surrogateescape") for one in corpus.files[:60]}
    short = {name: text for name, text in texts.items() if len(text) < largest}
    return site_with(editor, dict(islice(short.items(), most)))


SMALL = [one for one in MANUALS if one.name != "bash"]  # which is two pages of a megabyte


@pytest.mark.parametrize("corpus", SMALL, ids=[one.name for one in SMALL])
def test_acts_on_real_pages_take_nothing_but_what_they_say(editor: Editor, corpus: Corpus) -> None:
    site = site_of(editor, corpus, _PAGES, _LARGEST)
    chance = random.Random(corpus.name)
    wrong: list[str] = []
    tried: Counter[str] = Counter()
    for name in sorted(ACTS):
        for _ in range(_TIMES):
            page = chance.choice(list(site.pages.select_related("site").order_by("pk")))
            wrong += lost(name, page, asked(chance, page, name), tried)
    assert wrong == []
    assert len(+tried) > 12  # kinds of act that went through
