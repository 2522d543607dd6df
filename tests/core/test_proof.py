"""The proof before a change is saved must be able to fail: each of these edits
does more, or other, than was asked."""

import pytest

from innerhop.core.edits import Edit, apply
from innerhop.core.proof import same_but
from innerhop.core.source.tree import Source

PAGE = "<!doctype html><title>t</title><body><h2 class=a>Head</h2><p>one two <b>three</b></p>"


def changed(old: str, new: str) -> tuple[Source, Source]:
    assert old in PAGE
    at = PAGE.index(old)
    return Source(PAGE), Source(apply(PAGE, [Edit(at, old, new)]))


def number(source: Source, tag: str) -> int:
    return next(n for n, node in enumerate(source.nodes) if node.tag == tag)


@pytest.mark.parametrize(
    ("old", "new", "same"),
    [
        ("<h2 ", '<h2 id="x" ', True),
        ("<h2 ", '<h2 id="y" ', False),  # another ID
        ("<h2 class=a", '<h2 id="x" class=b', False),  # and a class
        ("<h2 class=a", '<h2 id="x"', False),  # a class less
        ("<h2 class=a>Head", '<h2 id="x" class=a>Heads', False),  # other words
        ("<h2 class=a>Head</h2>", '<h2 id="x" class=a>Head</h2><hr>', False),  # an element more
        ("<p>", '<p id="x">', False),  # on another element
    ],
)
def test_marks(old: str, new: str, same: bool) -> None:
    before, after = changed(old, new)
    assert same_but(before, after, attributes={number(before, "h2"): {"id": "x"}}) == same


@pytest.mark.parametrize(
    ("old", "new", "same"),
    [
        ("two <b>three</b>", "<a href=x>two <b>three</b></a>", True),
        ("two", "<a href=x>two</a>", True),
        ("two", "<a href=x>to</a>", False),  # other words
        ("two <b>", "<a href=x>two <i>", False),  # another element
        ("two <b>three</b>", "<a href=x>two <b class=c>three</b></a>", False),  # an attribute
        ("<p>one", "<a href=x><p>one", True),  # around a block: allowed by the tree, if odd
        ("two", "<a href=x>two</a><a href=y></a>", False),  # two links
    ],
)
def test_links(old: str, new: str, same: bool) -> None:
    before, after = changed(old, new)
    assert same_but(before, after, added=[number(after, "a")]) == same


@pytest.mark.parametrize(
    ("old", "new", "same"),
    [
        ("</title>", "</title><style>a{}</style>", True),
        ("</title>", "</title><style>a{}</style><meta>", False),
        ("one two", "<style></style>one", False),  # words are gone
    ],
)
def test_styles(old: str, new: str, same: bool) -> None:
    before, after = changed(old, new)
    assert same_but(before, after, added=[number(after, "style")]) == same


@pytest.mark.parametrize(
    ("old", "new", "same"),
    [
        ("<h2 class=a>Head</h2>", "<h3 class=a>Head</h3>", True),
        ("<h2 class=a>Head</h2>", "<h3>Head</h3>", False),  # its class is gone
        ("<h2 class=a>Head</h2><p>one", "<h3 class=a>Head</h3>one<p>", False),  # words moved
    ],
)
def test_tags(old: str, new: str, same: bool) -> None:
    before, after = changed(old, new)
    assert same_but(before, after, tags={number(before, "h2"): "h3"}) == same


def test_what_is_asked_away() -> None:
    before, after = changed("<b>three</b>", "three")
    assert same_but(before, after, removed=[number(before, "b")])
    assert not same_but(before, after)


@pytest.mark.parametrize("name", ["rel", "headers", "class", "accept-charset"])
def test_attributes_that_are_lists_of_words_are_compared_as_written(name: str) -> None:
    old, new = Source("<p><a>x</a>"), Source(f'<p><a {name}="one two">x</a>')
    number = next(n for n, node in enumerate(old.nodes) if node.tag == "a")
    assert same_but(old, new, attributes={number: {name: "one two"}})
    assert not same_but(old, new, attributes={number: {name: "one  two"}})
