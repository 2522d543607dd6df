"""Whatever is sent to the table of acts and questions, the answer is one of ours: types,
sizes, depths, NUL, surrogates, other sites' numbers. The seed is printed."""

from __future__ import annotations

import json
import os
import random
import re
from collections.abc import Iterator
from typing import Any

import pytest
from django.test import Client
from django.urls import reverse

from innerhop.library import sites
from innerhop.library.acts.table import ACTS
from innerhop.library.models import Editor, Site
from innerhop.screens import urls as screens
from innerhop.screens.acts.questions import QUESTIONS

pytestmark = pytest.mark.django_db
REQUESTS = int(os.environ.get("FUZZ_REQUESTS", "1000"))
NAMES = [
    "number", "to", "level", "page", "n", "child", "offset", "start", "stop", "end", "id",
    "word", "typed", "text", "path", "form", "new_tab", "on", "marks", "keep", "follow", "then",
    "side", "words", "like", "origin", "all", "other", "beside", "looks", "change", "width",
    "height", "tops", "header", "padding", "smooth", "outside", "directive", "mark", "look",
    "stamp", "revision", "key",
]  # fmt: skip
ODD: list[Any] = [
    None, True, False, 0, 1, -1, 7, 3.5, 2**31, 2**63, 10**30, "", "7", "seven", "a" * 5_000,
    "a" * 200_000, "\0", "a\0b", "\ud800", "\U0001f6a4", "#%00", "%00", "../..", "javascript:1",
    "https://x.example/", "//", "\\\\", "[", [], {}, [[]], [None], {"": {}}, "é" * 1_200,
    10**400, -(10**400), 1e308, "漢" * 2_000, "\U0001f6a4" * 600, "\x01\x1f\x7f", "\u2028\ufeff",
]  # fmt: skip
RAW = [
    b"", b"nothing", b"\xff\xfe", b'{"number": NaN}', b'{"number": Infinity}', b"[1]", b'"x"',
    b'{"number": 1e999}', b"[" * 50_000, b'{"a":' * 50_000, b'{"number": ' + b"9" * 10_000 + b"}",
]  # fmt: skip


def odd(chance: random.Random, numbers: list[int], depth: int = 0) -> Any:
    kind = chance.random()
    if kind < 0.4:
        return chance.choice(numbers)
    if kind < 0.8 or depth > 3:
        return chance.choice(ODD)
    if kind < 0.9:
        return [odd(chance, numbers, depth + 1) for _ in range(chance.randrange(4))]
    return {chance.choice(NAMES): odd(chance, numbers, depth + 1) for _ in range(3)}


def bodies(chance: random.Random, numbers: list[int]) -> Iterator[bytes]:
    while True:
        if chance.random() < 0.05:
            yield chance.choice(RAW)
            continue
        sent = {name: odd(chance, numbers) for name in chance.sample(NAMES, chance.randrange(12))}
        if chance.random() < 0.8:
            sent["revision"] = 1
        yield json.dumps(sent).encode()


def test_nothing_that_is_sent_breaks_anything(site: Site, client: Client, editor: Editor) -> None:
    seed = int(os.environ.get("FUZZ_SEED", random.randrange(10**6)))
    print(f"FUZZ_SEED={seed}")
    chance = random.Random(seed)
    other = sites.create("Other", "other.example", "en", Editor.objects.create_user("other"))
    pages = list(site.pages.all())
    numbers = [*range(0, 60, 3), *(one.pk for one in pages), other.pk, site.pk]
    names = [*(("act", name) for name in ACTS), *(("ask", name) for name in QUESTIONS)]
    more = ["undo", "redo", "measure", "tick", "layout", "walked"]
    sent = bodies(chance, numbers)
    client.raise_request_exception = False
    for _ in range(REQUESTS):
        page = chance.choice(pages)
        if chance.random() < 0.9:
            url = reverse(*_route(chance.choice(names), site, page.pk))
        else:
            url = reverse(chance.choice(more), args=[site.slug, page.pk])
        body = next(sent)
        answer = client.post(url, body, "application/json", headers={"accept": "application/json"})
        about = (seed, url, body[:300])
        assert answer.status_code in (200, 404, 409, 422), about
        if answer.status_code != 200 and not answer.streaming:
            assert json.loads(answer.content)["message"], about


def _route(name: tuple[str, str], site: Site, pk: int) -> tuple[str, None, list[object]]:
    return name[0], None, [site.slug, pk, name[1]]


@pytest.mark.parametrize("screen", ["pages", "map", "find", "hand-over", "copy-sheet", "settings"])
def test_screens_take_any_address(client: Client, site: Site, screen: str) -> None:
    chance = random.Random(7)
    client.raise_request_exception = False
    url = reverse(screen, args=[site.slug])
    for _ in range(40):
        query = {
            name: str(chance.choice(ODD))[:900].encode("utf-8", "replace").decode()
            for name in ("q", "near", "from", "pages", "find", "page", "part", "sort", "filter")
        }
        assert client.get(url, query).status_code in (200, 404), query


ODD_PARTS = ["%00", "a%00b", "%01", "%7F", "%F0%9F%9A%A4", "%ED%A0%80", "..", "9" * 30, "é" * 900]


@pytest.mark.parametrize("odd", ODD_PARTS)
def test_any_part_of_a_path_may_be_odd(client: Client, site: Site, odd: str) -> None:
    """Each part in turn of the address of each screen and act."""
    client.raise_request_exception = False
    page = site.pages.first()
    assert page is not None
    for pattern in screens.urlpatterns:
        for at, kind in enumerate(pattern.pattern.converters):
            given = {"slug": site.slug, "pk": page.pk, "kind": "csv", "name": "mark"}
            route = re.sub(r"<(?:\w+:)?(\w+)>", r"{\1}", str(pattern.pattern))
            parts = {name: given.get(name, "x") for name in pattern.pattern.converters}
            path = route.format(**{**parts, kind: odd})
            for method in (client.get, client.post):
                status = method(f"/{path}").status_code
                assert status < 500, (status, path, at)


@pytest.mark.parametrize("typed", ["#%00", "%00", "/x%00/", "#a\0b", "a" * 3_000, "é" * 400])
def test_links_that_no_database_keeps(client: Client, site: Site, typed: str) -> None:
    """A page with such a link comes in, is shown, and is judged."""
    markup = f"<h1>Odd</h1><p id='&#0;&#xD800;'><a href='{typed}'>x</a> <a href='#%C3%28'>y</a>"
    sent = {"markup": markup, "address": "/odd/", "kind": "document"}
    answer = client.post(
        reverse("send-markup", args=[site.slug]), sent, headers={"Accept": "application/json"}
    )
    assert b"url" in b"".join(answer.streaming_content)  # type: ignore[attr-defined]
    page = site.pages.get(path="/odd/")
    assert client.get(reverse("page", args=[site.slug, page.pk])).status_code == 200
    assert client.get(reverse("map", args=[site.slug])).status_code == 200
