"""Lines that serve as headings by their look, on pages of `div`s. What people and builders write
there is common practice, no source."""

import pytest

from innerhop.core.facts import page_facts
from innerhop.core.facts.sections import sections
from innerhop.core.planners import headings
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.core.source.tree import Source
from tests.core.planned import after as after_plan

TEXT = "Water goes down, and boats go down with it, from one pound to the next."


def line(title: str, look: str = "class=cap") -> str:
    return f"<div {look}>{title}</div><div class=text>{TEXT}</div>"


def titles(markup: str) -> list[str]:
    source = Source(f"<body><h1>Lock guide</h1>{markup}")
    return [one.title for one in sections(source, page_facts.gather(source))]


@pytest.mark.parametrize(
    "markup",
    [
        line("Going down") + line("Going up"),
        "<section>".join(line(one, 'class="row  head"') for one in ("Going down", "Going up")),
        line("<div class=in><span>Going down</span></div>") + line("<div>Going up</div>"),
        line("Going down", "style='font-size: 22px'") + line("Going up", "style=font-weight:600"),
        line("<font size=+2>Going down</font>", "") + line("<font size=5>Going up</font>", ""),
        line("<span style='FONT-SIZE:x-large'>Going down</span>", "") + line("<big>Going up</big>"),
    ],
)  # fmt: skip
def test_lines_that_look_like_titles_are_sections(markup: str) -> None:
    assert titles(markup) == ["Going down", "Going up"]


@pytest.mark.parametrize(
    "markup",
    [
        line("Going down"),  # a class that one line has says nothing
        line("12 May 2026") + line("3 June 2026"),
        line("By Maureen", "class=author") + line("By Joan", "class=author"),
        line("Going down.") + line("Up, and out!"),
        line("<a href=/down>Going down</a>") + line("<a href=/up>Going up</a>"),
        f"<li>{line('Going down')}</li><li>{line('Going up')}</li>",
        f"<footer>{line('Opening hours')}{line('Address')}</footer>",
        line("Going down") + line("Going up") + f"<div class=cap>{TEXT}</div>" * 2,
        line("Odd", "style='font-size: 1.2.3em'") + line("None", "style='font-size: .em'"),
        line("Small", "style='font-size: 12px'") + line("Also", "style=font-size:1em"),
        "<div class=cap>Going down</div><div>4.50</div>" * 2,
        line("Going down") + line("Going up") + f"<h2>By boat</h2><p>{TEXT}",
    ],
)
def test_other_short_lines_are_none(markup: str) -> None:
    assert [one for one in titles(markup) if one != "By boat"] == []


@pytest.mark.parametrize("inner", ["{}", "<div class=in>{}</div>"])
def test_one_made_a_heading_leaves_the_others_what_they_are(inner: str) -> None:
    lines = [line(inner.format(one)) for one in ("Going down", "Going up")]
    source = Source(f"<body><h1>Lock guide</h1>{''.join(lines)}")
    facts = page_facts.gather(source)
    first, second = sections(source, facts)
    plan = headings.plan_heading(
        source, facts, first.number, 2, id_="down", encoding=FileEncoding()
    )
    after = Source(after_plan(source, plan))
    found = sections(after, page_facts.gather(after))
    assert [(one.level, one.title, one.mark) for one in found] == [
        (2, "Going down", "down"), (0, "Going up", "")
    ]  # fmt: skip
    assert second.title == "Going up"
