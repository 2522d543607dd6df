"""What was done on a site, and what of it is new to who looks."""

from __future__ import annotations

import pytest
from django.test import Client

from innerhop.library.acts import mark_acts
from innerhop.library.models import Editor, Section, Site
from tests.library.test_changes import save

pytestmark = pytest.mark.django_db
NEW = b"since you were last here"


def marked(site: Site, who: Editor, id_: str) -> None:
    """Another section of the site marked by somebody."""
    bare = Section.objects.filter(site=site, mark="").select_related("page__site").first()
    assert bare is not None
    save(bare.page, who, mark_acts.mark(bare.page, [(bare.number, id_)]))


def test_what_others_did_since_is_told_once(client: Client, site: Site, editor: Editor) -> None:
    other = Editor.objects.create_user("other")
    url = f"/{site.slug}/changes/"
    marked(site, other, "one")
    first = client.get(url)
    assert (first.status_code, NEW in first.content) == (200, False)
    marked(site, editor, "two")
    assert NEW not in client.get(url).content, "it was their own"
    marked(site, other, "three")
    shown = client.get(url).content
    assert shown.count(NEW) == 2
    assert b'<b class="text-ink">1</b> by others' in shown
    assert NEW not in client.get(url).content
