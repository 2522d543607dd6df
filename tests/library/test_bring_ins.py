"""Bringing in: what real files look like, and what is refused."""

from __future__ import annotations

import io
import struct
import zipfile

import pytest

from innerhop.library.bring_in import bring_ins, packing
from innerhop.library.bring_in.packing import Refused
from innerhop.library.hand_over import differences
from innerhop.library.index import index
from innerhop.library.models import Asset, BringIn, Editor, Page, Site
from innerhop.library.seek import hops
from innerhop.library.steps import finished
from innerhop.practice import demo
from tests.library.test_findings import site_with


def zipped(files: dict[str, bytes], **how: int) -> io.BytesIO:
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in files.items():
            info = zipfile.ZipInfo(name)
            info.compress_type = zipfile.ZIP_DEFLATED
            info.external_attr = how.get("mode", 0o644) << 16
            archive.writestr(info, data)
    return buffer


def bring(
    site: Site, editor: Editor, files: list[tuple[str, io.BytesIO]], replace: bool = False
) -> BringIn:
    upload = bring_ins.read_upload(files)
    steps = bring_ins.bring_in(
        site, editor, upload.pieces, upload.total, replace=replace, left_out=upload.left_out
    )
    return finished(steps)


def files(pages: dict[str, bytes]) -> list[tuple[str, io.BytesIO]]:
    return [("a.zip", zipped(pages))]


def test_a_site_in_one_folder_of_a_zip(site: Site, editor: Editor) -> None:
    archive = zipped(
        {
            "my site/index.html": b"<h1>Hi</h1><h2 id=a>x</h2>",
            "my site/sub/page.htm": b"<h2>y</h2>",
            "my site/css/a.css": b"x{}",
            "my site/notes.docx": b"PK",
            "my site/empty.html": b" \n",
            "my site/fake.html": b"\x89PNG\x00\x01",
            "my site/.DS_Store": b"x",
            "__MACOSX/my site/._index.html": b"x",
        }
    )
    came = bring(site, editor, [("my site.zip", archive)])
    assert {page.path for page in came.pages.all()} == {"/sub/page.htm", "/home-2/"}
    assert "“Eleven miles of quiet water” has" in came.notes[0]
    assert dict(came.skipped).keys() == {
        "empty.html",
        "fake.html",
        "__MACOSX/my site/._index.html",
        "my site/.DS_Store",
    }
    assert came.assets == 2  # any file is kept as it came
    assert Asset.objects.filter(site=site, path="/css/a.css").exists()


REFUSED = {
    "climbs": (zipped({"../evil.html": b"x"}), "outside its own folder"),
    "climbs, other slash": (zipped({"a\\..\\..\\evil.html": b"x"}), "outside its own folder"),
    "absolute": (zipped({"/etc/evil.html": b"x"}), "outside its own folder"),
    "absolute, in a folder": (zipped({"top//etc/evil.html": b"x"}), "outside its own folder"),
    "drive, in a folder": (zipped({"top/C:/evil.html": b"x"}), "outside its own folder"),
    "drive": (zipped({"C:/evil.html": b"x"}), "outside its own folder"),
    "link": (zipped({"link.html": b"/etc/passwd"}, mode=0o120777), "shortcut"),
    "no zip": (io.BytesIO(b"PK\x03\x04garbage"), "damaged"),
    "too many": (
        zipped({f"{n}.html": b"" for n in range(packing.MOST_FILES + 1)}),
        "3,001 files; 3,000 is the limit",
    ),
    "swells": (
        zipped({f"{n}.css": bytes(9 * packing.MEGABYTE) for n in range(12)}),
        "over 100 MB",
    ),
    "nothing in it": (zipped({"a.exe": b"MZ"}), "Nothing was brought in"),
}


@pytest.mark.parametrize("name", REFUSED)
def test_refused_in_plain_words_with_nothing_half_in(site: Site, editor: Editor, name: str) -> None:
    archive, message = REFUSED[name]
    before = Page.objects.count(), Asset.objects.count(), BringIn.objects.count()
    archive.seek(0)
    with pytest.raises(Refused, match=message):
        bring(site, editor, [("site.zip", archive)])
    assert (Page.objects.count(), Asset.objects.count(), BringIn.objects.count()) == before


def test_a_zip_whose_sizes_lie_is_read_only_so_far(site: Site, editor: Editor) -> None:
    archive = zipped({"a.html": b"<p>" + b"x" * (11 * packing.MEGABYTE)})
    data = bytearray(archive.getvalue())
    at = data.rindex(b"PK\x01\x02")
    data[at + 24 : at + 28] = struct.pack("<I", 10)  # the uncompressed size, in the list
    with pytest.raises(Refused, match=r"damaged|over"):
        bring(site, editor, [("site.zip", io.BytesIO(bytes(data)))])


