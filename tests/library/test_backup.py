"""A site's file: what is saved is what is read in, row by row, and works as before."""

from __future__ import annotations

import json
import zipfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from django.core.management import CommandError, call_command
from jsonschema import Draft202012Validator

from innerhop.library import doing, removal
from innerhop.library.backup import loading, saving
from innerhop.library.backup.loading import CannotLoad
from innerhop.library.backup.schema import schema
from innerhop.library.backup.tables import TABLES
from innerhop.library.changes import undo
from innerhop.library.index import index
from innerhop.library.models import (
    Change,
    Editor,
    Finding,
    Look,
    MenuPlan,
    Page,
    Revision,
    Seen,
    Site,
)
from tests.library.test_changes import content
from tests.screens.test_history import marked, member

pytestmark = pytest.mark.django_db
SCHEMA = Path(__file__).parents[2] / "docs" / "site-file.schema.json"


@pytest.fixture
def full(site: Site, editor: Editor) -> Site:
    """A site with something in most tables, some of it undone, some deleted."""
    jo = member(site, "jo", "reader")
    page = site.pages.get(path="/volunteer-days/")
    undo.undo(marked(site, editor, "gone", "/about/"), editor)
    marked(site, editor, "here", page.path)
    page.refresh_from_db()
    items = [{"label": "One", "depth": 0, "end": {"page": page.pk, "id": "here"}}]
    doing.do(editor, "keep-plan", page, {"plan": None, "name": "Footer", "items": items})
    doing.do(editor, "move-page", page, {"path": "/days/"})
    page.refresh_from_db()
    doing.do(editor, "people", site, {"editor": jo.pk, "role": "editor", "hands_over": False})
    doing.do(editor, "remove", site, {"page": site.pages.get(path="/print/leaflet/").pk})
    removal.remove(site.assets.order_by("pk")[0], editor)
    row = Finding.objects.filter(site=site).order_by("pk")[0]
    doing.do(editor, "set-aside", site, {"findings": [row.pk], "reason": "a label"})
    look = Look.objects.create(site=site, editor=editor, broken=2)
    text = page.revisions.get(number=page.revision)
    Seen.objects.create(page=page, look=look, content=text.content, label="utf-8", codec="utf-8")
    return site


def parts(path: Path) -> dict[str, Any]:
    with zipfile.ZipFile(path) as archive:
        found = {name: archive.read(name) for name in archive.namelist()}
    return {name: data for name, data in found.items() if name != "manifest.json"}


def test_what_is_saved_is_read_in_row_by_row(full: Site, tmp_path: Path) -> None:
    first, second = tmp_path / "a.zip", tmp_path / "b.zip"
    saving.save(full, first)
    before = {page.path: content(page) for page in full.pages.all()}
    for beside in (True, False):
        if not beside:
            Site.everything.all().delete()
            Editor.objects.all().delete()
        (site,) = loading.load(first)
        saving.save(site, second)
        assert parts(second) == parts(first)
        assert {page.path: content(page) for page in site.pages.all()} == before
        assert [one.what for one in index.differences(site)] == []
    with zipfile.ZipFile(first) as archive:
        rows = json.loads(archive.read("manifest.json"))["rows"]
    assert rows["person"] == 2
    assert {name for name, count in rows.items() if not count} <= {"newtext", "elsewhere",
                                                                  "lockedpart", "tick"}  # fmt: skip


def test_what_was_done_can_be_taken_back_there(full: Site, tmp_path: Path) -> None:
    path = tmp_path / "a.zip"
    saving.save(full, path)
    Site.everything.all().delete()
    (site,) = loading.load(path)
    for change in Change.objects.filter(site=site, undone=None):
        undo.undo(change)
    assert not MenuPlan.objects.filter(site=site, gone=False).exists()
    assert site.pages.filter(path="/volunteer-days/").exists()
    assert site.pages.filter(path="/print/leaflet/").exists()
    for page in site.pages.all():
        assert content(page) == bytes(page.revisions.get(number=1).content)
    assert [one.what for one in index.differences(site)] == []


def test_no_secret_is_in_it(full: Site, editor: Editor, tmp_path: Path) -> None:
    full.feed_key = "secret-of-the-feed"
    full.save()
    saving.save(full, tmp_path / "a.zip")
    said = b"".join(parts(tmp_path / "a.zip").values())
    assert b"secret-of-the-feed" not in said
    assert editor.password.encode() not in said


