"""Broken hops by their causes, and all of one cause mended in one change."""

from __future__ import annotations

import pytest

from innerhop.core.refusals import Refusal
from innerhop.library.acts.ends import End
from innerhop.library.acts.mending import mend
from innerhop.library.changes import undo
from innerhop.library.index.texts import current
from innerhop.library.models import Editor, Link, Page, Site
from innerhop.library.seek import findings, hops
from innerhop.library.seek.causes import by_cause
from innerhop.library.seek.guesses import Guesser
from tests.library.test_any_acts import files_of
from tests.library.test_changes import page_at, save
from tests.library.test_hops import bring
from tests.library.test_index import check

pytestmark = pytest.mark.django_db
NAV = "<nav><b>The Trust</b> <i>on the web</i> <a href='#fees'>Fees</a></nav>"


@pytest.fixture
def broken(site: Site, editor: Editor) -> Site:
    """Three pages: a menu whose bare hash works on one of them, a page that is gone, and a
    slip of capitals written in two ways."""
    site.pages.all().delete()
    text = "<title>{0}</title>" + NAV + "<h1>{0}</h1>{1}"
    bring(site, editor, "/fees/", text.format("Fees", "<h2 id=fees>All</h2><h2 id=Late>Late</h2>"))
    links = "<p><a href='/fess/#late'>1</a> <a href='/fess/'>2</a> <a href='../fees/#LATE'>3</a>"
    bring(site, editor, "/one/", text.format("One", links))
    bring(site, editor, "/two/", text.format("Two", links + "<a href='/fees/#LATE'>4</a>"))
    return site


def hrefs(page: Page) -> list[str]:
    return list(current(page).page.links.order_by("number").values_list("href", flat=True))


def test_causes_are_counted_once(broken: Site) -> None:
    rows = findings.open_on(broken)
    found = [(one.rule.name, one.count, one.pages) for one in
             findings.groups(rows, ["stuck"], 0, 10).shown]  # fmt: skip
    assert found == [("near-page", 4, 2), ("space-or-capital", 3, 2), ("menu-hash", 2, 2)]
    assert findings.groups(rows, ["stuck"], 1, 1).shown[0].count == 3
    assert len(by_cause(hops.of_site(broken, 100), 100)) < len(hops.of_site(broken, 100))
    assert broken_on(broken) == 9


def broken_on(site: Site) -> int:
    return Link.objects.broken().filter(site=site).count()


def first(site: Site, href: str) -> Link:
    found = Link.objects.broken().filter(site=site, href=href).order_by("page", "number")
    return found.select_related("page__site")[0]


def test_all_of_a_cause_in_one_change(broken: Site, editor: Editor) -> None:
    before = files_of(broken)
    fees = page_at(broken, "/fees/")
    slip, gone, menu = (
        first(broken, "../fees/#LATE"),
        first(broken, "/fess/"),
        first(broken, "#fees"),
    )
    changes = []
    for link, end in ((slip, End(fees, "Late")), (gone, End(fees, "")), (menu, End(fees, "fees"))):
        page = page_at(broken, link.page.path)
        changes.append(save(page, editor, mend(page, first(broken, link.href), end, True)))
        check(broken)
    assert broken_on(broken) == 0
    # What stands before the hash stays as it was written, and the menu is the same everywhere.
    assert hrefs(page_at(broken, "/two/")) == [
        "/fees/#fees", "/fees/", "/fees/", "../fees/#Late", "/fees/#Late",
    ]  # fmt: skip
    assert hrefs(page_at(broken, "/fees/")) == ["/fees/#fees"]
    assert changes[2].message.endswith("leads to /fees/#fees now, in 3 places on 3 pages")
    for change in reversed(changes):
        undo.undo(change)
    assert files_of(broken) == before


def test_one_alone_is_mended_too(broken: Site, editor: Editor) -> None:
    link = first(broken, "../fees/#LATE")
    save(link.page, editor, mend(link.page, link, End(page_at(broken, "/fees/"), "Late")))
    assert broken_on(broken) == 8
    with pytest.raises(Refusal, match="has the ID"):
        mend(link.page, first(broken, "/fess/"), End(page_at(broken, "/fees/"), "none"))


def test_what_a_page_that_moved_had_is_kept(site: Site, editor: Editor) -> None:
    """Hops to a page that is in another folder keep the IDs that they ask for."""
    site.pages.all().delete()
    new = bring(site, editor, "/guides/locks/", "<h2 id=a>A</h2><h2 id=b>B</h2>")
    links = "<p><a href='/locks/#a'>a</a> <a href='/locks/#b'>b</a> <a href='/locks/#c'>c</a>"
    page = bring(site, editor, "/x/", links)
    link = first(site, "/locks/#a")
    (guess, *_) = Guesser(site).guesses(hops.of_site(site, 1)[0])
    assert (guess.page, guess.id, guess.rule) == (new, "a", "near-page")
    save(page, editor, mend(page, link, End(new, guess.id), True))
    assert hrefs(page_at(site, "/x/"))[:2] == ["/guides/locks/#a", "/guides/locks/#b"]
