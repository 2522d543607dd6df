"""What was done long ago is let go: what pages say, how they differ from what came, and what can
still be taken back are as they were."""

from __future__ import annotations

import random
from collections.abc import Callable
from contextlib import suppress
from datetime import UTC, datetime, timedelta
from pathlib import Path
from unittest.mock import patch

import pytest
from django.test import Client
from django.utils import timezone
from hypothesis import given, settings
from hypothesis import strategies as st
from hypothesis.extra.django import TestCase

from innerhop.core.edits import apply, difference
from innerhop.core.refusals import Refusal
from innerhop.library import doing, sites
from innerhop.library.backup import loading, saving
from innerhop.library.bring_in import bring_ins
from innerhop.library.changes import kept_small, let_go, since_it_came, undo
from innerhop.library.hand_over import differences
from innerhop.library.history.entries import History, Search
from innerhop.library.index.texts import bytes_of, current
from innerhop.library.models import Change, Editor, Revision, Site
from innerhop.library.tasks import keep_small
from tests.library.test_changes import content
from tests.library.test_index import check
from tests.screens.test_history import marked, turned

NOW = datetime(2026, 11, 30, 12, tzinfo=UTC)
TEXT = "<title>{0}</title><h1>{0}</h1><h2>Fares</h2><p>£{1}<h2>Moorings</h2><p>Free.<h2>Winter</h2>"


def site_of(editor: Editor) -> Site:
    site = sites.create("Long", f"long{Site.objects.count()}.example", "en", editor)
    for name in ("a", "b"):
        come(site, editor, name, 1)
    return site


def come(site: Site, editor: Editor, name: str, price: int, *, again: bool = False) -> None:
    piece = bring_ins.NewFile(f"{name}.html", TEXT.format(name, price).encode())
    for _ in bring_ins.bring_in(site, editor, [piece], 1, replace=again):
        pass


def step(site: Site, editor: Editor, chance: random.Random, at: int) -> None:
    """Something that an editor might do: most of it fits."""
    page = chance.choice(list(site.pages.select_related("site")))
    changes = list(Change.objects.filter(site=site, let_go__isnull=True))
    numbers = list(page.sections.values_list("number", flat=True))
    marks = list(page.marks.values_list("number", flat=True))
    way = chance.choice(["mark", "mark", "rename", "many", "undo", "redo", "again", "address"])
    if way == "mark":
        sent = {"marks": [{"number": chance.choice(numbers), "id": f"m{at}"}]}
        doing.do(editor, "mark", page, sent)
    elif way == "rename" and marks:
        doing.do(editor, "rename", page, {"number": chance.choice(marks), "id": f"r{at}"})
    elif way == "many":
        doing.do(editor, "smooth", page, {"all": True})
    elif way in ("undo", "redo") and changes:
        (undo.undo if way == "undo" else undo.redo)(chance.choice(changes), editor)
    elif way == "again":
        come(site, editor, chance.choice("ab"), at, again=True)
    elif way == "address":
        doing.do(editor, "move-page", page, {"path": f"/moved/{at}/"})


def aged(act: Callable[[], None], when: datetime) -> None:
    """Do something as if it were then."""
    known = set(Revision.objects.values_list("pk", flat=True))
    changes = dict(Change.objects.values_list("pk", "undone"))
    with suppress(Refusal):
        act()
    Revision.objects.exclude(pk__in=known).update(made=when)
    Change.objects.exclude(pk__in=changes).update(made=when)
    for one in Change.objects.exclude(undone=None):
        if changes.get(one.pk) != one.undone:
            Change.objects.filter(pk=one.pk).update(undone=when)


def as_it_is(site: Site) -> list[object]:
    """What nobody may notice that something was let go."""
    told: list[object] = [{page.path for page in differences.touched_pages(site)}]
    for page in site.pages.select_related("site"):
        first, edits = since_it_came.first_and_edits(page)
        assert apply(first.text, edits) == current(page).text
        told += [page.path, differences.file_of(page), bytes_of(first.revision),
                 difference(first.text, edits)]  # fmt: skip
    told.append([(one.message, one.made, one.author, one.count) for one in History(site, Search())])
    return told


def all_turned(site: Site) -> dict[tuple[int, int], bytes | None]:
    """What taking each change back, or doing it again, would make of each of its pages; None
    where it can't be."""
    found: dict[tuple[int, int], bytes | None] = {}
    for one in Change.objects.filter(site=site, let_go__isnull=True):
        for page in undo.pages_of(one):
            other_way = undo.Turned(one, undone=one.undone is None)
            found[one.pk, page.pk] = None
            with suppress(undo.CannotUndo):
                found[one.pk, page.pk] = other_way.next_text(current(page), ()).data
    return found