def test_every_row_of_a_page_and_site_is_saved_or_made_again() -> None:
    """A table that is new is thought of."""
    kept = {table.model for table in TABLES}
    made_again = {"section", "mark", "link", "region", "menu", "trait", "finding", "layout", "walk",
                  "measure", "walkedthere", "foundthere"}  # fmt: skip
    passing = {"job", "staged", "here", "invitation", "membership"}
    others = set()
    for model in (Site, Page):
        for one in model._meta.related_objects:
            if one.related_model not in kept and "through" not in str(one.related_model):
                others.add(one.related_model._meta.model_name)
    assert others - {"bringin_pages"} <= made_again | passing


def spoil(path: Path, name: str, change: Callable[[bytes], bytes | None]) -> None:
    with zipfile.ZipFile(path) as archive:
        found = {one: archive.read(one) for one in archive.namelist()}
    name = next(one for one in found if one.startswith(name))
    new = change(found.pop(name))
    with zipfile.ZipFile(path, "w") as archive:
        for one, data in found.items():
            archive.writestr(one, data)
        if new is not None:
            archive.writestr(name, new)


SPOILT: dict[str, tuple[str, Callable[[bytes], bytes | None]]] = {
    "not what it was": ("data/", lambda _: b"other"),
    "lacks data/": ("data/", lambda _: None),
    "no file of a site": ("manifest.json", lambda _: None),
    "version": ("manifest.json", lambda data: data.replace(b'"version": 1', b'"version": 9')),
    "Line 10 of page.jsonl": ("page.jsonl", lambda data: data[:-20]),
    "lacks its path": ("page.jsonl", lambda data: data.replace(b'"path"', b'"way"')),
    "lacks revision.jsonl": ("revision.jsonl", lambda _: None),
    "fit together": ("change.jsonl", lambda data: data.replace(b'"made": "2', b'"made": "x')),
    "nobody who owns": ("person.jsonl", lambda data: data.replace(b'"owner"', b'"guest"')),
    "don.t fit": ("revision.jsonl", lambda data: data.replace(b'"page": 1,', b'"page": 77,')),
}


def test_files_of_earlier_versions_are_read_in(site: Site, editor: Editor, tmp_path: Path) -> None:
    change = marked(site, editor, "one")
    path = tmp_path / "a.zip"
    saving.save(site, path)
    spoil(path, "site.json", lambda data: data.replace(b'"keeps_months"', b'"unknown"'))
    spoil(path, "change.jsonl", lambda data: data.replace(b'"let_go"', b'"unknown"'))
    (other,) = loading.load(path)
    assert other.keeps_months == 0
    assert other.changes.get().message == change.message


@pytest.mark.parametrize("said", SPOILT)
def test_what_is_not_whole_is_not_read_in(
    site: Site, editor: Editor, tmp_path: Path, said: str
) -> None:
    marked(site, editor, "one")
    path = tmp_path / "a.zip"
    saving.save(site, path)
    spoil(path, *SPOILT[said])
    count = Revision.objects.count()
    with pytest.raises(CannotLoad, match=said):
        loading.load(path)
    assert (Site.objects.count(), Revision.objects.count()) == (1, count)


def test_by_command(full: Site, editor: Editor, tmp_path: Path, capsys: Any) -> None:
    path = tmp_path / "all.zip"
    call_command("save_site", str(path), all=True)
    call_command("load_site", str(path))
    assert "/marrowby-canal-trust-2/" in capsys.readouterr().out
    with pytest.raises(CommandError, match="Say which"):
        call_command("save_site", str(path))
    call_command("save_site", str(path), site="marrowby-canal-trust-2")
    with pytest.raises(CommandError, match="no folder"):
        call_command("save_site", str(tmp_path / "no" / "a.zip"))
    (tmp_path / "b.zip").write_bytes(b"no zip")
    with pytest.raises(CommandError, match="Nothing was read in"):
        call_command("load_site", str(tmp_path / "b.zip"))
    assert sorted(one.name for one in tmp_path.iterdir()) == ["all.zip", "b.zip"]


def test_the_file_is_as_its_schema_says(full: Site, tmp_path: Path) -> None:
    """JSON Schema 2020-12, by another's reading of it."""
    known = json.loads(SCHEMA.read_text(encoding="utf-8"))
    assert schema() == known, "docs/site-file.schema.json is what backup.schema gives"
    saving.save(full, tmp_path / "a.zip")
    read = 0
    for name, data in parts(tmp_path / "a.zip").items():
        kind, _, ending = name.partition(".")
        if ending not in ("json", "jsonl"):
            continue
        rules = Draft202012Validator({"$ref": f"#/$defs/{kind}", "$defs": known["$defs"]})
        for line in data.decode().splitlines():
            rules.validate(json.loads(line))
            read += 1
    assert read > 30
