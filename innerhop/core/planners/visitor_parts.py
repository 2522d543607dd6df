"""What visitors get beside a page's own markup: the two files in its head, a way back that
stays in view, points for its sections, a sign at each heading.

What each is made of stands in its own data attributes (see docs/what-it-writes.md), so that a page
that goes out and comes back is still understood.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace

from innerhop.core.contents import moved, settings
from innerhop.core.contents.entries import Possible
from innerhop.core.contents.settings import Settings
from innerhop.core.formats import html, pieces
from innerhop.core.formats.pieces import Piece
from innerhop.core.plan import Plan, join_plans
from innerhop.core.planners import contents, page_styles
from innerhop.core.planners.page_styles import CannotStyle
from innerhop.core.source.content_models import LEVELS
from innerhop.core.source.elements import Element
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.core.source.tree import Source

SCRIPT, STYLE = "/hops/hops.js", "/hops/hops.css"
FOCUS, HISTORY, SNAP = "data-hop-focus", "data-hop-history", "data-hop-snap"
UNLIT, MOVED = "data-hop-unlit", moved.MOVED
UP, POINTS, SIGN = settings.UP, "data-hop-points", "data-hop-sign"
ALWAYS = "always"
_OPTIONS = (FOCUS, HISTORY, SNAP, UNLIT, MOVED)


@dataclass(frozen=True, slots=True)
class Parts:
    """What a page gives its visitors. lit: whether the section one is in is lit up in lists
    and points. focus: whether the keyboard goes where a hop goes. replaces: whether hops
    stay out of the browser's history. snap: whether scrolling stops at sections. up: after
    how many screens a way back comes, 0 for none. points, signs: whether there are points
    for its sections, and signs at its headings; always: whether signs stand there on touch
    screens too. moved: fragments of parts that are elsewhere now, each with the address where
    readers are led who come by it."""

    lit: bool = False
    focus: bool = False
    replaces: bool = False
    snap: bool = False
    up: int = 0
    points: bool = False
    signs: bool = False
    always: bool = False
    moved: tuple[tuple[str, str], ...] = ()

    @property
    def needs_files(self) -> bool:
        """Whether the page has to have the style sheet and the script."""
        return any((self.lit, self.focus, self.replaces, self.snap, self.up, self.points,
                    self.signs, self.moved))  # fmt: skip


def read(source: Source) -> Parts:
    """What a page gives its visitors now."""
    script = _script(source)
    options = source.attributes(script) if script is not None else {}
    up = next((one.attr(UP) or "" for one in source.having(UP)), "")
    signs = [one.attr(SIGN) for one in source.having(SIGN)]
    return Parts(
        lit=script is not None and UNLIT not in options,
        focus=FOCUS in options,
        replaces=options.get(HISTORY) == "replace",
        snap=SNAP in options,
        up=int(up) if up.isascii() and up.isdecimal() and len(up) < 4 else 0,
        points=next(source.having(POINTS), None) is not None,
        signs=bool(signs),
        always=ALWAYS in signs,
        moved=moved.read(options.get(MOVED)),
    )


def _script(source: Source) -> int | None:
    found = (one.number for one in source.of_tags("script") if _ends(one.attr("src"), SCRIPT))
    return next(found, None)


def _sheet(source: Source) -> int | None:
    found = (one.number for one in source.of_tags("link") if _ends(one.attr("href"), STYLE))
    return next(found, None)


def _ends(address: str | None, name: str) -> bool:
    return f"/{(address or '').partition('?')[0]}".endswith(name)


def options_of(parts: Parts) -> dict[str, str]:
    """What is written into the script's tag."""
    found = {FOCUS: ""} if parts.focus else {}
    if parts.replaces:
        found[HISTORY] = "replace"
    if parts.snap:
        found[SNAP] = ""
    if parts.moved:
        found[MOVED] = moved.written(parts.moved)
        if not parts.lit:
            found[UNLIT] = ""
    return found


def plan_leading(
    source: Source, changed: Mapping[str, str | None], encoding: FileEncoding, written: Written
) -> Plan:
    """Have readers led on who come by these fragments, or, where it is None, no longer. Raises
    page_styles.CannotStyle for a page without a head of its own."""
    parts = read(source)
    wanted = {**dict(parts.moved), **changed}
    kept = tuple((old, to) for old, to in wanted.items() if to is not None)
    return plan_files(source, replace(parts, moved=kept), encoding, written)


Written = Callable[[str], str]


def as_paths(path: str) -> str:
    """How the two files are linked to where nothing says otherwise."""
    return path


def plan_files(
    source: Source, parts: Parts, encoding: FileEncoding, written: Written = as_paths
) -> Plan:
    """Link the two files from a page's head, or take them out where nothing needs them.
    written: the address of a file with that path, as it is written on the page. Raises
    page_styles.CannotStyle for a page without a head of its own."""
    script, sheet = _script(source), _sheet(source)
    if not parts.needs_files:
        there = [one for one in (sheet, script) if one is not None]
        return join_plans(contents.plan_taking_out(source, one) for one in there)
    if script is not None:
        has = source.attributes(script)
        wanted: dict[str, str | None] = {**dict.fromkeys(_OPTIONS), **options_of(parts)}
        changed = {name: value for name, value in wanted.items() if has.get(name) != value}
        if not changed:
            return Plan()
        return html.give(source, {script: changed}, encoding)
    place = page_styles.end_of_head(source)
    if place is None:
        raise CannotStyle(
            "This page’s text has no head to link the files in. Put these two lines into the "
            f"site’s own template instead: {pieces.written(_files(parts, as_paths), encoding)}"
        )
    link, script_tag = _files(parts, written)
    place -= len(source.text[:place]) - len(source.text[:place].rstrip())
    line = _line_in_head(source)
    files = [html.put(place, link, encoding, space=line), html.put(place, script_tag, encoding)]
    return join_plans(files)


