"""The index and the check of files find the same: two ways from a page's text to what rules see
of it, each the other's second opinion."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import pytest

from innerhop.core.findings.found import Found
from innerhop.core.findings.table import RULES
from innerhop.core.findings.whole_site import WholeSite, read
from innerhop.core.source.tree import Source
from innerhop.library.index import findings
from innerhop.library.index.foresight import Subject, foresee
from innerhop.library.index.rows import rows_of
from innerhop.library.index.store import Delta
from innerhop.library.index.stored_site import StoredSite
from innerhop.library.index.texts import PageText, current
from innerhop.library.models import Editor, Finding, Site
from tests.core.test_findings import MUST, MUST_NOT
from tests.library.test_findings import site_with

pytestmark = pytest.mark.django_db
PAGES = ("page", "on")  # what is told as a page

Told = list[tuple[Any, ...]]


def named(found: list[Found], path: Callable[[int], str]) -> Told:
    """Findings with each page that they name by its path, since its key is each store's own."""
    return [
        (
            one.rule, one.number, one.words, one.cause, one.key,
            {name: path(value) if name in PAGES else value for name, value in one.told.items()},
        )
        for one in found
    ]  # fmt: skip


def from_index(site: Site) -> dict[str, Told]:
    pages = list(site.pages.select_related("site"))
    paths = {page.pk: page.path for page in pages}
    found = findings.found_on(site, pages)
    return {page.path: named(found[page.pk], paths.__getitem__) for page in pages}


def from_texts(site: Site) -> dict[str, Told]:
    texts: list[PageText] = [current(page) for page in site.pages.select_related("site")]
    rows = [read(text, text.page.path) for text in texts]
    whole = WholeSite(site.address, site.language, rows, lambda at: Source(texts[at].text),
                      site.rules_asked)  # fmt: skip
    return {one.path: named(whole.findings(at), whole.path) for at, one in enumerate(whole.pages)}


@pytest.mark.parametrize("rule", [*MUST, *(f"not {rule}" for rule in MUST_NOT)])
def test_of_any_markup(editor: Editor, rule: str) -> None:
    near_miss = rule.removeprefix("not ")
    pages = MUST_NOT[near_miss] if rule != near_miss else MUST[rule][0]
    site = site_with(editor, {"page.html": pages} if isinstance(pages, str) else pages)
    indexed = from_index(site)
    assert indexed == from_texts(site)
    assert (rule in {one[0] for some in indexed.values() for one in some}) == (rule == near_miss)


@pytest.mark.parametrize("rule", MUST)
def test_ahead_and_then_is_what_is_found_at_once(editor: Editor, rule: str) -> None:
    """By rules that read what is written, and on few of its links by those that ask for ends."""
    pages = MUST[rule][0]
    site = site_with(editor, {"page.html": pages} if isinstance(pages, str) else pages)
    kept = list(site.pages.select_related("site").filter(base_href=None))
    subjects = [Subject(page, Delta(page), rows_of(current(page))) for page in kept]
    ahead, then = foresee(subjects), findings.of_ends(StoredSite(site, kept), kept)
    for page, found in findings.found_on(site, kept).items():
        both = [*ahead[page].found, *then[page]]
        assert sorted(both, key=str) == sorted(found, key=str)


def test_of_the_demo_site(site: Site) -> None:
    by_browser = {name for name, one in RULES.items() if one.needs_browser}
    indexed = {
        path: [one for one in some if one[0] not in by_browser]
        for path, some in from_index(site).items()
    }
    assert indexed == from_texts(site)
    assert sum(map(len, indexed.values())) > 20
    assert [*findings.out_of_date(site)] == []


def test_what_is_not_as_a_fresh_look_gives_is_told(site: Site) -> None:
    """The look that other tests rely on sees what is missing, altered, and too much."""
    row = Finding.objects.filter(site=site, rule="unmarked").first()
    assert row is not None
    Finding.objects.filter(pk=row.pk).update(words="other words")
    assert [*findings.out_of_date(site)] == [(row.page, "unmarked")]
    Finding.objects.filter(pk=row.pk).update(words=row.words, rule="twice")
    assert [*findings.out_of_date(site)] == [(row.page, "twice, unmarked")]
    row.delete()
    assert [rules for _, rules in findings.out_of_date(site)] == ["unmarked"]
    findings.renew(site, list(site.pages.values_list("pk", flat=True)))
    assert [*findings.out_of_date(site)] == []
