"""Whatever acts are done on a site, in whatever order they are undone: the files are the
first ones again, and the index is that of a fresh reading all the time."""

from __future__ import annotations

import random
from collections import defaultdict
from typing import Any

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from innerhop.core.contents.kinds import KINDS
from innerhop.core.live import judging
from innerhop.core.live.station import THERE, UNTOLD
from innerhop.core.menus import item_rows
from innerhop.core.planners import markers
from innerhop.core.planners.selection import texts_below
from innerhop.core.refusals import Refusal
from innerhop.library.acts import moved_acts
from innerhop.library.acts.table import ACTS, planned
from innerhop.library.changes import undo, write
from innerhop.library.hand_over import copy_sheet
from innerhop.library.index import foresight, index
from innerhop.library.index.texts import current
from innerhop.library.models import Change, Editor, Page, Site
from innerhop.library.seek import menus as seek_menus
from tests.core import trees
from tests.library.test_hops import bring

pytestmark = pytest.mark.django_db
OF_MARKS = ("rename", "take-away", "move", "move-up", "move-down", "name-beside")
HEAD = "<header><nav><ul><li><a href=/one/>One</a><li><a href=/about/>About</a></ul></nav></header>"
FOOT = "<footer><h2>Reach us</h2><p>The Toll House, <a href='/about/'>see more</a></p></footer>"


def sent(chance: random.Random, page: Page, name: str) -> dict[str, Any]:
    """What a screen might send for an act on a page: much of it fits, some does not."""
    text = current(page)
    source = text.source
    pages = list(page.site.pages.all())
    marks = list(page.marks.values_list("number", "value"))
    texts = [one for one in texts_below(source, 0, 0) if len(one[2].split()) > 1]
    number = chance.randrange(len(source))
    if name in OF_MARKS and marks:
        number = chance.choice(marks)[0]
    links = list(page.links.values_list("number", flat=True))
    if name in ("retarget", "reopen", "unlink", "reword") and links:
        number = chance.choice(links)
    menus = dict(page.menus.values_list("number", "items"))
    if name in ("menu", "menu-in-line", "menu-current", "menu-lit") and menus:
        number = chance.choice(list(menus))
    there = len(item_rows.from_text(menus[number])) if number in menus else 0
    items = [{"item": at, "depth": 0} for at in chance.sample(range(there), there)]
    two = [{"item": None, "depth": 0, "label": one.title or "Page",
            "end": {"page": one.pk, "id": ""}} for one in pages[:2]]  # fmt: skip
    finding = chance.choice([None, *page.findings.all()])
    lists = [one.number for one in text.lists]
    if name == "remove-list" and lists:
        number = chance.choice(lists)
    at, child, data = chance.choice(texts) if texts else (number, 0, "x")
    lead = len(data) - len(data.lstrip())
    end = chance.choice(pages)
    own_menus = seek_menus.of_site(page.site)
    value = chance.choice([*(value for _, value in marks), "", "new", f"n{chance.randrange(99)}"])
    return {
        "number": number,
        "to": chance.randrange(len(source)),
        "side": chance.choice([markers.ON, markers.BEFORE, markers.AFTER, markers.INSIDE]),
        "id": f"m{chance.randrange(999)}",
        "marks": [{"number": number, "id": f"m{chance.randrange(999)}"}],
        "keep": chance.random() < 0.3,
        "lead": chance.random() < 0.5,
        "line": chance.random() < 0.5,
        "old": chance.choice([one.old for one in moved_acts.of_page(page)] or ["none"]),
        "then": chance.choice(["break", "keep", "retarget"]),
        "level": chance.randrange(1, 7),
        "word": "block",
        "on": chance.random() < 0.7,
        "start": {"number": at, "child": child, "offset": lead},
        "stop": {"number": at, "child": child, "offset": lead + 3},
        "end": {"page": end.pk, "id": value if end == page else ""},
        "form": chance.choice(["", "hash", "path", "relative", "absolute"]),
        "new_tab": chance.choice([True, False]),
        "words": "See more",
        "path": f"/moved-{chance.randrange(99)}/",
        "all": chance.random() < 0.5,
        "kind": chance.choice(sorted(KINDS)),
        "levels": "h2 h3",
        "there": chance.choice([None, *lists]),
        "at": chance.choice([None, number]),
        "title": chance.choice(["", "Contents"]),
        "title_level": chance.choice([0, 2]),
        "entries": [
            {"part": one.number, "label": chance.choice(["", "Own words"])}
            for one in text.possible
            if chance.random() < 0.8
        ],
        "where": chance.choice(["", "none", "sections", "places"]),
        "to_list": chance.random() < 0.5,
        "places": [number],
        "items": two if name == "menu-new" else items + chance.choice(([], two[:1])),
        "menu": chance.choice(own_menus).key if own_menus else "",
        "label": "Another item",
        "name": "Main",
        "plan": chance.choice([None, *page.site.menu_plans.values_list("pk", flat=True)]),
        "rule": finding.rule if finding else "no-hash",
        "cause": finding.cause if finding else "",
        "keeps_look": chance.random() < 0.5,
        "room": chance.random() < 0.5,
        "lit": True,
        "points": chance.random() < 0.5,
        "origin": "",
    }  # fmt: skip


