"""A site fetched from a host on loopback that has every fault at once: each is said, none keeps
the rest from coming."""

from __future__ import annotations

import gzip
from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path

import pytest

from innerhop.fetch.asked import DEEPEST, LARGEST_PAGE, Asked
from innerhop.fetch.records import (
    Begun,
    Ended,
    FetchedFile,
    FetchedPage,
    Note,
    Out,
    Record,
    Same,
    Waits,
)
from innerhop.fetch.running import Fetch
from tests.fetch.hosts import NAME, Answer, Host, fetched, page, serving

BUSY = iter([Answer(b"Later.", 429, headers={"Retry-After": "1"})])
FAILING = iter([Answer(b"Oh.", 500), Answer(b"Oh.", 503, headers={"Retry-After": "0"})])
LINKS = [
    "/locks/", "/Locks/", "/moved", "/loop-a", "/inside", "/metadata", "/away", "/locked/",
    "/gone/", "/missing/", "/wrong-type/", "/pdf", "/big/", "/bomb/", "/soft/", "/busy/", "/flaky/",
    "/failing/", "/forbidden/", "/latin/", "/drawn/", "/no-type/", "/sid;jsessionid=1",
    "/ten?page=2", "/copy/", "/drip/", "/later/", "http://localhost:1/", "//other.invalid/",
    "/deep/deep/deep/", "/cookie/",
]  # fmt: skip
LOCKS = "<h1>Locks</h1><h2 id=flight>The flight</h2>"
NOTHING = page("<h1>Nothing here</h1><p>" + "Try the front page, or the search. " * 30)
ANSWERS = {
    "/": page("<h1>Canal</h1>" + "".join(f'<p><a href="{one}">on</a>' for one in LINKS)
              + "<img src=/a.svg srcset='/b.svg 2x, /c.svg?v=3 3x'>",
              "<link rel=stylesheet href='/site.css?v=2'>"),
    "/robots.txt": Answer(b"User-agent: *\nDisallow: /forbidden/\n\nUser-agent: InnerHop\n"
                          b"Disallow: /forbidden/\nSitemap: /map.xml", kind="text/plain"),
    "/map.xml": Answer(b"<urlset><url><loc>http://elsewhere.example/</loc></url></urlset>",
                       kind="application/xml"),
    "/site.css?v=2": Answer(b"@import 'more.css'; @font-face { src: url(font.woff2) }",
                            kind="text/css"),
    "/more.css": Answer(b"body { background: url('/d.svg') }", kind="text/css"),
    "/font.woff2": Answer(b"font", kind="font/woff2"),
    **{f"/{name}.svg": Answer(b"<svg/>", kind="image/svg+xml") for name in "abd"},
    "/c.svg?v=3": Answer(b"<svg/>", kind="image/svg+xml"),
    "/locks/": page(LOCKS, "<link rel=canonical href=/locks>"),
    "/Locks/": page("<h1>Locks with a capital</h1>"),
    "/moved": Answer(status=301, headers={"Location": "/new/"}),
    "/new/": page("<h1>New</h1>"),
    "/loop-a": Answer(status=302, headers={"Location": "/loop-b"}),
    "/loop-b": Answer(status=302, headers={"Location": "/loop-a"}),
    "/inside": Answer(status=302, headers={"Location": "http://127.0.0.1/"}),
    "/metadata": Answer(status=307, headers={"Location": "http://[::ffff:169.254.169.254]/"}),
    "/away": Answer(status=308, headers={"Location": "https://elsewhere.example/"}),
    "/locked/": Answer(b"A password.", 401, headers={"WWW-Authenticate": 'Basic realm="a"'}),
    "/gone/": Answer(b"", 410),
    "/wrong-type/": Answer(b"\x89PNG", kind="image/png"),
    "/pdf": Answer(b"%PDF", kind="application/pdf"),
    "/big/": Answer(b"<p>" + b"x" * (LARGEST_PAGE + 1)),
    "/bomb/": Answer(gzip.compress(b"0" * (LARGEST_PAGE * 4)),
                     headers={"Content-Encoding": "gzip"}),
    "/soft/": NOTHING,
    "/busy/": lambda: next(BUSY, page("<h1>Busy</h1>")),
    "/flaky/": lambda: next(FAILING, page("<h1>Flaky</h1>")),
    "/failing/": Answer(b"Oh.", 500),
    "/forbidden/": page("<h1>Forbidden</h1>"),
    "/latin/": Answer("<h1>Café</h1>".encode("iso-8859-1"), kind="text/html; charset=ISO-8859-1"),
    "/drawn/": page("<div id=root></div><script src=/app.js></script>"),
    "/no-type/": Answer(b"<!doctype html><h1>No type</h1>", kind=""),
    "/sid": page("<h1>Session</h1>"),
    "/copy/": page(LOCKS, "<link rel=canonical href=/locks/>"),
    "/later/": Answer(b"Later.", 429, headers={"Retry-After": "86400"}),
    "/drip/": Answer(b"<h1>Slow</h1>" * 30, drip=0.01),
    "/cookie/": Answer(b"<h1>Cookie</h1>", headers={"Set-Cookie": "a=b; Path=/"}),
}  # fmt: skip


