"""What readers see first who are sent to a mark (common practice, no source)."""

import pytest

from innerhop.core.facts.first_seen import first_seen
from innerhop.core.source.tree import Source


@pytest.mark.parametrize(
    ("markup", "seen"),
    [
        ("<section id=x><div><h2>Fees</h2><p>a</p></div></section>", "h2"),
        ("<section id=x><p>First <b>words</b></p><h2>Fees</h2></section>", "p"),
        ("<section id=x><div><span><b>Fees</b></span></div></section>", "div"),
        ("<section id=x><h2> </h2><figure><img src=a.svg></figure></section>", "figure"),
        ("<section id=x><style>p { top: 0 }</style><h3>Fees</h3></section>", "h3"),
        ("<span id=x></span><p>&nbsp;</p><p> </p><h2>Fees</h2>", "h2"),
        ("<p><span id=x></span></p><div><em>Fees</em> to pay</div>", "div"),
        # Words of its own, or none to be found: nothing better is there.
        ("<section id=x>Fees<h2>Later</h2></section>", "section"),
        ("<h2 id=x>Fees</h2>", "h2"),
        ("<p>before</p><div id=x></div>", "div"),
        ("<p>Go <span id=x></span>on to <b>pay</b></p>", "span"),
    ],
)
def test_first_seen(markup: str, seen: str) -> None:
    source = Source(markup)
    number = next(one.number for one in source.having("id"))
    found = first_seen(source, number)
    assert source.tags[found] == seen
    assert found >= number