def one_act(chance: random.Random, site: Site, editor: Editor) -> Change | None:
    page = chance.choice(list(site.pages.select_related("site").order_by("pk")))
    # Lists and ways back are parts that hold each other, so they come up more often.
    name = chance.choice([*sorted(ACTS), "contents", "ways-back", "update-lists"])
    try:
        act = planned(name, page, sent(chance, page, name))
        return write.save(site, editor, act.message, act.plans, act.effects)
    except Refusal as problem:
        assert problem.message
        return None


def files_of(site: Site) -> dict[int, bytes]:
    pages = site.pages.all()
    return {one.pk: bytes(one.revisions.get(number=one.revision).content) for one in pages}


@settings(max_examples=15, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(seed=st.integers(0, 10**6), one=trees.markup(), two=trees.markup())
def test_any_series_of_acts_undone_in_any_order(
    editor: Editor, monkeypatch: pytest.MonkeyPatch, seed: int, one: str, two: str
) -> None:
    # In half of them findings are looked for ahead, as they are on many pages.
    monkeypatch.setattr(foresight, "FROM", 1 if seed % 2 else 20)
    chance = random.Random(seed)
    site = Site.objects.create(
        name="s", slug=f"s{Site.objects.count()}", address="https://s.example/",
        visitor_host=f"s{Site.objects.count()}.localhost",
    )  # fmt: skip
    bring(site, editor, "/one/", f"{HEAD}{one}{FOOT}")
    bring(
        site,
        editor,
        "/two/",
        f"{HEAD}<h1>Two</h1><p>Go <a href='/one/#one'>there</a></p>{two}{FOOT}",
    )
    bring(site, editor, "/about/", f"{HEAD}<h2 id=x>About it</h2><p class=block>A few words{FOOT}")
    first, paths = files_of(site), set(site.pages.values_list("path", flat=True))
    done = [change for _ in range(14) if (change := one_act(chance, site, editor))]
    assert [one.what for one in index.differences(site)] == []
    _require_all_there(site)
    waiting = list(done)
    while waiting:
        chance.shuffle(waiting)
        left = [change for change in waiting if not _undone(change)]
        assert len(left) < len(waiting), "the newest change can always be undone"
        waiting = left
    assert files_of(site) == first
    assert set(site.pages.values_list("path", flat=True)) == paths
    assert not any(one.locked_parts.filter(lifted=False) for one in site.pages.all())
    assert [one.what for one in index.differences(site)] == []


def _undone(change: Change) -> bool:
    try:
        undo.undo(change)
    except Refusal:
        return False
    return True


RICH = (
    "<main><h1>Locks</h1><p><a href=fees>Fees</a> <a href=#Up>Going up</a> <a href=/gone/>Away</a> "
    "<a href=#fees target=_blank>here</a></p><p>&nbsp;</p><p>&nbsp;</p><h2 id=fees>Fees</h2>"
    "<p class=block>A few words of it.</p><h4>Going up</h4><p id=comp-kx92m1>To be paid.</p>"
    "<p><b>A line alone</b></p><p>Below it, more words.</p><span id=m></span><h2>Down</h2><p>x"
    "</main>"
)
MENU = (
    "<header><nav><ul><li><a href=/one/#fees>Fees</a><li><a href=/one/#m>Down</a>{}</ul></nav>"
    "</header>"
)
WHOLE = "<!doctype html><html><head><title>Two</title></head><body>"
NEVER = frozenset({"room"})  # no page of these was measured


def test_every_act_of_the_table_is_among_them(editor: Editor) -> None:
    """An act that is always refused would be tried by none of the series above."""
    chance = random.Random(11)
    site = Site.objects.create(
        name="s", slug="every", address="https://s.example/", visitor_host="every.localhost"
    )
    for path, start, more in (
        ("/one/", WHOLE, ""), ("/two/", WHOLE, ""), ("/about/", "", "<li><a href=/two/>Two</a>"),
    ):  # fmt: skip
        bring(site, editor, path, f"{start}{MENU.format(more)}{RICH}{FOOT}")
    never, why = set(ACTS), defaultdict(set)
    for _ in range(40):
        if never == NEVER:
            break
        # Others among them, which some need to have been done before.
        for name in (*chance.sample(sorted(never), len(never)), "rename", "contents", "mark"):
            page = chance.choice(list(site.pages.select_related("site").order_by("pk")))
            try:
                act = planned(name, page, sent(chance, page, name))
                write.save(site, editor, act.message, act.plans, act.effects)
                never.discard(name)
            except Refusal as problem:
                why[name].add(problem.message)
    assert never == NEVER, {name: why[name] for name in never}
    assert [one.what for one in index.differences(site)] == []
    assert _require_all_there(site) > 30


def _require_all_there(site: Site) -> int:
    """Where all was entered by our own planner, nothing that is told is otherwise there. Returns
    how many things were told to be there."""
    told = 0
    for sheet in copy_sheet.of_site(site):
        text = current(sheet.page)
        there = judging.PageThere(text.source, text.source, sheet.page.address, site.key_of)
        found = judging.stations(there, sheet.steps)
        off = [one for one in found if one.state not in (THERE, UNTOLD)]
        assert [(one.step.kind, one.step.what, one.state, one.how) for one in off] == []
        told += sum(one.state == THERE for one in found)
    return told