class Told:
    """What a fetch told."""

    def __init__(self, host: Host, records: list[Record]) -> None:
        self.host = host
        self.records = records
        self.pages = {
            self._path(one.address): one for one in records if isinstance(one, FetchedPage)
        }
        self.files = {self._path(one.address) for one in records if isinstance(one, FetchedFile)}
        self.out = {self._path(one.address): one for one in records if isinstance(one, Out)}
        self.same = {self._path(one.address): one.to for one in records if isinstance(one, Same)}
        self.notes = " ".join(one.text for one in records if isinstance(one, Note))

    def _path(self, address: str) -> str:
        return address.removeprefix(self.host.origin)


def _unfound(host: Host) -> None:
    """This host says 200 for what it hasn't, whatever it is."""
    listed = dict(host.answers)

    class Answers(dict[str, object]):
        def get(self, path: str, other: object = None) -> object:
            is_probe = path.endswith("-no-such-page")
            return super().get(path, NOTHING if is_probe else other)

    host.answers = Answers(listed)  # type: ignore[assignment]


@pytest.fixture(scope="module")
def told(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Told]:
    with serving(ANSWERS) as host:
        _unfound(host)
        folder = tmp_path_factory.mktemp("fetch")
        yield Told(host, fetched(host, folder, contact="jo@canal.example", patience=2))


def test_pages_come_at_the_addresses_that_readers_have(told: Told) -> None:
    assert set(told.pages) == {
        "/", "/locks/", "/Locks/", "/new/", "/busy/", "/flaky/", "/latin/", "/drawn/", "/no-type/",
        "/sid", "/copy/", "/cookie/",
    }  # fmt: skip
    assert told.same == {"/moved": f"{told.host.origin}/new/"}
    assert isinstance(told.records[0], Begun)
    assert told.records[-1] == Ended(cut=False)


def test_files_come_with_them_those_that_styles_name_too(told: Told) -> None:
    assert told.files == {"/site.css?v=2", "/more.css", "/font.woff2", "/a.svg", "/b.svg",
                          "/c.svg?v=3", "/d.svg"}  # fmt: skip


@pytest.mark.parametrize(
    ("path", "why"),
    [
        ("/loop-a", "leads on and on"),
        ("/inside", "inside a network"),
        ("/metadata", "inside a network"),
        ("/away", "leads to another site, elsewhere.example"),
        ("/locked/", "password"),
        ("/gone/", "nothing there (410)"),
        ("/missing/", "nothing there (404)"),
        ("/wrong-type/", "image/png"),
        ("/pdf", "application/pdf"),
        ("/big/", "over 4 MB, the limit for a page"),
        ("/bomb/", "over 4 MB, the limit for a page"),
        ("/soft/", "what the site says where there is nothing"),
        ("/failing/", "failed at it, several times (500)"),
        ("/forbidden/", "robots.txt asks"),
        ("/later/", "left alone for longer"),
        ("/drip/", "no whole answer in good time"),
    ],
)
def test_what_does_not_come_says_why(told: Told, path: str, why: str) -> None:
    assert why in told.out[path].why


def test_what_is_gone_is_told_from_what_only_failed(told: Told) -> None:
    gone = {path for path, one in told.out.items() if one.gone}
    assert gone == {"/gone/", "/missing/", "/soft/"}


def test_a_server_that_asks_for_it_is_left_alone(told: Told) -> None:
    assert Waits(1) in told.records
    assert told.host.asked["/later/"] == 1
    assert told.host.asked["/forbidden/"] == 0


def test_who_asks_says_so_and_carries_no_cookies(told: Told) -> None:
    assert told.host.agents == {"InnerHop (+jo@canal.example)"}
    assert told.host.cookies == []


def test_traps_are_said_once_each(told: Told) -> None:
    assert "question mark" in told.notes
    assert "again and again" in told.notes
    assert "1 address of another host, which was not asked for" in told.notes


def test_encodings_and_pages_that_scripts_draw_are_told(told: Told) -> None:
    assert told.pages["/latin/"].label == "iso-8859-1"
    assert [path for path, one in told.pages.items() if one.drawn] == ["/drawn/"]
    assert told.pages["/copy/"].canonical == f"{told.host.origin}/locks/"


