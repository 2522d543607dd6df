"""What makes readers arrive in the wrong spot, as far as the markup tells."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator

from innerhop.core.findings import traits
from innerhop.core.findings.found import (
    BETTER,
    MARKS,
    MISLED,
    PRACTICE,
    SECTIONS,
    STUCK,
    TRAITS,
    Fix,
    Found,
    PageRows,
    Rule,
    SiteView,
    Standard,
)
from innerhop.core.findings.requests import (
    LeaveRoom,
    MoveDown,
    MoveOnto,
    MoveUp,
    TakeOutSpacers,
)

_SCROLL = Standard(
    "CSSOM View, “scroll an element into view”",
    "https://drafts.csswg.org/cssom-view/#scroll-an-element",
)


def _spacers(page: PageRows, site: SiteView) -> Iterator[Found]:
    for trait in page.of_kind(traits.SPACER):
        below = traits.spacer(trait.told).below
        yield SPACERS.at(trait.number, page.called(below) or "a heading", below=below)


def _below(page: PageRows, site: SiteView) -> Iterator[Found]:
    behind = {one.number: int(one.told) for one in page.of_kind(traits.BELOW_HEADING)}
    for mark in page.marks if behind else ():
        if mark.empty and mark.number in behind:
            heading = behind[mark.number]
            words = page.called(heading) or "a heading"
            yield BELOW.at(mark.number, words, key=mark.value, id=mark.value, heading=heading)


def _out(found: Found) -> TakeOutSpacers:
    return TakeOutSpacers(found.told["below"])


def _to_heading(found: Found) -> MoveUp:
    return MoveUp(found.number)


def _down(found: Found) -> MoveDown:
    return MoveDown(found.number)


def _up(found: Found) -> MoveOnto:
    return MoveOnto(found.number, found.told["heading"])


SPACERS = Rule(
    name="spacers",
    level=BETTER,
    title="Empty lines that make room above a heading",
    why="Who is sent there sees white space first; and on a phone it is another height.",
    source=PRACTICE,
    avoid="Room below a header that stays in view is made by a line of style.",
    find=_spacers,
    reads=(SECTIONS, TRAITS),
    asks=(),
    fix=Fix("Take them out", _out),
)

BELOW = Rule(
    name="marker-below",
    level=MISLED,
    title="A marker stands below its heading",
    why="Readers of {id} arrive below “{words}”, which is cut off above the view.",
    source=_SCROLL,
    avoid="Put a marker before the heading, or the ID on the heading itself.",
    find=_below,
    reads=(MARKS, SECTIONS, TRAITS),
    asks=(),
    fix=Fix("Move it up to the heading", _up),
)


def _of_verdict(verdict: str) -> Callable[[PageRows, SiteView], Iterable[Found]]:
    def find(page: PageRows, site: SiteView) -> Iterator[Found]:
        if not page.landings:
            return
        below = {one.number for one in page.of_kind(traits.BELOW_HEADING)}
        titles = {one.mark: one.title for one in page.sections}
        seen: set[str] = set()
        for mark in page.marks:
            own, says = page.landings.get(mark.value, ("", ""))
            is_other = verdict == "cut" and mark.number in below  # a marker below its heading
            if own == verdict and mark.value not in seen and not is_other:
                seen.add(mark.value)
                words = titles.get(mark.value) or mark.words or f"#{mark.value}"
                yield LANDINGS[verdict].at(mark.number, words, key=mark.value, id=mark.value,
                                           says=says)  # fmt: skip

    return find


LANDINGS = {
    "covered": Rule(
        name="landing-covered",
        level=MISLED,
        title="What stays in view hides the heading",
        why="It is {says}: readers don’t see all of what they came for.",
        source=Standard(
            "CSS Scroll Snap 1, “scroll-padding”",
            "https://drafts.csswg.org/css-scroll-snap-1/#scroll-padding",
        ),
        avoid="A header that stays in view needs room: one line of style for the site.",
        find=_of_verdict("covered"),
        reads=(MARKS, SECTIONS, TRAITS),
        asks=(),
        fix=Fix("Leave room for it", lambda _: LeaveRoom()),
        needs_browser=True,
    ),
    "cut": Rule(
        name="landing-cut",
        level=MISLED,
        title="The heading is cut off",
        why="What has the ID {id} begins below its heading, which readers don’t see.",
        source=_SCROLL,
        avoid="Put the ID on the heading itself, or before it.",
        find=_of_verdict("cut"),
        reads=(MARKS, SECTIONS, TRAITS),
        asks=(),
        fix=Fix("Move it up to the heading", _to_heading),
        needs_browser=True,
    ),
    "gap": Rule(
        name="landing-low",
        level=MISLED,
        title="Empty space comes first",
        why="There are {says} above what readers came for.",
        source=_SCROLL,
        avoid="Put the ID on what readers came for, not on the block that holds it.",
        find=_of_verdict("gap"),
        reads=(MARKS, SECTIONS, TRAITS),
        asks=(),
        fix=Fix("Move it down to what they see first", _down),
        needs_browser=True,
    ),
    "shut": Rule(
        name="landing-shut",
        level=STUCK,
        title="It lands in a closed part",
        why="What has the ID {id} isn’t shown at this width, and nothing opens it.",
        source=Standard(
            "HTML Standard, “ancestor revealing algorithm”",
            "https://html.spec.whatwg.org/multipage/interaction.html#ancestor-revealing-algorithm",
        ),
        avoid="Give the always visible title of an accordion or tab the ID.",
        find=_of_verdict("shut"),
        reads=(MARKS, SECTIONS, TRAITS),
        asks=(),
        no_fix="What opens this part is the page’s own. Lead hops to its title instead.",
        needs_browser=True,
    ),
}
