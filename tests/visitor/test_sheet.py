"""What the sheet and the visitor's view send to a browser."""

from __future__ import annotations

import re

import pytest
from django.test import Client

from innerhop.core.source.tree import Source
from innerhop.library.index.texts import current
from innerhop.library.models import Page, Site
from innerhop.visitor import content_models, dressing, passes
from tests.core import trees

WAY = dressing.FileAddresses(
    "/-/sheet/t", "https://marrowby.example/a/", "https://marrowby.example/a/"
)


@pytest.fixture
def visitor(site: Site) -> Client:
    client = Client(SERVER_NAME="localhost")
    client.get("/-/enter", {"pass": passes.to_enter(site.pk), "to": "/"})
    return client


def test_a_visitor_gets_every_page_byte_for_byte(site: Site, visitor: Client) -> None:
    for page in site.pages.all():
        answer = visitor.get(page.path)
        assert answer.content == bytes(current(page).revision.content)
    about = visitor.get("/about/")
    assert about.headers["Content-Type"] == "text/html; charset=windows-1252"
    assert visitor.get("/about?x=1").headers["Location"] == "/about/?x=1"
    assert visitor.get("/about/index.html").headers["Location"] == "/about/"
    assert visitor.get("/nowhere/").status_code == 404
    assert visitor.get("/pictures/cut.svg").headers["Content-Type"] == "image/svg+xml"


def test_what_a_form_sends_from_a_page_is_not_taken(visitor: Client) -> None:
    answer = visitor.post("/about/", {"name": "Ida"})
    assert answer.status_code == 405
    assert "Forms are not sent from here" in answer.content.decode()


def test_the_script_has_the_content_models_of_the_core() -> None:
    assert content_models.SCRIPT.read_text(encoding="utf-8") == content_models.as_script()


def test_the_sheet_lets_only_our_own_script_run(site: Site) -> None:
    page = site.pages.get(path="/lock-guide/")
    path = f"/-/sheet/{passes.for_sheet(page.pk, 1)}/lock-guide/"
    client = Client(SERVER_NAME="localhost")
    one, two = client.get(path), client.get(path)
    policy = one.headers["Content-Security-Policy"]
    nonce = re.search(r"script-src 'nonce-([^']+)';", policy)
    assert nonce
    assert f'nonce="{nonce[1]}"' in one.content.decode()
    assert "sandbox allow-scripts;" in policy
    assert "allow-same-origin" not in policy
    assert "frame-ancestors http://127.0.0.1" in policy
    assert one.headers["Content-Security-Policy"] != two.headers["Content-Security-Policy"]
    assert client.get("/-/sheet/made-up/lock-guide/").status_code == 403
    style = client.get(path.replace("/lock-guide/", "/styles/site.css"))
    assert style.status_code == 200
    assert style.headers["Access-Control-Allow-Origin"] == "*"


def test_a_sheet_s_pass_is_for_its_own_site(site: Site) -> None:
    token = passes.for_sheet(Page.objects.latest("pk").pk + 1, 1)
    assert Client(SERVER_NAME="localhost").get(f"/-/sheet/{token}/").status_code == 404


@pytest.mark.parametrize(
    ("before", "after"),
    [
        ("<img src=/p/a.svg>", 'src="/-/sheet/t/p/a.svg"'),
        ("<img src='a.svg'>", "src='a.svg'"),  # relative: the sheet has the page's path
        ("<img src=https://marrowby.example/a.svg>", 'src="/-/sheet/t/a.svg"'),
        ("<img src=https://other.example/a.svg>", "src=https://other.example/a.svg"),
        ('<img srcset="/a.svg 1x, b.svg 2x">', 'srcset="/-/sheet/t/a.svg 1x, b.svg 2x"'),
        ('<p style="background:url(/a.svg)">', 'style="background:url(/-/sheet/t/a.svg)"'),
        ("<style>a{background:url('/a.svg')}</style>", "url('/-/sheet/t/a.svg')"),
        ("<meta http-equiv=refresh content=0>", 'http-equiv="x-left-out"'),
        ("<base href=/b/>", 'href="/-/sheet/t/b/"'),
        ("<a href=/locks/>x</a>", "href=/locks/"),
    ],
)
def test_addresses_of_the_site_s_own_files_are_led(before: str, after: str) -> None:
    assert after in dressing.dress(Source(before), WAY, "")


@pytest.mark.parametrize(
    "text",
    [
        "<!-- x --><!DOCTYPE html><p>a<table><b>b<tr><td>c",
        "<html lang=en><p>a",
        "<html><head><title>x</title></head><body><p>a",
        "plain words",
    ],
)
def test_the_dressed_page_has_the_page_s_own_tree(text: str) -> None:
    dressed = trees.read(dressing.dress(Source(text), WAY, "<script>1</script>"))
    plain = trees.read(text)
    for element in dressed.below():
        element.attrs.pop(dressing.NUMBER, None)
        element.children = [
            child for child in element.children if getattr(child, "tag", "") != "script"
        ]
    assert dressed == plain


@pytest.mark.parametrize(
    ("css", "led"),
    [
        ("a{background:url(/p.svg)}", "a{background:url(/-/sheet/t/p.svg)}"),
        ('a{background:url( "/p.svg" )}', 'a{background:url( "/-/sheet/t/p.svg" )}'),
        ("@import '/b.css';", "@import '/-/sheet/t/b.css';"),
        ("@import url(/b.css);", "@import url(/-/sheet/t/b.css);"),
        ("a{background:url(p.svg)}", "a{background:url(p.svg)}"),
        ("a{background:url(../p.svg)}", "a{background:url(../p.svg)}"),
        (
            "a{background:url(data:image/gif;base64,R0)}",
            "a{background:url(data:image/gif;base64,R0)}",
        ),
        (
            "a{background:url(https://x.example/p.svg)}",
            "a{background:url(https://x.example/p.svg)}",
        ),
        ("a{content:'/p.svg'}", "a{content:'/p.svg'}"),
    ],
)
def test_style_sheets_are_led_the_same_way(css: str, led: str) -> None:
    assert WAY.leads_css(css) == led


@pytest.mark.parametrize(
    "text",
    [
        "<!doctype html><html><head><meta charset=utf-8><script>1</script>",
        "<!-- first --><!DOCTYPE html>\n<html lang=en><script>1</script>",
        "\n<!doctype html>\n<script>1</script><p>",
        "<script>1</script><p>x",
    ],
)
def test_our_script_comes_before_any_of_the_page_s(text: str) -> None:
    dressed = dressing.dress(Source(text), WAY, "<script>ours</script>")
    assert dressed.index("ours") < dressed.index("<script data-hop-n")
    doctype = text.lower().find("<!doctype")
    assert doctype < 0 or dressed.lower().find("<!doctype") < dressed.index("ours")
