"""Pages within the limits that nobody would write by hand: what they cost grows with their
length, not with its square. Each comes in, its list of pages is shown, and a menu is acted on."""

from __future__ import annotations

import time
from collections.abc import Callable

from django.test import Client

from innerhop.core.menus import item_rows
from innerhop.library import sites
from innerhop.library.acts.table import planned
from innerhop.library.bring_in import bring_ins
from innerhop.library.changes import write
from innerhop.library.models import Editor, Site
from innerhop.practice.serving import fresh_database

Figure = tuple[str, float, str, float]
_BROKEN = "".join(
    f"<h2 id=section-number-{n}>Section number {n}</h2><p><a href=#sectoin-nubmer-{n}x>go {n}</a>"
    for n in range(5_000)
)
_ITEMS = "".join(f"<li><a href=/p{n}/>Item {n}</a></li>" for n in range(5_000))
_MENU = f"<nav><ul>{_ITEMS}</ul></nav>"
# What it is called, its markup, and the seconds in which it may come in.
PAGES = (
    ("270,000 IDs", "".join(f"<p id=i{n}>a" for n in range(270_000)), 60),
    ("100,000 equal IDs", "<p id=same>a" * 100_000, 5),
    ("5,000 broken hops and sections", _BROKEN, 5),
    ("20,000 headings of the same words", "<h2>The same words</h2><p>a" * 20_000, 5),
    ("100,000 open parts", "<div>" * 100_000, 10),
    ("a menu of 5,000 items, twice", _MENU, 10),
)
# On these, the seconds in which a later save is done.
SAVED = {"5,000 broken hops and sections": 1, "20,000 headings of the same words": 2}


def figures() -> list[Figure]:
    """Seconds."""
    fresh_database("innerhop_bench")
    editor = Editor.objects.create_user("bench")
    found: list[Figure] = []
    for at, (name, body, budget) in enumerate(PAGES):
        site = sites.create(f"x{at}", f"x{at}.example", "en", editor)
        count = 2 if body is _MENU else 1
        page = f"<!doctype html><html lang=en><title>t</title><h1>x</h1>{body}"
        pieces = [bring_ins.NewFile(f"p{n}.html", f"{page}<p>{n}".encode()) for n in range(count)]
        come_in = bring_ins.bring_in(site, editor, iter(pieces), count)
        found.append((f"{name}: brought in", _took(lambda run=come_in: list(run)), "s", budget))
        found.append((f"{name}: Pages, shown", _shown(site, editor), "s", 1))
        if body is _MENU:
            found.append((f"{name}: an item moved", _moved(site, editor), "s", 2))
        if name in SAVED:
            found.append((f"{name}: a mark saved", _saved(site, editor), "s", SAVED[name]))
    return found


def _took(act: Callable[[], object]) -> float:
    begin = time.perf_counter()
    act()
    return time.perf_counter() - begin


def _shown(site: Site, editor: Editor) -> float:
    client = Client(SERVER_NAME="127.0.0.1")
    client.force_login(editor, backend="innerhop.library.access.Backend")
    return _took(lambda: client.get(f"/{site.slug}/"))


def _saved(site: Site, editor: Editor) -> float:
    page = site.pages.select_related("site").get()

    def act() -> None:
        # The first element of the body's own: html, head, title, body, h1.
        mark = planned("mark", page, {"marks": [{"number": 4, "id": "fresh"}]})
        write.save(site, editor, mark.message, mark.plans, mark.effects)

    return _took(act)


def _moved(site: Site, editor: Editor) -> float:
    page = site.pages.select_related("site").order_by("path")[0]
    menu = page.menus.get()
    count = len(item_rows.from_text(menu.items))
    items = [{"item": at, "depth": 0} for at in (*range(1, count), 0)]

    def act() -> None:
        move = planned("menu", page, {"number": menu.number, "items": items})
        write.save(site, editor, move.message, move.plans, move.effects)

    return _took(act)
