"""Earlier texts are kept by what was done since an earlier one: the same bytes as before."""

from __future__ import annotations

from datetime import timedelta

import pytest
from allauth.usersessions.models import UserSession
from django.test import Client
from django.utils import timezone
from hypothesis import given, settings
from hypothesis import strategies as st
from hypothesis.extra.django import TestCase

from innerhop.core.edits import Edit, apply
from innerhop.core.source.file_encoding import FileEncoding, encode
from innerhop.library import tidying
from innerhop.library.changes import kept_small, undo
from innerhop.library.history import what_changed
from innerhop.library.index.texts import bytes_of, to_rows
from innerhop.library.models import Editor, Here, Invitation, Page, Revision, Site
from tests.library.test_changes import content
from tests.screens.test_history import marked

NOW = timedelta(0)
UTF_16 = FileEncoding("utf-16le", "utf-16-le", b"\xff\xfe")


def texts(page: Page) -> list[bytes]:
    return [bytes_of(one) for one in page.revisions.filter(number__gt=0)]


class AnyHistory(TestCase):
    """Of any edits, in any encoding, whole texts among them."""

    @settings(max_examples=25, deadline=None)
    @given(
        st.lists(st.tuples(st.integers(0, 400), st.text("aé<\r\n€", max_size=9), st.booleans()),
                 min_size=1, max_size=120),
        st.sampled_from([FileEncoding("utf-8", "utf-8", b""), UTF_16]),
    )  # fmt: skip
    def test_what_is_told_by_edits_is_the_same(
        self, history: list[tuple[int, str, bool]], encoding: FileEncoding
    ) -> None:
        site = Site.objects.create(name="s", slug="s", address="https://s.example/")
        page = Page.objects.create(site=site, path="/", key="/", title="t", revision=len(history))
        text, before = "<p>Some words", []
        for number, (at, new, is_whole) in enumerate(history, 1):
            start = at % (len(text) + 1)
            edit = Edit(start, text[start : start + 3], new)
            text = apply(text, [edit])
            edits = None if is_whole or number == 1 else to_rows([edit])
            kept = {"label": encoding.label, "codec": encoding.codec, "mark": encoding.mark}
            Revision.objects.create(page=page, number=number, content=encode(text, encoding),
                                    edits=edits, **kept)  # fmt: skip
            before.append(encode(text, encoding))
        kept_small.thin(NOW)
        assert texts(page) == before
        whole = page.revisions.filter(content__isnull=False)
        told = sum(1 for at, one in enumerate(history[1:-1], 2)
                   if not one[2] and at % kept_small.WHOLE_EVERY)  # fmt: skip
        assert whole.count() == len(history) - told


pytestmark = pytest.mark.django_db


def test_what_is_new_stays_and_what_is_old_can_be_taken_back(site: Site, editor: Editor) -> None:
    page = site.pages.get(path="/skippers-handbook/")
    changes = [marked(site, editor, f"part-{n}", page.path) for n in range(5)]
    assert kept_small.thin() == 0
    was, size = texts(page), kept_small.size(site)
    Revision.objects.update(made=timezone.now() - timedelta(days=2))
    assert kept_small.thin() == 4
    assert texts(page) == was
    (found,) = what_changed.differences(changes[2], 1)
    assert found.spots
    assert kept_small.size(site).before < size.before / 3
    assert kept_small.size(site).now == size.now
    for change in (changes[1], changes[4], changes[0]):
        undo.undo(change)
    assert b"part-2" in content(page)
    assert b"part-1" not in content(page)


def test_ten_thousand_changes_take_less_than_20_mb(site: Site, editor: Editor) -> None:
    """A page of 100 kB, as far as fifty of its changes tell, a whole text among them."""
    page = site.pages.get(path="/skippers-handbook/")
    current = page.revisions.get(number=1)
    lines = (b"<p>Words of lock %d, and what %d boats do." % (n, n * n) for n in range(2_100))
    filler = b"".join(lines)
    current.content = bytes(current.content).replace(b"</main>", filler + b"</main>")
    assert len(current.content) > 100_000
    current.save()
    for n in range(25):
        change = marked(site, editor, f"part-{n}", page.path)
        undo.undo(change)
    kept_small.thin(NOW)
    rows = page.revisions.filter(number__gt=1, number__lte=51)
    taken = kept_small._size(rows.exclude(number=51)) + 50 * 250  # and their other columns
    assert taken / 50 * 10_000 < 20_000_000


def test_what_is_of_no_use_goes(site: Site, editor: Editor, client: Client) -> None:
    page, now = site.pages.all()[0], timezone.now()
    for days in (2, 40):
        one = Invitation.objects.create(
            site=site, role="editor", inviter=editor, email="a@b.example", key=f"{days}"
        )
        Invitation.objects.filter(pk=one.pk).update(made=now - timedelta(days=days))
    Here.objects.create(page=page, editor=editor, at=now - timedelta(days=2))
    here = client.session.session_key
    for key in (here, "gone"):
        UserSession.objects.get_or_create(user=editor, session_key=key, ip="127.0.0.1")
    tidying.tidy()
    assert [one.key for one in Invitation.objects.all()] == ["2"]
    assert not Here.objects.exists()
    assert {one.session_key for one in UserSession.objects.all()} == {here}
