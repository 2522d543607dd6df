"""Empty lines above what readers arrive at: found, and taken out (common practice, no
source)."""

from __future__ import annotations

import pytest

from innerhop.core.edits import apply
from innerhop.core.facts.spacers import spacers
from innerhop.core.planners.spacers import plan_out
from innerhop.core.proof import proved
from innerhop.core.source.tree import Source

NBSP = "\N{NO-BREAK SPACE}"


@pytest.mark.parametrize(
    ("markup", "left"),
    [
        ("<p>a</p>\r\n<p>&nbsp;</p>\r\n<P></P>\r\n<h2>x</h2>", "<p>a</p>\r\n<h2>x</h2>"),
        ("<div><br></div><h4 id=x>b</h4>", "<h4 id=x>b</h4>"),
        (f"<div class=y>{NBSP}</div><h3>x</h3>", "<h3>x</h3>"),
        ("<p>a</p><br><br/>\n<h2>x</h2>", "<p>a</p>\n<h2>x</h2>"),
        ("<p><span><br></span></p><span id=m></span><h2>x</h2>", "<span id=m></span><h2>x</h2>"),
    ],
)
def test_what_is_empty_goes_with_its_line(markup: str, left: str) -> None:
    source = Source(markup)
    plan = plan_out(source, spacers(source))
    assert apply(markup, plan.edits) == left
    proved(source, plan)


@pytest.mark.parametrize(
    "markup",
    [
        "<p>&nbsp;</p><p>no end of a hop</p>",
        "<p id=keep></p><h2>a marker</h2>",
        "<p><img src=x></p><h2>a picture</h2>",
        "<div class=rule></div><h2>drawn by a style</h2>",
        "<p>&nbsp;</p>words<h2>x</h2>",
        "words<br><h2>the end of a line</h2>",
        "<p>a <b>b</b><br></p><h2>x</h2>",
        "<p onclick=y>&nbsp;</p><h2>x</h2>",
        "<template><p></p><h2>x</h2></template>",
    ],
)
def test_what_is_no_spacer_stays(markup: str) -> None:
    assert spacers(Source(markup)) == []
