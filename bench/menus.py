"""A menu on a thousand pages: seen, and one item of it changed on all of them."""

from __future__ import annotations

import statistics
import time

from django.test import Client

from bench.pages import page
from innerhop.library import sites
from innerhop.library.acts import menu_acts
from innerhop.library.acts.ends import End
from innerhop.library.acts.menu_items import AskedItem
from innerhop.library.bring_in import bring_ins
from innerhop.library.changes import write
from innerhop.library.models import Editor, Site
from innerhop.library.seek import menus
from innerhop.practice.serving import fresh_database

PAGES, ITEMS = 1_000, 12
Figure = tuple[str, float, str, float]


def figures() -> list[Figure]:
    """Milliseconds of the screen's first byte, seconds of a change on all pages."""
    fresh_database("innerhop_bench")
    editor = Editor.objects.create_user("bench")
    site = _site(editor)
    return [
        (f"menus screen, {PAGES:,} pages, first byte", _first_byte(site, editor), "ms", 300),
        (f"an item led elsewhere on {PAGES:,} pages", _led_elsewhere(site, editor), "s", 12),
        (f"an item put in on {PAGES:,} pages", _put_in(site, editor), "s", 30),
    ]


def _site(editor: Editor) -> Site:
    site = sites.create("menus", "menus.example", "en", editor)
    items = "".join(f'<li><a href="/page-{n}/#part-1">Part {n}</a></li>\n' for n in range(ITEMS))
    menu = f'<nav><ul>{items}<li><a href="#part-3">Book</a></li></ul></nav>'
    old = "<nav><a href=/>Home</a> <a href=/locks/>Locks</a></nav>"
    texts = [page(8, 60, seed=seed).replace(old, menu) for seed in range(10)]
    pieces = [
        bring_ins.NewFile(f"page-{n}/index.html", texts[n % 10].encode()) for n in range(PAGES)
    ]
    for _ in bring_ins.bring_in(site, editor, pieces, len(pieces)):
        pass
    (found,) = menus.of_site(site)
    assert found.pages == PAGES
    return site


def _first_byte(site: Site, editor: Editor) -> float:
    client = Client(SERVER_NAME="127.0.0.1")
    client.force_login(editor, backend="innerhop.library.access.Backend")
    took = []
    for _ in range(6):
        begin = time.perf_counter()
        assert client.get(f"/{site.slug}/menus/").status_code == 200
        took.append(time.perf_counter() - begin)
    return statistics.median(took[1:]) * 1_000


def _changed(site: Site, editor: Editor, asked: list[AskedItem]) -> float:
    row = menus.of_site(site)[0].row
    begin = time.perf_counter()
    act = menu_acts.write(row.page, row.number, asked)
    change = write.save(site, editor, act.message, act.plans)
    took = time.perf_counter() - begin
    assert change.revisions.count() == PAGES
    return took


def _led_elsewhere(site: Site, editor: Editor) -> float:
    end = End(site.pages.select_related("site").earliest("pk"), "part-3")
    asked = [AskedItem(at, 0) for at in range(ITEMS)]
    return _changed(site, editor, [*asked, AskedItem(ITEMS, 0, end=end)])


def _put_in(site: Site, editor: Editor) -> float:
    end = End(site.pages.select_related("site").earliest("pk"), "part-5")
    asked = [AskedItem(at, 0) for at in range(ITEMS + 1)]
    return _changed(site, editor, [*asked, AskedItem(None, 0, "Help", end)])