def _line_in_head(source: Source) -> str:
    """The line end and white space that the head's last line begins with."""
    head = next(source.of_tags("head"), None)
    inside = [one for one in head.children if isinstance(one, Element)] if head else []
    return pieces.indent(source, inside[-1].number) if inside else ""


def _files(parts: Parts, written: Written) -> tuple[Piece, Piece]:
    return (
        Piece("link", {"rel": "stylesheet", "href": written(STYLE)}),
        Piece("script", {"src": written(SCRIPT), "defer": "", **options_of(parts)}),
    )


def plan_up(
    source: Source, screens: int, words: str, link: Mapping[str, str], encoding: FileEncoding
) -> Plan:
    """Put a way back that stays in view at the end of the page, or take it out. link: its
    attributes. Raises pieces.NotWhole, and CannotStyle where the body's end is not written."""
    plans = [contents.plan_taking_out(source, one.number) for one in source.having(UP)]
    if screens:
        inside = Piece("a", dict(link), (words,))
        plans.append(_at_end(source, Piece("p", {UP: str(screens)}, (inside,)), encoding))
    return join_plans(plans)


def plan_points(
    source: Source,
    entries: Sequence[tuple[str, str]],
    *,
    own: Settings,
    called: Mapping[str, str],
    language: str,
    encoding: FileEncoding,
) -> Plan:
    """Put points for sections, by address and name, at the end of the page, or take them
    out. They are a contents list too, and kept in step like one. called: the attributes that
    name them; language: of the page, where that name is in another. Raises the same."""
    plans = [contents.plan_taking_out(source, one.number) for one in source.having(POINTS)]
    if entries:
        rows = tuple(
            Piece("li", {}, (Piece("a", {"href": href}, (Piece("span", {}, (name,)),)),))
            for href, name in entries
        )
        values = {POINTS: "", **called, **own.attributes()}
        inside = Piece("ol", {"lang": language} if language else {}, rows)
        points = Piece("nav", values, (inside,))
        plans.append(_at_end(source, points, encoding))
    return join_plans(plans)


def _at_end(source: Source, piece: Piece, encoding: FileEncoding) -> Plan:
    body = next(source.of_tags("body"), None)
    if body is None or source.end_tag(body.number) is None or not _ends_whole(source, body.number):
        raise CannotStyle(
            "Where this page’s body ends is not written in its text, so nothing can be put there."
        )
    first, last = pieces.inner(source, body.number)
    place = first + len(source.text[first:last].rstrip())
    children = [one for one in body.children if isinstance(one, Element)]
    line = pieces.indent(source, children[-1].number) if children else ""
    return html.put(place, piece, encoding, space=line)


def _ends_whole(source: Source, body: int) -> bool:
    numbers = [
        one.number for one in source.element(body).inside if source.parent(one.number) == body
    ]
    return not numbers or source.end_of(numbers[-1]) is not None


def plan_signs(
    source: Source,
    headings: Iterable[Possible],
    hrefs: Mapping[int, str],
    *,
    always: bool,
    called: Mapping[str, str],
    encoding: FileEncoding,
) -> Plan:
    """Put a sign that leads to the section's own address into each heading that has none,
    whoever put it there, and take out those of ours elsewhere. called: the attributes that
    name it. Raises pieces.NotWhole."""
    wanted = {one.number for one in headings if one.kind in LEVELS}
    plans = []
    for sign in source.having(SIGN):
        parent = source.parent(sign.number)
        if parent in wanted and sign.attributes == _sign(hrefs[parent], called, always):
            wanted.discard(parent)
        else:
            plans.append(_sign_out(source, sign.number))
    for number in sorted(wanted):
        end = source.end_tag(number)
        if end is None or _has_own_sign(source, number, hrefs[number]):
            continue
        piece = Piece("a", _sign(hrefs[number], called, always), ("#",))
        plans.append(html.put(end.start, piece, encoding, space=" "))
    return join_plans(plans)


def _sign(href: str, called: Mapping[str, str], always: bool) -> dict[str, str]:
    return {"href": href, SIGN: ALWAYS if always else "", **called}


def _sign_out(source: Source, number: int) -> Plan:
    first, _ = pieces.whole(source, number)
    return html.take_away(source, number, " " if source.text[first - 1 : first] == " " else "")


def _has_own_sign(source: Source, number: int, href: str) -> bool:
    """Whether a heading has a link to itself already, such as generators put there."""
    fragment = href.rpartition("#")[2]
    return any(
        one.tag == "a"
        and (one.attr("href") or "").endswith(f"#{fragment}")
        and one.attr(SIGN) is None
        for one in source.element(number).inside
    )
