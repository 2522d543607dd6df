"""A page that comes again: where on it something changed, what was done here, and what is lost
where the new text takes its place, as it is told to an editor (common practice, no source)."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import pytest

from innerhop.check.reading import FilePage, Options
from innerhop.core.edits import Edit, apply
from innerhop.core.merge.deeds import Deeds
from innerhop.core.merge.drawn import DrawnStretch, TextToDraw
from innerhop.core.merge.lost import Lost, lost
from innerhop.core.merge.matching import matched
from innerhop.core.merge.said import said
from innerhop.core.source.tree import Source
from tests.core.test_merging import PAGE, Asked, edits_of


def _words(text: str, found: Sequence[DrawnStretch]) -> list[str]:
    """What stands in a text where it is drawn on."""
    return [text[round(one.start * len(text)) : round(one.end * len(text))] for one in found]


@pytest.mark.parametrize(
    ("change", "drawn"),
    [
        (("", ""), []),
        (("On the frost", "On the ice"), ["<p>On the ice and the thaw here.</p>"]),
        (("<h2>Frost", "<h2 id=f>Frost"), ["<h2 id=f>Frost bites</h2>"]),
        (("<h2>Frost", "<h2 class=f>Frost"), []),  # readers don't notice
        (("<h2 id=thaw", "<h2 id=melt"), ["<h2 id=melt>Thaw comes</h2>"]),
        (('href="#thaw"', 'href="/x/"'), ['<a href="/x/">Thaw</a>']),
        (("<ul class", "<p>A wholly new paragraph, quite long.</p><ul class"),
         ["<p>A wholly new paragraph, quite long.</p>"]),
    ],
)  # fmt: skip
def test_what_was_changed_there_is_drawn_where_it_stands(
    change: tuple[str, str], drawn: list[str]
) -> None:
    theirs = PAGE.replace(*change)
    found = TextToDraw(matched(Source(PAGE), Source(theirs))).there()
    assert _words(theirs, found) == drawn


def test_what_went_is_drawn_as_a_point_where_it_was() -> None:
    theirs = PAGE.replace("<p>Wet ground.</p>\n", "")
    [found] = TextToDraw(matched(Source(PAGE), Source(theirs))).there()
    assert found.start == found.end
    assert theirs[: round(found.start * len(theirs))].endswith("Thaw comes</h2>")


def test_changes_right_beside_each_other_are_one() -> None:
    near = PAGE.replace("Frost bites", "Cold bites").replace("Thin ice", "Thick ice")
    far = PAGE.replace("On the frost", "On the cold").replace("Wet ground", "Dry ground")
    counts = [len(TextToDraw(matched(Source(PAGE), Source(one))).there()) for one in (near, far)]
    assert counts == [1, 2]


def test_what_was_done_here_is_drawn_where_the_new_text_has_it() -> None:
    theirs = PAGE.replace("<h1>Ice</h1>", "<h1>Ice</h1>\n<p>A long new beginning of the page.</p>")
    edits = edits_of(PAGE, [("<h2>Frost", 3, "", ' id="frost"'), ("<ul class", 0, "", "<p>N</p>")])
    deeds = Deeds(Source(PAGE), Source(apply(PAGE, edits)), edits).deeds
    text = TextToDraw(matched(Source(PAGE), Source(theirs)))
    begins = [theirs[round(one.start * len(theirs)) :][:10] for one in text.here(deeds)]
    assert begins[0] == "<h2>Frost "
    assert begins[1] in ("<ul class=", "<h2 id=tha", "<p>Wet gro")  # near where it would stand
    heads = [theirs[round(at * len(theirs)) :][:9] for at in text.sections()]
    assert heads == ["<h1>Ice</", "<h2>Frost", "<h2 id=th"]
    [title] = Source(PAGE).of_tags("h1")
    assert theirs[round(text.place(title.number) * len(theirs)) :].startswith("<h1>Ice")


DEEDS: list[tuple[list[Asked], list[str]]] = [
    ([("<h2>Frost", 3, "", ' id="frost"')], ["“Frost bites” is #frost"]),
    ([('"#thaw"', 0, '"#thaw"', '"/t/"')], ["“Thaw” leads to /t/"]),
    ([("<ul class=list", 10, "list", "wide")], ["“Thaw” has another class"]),
    ([("the frost", 4, "", '<a href="#frost">'), ("the frost", 9, "", "</a>")],
     ["“frost” leads to #frost"]),
    ([("<h2 id=thaw", 0, "", '<p id="b"><a href="#top">Back</a></p>')],
     ["put in “Back”, marked #b"]),
    ([("<h2 id=thaw", 0, "", '<span id="b"></span>')], ["put something in, marked #b"]),
    ([("<h2 id=thaw", 0, "", "<p>New</p>")], ["put in “New”"]),
    ([("<p>Wet", 0, "<p>Wet ground.</p>", "")], ["took out “Wet ground.”"]),
    ([("<h2>F", 1, "h2", "h3"), ("bites</h2>", 7, "h2", "h3")], ["“Frost bites” became h3"]),
]  # fmt: skip


@pytest.mark.parametrize(("asked", "words"), DEEDS)
def test_what_was_done_here_is_called_by_what_it_is_to_readers(
    asked: list[Asked], words: list[str]
) -> None:
    edits = edits_of(PAGE, asked)
    base, here = Source(PAGE), Source(apply(PAGE, edits))
    assert [said(deed, base, here) for deed in Deeds(base, here, edits).deeds] == words


def test_long_words_are_cut() -> None:
    page = f"<p>{'word ' * 40}</p>"
    edits = [Edit(2, "", " id=a")]
    base, here = Source(page), Source(apply(page, edits))
    [deed] = Deeds(base, here, edits).deeds
    assert said(deed, base, here) == f"“{'word ' * 11}word…” is #a"


OPTIONS = Options("https://marrowby.example/")


def _lost(here: str, new: str = PAGE, came: str = PAGE) -> Lost:
    return lost(*(FilePage("ice.html", text, OPTIONS) for text in (came, here, new)))


LIST = '<nav data-hop-list="nested"><ul><li><a href="#thaw">Thaw</a></li></ul></nav>'
WAY = '<p data-hop-back="sections"><a href="#top">Back</a></p>'


@pytest.mark.parametrize(
    ("change", "fields", "sentences"),
    [
        (("", ""), {}, []),
        (("<h2>F", '<h2 id="frost">F'), {"marks": ("frost",)}, ["1 mark: #frost"]),
        (("On the frost", 'On <a href="#thaw">the frost</a>'),
         {"hops": (("the frost", "#thaw"),)}, ["1 hop: “the frost” to #thaw"]),
        (("<h2>F", f"{LIST}<h2>F"), {"lists": 1}, ["1 contents list"]),
        (("<h2>F", f"{WAY}<h2>F"), {"ways": 1}, ["1 way back"]),
        (("</main>", "</main><style>html{scroll-behavior:smooth}</style>"), {"styles": True},
         ["lines of style for its hops (room, gliding)"]),
    ],
)  # fmt: skip
def test_what_is_made_here_and_would_be_lost_is_told(
    change: tuple[str, str], fields: dict[str, Any], sentences: list[str]
) -> None:
    here = PAGE.replace(*change, 1)
    none: dict[str, Any] = {"marks": (), "hops": (), "lists": 0, "ways": 0, "styles": False}
    found = _lost(here)
    assert found == Lost(**none | fields)
    assert found.is_any is bool(fields)
    assert found.sentences == sentences
    assert not _lost(here, new=here).is_any  # it is there too
    assert not _lost(PAGE, new=PAGE.replace("<h2 id=thaw", "<h2")).is_any  # not made here


def test_of_many_the_first_are_named_and_all_are_counted() -> None:
    marks = "".join(f'<p id="m{at}">x</p>' for at in range(8))
    [words] = _lost(PAGE.replace("</main>", f"{marks}</main>")).sentences
    assert words == "8 marks: #m0, #m1, #m2, #m3, #m4, #m5 and 2 more"
