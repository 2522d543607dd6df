"""Links to words: URL Fragment Text Directives (WICG), and what Chromium does
with the links that we write."""

from __future__ import annotations

from collections.abc import Iterator

import pytest
from hypothesis import given
from hypothesis import strategies as st
from playwright.sync_api import Browser, Page

from innerhop.core.addresses import text_directives
from innerhop.core.addresses.text_directives import TextDirective, find, shortest, words_of
from innerhop.core.source.tree import Source


@pytest.mark.parametrize(
    ("fragment", "asked"),
    [
        # The examples of the draft's "Syntax", from memory.
        (":~:text=an%20example", TextDirective("an example")),
        ("old:~:text=start,end", TextDirective("start", "end")),
        (":~:text=prefix-,start", TextDirective("start", prefix="prefix")),
        (":~:text=prefix-,start,end,-suffix", TextDirective("start", "end", "prefix", "suffix")),
        (":~:text=a%2Cb%2Dc%26d", TextDirective("a,b-c&d")),
        (":~:other=x&text=y", TextDirective("y")),
        (":~:text=a,b,c", None),
        (":~:text=", None),
        ("text=a", None),
    ],
)
def test_directives_are_read(fragment: str, asked: TextDirective | None) -> None:
    assert text_directives.read(fragment) == asked


@given(st.tuples(*[st.text(st.characters(blacklist_categories=["Cs"]))] * 4))
def test_what_is_written_is_read_back(parts: tuple[str, str, str, str]) -> None:
    asked = TextDirective(*parts)
    if asked.start:
        assert text_directives.read(str(asked)) == asked


BLOCKS = [
    ("p", "The fees are below, and the fees for winter too"),
    ("h2", "Fees"),
    ("p", "Feesable is no word. Fées has an accent, and FEES is loud."),
    ("h2", "Fees"),
    ("p", "for a year, a comma and a dash - all of it"),
    ("h2", "Winter & summer"),
    ("p", "Bold <b>wor</b>ds <i>in</i> a line"),
    ("h2", "Opening hours"),
    ("ul", "<li>Opening hours</li><li>Ropes</li>"),
    ("h2", "Ropes"),
    ("h2", "冬の運河"),
    ("p", "the end"),
    ("h2", "The end"),
]
PAGE = "<!doctype html><meta charset=utf-8><title>Ropes</title><body>" + "".join(
    f"<{tag} style='margin:1200px 0'>{inner}</{tag}>" for tag, inner in BLOCKS
)
SOURCE = Source(PAGE)
BODY = next(number for number, tag_ in enumerate(SOURCE.tags) if tag_ == "body")
TARGETS = [
    (at, number)
    for at, number in enumerate(
        number for number, above in enumerate(SOURCE.parents) if above == BODY
    )
]


@pytest.fixture(scope="module")
def tab(chromium: Browser) -> Iterator[Page]:
    context = chromium.new_context(viewport={"width": 900, "height": 600})
    page = context.new_page()
    page.route("**/*", lambda route: route.fulfill(body=PAGE, content_type="text/html"))
    yield page
    context.close()


@pytest.mark.parametrize(("at", "number"), TARGETS)
def test_chromium_scrolls_to_the_words_meant(tab: Page, at: int, number: int) -> None:
    asked = shortest(SOURCE, words_of(SOURCE), number)
    assert asked is not None
    tab.goto("about:blank")
    tab.goto(f"http://marrowby.test/#{asked}")
    tab.wait_for_function("scrollY > 0 || document.body.children[0]", timeout=5_000)
    tab.wait_for_timeout(150)
    box = tab.evaluate(
        "at => { const r = document.body.children[at].getBoundingClientRect();"
        " return [r.top, r.bottom] }",
        at,
    )
    assert -5 <= box[0] < 600, asked
    found = find(words_of(SOURCE), asked)
    assert found is not None
    assert number <= found <= SOURCE.last_inside(number)


@pytest.mark.parametrize(
    ("fragment", "words", "arrives"),
    [
        # "Indicated part": words first, an ID when they aren't found.
        ("part:~:text=Winter%20%26", True, "h2:nth-of-type(3)"),
        ("nowhere:~:text=Winter%20%26", True, "h2:nth-of-type(3)"),
        ("part:~:text=no%20such%20words", False, "#part"),
        ("nowhere:~:text=no%20such%20words", False, None),
    ],
)
def test_words_come_before_an_id(
    tab: Page, fragment: str, words: bool, arrives: str | None
) -> None:
    """https://wicg.github.io/scroll-to-text-fragment/#navigating-to-text-fragment, as our
    rule of where hops lead has it too."""
    text = PAGE.replace("<p style='margin:1200px 0'>the end", "<p id=part>the end")
    source = Source(text)
    asked = text_directives.read(fragment)
    assert asked is not None
    assert (find(words_of(source), asked) is not None) == words
    tab.route("**/ids/", lambda route: route.fulfill(body=text, content_type="text/html"))
    tab.goto("about:blank")
    tab.goto(f"http://marrowby.test/ids/#{fragment}")
    if arrives is None:
        tab.wait_for_timeout(800)  # longer than the others take
        assert tab.evaluate("scrollY") == 0
        return
    tab.wait_for_function("scrollY > 0")
    top = tab.evaluate("one => document.querySelector(one).getBoundingClientRect().top", arrives)
    assert -5 <= top < 600


@pytest.mark.parametrize(
    ("at", "written"),
    [
        (1, ":~:text=Fees,-Feesable"),
        (5, ":~:text=Winter%20%26"),
        (7, ":~:text=Opening%20hours,-Opening"),
        (9, ":~:text=Ropes,-%E5%86%AC%E3%81%AE%E9%81%8B%E6%B2%B3"),
        (12, None),
    ],
)
def test_no_longer_than_need_be(at: int, written: str | None) -> None:
    asked = shortest(SOURCE, words_of(SOURCE), TARGETS[at][1])
    if written is not None:
        assert str(asked) == written
    assert asked is not None


@pytest.mark.parametrize(
    "markup",
    [
        "<p>a</p><script>a fine word</script>",
        "<p hidden>a fine word</p>",
        "<template><p>a fine word</p></template>",
        "<p>a</p><p>fine word</p>",  # a match does not run from one block into the next
        "<p>a finer word",
    ],
)
def test_words_that_are_not_there(markup: str) -> None:
    assert find(words_of(Source(markup)), TextDirective("a fine word")) is None


def test_words_that_no_text_can_tell_apart_have_no_link() -> None:
    source = Source("<p>same</p>" * 30)
    assert shortest(source, words_of(source), 17) is None
    assert shortest(Source("<p></p>"), words_of(Source("<p></p>")), 3) is None
