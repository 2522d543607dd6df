"""The verbs in which plans say what is done to a page: each does what it claims, and html5lib,
another parser, sees the old tree with that done to it."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from innerhop.core.edits import apply
from innerhop.core.formats import html
from innerhop.core.formats.pieces import NotWhole, Piece
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.core.source.tree import Source, Span
from tests.core.planned import after, first

UTF_8 = FileEncoding()
PAGE = "<!doctype html><title>T</title><main>\r\n  <p CLASS=a>One <b>two</b></p>\r\n  <hr></main>"
NOTE = Piece("p", {"id": "n"}, ("Read ", Piece("a", {"href": "/x/?a&b"}, ("this & that",))))
NOTE_READ = '<p id="n">Read <a href="/x/?a&amp;b">this &amp; that</a></p>'


@pytest.mark.parametrize(
    ("space", "is_before", "expected"),
    [
        ("", False, '</b></p><p id="n">Read <a href="/x/?a&amp;b">this &amp; that</a></p>\r\n'),
        ("\r\n  ", False, '</b></p>\r\n  <p id="n">'),
        ("\r\n  ", True, '<main>\r\n  <p id="n">'),
    ],
)
def test_what_is_put_beside_brings_its_space(space: str, is_before: bool, expected: str) -> None:
    source = Source(PAGE)
    tag, end = source.start_tag(first(source, "p")), source.end_of(first(source, "p"))
    assert tag is not None
    assert end is not None
    place = tag.start if is_before else end
    text = after(source, html.put(place, NOTE, UTF_8, space=space, is_before=is_before))
    assert expected in text
    assert len(text) == len(PAGE) + len(space) + len(NOTE_READ)


def test_attributes_are_given_and_taken_off() -> None:
    source = Source(PAGE)
    number, other = first(source, "p"), first(source, "hr")
    plan = html.give(source, {number: {"class": None, "id": "x"}, other: {"id": "y"}}, UTF_8)
    assert after(source, plan) == PAGE.replace(" CLASS=a", ' id="x"').replace("<hr>", '<hr id="y">')


def test_around_in_the_place_of_and_away() -> None:
    source = Source(PAGE)
    start = PAGE.index("One ")
    around = html.put_around(Span(start, start + 3), "a", {"href": "#t", "rel": None}, UTF_8, "One")
    assert '<p CLASS=a><a href="#t">One</a> <b>' in after(source, around)
    bold = first(source, "b")
    instead = html.put_instead(source, bold, Piece("i", {}, ("zwei",)), UTF_8)
    assert "One <i>zwei</i></p>" in after(source, instead)
    assert after(source, html.take_away(source, bold, " ")) == PAGE.replace(" <b>two</b>", "")
    assert after(source, html.take_tags(source, bold)) == PAGE.replace("<b>two</b>", "two")
    same = html.put_instead(source, bold, Piece("b", {}, ("two",)), UTF_8)
    assert not same.edits


def test_what_readers_lose_is_named() -> None:
    source = Source(PAGE)
    bold = first(source, "b")
    for plan in (
        html.take_away(source, bold),
        html.put_instead(source, bold, Piece("i", {}, ("zwei",)), UTF_8),
    ):
        assert [one.words for one in plan.claim.takes] == ["two"]
    assert not html.take_tags(source, bold).claim.takes


@pytest.mark.parametrize(
    ("text", "tag", "close", "expected"),
    [
        ("<p><B a=1>x</B >y", "b", None, "<p><strong a=1>x</strong >y"),
        ("<p>x<p>y", "p", 4, "<strong>x</strong><p>y"),
        ("<p>x<p>y", "p", None, None),
        ("x<p>y", "body", None, None),  # no tag made it
    ],
)
def test_another_element_is_made_of_one(
    text: str, tag: str, close: int | None, expected: str | None
) -> None:
    source = Source(text)
    number = next(at for at, one in enumerate(source.tags) if one == tag)
    edits = html.retagged(source, number, "strong", close)
    assert (None if edits is None else apply(text, edits)) == expected


@pytest.mark.parametrize("verb", [html.take_away, html.take_tags])
def test_what_has_no_written_end_is_left_alone(verb: object) -> None:
    source = Source("<div><p>x<p>y</div>")
    with pytest.raises(NotWhole):
        verb(source, first(source, "p"))  # type: ignore[operator]


WORDS = st.text(st.characters(blacklist_categories=["Cs", "Cc"]), max_size=8)
NAMES = st.sampled_from(["id", "class", "title", "href"])
PIECES = st.recursive(
    WORDS,
    lambda inside: st.builds(
        lambda tag, values, held: Piece(tag, values, tuple(held)),
        st.sampled_from(["a", "span", "b"]),
        st.dictionaries(NAMES, WORDS, max_size=2),
        st.lists(inside, max_size=3),
    ),
    max_leaves=6,
)


@given(PIECES, st.sampled_from(["", " ", "\n  ", "\r\n"]), st.booleans())
def test_whatever_is_put_in_is_proved(piece: Piece | str, space: str, is_before: bool) -> None:
    source = Source(PAGE)
    whole = piece if isinstance(piece, Piece) else Piece("b", {}, (piece,))
    end = source.end_of(first(source, "p"))
    assert end is not None
    nested = _has_link_in_link(whole)
    plan = html.put(end, Piece("p", {}, (whole,)), UTF_8, space=space, is_before=is_before)
    if not nested:
        after(source, plan)


def _has_link_in_link(piece: Piece, inside: bool = False) -> bool:
    """HTML Standard: an `a` ends where another begins, and a `b` runs on."""
    is_link = piece.tag == "a"
    return (is_link and inside) or any(
        _has_link_in_link(one, inside or is_link) for one in piece.inside if isinstance(one, Piece)
    )
