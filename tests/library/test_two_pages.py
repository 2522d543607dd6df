"""A site of two pages: what they share is known by its tag or its class, and a menu whose links
stand in boxes is one."""

from __future__ import annotations

import pytest

from innerhop.library.acts.table import planned
from innerhop.library.changes import write
from innerhop.library.index import index
from innerhop.library.models import Editor, Site
from innerhop.library.seek import menus
from tests.library.test_changes import content, page_at
from tests.library.test_findings import site_with

LINKS = "".join(f"<{{0}}><a href=/{name}/>{name.title()}</a></{{0}}>" for name in ("a", "b"))


def two(editor: Editor, shared: str) -> Site:
    return site_with(editor, {
        f"{name}/index.html": f"<!doctype html><html lang=en><title>{name}</title><body>{shared}"
        f"<main><h1>Page {name}</h1><p>Words of {name}.</p></main></body></html>"
        for name in ("a", "b")
    })  # fmt: skip


@pytest.mark.django_db
@pytest.mark.parametrize("box", ["div", "span", "li"])
def test_a_menu_whose_links_stand_in_boxes(editor: Editor, box: str) -> None:
    links = LINKS.format(box)
    links = f"<ul>{links}</ul>" if box == "li" else links
    site = two(editor, f"<header><nav>{links}</nav></header>")
    (menu,) = menus.of_site(site)
    assert menu.pages == 2
    assert [one.label for one in menu.items] == ["A", "B"]
    sent = {"menu": menu.key, "label": "Top of A", "end": {"page": page_at(site, "/a/").pk}}
    act = planned("menu-add", page_at(site, "/a/"), sent)
    write.save(site, editor, act.message, act.plans)
    for path in ("/a/", "/b/"):
        assert f"Top of A</a></{box}>" in content(page_at(site, path)).decode()


@pytest.mark.django_db
@pytest.mark.parametrize(
    "shared",
    [
        "<header><p>The canal and its boats</p></header>",
        "<div class=header><p>The canal and its boats</p></div>",
        "<div class='site-footer'><p>The canal and its boats</p></div>",
        "<div id=nav><p>The canal and its boats</p></div>",
    ],
)
def test_a_link_put_into_what_two_pages_share_goes_to_both(editor: Editor, shared: str) -> None:
    site = two(editor, shared)
    page = page_at(site, "/a/")
    number = next(number for number, tag in enumerate(("html", "head", "title", "body", "x", "p"))
                  if tag == "p")  # fmt: skip
    sent = {
        "number": number, "side": "after", "words": "Up", "like": None,
        "end": {"page": page.pk, "id": ""}, "form": "path",
    }  # fmt: skip
    act = planned("put-link", page, sent)
    write.save(site, editor, act.message, act.plans)
    for path in ("/a/", "/b/"):
        assert ">Up</a>" in content(page_at(site, path)).decode()
    assert list(index.differences(site)) == []
