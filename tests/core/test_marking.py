"""Marking touches one start tag: the page read again by another parser is the
old tree with that ID, and the characters around it are the old ones."""

from __future__ import annotations

import pytest
from hypothesis import given, settings

from innerhop.core.facts.page_facts import gather
from innerhop.core.planners import marking
from innerhop.core.refusals import Refusal
from innerhop.core.source import file_encoding
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.core.source.tree import Source
from tests.core import trees
from tests.core.planned import after as after_plan

UTF_8 = FileEncoding()


def mark(text: str, which: int, id_: str, encoding: FileEncoding = UTF_8) -> str:
    """The page with its `which`-th heading marked."""
    source = Source(text)
    facts = gather(source)
    made = marking.plan_marks(source, facts, [(facts.headings[which].number, id_)], encoding)
    return after_plan(source, made)


@settings(max_examples=150)
@given(trees.markup())
def test_another_parser_sees_the_old_tree_and_the_id(text: str) -> None:
    count = len(gather(Source(text)).headings)
    for which in range(count):
        try:
            marked = mark(text, which, "new-one")
        except Refusal as problem:
            assert str(problem)
            continue
        old, new = trees.read(text), trees.read(marked)
        headings = [one for one in old.below() if one.tag in ("h2", "h3")]
        headings[which].attrs["id"] = "new-one"
        assert new == old


@pytest.mark.parametrize(
    ("before", "after"),
    [
        ("<h2>Fees</h2>", '<h2 id="fees">Fees</h2>'),
        ("<H2\r\n  CLASS=big >Fees</h2>", '<H2 id="fees"\r\n  CLASS=big >Fees</h2>'),
        ("<h2 id=''>Fees", "<h2 id='fees'>Fees"),
        ("<h2 id= >Fees", '<h2 id="fees">Fees'),
        ("<h2\t/>Fees", '<h2 id="fees"\t/>Fees'),
        ("<!--<h2>x</h2>--><h2>Fees</h2>", '<!--<h2>x</h2>--><h2 id="fees">Fees</h2>'),
        ("<template><h2>x</h2></template><h2>y", '<template><h2>x</h2></template><h2 id="fees">y'),
    ],
)
def test_only_the_characters_of_the_id_change(before: str, after: str) -> None:
    assert mark(before, 0, "fees") == after


@pytest.mark.parametrize(
    ("text", "id_", "message"),
    [
        ("<h2>x</h2><p id=fees>", "fees", "arrive at the first"),
        ("<h2>x", "a b", "spaces"),
        ("<h2>x", "#a", "#"),
        ("<h2 id=old>x", "new", "“old” already"),
    ],
)
def test_what_can_t_be_marked_is_said(text: str, id_: str, message: str) -> None:
    with pytest.raises(marking.CannotMark, match=message):
        mark(text, 0, id_)


def test_an_id_the_encoding_lacks_is_written_as_references() -> None:
    _, encoding = file_encoding.decode(b"<meta charset=windows-1252><h2>x</h2>\xe9")
    assert mark("<h2>x</h2>", 0, "δοκ", encoding) == '<h2 id="&#948;&#959;&#954;">x</h2>'
    assert mark("<h2>x</h2>", 0, "é&amp", encoding) == '<h2 id="é&amp;amp">x</h2>'
