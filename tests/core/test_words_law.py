"""The law of words: what a plan may take from readers. That words and links are theirs is the
rule of the product (WCAG 2.2 has none for editing tools); what a link is: HTML Standard,
"Links created by a and area elements"
(https://html.spec.whatwg.org/multipage/links.html#links-created-by-a-and-area-elements)."""

from __future__ import annotations

import pytest

from innerhop.core import words_law
from innerhop.core.edits import Edit
from innerhop.core.plan import Claim, Filling, NewElement, Part, Plan, Takes
from innerhop.core.proof import TakesWords, proved
from innerhop.core.source.tree import Source

PAGE = "<title>t</title><body><p>one <a href=x>two</a> <img alt=three></p><div>four</div>"
P, A, IMG, DIV = 4, 5, 6, 7


def edit(old: str, new: str) -> Edit:
    return Edit(PAGE.index(old), old, new)


REMOVED = Plan([edit("<a href=x>two</a>", "")], Claim(removed={A: ("", "")}))
UNLINKED = Plan([edit("<a href=x>", ""), edit("</a>", "")], Claim(gone=[A]))
NO_ADDRESS = Plan([edit(" href=x", "")], Claim({A: {"href": None}}))
PICTURE = Plan([edit("<img alt=three>", "")], Claim(removed={IMG: ("", "")}))
FILLED = Plan([edit("four", "five")], Claim(filled={DIV: Filling("five")}))


@pytest.mark.parametrize(
    ("plan", "words", "links"),
    [
        (REMOVED, {"two"}, {"two"}),
        (UNLINKED, set(), {"two"}),
        (NO_ADDRESS, set(), {"two"}),
        (PICTURE, {"three"}, set()),
        (FILLED, {"four"}, set()),
    ],
)
def test_what_is_taken_has_to_be_named(plan: Plan, words: set[str], links: set[str]) -> None:
    old = Source(PAGE)
    taken = words_law.taken_by(old, plan)
    assert (set(taken.words), set(taken.links)) == (words, links)
    with pytest.raises(TakesWords):
        proved(old, plan)
    named = [*map(Takes, words), *(Takes(one, is_link=True) for one in links)]
    proved(old, plan.taking(named))
    for left_out in named:  # each of them
        with pytest.raises(TakesWords):
            proved(old, plan.taking([one for one in named if one is not left_out]))


@pytest.mark.parametrize(
    "plan",
    [
        # an element put in another place, its words and its link with it
        Plan(
            [edit("<a href=x>two</a>", ""), edit("<div>", "<a href=y>two</a><div>")],
            Claim(new=[NewElement(1, 0, "a", {"href": "y"}, "two")], removed={A: ("", "")}),
        ),
        # filled anew with the same words, and signs between them
        Plan(
            [edit("<div>four", "<div>- <b>four</b>")],
            Claim(filled={DIV: Filling("- ", [Part("b", {}, "four", 1)])}),
        ),
        Plan([edit("href=x", "href=z")], Claim({A: {"href": "z"}})),
    ],
)
def test_what_is_kept(plan: Plan) -> None:
    proved(Source(PAGE), plan)


def test_what_is_said_before() -> None:
    old = Source(PAGE)
    said = words_law.sentence([words_law.taken_by(old, one) for one in (REMOVED, UNLINKED)])
    assert said == "Readers lose a link of these pages: “two”."
    assert words_law.sentence([words_law.taken_by(old, FILLED)]) == (
        "Readers lose 1 word of the page: “four”."
    )
    assert words_law.sentence([]) == ""