class AnyHistory(TestCase):
    @settings(max_examples=40, deadline=None)
    @given(st.integers(0, 2**32), st.integers(2, 14), st.sets(st.integers(0, 14), max_size=2))
    def test_all_else_is_the_same(self, seed: int, steps: int, cuts: set[int]) -> None:
        chance, editor = random.Random(seed), Editor.objects.create_user("long")
        site = site_of(editor)
        start = NOW - timedelta(days=steps + 92)
        Revision.objects.update(made=start - timedelta(days=1))
        site.keeps_months = 3
        for at in range(steps):
            now = start + timedelta(days=at)
            aged(lambda at=at: step(site, editor, chance, at), now)  # type: ignore[misc]
            if at in cuts:
                self.let_go(site, now + timedelta(days=92 - chance.randrange(6)))
        self.let_go(site, NOW)

    def let_go(self, site: Site, now: datetime) -> None:
        before, could = as_it_is(site), all_turned(site)
        let_go.let_go(site, now)
        assert as_it_is(site) == before
        assert let_go.let_go(site, now) == 0
        assert not Revision.objects.filter(change__let_go__isnull=False).exists()
        check(site)
        # What was done since can be taken back, or done again, all the same.
        for key, data in all_turned(site).items():
            assert could[key] in (data, None)


@pytest.mark.django_db
class TestOnADemo:
    """Two of three changes are older than three months."""

    @pytest.fixture
    def changes(self, site: Site, editor: Editor) -> list[Change]:
        found = [
            marked(site, editor, name, "/skippers-handbook/") for name in ("one", "two", "three")
        ]
        old = timezone.now() - timedelta(days=100)
        keys = [one.pk for one in found[:2]]
        Change.objects.filter(pk__in=keys).update(made=old)
        Revision.objects.exclude(change=found[2]).update(made=old)
        return found

    def test_it_stays_listed_and_says_why_it_stays(
        self, site: Site, changes: list[Change], client: Client, editor: Editor
    ) -> None:
        wanted = {"name": site.name, "language": site.language, "letters": "plain", "air": site.air,
                  "hop_form": site.hop_form}  # fmt: skip
        shown = client.get(f"/{site.slug}/settings/").content
        assert b"Three months: 2 changes are older" in shown
        assert let_go.let_go(site) == 0, "unless an owner says so, for ever"
        client.post(f"/{site.slug}/settings/", {**wanted, "keeps_months": "3"})
        site.refresh_from_db()
        assert site.keeps_months == 3
        size = kept_small.size(site).before
        with patch("innerhop.library.tasks.close_old_connections"):  # this is one of them
            keep_small(0)
        assert kept_small.size(site).before < size
        first, second, third = (Change.objects.get(pk=one.pk) for one in changes)
        page = site.pages.get(path="/skippers-handbook/")
        assert (first.let_go, second.let_go, third.let_go) == ([page.pk], [page.pk], None)
        shown = client.get(f"/{site.slug}/history/?of=c{first.pk}&page={page.pk}").content
        assert b"What it wrote" in shown
        assert undo.LET_GO.split(":")[0].encode() in shown
        assert shown.count(b'data-undone="yes"') == 1, "the third alone has a button"
        for one, status in ((first, 403), (third, 200)):
            assert turned(client, one) == status
        with pytest.raises(undo.CannotUndo, match="so long ago"):
            undo.undo(second, editor)
        assert undo.next_to_undo(site, editor) == Change.objects.filter(act="settings").get()

    def test_who_looks_at_it_while_it_goes(self, site: Site, changes: list[Change]) -> None:
        """A change that was read before can't be taken back once it is let go."""
        before = content(site.pages.get(path="/skippers-handbook/"))
        site.keeps_months = 3
        let_go.let_go(site)
        with pytest.raises(undo.CannotUndo):
            undo.undo(changes[0])
        assert content(site.pages.get(path="/skippers-handbook/")) == before

    def test_what_goes_with_something_younger_stays(
        self, site: Site, editor: Editor, changes: list[Change]
    ) -> None:
        """Of two pages one was worked on before that: the change on both stays whole, and what
        came after it."""
        rename = doing.do(
            editor, "smooth", site.pages.get(path="/skippers-handbook/"), {"all": True}
        )
        assert undo.pages_of(rename)[1:], "on several pages"
        old = timezone.now() - timedelta(days=95)
        Change.objects.filter(pk=rename.pk).update(made=old)
        Revision.objects.filter(change=rename).update(made=old)
        assert set(let_go.older(site, timezone.now() - timedelta(days=92))) == {
            *changes[:2],
            rename,
        }
        site.keeps_months = 3
        assert let_go.let_go(site) == 2, "the third was done before the one on many pages"
        undo.undo(rename)
        check(site)

    def test_a_file_of_the_site_holds_it(
        self, site: Site, changes: list[Change], tmp_path: Path
    ) -> None:
        site.keeps_months = 3
        site.save()
        let_go.let_go(site)
        before = {page.path: content(page) for page in site.pages.all()}
        saving.save(site, tmp_path / "a.zip")
        (other,) = loading.load(tmp_path / "a.zip")
        page = other.pages.get(path="/skippers-handbook/")
        assert {one.path: content(one) for one in other.pages.all()} == before
        assert [one.let_go for one in other.changes.filter(let_go__isnull=False)] == [[page.pk]] * 2
        assert Change.everything.filter(site=other, act=Change.KEPT_AS_ONE).count() == 1
        assert page in differences.touched_pages(other)
