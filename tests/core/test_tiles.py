"""A tile copied with its link: what another parser reads is the page and one tile more. That
tiles are made so is common practice, no source."""

from __future__ import annotations

import pytest

from innerhop.core.planners import tiles
from innerhop.core.planners.wrapping import CannotLink
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.core.source.tree import Source
from tests.core import trees
from tests.core.planned import after

UTF_8 = FileEncoding()
CARD = (
    "<article class='card wide' id=c{n}><img src=/{n}.jpg alt='Lock {n}'><h3 id=h{n}>Lock {n}</h3>"
    "<p>It has {n} gates.</p><a class=btn href='/lock-{n}/' aria-label='Lock {n}' target=_blank>"
    "Read more</a></article>"
)
WHOLE = "<a class=tile href=/{n}/><img src=/{n}.jpg alt=''>\n <span><b>Lock {n}</b></span></a>"
ENTRY = "<li><img src=/{n}.jpg alt=''><a href=/{n}/>Lock {n}</a></li>"


def page_of(tile: str, around: str = "<div>{}</div>") -> Source:
    tiles_ = "\n  ".join(tile.format(n=n) for n in (1, 2))
    return Source(f"<body><h1>Locks</h1>{around.format(tiles_)}<p>Then.</p>")


def at(source: Source, selector: str) -> int:
    return source.reading.matching(selector)[0]


@pytest.mark.parametrize(
    ("tile", "around", "inside", "copy"),
    [
        (CARD, "<div>{}</div>", "h3",
         "<article class='card wide'><img src=/1.jpg alt='Lock 1'><h3>Ice &amp; snow</h3><p></p>"
         "<a class=btn href=\"/winter/#ice\">Read more</a></article>"),
        (WHOLE, "<div>{}</div>", "b",
         "<a class=tile href=\"/winter/#ice\"><img src=/1.jpg alt=''>\n "
         "<span><b>Ice &amp; snow</b></span></a>"),
        (ENTRY, "<ul>{}</ul>", "img",
         "<li><img src=/1.jpg alt=''><a href=\"/winter/#ice\">Ice &amp; snow</a></li>"),
    ],
)  # fmt: skip
@pytest.mark.parametrize("side", ["before", "after"])
def test_a_tile_is_copied_whole_with_words_and_link_of_its_own(
    tile: str, around: str, inside: str, copy: str, side: str
) -> None:
    source = page_of(tile, around)
    found = tiles.tile_at(source, at(source, inside))
    assert found is not None
    plan = tiles.plan_copy(
        source,
        found,
        side,
        " Ice  & snow ",
        values={"href": "/winter/#ice"},
        encoding=FileEncoding(),
    )
    text = after(source, plan)
    first = tile.format(n=1)
    pair = copy + first if side == "before" else first + copy
    assert trees.read(text) == trees.read(source.text.replace(first, pair))


@pytest.mark.parametrize(
    ("markup", "inside"),
    [
        (CARD.format(n=1), "h3"),  # none like it
        ("<ul><li><a href=/a>A</a></li><li><a href=/b>B</a></li></ul>", "li"),  # a line of words
        (f"<nav>{WHOLE.format(n=1)}{WHOLE.format(n=2)}</nav>", "b"),  # a menu's item
        ("<div><p>a<a href=/a>A</a><a href=/b>B</a></div>" * 2, "p"),
        ("<div><p>none</div>" * 2, "p"),
    ],
)
def test_what_is_no_tile(markup: str, inside: str) -> None:
    source = Source(f"<body>{markup}")
    assert tiles.tile_at(source, at(source, inside)) is None


def test_one_that_can_t_be_copied_is_said() -> None:
    source = page_of("<a class=tile href=/{n}/><img src=/{n}.jpg alt='Lock {n}'></a>")
    found = tiles.tile_at(source, at(source, "img"))
    assert found is not None
    with pytest.raises(CannotLink, match="no words that could be others"):
        tiles.plan_copy(
            source, found, "after", "Ice", values={"href": "#a"}, encoding=FileEncoding()
        )


def test_a_tile_holds_what_is_in_it_alone() -> None:
    source = page_of(CARD)
    found = tiles.tile_at(source, at(source, "h3"))
    assert found is not None
    inside = [
        found.holds(source, at(source, one)) for one in ("article", "h3", "h1", "article + *")
    ]
    assert inside == [True, True, False, False]
