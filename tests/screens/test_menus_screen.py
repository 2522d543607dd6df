"""What the menus screen says of items."""

from __future__ import annotations

import pytest
from django.test import Client

from innerhop.library.models import Editor
from tests.library.test_findings import site_with

pytestmark = pytest.mark.django_db

BAR = (
    "<nav><ul><li><a href=/locks/>Locks</a></li><li><a href='#' {toggle}>Boats</a>"
    "<ul><li><a href=/hire/>Hire</a></li></ul></li><li><a href=/shop/>Shop</a></li></ul></nav>"
)


def test_a_hash_that_a_script_uses_is_said_to_be_no_place(editor: Editor, client: Client) -> None:
    bar = BAR.format(toggle="class=dropdown-toggle aria-expanded=false")
    pages = {f"{name}.html": f"<title>{name}</title>{bar}<h1>{name}</h1><p>Water."
             for name in ("locks", "hire", "shop")}  # fmt: skip
    site = site_with(editor, pages)
    client.force_login(editor)
    state = client.get(f"/{site.slug}/menus/state/").json()
    notes = {one["label"]: one["notes"] for one in state["items"]}
    assert "a script has a use for it" in notes["Boats"][0]
    assert not notes["Locks"]


def test_a_menu_that_is_the_same_everywhere_draws_where_its_items_lead(
    editor: Editor, client: Client
) -> None:
    """Each end as a place on its page, in shares of its height, as the sections' words tell."""
    bar = "<nav><ul><li><a href=/guide.html#gates>Gates</a><li><a href=/guide.html>Guide</a>" \
        "<li><a href=https://other.example/>Away</a></ul></nav>"  # fmt: skip
    guide = f"<h2>Boats</h2><p>{'water ' * 900}<h2 id=gates>Gates</h2><p>{'oak ' * 900}"
    pages = {f"{name}.html": f"<title>{name}</title>{bar}{guide}" for name in ("guide", "b", "c")}
    site = site_with(editor, pages)
    client.force_login(editor)
    state = client.get(f"/{site.slug}/menus/state/").json()
    assert state["drawsEnds"] is True
    gates, top, away = (one["end"] for one in state["items"])
    assert gates["strip"]["at"] == pytest.approx(0.5, abs=0.1)
    assert gates["strip"]["at"] == gates["strip"]["tops"][1]
    assert (top["strip"]["at"], away["strip"]) == (0, None)
