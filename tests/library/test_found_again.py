"""Elements found again after others' changes: by their places in the text, carried over each
change since, whatever was put in, taken out or renamed around them."""

from __future__ import annotations

import random

import pytest

from innerhop.library.changes import found_again
from innerhop.library.index.texts import current
from innerhop.library.models import Editor, Page, Site
from tests.library.test_any_acts import one_act
from tests.library.test_hops import bring, page_at

pytestmark = pytest.mark.django_db
PARTS = "".join(f"<h2>Part {at}</h2><p data-p={at}>About {at}, at length.</p>" for at in range(12))


def told(page: Page) -> dict[str, int]:
    """The number of each paragraph, by what it says."""
    source = current(page).source
    return {source.text_of(at): at for at in range(len(source)) if source.attr(at, "data-p")}


@pytest.mark.parametrize("seed", range(6))
def test_paragraphs_are_found_by_what_they_are(site: Site, editor: Editor, seed: int) -> None:
    page = bring(site, editor, "/parts/", f"<h1>Parts</h1>{PARTS}")
    before, revision = told(page), page.revision
    chance = random.Random(seed)
    for _ in range(12):
        one_act(chance, Site.objects.get(pk=site.pk), editor)
    page = site.pages.get(pk=page.pk)
    now = found_again.numbers_now(page, revision, before.values())
    after = told(page)
    for words, number in before.items():
        # Found where it is, or, where its own beginning was written anew, not at all.
        assert now[number] in (after.get(words), None)
    assert sum(one is not None for one in now.values()) > 6


def test_what_cant_be_known_is_not_guessed(site: Site) -> None:
    page = page_at(site, "/moorings/")
    assert found_again.numbers_now(page, page.revision, [3, 9_999]) == {3: 3, 9_999: None}
    assert found_again.numbers_now(page, 9_999, [3]) == {3: None}
