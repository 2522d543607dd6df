"""Attributes are written with no more escaping than reading needs, and read back
by another parser as what they should say (html5lib)."""

from __future__ import annotations

import ast
import re
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from innerhop.core.source import markup
from innerhop.core.source.file_encoding import FileEncoding
from tests.core import trees

CP1252 = FileEncoding("windows-1252", "cp1252")


@pytest.mark.parametrize(
    ("value", "like", "written"),
    [
        ("fees", "", 'id="fees"'),
        ("fees", "id='x'", "id='fees'"),
        ("fees", "id=x", "id=fees"),
        ("a b", "id=x", 'id="a b"'),
        ("it's", "id='x'", 'id="it\'s"'),
        ('say "no"', "", 'id="say &quot;no&quot;"'),
        ("a/", "id=x", 'id="a/"'),
        ("a & b", "", 'id="a & b"'),
        ("a&amp", "", 'id="a&amp;amp"'),
        ("ü€", "", 'id="ü€"'),
        ("śluza", "", 'id="&#347;luza"'),
    ],
)
def test_how_an_attribute_is_written(value: str, like: str, written: str) -> None:
    assert markup.attribute("id", value, CP1252, like) == written


VALUES = st.text(st.characters(blacklist_categories=["Cs", "Cc"]), min_size=1, max_size=12)


@given(VALUES, st.sampled_from(["", "title=x", "title='x'", 'title="x"']))
def test_another_parser_reads_back_what_was_written(value: str, like: str) -> None:
    written = markup.attribute("title", value, CP1252, like)
    assert CP1252.can_write(written)
    element = next(one for one in trees.read(f"<p {written}>x</p>").below() if one.tag == "p")
    # A non-character in a reference is kept by browsers and replaced by html5lib.
    if all(ord(character) & 0xFFFE != 0xFFFE for character in value):
        assert element.attrs == {"title": value}


def test_nothing_else_spells_tags() -> None:
    core = Path(markup.__file__).parents[1]
    files = [*core.glob("planners/*.py"), *core.glob("contents/*.py"), *core.glob("menus/*.py")]
    for file in files:
        tree = ast.parse(file.read_text())
        said = {ast.get_docstring(one, clean=False) for one in ast.walk(tree)
                if isinstance(one, ast.Module | ast.ClassDef | ast.FunctionDef)}  # fmt: skip
        for one in ast.walk(tree):
            if isinstance(one, ast.Constant) and isinstance(one.value, str):
                assert one.value in said or not re.search("</?[a-z]|<$", one.value), (
                    file,
                    one.value,
                )
    assert len(files) > 30
