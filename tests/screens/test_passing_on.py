"""A section's address to pass on: codes that are read back, and links that two parsers read."""

from __future__ import annotations

import json
import random
import subprocess
from io import BytesIO
from pathlib import Path

import pytest
import zxingcpp
from django.test import Client
from django.urls import reverse
from lxml import etree, html
from markdown_it import MarkdownIt
from PIL import Image
from playwright.sync_api import Browser

from innerhop.library.models import Page, Section, Site
from innerhop.screens.passing_on import views
from tests.screens.test_access import stranger

pytestmark = pytest.mark.django_db
SCRIPT = Path(views.__file__).parents[1] / "page" / "script" / "pass_on.js"


@pytest.fixture
def page(site: Site) -> Page:
    return site.pages.select_related("site").get(path="/skippers-handbook/")


def get(client: Client, page: Page, name: str, *more: str, **query: str) -> bytes:
    answer = client.get(reverse(name, args=[page.site.slug, page.pk, *more]), query)
    assert answer.status_code == 200
    return answer.content


def read_back(picture: bytes) -> list[str]:
    """What a decoder sees (zxing-cpp, a second implementation of ISO/IEC 18004)."""
    return [one.text for one in zxingcpp.read_barcodes(Image.open(BytesIO(picture)).convert("L"))]


def test_a_picture_of_the_code_says_the_address_and_prints_at_its_size(
    client: Client, page: Page
) -> None:
    picture = get(client, page, "qr", "png", id="your-first-lock")
    address = "https://marrowby.example/skippers-handbook/#your-first-lock"
    assert read_back(picture) == [address]
    image = Image.open(BytesIO(picture))
    assert round(image.info["dpi"][0]) == 300
    assert 30 <= image.width / 300 * 25.4 <= 40  # mm


def test_a_drawing_of_the_code_says_the_same(client: Client, page: Page, chromium: Browser) -> None:
    drawing = get(client, page, "qr", "svg", id="your-first-lock")
    assert etree.fromstring(drawing).get("width", "").endswith("mm")
    tab = chromium.new_page()
    tab.set_content(drawing.decode())
    shot = tab.screenshot()
    tab.close()
    assert read_back(shot) == ["https://marrowby.example/skippers-handbook/#your-first-lock"]


@pytest.mark.parametrize("id_", ["überblick", "a b", "100%", "x" * 700, "日本"])
def test_any_id_is_in_its_code_as_a_browser_asks_for_it(page: Page, id_: str) -> None:
    address = views.address_of(page, id_)
    assert read_back(views.code(address, "png")) == [address]


def test_what_is_no_mark_has_no_code(client: Client, page: Page) -> None:
    other = stranger()
    for kind, query in (
        ("png", {"id": "nowhere"}), ("png", {}), ("gif", {"id": "winter"}), ("png", {"id": "\0"}),
    ):  # fmt: skip
        url = reverse("qr", args=[page.site.slug, page.pk, kind])
        assert client.get(url, query).status_code == 404
        assert other.get(url, {"id": "winter"}).status_code == 404


def test_the_sheet_has_every_section_that_can_be_arrived_at(client: Client, page: Page) -> None:
    shown = html.fromstring(get(client, page, "addresses"))
    marked = list(page.sections.exclude(mark="").values_list("mark", flat=True))
    rows = shown.xpath("//li[@class='passed']")
    said = [row.xpath("string(.//span[contains(@class, 'code')])") for row in rows]
    assert said == [views.address_of(page, mark) for mark in marked]
    assert len(shown.xpath("//li[@class='passed']/svg")) == len(marked)
    left = page.sections.filter(mark="").count()
    assert f"{left} sections have no ID yet" in shown.text_content()
    plain = html.fromstring(get(client, page, "addresses", plain="")).xpath("//li/svg")
    assert not plain


def test_a_long_page_has_its_addresses_without_codes(client: Client, page: Page) -> None:
    Section.objects.bulk_create(
        Section(page=page, site=page.site, number=9_000 + at, level=2, depth=1, title=f"S{at}",
                mark=f"s{at}", words=1) for at in range(101)
    )  # fmt: skip
    shown = get(client, page, "addresses").decode()
    assert "too many sections for codes" in shown
    assert "#s100<" in shown
    assert "<svg" not in shown.partition('class="passed"')[2]
    Section.objects.filter(page=page).update(mark="")
    assert "Mark one, and its address is here" in get(client, page, "addresses").decode()


def written(pairs: list[tuple[str, str]]) -> list[tuple[str, str]]:
    """What the script makes of words and addresses: Markdown and HTML of each."""
    run = (f"import {{ html, markdown }} from {json.dumps(SCRIPT.as_uri())};"
           f"console.log(JSON.stringify({json.dumps(pairs)}.map(([w, a]) => "
           "[markdown(w, a), html(w, a)])))")  # fmt: skip
    done = subprocess.run(
        ["node", "--input-type=module", "-e", run], capture_output=True, check=True, text=True
    )
    return [tuple(one) for one in json.loads(done.stdout)]


WORDS, ENDS = " aé*_`[]<>&;!#\\\"'|~()-+.1:/", "ab()&;=*_!'~$.-"


def test_links_to_paste_are_read_as_they_were_meant() -> None:
    """CommonMark 0.31, 2.4 and 6.3, by markdown-it-py; HTML by libxml2."""
    some = random.Random(20311)
    asked = [
        ("".join(some.choices(WORDS, k=some.randint(1, 12))),
         "https://canal.example/x/#" + "".join(some.choices(ENDS, k=some.randint(1, 8))))
        for _ in range(600)
    ]  # fmt: skip
    for (words, address), (text, markup) in zip(asked, written(asked), strict=True):
        plain = " ".join(words.split())
        (inline,) = [one for one in MarkdownIt("commonmark").parse(text) if one.type == "inline"]
        opened, *said, _ = inline.children or []
        assert opened.attrs["href"] == address
        assert "".join(one.content for one in said) == plain
        (link,) = html.fragments_fromstring(markup)
        assert (link.get("href"), link.text_content()) == (address, plain)
