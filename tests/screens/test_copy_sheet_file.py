"""The copy sheet as a spreadsheet gets it."""

from __future__ import annotations

import csv
from io import StringIO

import pytest
from django.test import Client
from django.urls import reverse

from innerhop.library.acts import mark_acts
from innerhop.library.changes import write
from innerhop.library.models import Editor, Site
from tests.library.test_hops import bring

pytestmark = pytest.mark.django_db


@pytest.mark.parametrize("first", "=+-@")
def test_no_cell_is_taken_for_a_formula(
    site: Site, editor: Editor, client: Client, first: str
) -> None:
    """https://owasp.org/www-community/attacks/CSV_Injection"""
    title = f"{first}1+cmd|' /C calc'!A0"
    page = bring(site, editor, "/new/", f"<h1>{title}</h1><h2>{title}</h2><p>Words")
    number = page.sections.get(level=2).number
    act = mark_acts.mark(page, [(number, "calc")])
    write.save(site, editor, act.message, act.plans, act.effects)
    url = reverse("copy-file", args=[site.slug, "csv"])
    text = client.get(url).content.decode("utf-8-sig")
    cells = [cell for row in csv.reader(StringIO(text)) for cell in row]
    assert f"'{title}" in cells
    assert not [cell for cell in cells if cell.startswith(("=", "+", "-", "@"))]
