"""Two people on one page see each other, and what the other saved."""

from __future__ import annotations

from datetime import timedelta

import pytest
from django.utils import timezone

from innerhop.library.changes import undo
from innerhop.library.models import Editor, Here, Page, Site
from innerhop.library.people.presence import news_since, say_here
from tests.screens.test_history import marked, member

pytestmark = pytest.mark.django_db


@pytest.fixture
def page(site: Site) -> Page:
    found: Page = site.pages.get(path="/volunteer-days/")
    return found


def test_others_are_seen_for_as_long_as_they_are_heard_of(
    site: Site, editor: Editor, page: Page
) -> None:
    jo = member(site, "jo")
    assert say_here(page, jo, "Lunch") == []
    (seen,) = say_here(page, editor, "")
    assert (seen.editor, seen.where) == (jo, "Lunch")
    say_here(page, jo, "What to wear")
    assert [one.where for one in say_here(page, editor, "")] == ["What to wear"]
    Here.objects.filter(editor=jo).update(at=timezone.now() - timedelta(seconds=41))
    assert say_here(page, editor, "") == []
    other = site.pages.get(path="/about/")
    assert say_here(other, jo, "") == []
    Here.objects.update(at=timezone.now() - timedelta(hours=2))
    say_here(page, editor, "")
    assert Here.objects.filter(page=page).count() == 1, "who is long gone is not kept"


def test_what_became_of_the_page_meanwhile(site: Site, editor: Editor, page: Page) -> None:
    jo = member(site, "jo")
    assert news_since(page, page.revision, jo) == ""
    change = marked(site, editor, "one", page.path)
    page.refresh_from_db()
    assert news_since(page, 1, jo).startswith("Demo changed this page: Marked “")
    assert news_since(page, 1, editor).startswith("You, in another window, changed this page")
    assert news_since(page, page.revision, jo) == ""
    undo.undo(change, jo)
    page.refresh_from_db()
    assert news_since(page, 2, editor).startswith("jo took back: Marked “")
