"""Links reworded and taken off; html5lib as the second parser that reads what became of them."""

from __future__ import annotations

import html5lib
import pytest

from innerhop.core.planners import link_texts
from innerhop.core.planners.wrapping import CannotLink
from innerhop.core.proof import proved
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.core.source.tree import Source
from innerhop.core.words_law import taken_by

UTF_8 = FileEncoding()


def words_read(markup: str) -> list[str]:
    return "".join(html5lib.parse(markup, namespaceHTMLElements=False).itertext()).split()


@pytest.mark.parametrize(
    ("link", "left"),
    [
        ("<A  HREF=/x class=b>the <b>fees</b></a>", "the <b>fees</b>"),
        ("<a href=x><img src=a alt=Boat></a>", "<img src=a alt=Boat>"),
        ("<a id=fees href='x' target=_blank rel=noopener>fees</a>", "<a id=fees>fees</a>"),
        ("<a class=b href=x name=f>fees</a>", "<a class=b name=f>fees</a>"),
    ],
)
def test_a_link_taken_off_leaves_its_words(link: str, left: str) -> None:
    source = Source(f"<p>See {link}, or ask.</p>")
    plan = link_texts.plan_unlinked(source, source.reading.of_tags(["a"])[0], UTF_8)
    new = proved(source, plan)
    assert new.text == f"<p>See {left}, or ask.</p>"
    assert words_read(new.text) == words_read(source.text)
    taken = taken_by(source, plan)
    assert (taken.words.total(), taken.links.total()) == (0, 1)


@pytest.mark.parametrize(
    ("link", "left"),
    [
        ("<A  HREF=/x>the fees</a>", "<A  HREF=/x>All prices &amp; dates</a>"),
        ("<a href=x> <B>the fees</B>\n</a>", "<a href=x> <B>All prices &amp; dates</B>\n</a>"),
        ("<a href=x><svg><path d=''/></svg> the fees</a>",
         "<a href=x><svg><path d=''/></svg> All prices &amp; dates</a>"),
        ("<a href=x>the <i>fees</i> <img src=a></a>",
         "<a href=x>All prices &amp; dates<img src=a></a>"),
    ],
)  # fmt: skip
def test_a_reworded_link_keeps_what_its_words_stand_in(link: str, left: str) -> None:
    source = Source(f"<p>See {link}, or ask.</p>")
    number = source.reading.of_tags(["a"])[0]
    new = proved(source, link_texts.plan_reworded(source, number, " All prices  & dates ", UTF_8))
    assert new.text == f"<p>See {left}, or ask.</p>"


@pytest.mark.parametrize(
    ("markup", "words", "why"),
    [
        ("<a href=x>fees</a>", "  ", "Type the words"),
        ("<a href=x><img src=a alt=Boat></a>", "Boats", "alternative text"),
        ("<a id=x>fees</a>", "Prices", "no link any more"),
    ],
)
def test_what_can_t_be_reworded_is_said(markup: str, words: str, why: str) -> None:
    source = Source(f"<p>{markup}")
    with pytest.raises(CannotLink, match=why):
        link_texts.plan_reworded(source, source.reading.of_tags(["a"])[0], words, UTF_8)