def test_no_more_pages_than_were_asked_for(tmp_path: Path) -> None:
    many = {"/": page("".join(f"<a href=/{at}/x>on</a>" for at in range(30)))}
    many |= {f"/{at}/x": page(f"<h1>Page {at}</h1>") for at in range(30)}
    with serving(many) as host:
        told = Told(host, fetched(host, tmp_path, most=5))
        assert len(told.pages) == 5
        assert "26 more" in told.notes
        assert sum(host.asked[f"/{at}/x"] for at in range(30)) == 4
        # Once more, from what was kept: nothing is asked of the host that came before.
        again = Told(host, fetched(host, tmp_path, most=5))
        assert again.pages.keys() == told.pages.keys()
        assert sum(host.asked[f"/{at}/x"] for at in range(30)) == 4


# RFC 9309, 5.1, with this program in the place of `foobot`.
ROBOTS = b"""User-Agent: *
Disallow: *.gif$
Disallow: /example/
Allow: /publications/

User-Agent: innerhop
Disallow:/
Allow:/example/page.html
Allow:/example/allowed.gif

User-Agent: barbot
User-Agent: bazbot
Disallow: /example/page.html
"""


def test_the_example_of_the_standard_of_robots(tmp_path: Path) -> None:
    paths = ["/example/page.html", "/example/other.html", "/publications/a.html"]
    links = "".join(f"<a href={one}>on</a>" for one in paths)
    pictures = "<img src=allowed.gif><img src=b.gif>"
    with serving({
        "/robots.txt": Answer(ROBOTS, kind="text/plain"),
        "/example/allowed.gif": Answer(b"GIF", kind="image/gif"),
        **{one: page(f"<h1>{one}</h1>{links}{pictures}") for one in paths},
    }) as host:  # fmt: skip
        told = Told(host, fetched(host, tmp_path, "/example/page.html"))
    assert set(told.pages) == {"/example/page.html"}
    assert told.files == {"/example/allowed.gif"}
    assert {path for path in host.asked if path in paths} == {"/example/page.html"}


def test_links_are_followed_so_far_and_no_further(tmp_path: Path) -> None:
    chain = {f"/{'x' * at}": page(f"<h1>{at}</h1><a href=/{'x' * (at + 1)}>on</a>")
             for at in range(DEEPEST + 20)}  # fmt: skip
    with serving(chain) as host:
        told = Told(host, fetched(host, tmp_path))
    assert DEEPEST <= len(told.pages) < DEEPEST + 5
    assert f"up to {DEEPEST} from the first page" in told.notes


def test_where_a_server_fails_at_its_robots_nothing_is_asked_for(tmp_path: Path) -> None:
    with serving({"/": page("<h1>Home</h1>"), "/robots.txt": Answer(b"Oh.", 503,
                  headers={"Retry-After": "0"})}) as host:  # fmt: skip
        told = Told(host, fetched(host, tmp_path))
    assert "fails at its robots.txt" in told.out["/"].why
    assert host.asked["/"] == 0


def test_hosts_of_pictures_that_are_down_do_not_end_it(tmp_path: Path) -> None:
    gone = "".join(f"<img src=http://127.0.0.1.nip:{at}/a.png>" for at in range(1, 6))
    pages = {f"/{at}": page(f"<h1>{at}</h1><img src=/none.png>") for at in range(5)}
    pages["/none.png"] = Answer(b"<p>No such picture")
    home = page(gone + "".join(f"<a href={one}>on</a>" for one in pages))
    with serving({"/": home, **pages}) as host:
        let_through = host.let_through | {f"127.0.0.1.nip:{at}": "127.0.0.1" for at in range(1, 6)}
        fetch = Fetch(Asked(f"{host.origin}/", let_through=let_through, pause=0), tmp_path)
        told = Told(host, list(fetch.records()))
        fetch.close()
    assert told.records[-1] == Ended(cut=False)
    assert len(told.pages) == 6
    assert "it is a page, and no file" in told.out["/none.png"].why


def test_where_nobody_answers_by_tls_and_nobody_asked_for_it_plain_http_is_tried(
    tmp_path: Path,
) -> None:
    with serving({"/": page("<h1>Plain</h1>")}) as host:
        asked = Asked(f"https://{NAME}:{host.server_port}/", let_through=host.let_through, pause=0)
        for is_guess, came in ((True, {"/"}), (False, set())):
            folder = tmp_path / str(is_guess)
            fetch = Fetch(replace(asked, is_guess=is_guess), folder)
            told = Told(host, list(fetch.records()))
            fetch.close()
            assert set(told.pages) == came


def test_a_part_of_a_site_and_what_its_address_leads_on_to(tmp_path: Path) -> None:
    part = {
        "/old": Answer(status=301, headers={"Location": "/guides/"}),
        "/guides/": page("<a href=locks>in</a><a href=/fees>out</a><h1>Guides</h1>"),
        "/guides/locks": page("<h1>Locks</h1>"),
        "/fees": page("<h1>Fees</h1>"),
    }
    with serving(part) as host:
        told = Told(host, fetched(host, tmp_path, "/old", below="/old"))
    assert set(told.pages) == {"/guides/", "/guides/locks"}
    assert told.same == {"/old": f"{host.origin}/guides/"}
