"""Shut parts: what the HTML Standard's ancestor revealing algorithm opens, and what
stays hidden. tests/browser follows hops into the same parts in Chromium."""

from __future__ import annotations

import pytest

from innerhop.core.facts import hidden_parts
from innerhop.core.facts.hidden_parts import HIDDEN, OPENS
from innerhop.core.source.tree import Source

CASES = [
    ("<details><summary>s</summary><p id=x>a</p></details>", OPENS),
    ("<details><summary id=x>s</summary><p>a</p></details>", ""),
    ("<details><summary><b id=x>s</b></summary></details>", ""),
    ("<details><p id=x>a</p><summary>s</summary></details>", OPENS),
    ("<details id=x><summary>s</summary>a</details>", ""),
    ("<details open><summary>s</summary><p id=x>a</p></details>", ""),
    ("<details><summary>s</summary><details open><summary>t</summary><p id=x>a</details></details>",
     OPENS),
    ("<div hidden=until-found><p id=x>a</p></div>", OPENS),
    ("<div hidden=UNTIL-FOUND id=x>a</div>", OPENS),
    ("<div hidden><p id=x>a</p></div>", HIDDEN),
    ("<p hidden id=x>a</p>", HIDDEN),
    ("<div style='color:red; display : none'><p id=x>a</p></div>", HIDDEN),
    ("<div style='--display:none'><p id=x>a</p></div>", ""),
    ("<dialog><p id=x>a</p></dialog>", HIDDEN),
    ("<dialog open><p id=x>a</p></dialog>", ""),
    ("<details><summary>s</summary><div hidden><p id=x>a</p></div></details>", HIDDEN),
    ("<p id=x>a</p>", ""),
]  # fmt: skip


@pytest.mark.parametrize(("markup", "state"), CASES)
def test_whether_a_hop_opens_the_part(markup: str, state: str) -> None:
    source = Source(f"<body>{markup}<p>after</p>")
    found = source.reading.matching("#x")[0]
    states = hidden_parts.states(source, range(len(source)))
    assert states.get(found, "") == state
    assert len(source) - 1 not in states
