"""Held against an HTML conformance checker (the Nu Html Checker, from npm): it finds nothing
new on any page that was changed, and nothing on our own screens but Alpine's attributes."""

from __future__ import annotations

import json
import re
import shutil
import subprocess
from pathlib import Path

import pytest
from django.test import Client

from innerhop.core.contents.kinds import KINDS
from innerhop.library.acts.table import planned
from innerhop.library.changes import undo, write
from innerhop.library.models import Editor, Page, Site
from tests.core.site_of import site_of
from tests.library.test_changes import content, page_at
from tests.library.test_contents_acts import do, now, parts

CHECKER = Path(__file__).parents[1] / "node_modules/vnu-jar/build/dist/vnu.jar"
pytestmark = [
    pytest.mark.django_db,
    pytest.mark.skipif(
        not (CHECKER.exists() and shutil.which("java")),
        reason="needs a Java runtime, and the packages of package.json (npm ci)",
    ),
]


def checked(folder: Path, pages: dict[str, bytes]) -> dict[str, set[str]]:
    """What the checker says of each page: its errors and warnings."""
    for name, data in pages.items():
        (folder / f"{name}.html").write_bytes(data)
    found = subprocess.run(
        ["java", "-jar", str(CHECKER), "--format", "json", "--exit-zero-always",
         *(str(folder / f"{name}.html") for name in pages)],
        capture_output=True, check=True, timeout=120,
    )  # fmt: skip
    said: dict[str, set[str]] = {name: set() for name in pages}
    for one in json.loads(found.stderr)["messages"]:
        said[Path(one["url"]).stem].add(one["message"])
    return said


def test_it_finds_nothing_new_on_pages_with_every_kind_of_list(
    site: Site, editor: Editor, tmp_path: Path
) -> None:
    pages: dict[str, bytes] = {}
    paths = {"volunteers": "/volunteer-days/", "moorings": "/moorings/", "home": "/"}
    for name, path in paths.items():
        page = page_at(site, path)
        pages[f"{name}-before"] = content(page)
        for kind in KINDS:
            made = do(
                page, editor, "contents", kind=kind, levels="h2", entries=parts(page, "h2"),
                title="On this page", title_level=2, where="sections", to_list=True,
            )  # fmt: skip
            shown = {"focus": True, "up": 2, "points": True, "signs": True}
            given = do(now(page), editor, "visitor-parts", **shown)
            pages[f"{name}-{kind}"] = content(page)
            undo.undo(given)
            undo.undo(made)
            page = now(page)
    page = page_at(site, "/skippers-handbook/")
    pages["handbook-before"] = content(page)
    act = planned("update-lists", page, {})
    write.save(site, editor, act.message, act.plans)
    pages["handbook-after"] = content(page)
    said = checked(tmp_path, pages)
    new = {
        name: found - said[f"{name.partition('-')[0]}-before"]
        for name, found in said.items()
        if not name.endswith("-before")
    }
    assert {name: found for name, found in new.items() if found} == {}


# Attributes of the script library that our screens are made with.
_ALPINE = re.compile(r"Attribute “(?:x-|data-|@|:)[^”]*” (?:not allowed|is not serializable)")


def test_it_finds_nothing_on_our_own_screens(
    site: Site, editor: Editor, client: Client, tmp_path: Path
) -> None:
    client.force_login(editor, backend="innerhop.library.access.Backend")
    page: Page = page_at(site, "/skippers-handbook/")
    root = f"/{site.slug}"
    addresses = {
        "pages": f"{root}/", "page": page.get_absolute_url(), "map": f"{root}/map/",
        "findings": f"{root}/findings/", "rules": f"{root}/findings/rules/",
        "rule": f"{root}/findings/rules/twice/", "aside": f"{root}/findings/aside/",
        "history": f"{root}/history/", "bring-in": f"{root}/bring-in/",
        "hand-over": f"{root}/hand-over/", "copy-sheet": f"{root}/hand-over/copy-sheet/",
        "settings": f"{root}/settings/", "files": f"{root}/files/", "sites": "/sites/",
    }  # fmt: skip
    pages = {}
    for name, address in addresses.items():
        answer = client.get(address)
        if answer.status_code == 200:
            pages[name] = answer.content
    assert len(pages) >= 9
    said = checked(tmp_path, pages)
    own = {
        name: [one for one in sorted(found) if not _ALPINE.search(one)]
        for name, found in said.items()
    }
    assert {name: found for name, found in own.items() if found} == {}


# Pages whose IDs stand twice, or hold what none may: HTML Standard, “the id attribute”.
_TRICKY = {
    "twice": "<p id=a>x<p id=a>y<p id=A>z<span id=a></span>",
    "spaces": "<p id='a b'>x<p id='c\td'>y<p id='e&#10;f'>z<p id='g\N{NO-BREAK SPACE}h'>n",
    "empty": "<p id=''>y<p id=' '>z",
    "templates": "<template><p id=a>x</p></template><p id=a>y",
    "names": "<a name=a>x</a><p id=a>y<a name=b>z</a><a name=b>w</a>",
    "references": "<p id='&auml;'>x<p id=ä>y<p id=1>z<p id='#'>w",
    "foreign": "<svg><g id=a></g></svg><p id=a>x<math><mi id=a></mi></math>",
}


def test_it_agrees_on_ids_that_stand_twice_or_can_t_stand(tmp_path: Path) -> None:
    head = "<!doctype html><html lang=en><title>t</title><body>"
    pages = {name: f"{head}{body}".encode() for name, body in _TRICKY.items()}
    said = checked(tmp_path, pages)
    ours = {}
    for name, data in pages.items():
        found = site_of({f"{name}.html": data.decode()}).findings(0)
        ours[name] = {
            kind
            for kind, rules in (("twice", ("twice",)), ("bad", ("empty-id", "id-with-space")))
            if any(one.rule in rules for one in found)
        }
    theirs = {
        name: ({"twice"} if any(one.startswith("Duplicate ID") for one in messages) else set())
        | ({"bad"} if any("for attribute “id”" in one for one in messages) else set())
        for name, messages in said.items()
    }
    assert ours == theirs
    assert {"twice", "bad"} <= set().union(*ours.values())