def test_stopping_half_way_leaves_nothing(site: Site, editor: Editor) -> None:
    pieces = [bring_ins.NewFile(f"p{n}.html", b"<h2>x</h2>") for n in range(120)]
    before = Page.objects.count()
    steps = bring_ins.bring_in(site, editor, iter(pieces), 120)
    assert [next(steps), next(steps)] == [bring_ins.PiecesDone(done, 120) for done in (0, 50)]
    assert Page.objects.count() == before + 50
    steps.close()
    assert Page.objects.count() == before


def test_a_page_never_changed_leaves_byte_for_byte(site: Site) -> None:
    with zipfile.ZipFile(io.BytesIO(differences.archive_of(site))) as archive:
        taken = {name: archive.read(name) for name in archive.namelist()}
    assert taken == dict(demo.files())
    assert not differences.touched_pages(site).exists()


def test_the_demo_has_its_mistakes(site: Site) -> None:
    found = {
        (hop.link.page.path, hop.link.href)
        for page in site.pages.all()
        for hop in hops.out_of(page)
        if hop.kind == hops.BROKEN
    }
    assert {
        ("/skippers-handbook/", "#ice"),  # never made
        ("/skippers-handbook/", "#book"),  # a bare hash in the menu
        ("/lock-guide/", "#paddle-gear"),  # the ID is in the class field
        ("/moorings/", "#winter-moorings"),  # the ID has a space
        ("/stoppages/", "/skippers-handbook/#Winter"),  # wrong case
        ("/stoppages/", "/skippers-hand-book/#water"),  # wrong slug
        ("/about/", "#the-shop"),  # the contents list has fallen behind
        ("/", "/about/#Trustees"),
    } <= found
    handbook = site.pages.get(path="/skippers-handbook/")
    assert handbook.sections.count() >= 10


def test_links_too_many_to_hold_are_judged_like_the_others(
    editor: Editor, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Whether they are written with what becomes of their readers, or judged afterwards."""
    files = {
        f"p{n}.html": f"<h2 id=a>A</h2><a href=p{n + 1}.html#a>x</a><a href=#b>y</a><a href=#a>z"
        for n in range(4)
    }
    monkeypatch.setattr(bring_ins, "_BATCH", 1)
    kept = []
    for most in (50_000, 4):  # all are held; those of the first two pages alone
        monkeypatch.setattr(bring_ins, "_MOST_LINKS", most)
        site = site_with(editor, files)
        rows = site.link_set.order_by("page__path", "number")
        kept.append(list(rows.values_list("page__path", "href", "kind", "end", "why")))
        assert len(kept[-1]) == 12
        assert list(index.differences(site)) == []
    assert kept[0] == kept[1]
    assert {kind for _, _, kind, _, _ in kept[0]} == {"there", "here", "broken"}


@pytest.mark.parametrize(
    ("links", "path", "note"),
    [
        ("<a href=/pages/about>a</a> <a href=/pages/about#x>b</a>", "/pages/about", "2 links call"),
        ("<a href=/pages/about/>a</a>", "/pages/about/", "1 link calls it so"),
        ("<a href=/pages/about.html>a</a> <a href=/pages/about>b</a>", "/pages/about.html", ""),
        ("<a href=pages/about>a</a>", "/pages/about.html", ""),
        ("<a href=https://other.example/pages/about>a</a>", "/pages/about.html", ""),
    ],
)
def test_a_page_comes_in_at_the_address_that_links_call_it_by(
    site: Site, editor: Editor, links: str, path: str, note: str
) -> None:
    about = b"<title>About</title><h1 id=x>About</h1>"
    start = f"<title>Start</title>{links}".encode()
    account = bring(site, editor, files({"pages/about.html": about, "start.html": start}))
    page = site.pages.get(file="pages/about.html")
    assert page.path == path
    assert note in "".join(account.notes)
    assert bool(note) == bool(account.notes)
    assert list(index.differences(site)) == []


def test_an_address_that_would_lead_its_relative_links_elsewhere_is_not_taken(
    site: Site, editor: Editor
) -> None:
    hire = b"<title>Hire</title><a href=faq.html>f</a>"
    start = b"<title>Start</title><a href=/hire/>a</a>"
    bring(site, editor, files({"hire.html": hire, "start.html": start}))
    assert site.pages.filter(path="/hire.html").exists()
