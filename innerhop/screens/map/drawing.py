"""The drawing of the map: pages as rulers side by side, hops between them as arcs,
in the units of its SVG."""

from __future__ import annotations

import math
import statistics
import textwrap
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

from innerhop.core.counting import counted
from innerhop.core.landings import NAMES
from innerhop.library.models import Page
from innerhop.library.seek.hops import BACK, BROKEN, HERE, MENU, THERE, Hop
from innerhop.library.seek.page_heights import PageHeight
from innerhop.screens.map.labels import Curve, MapLabels

KINDS = {
    HERE: "Within a page",
    THERE: "To another page",
    MENU: "From the menu",
    BACK: "Back to the top",
    BROKEN: "Broken",
}
RULER = 78  # how wide a ruler is
_LEFT = 20
_TOP = 64  # room for the titles
_TALL = 470  # how tall the longest page is drawn
_LEAST = 10
_WIDTH = 1204
_DOT = "a2.4 2.4 0 1 0 4.8 0a2.4 2.4 0 1 0-4.8 0"
_LETTER = 7.4  # how wide a character of a title is, about
_RIBBON = 5  # hops from one page to another: from so many on they are one ribbon
_ONE_ARC = 24  # px in which starts, and ends, are told apart where there are many
_OUTLIER = 5  # times the middle page: what is longer is not drawn to scale
_MANY = 300  # hops: of more, those of a kind between the same two sections are one arc
_THICKEST = 26.0  # of a ribbon


@dataclass(frozen=True)
class MapRuler:
    """A page as it is drawn. title: its lines, each with its height. odd, even: its
    sections in turn; marked: the dots of those that have a mark; each one path.
    is_shortened: whether it is longer than it is drawn. worst: the worst landing of hops to
    it, "" where none leads there, None for one that was never measured as it is now."""

    page: Page
    x: float
    height: float
    title: Sequence[tuple[int, str]]
    odd: str
    even: str
    marked: str
    is_centre: bool
    is_shortened: bool
    hops: int
    worst: str | None

    @property
    def worst_name(self) -> str:
        """What its worst landing is called, "" where none is known."""
        return NAMES.get(self.worst or "", "")

    @property
    def foot(self) -> float:
        """Where the line stands that says its worst landing."""
        return _TOP + self.height + 14


@dataclass(frozen=True)
class Arc:
    """A hop as it is drawn. head: the triangle at its end, or the cross of a broken
    one. starts, ends: the pages, by primary key. said: for whoever points at it."""

    kind: str
    path: str
    head: str
    starts: int
    ends: int
    message: str
    url: str
    weight: float


@dataclass(frozen=True)
class Ribbon:
    """The hops from one page to another, where there are too many to draw each.
    x, y: where `count` is written, if it has room. arcs: those of its sections, seen by
    who points at it. url: the map of these two pages alone."""

    path: str
    head: str
    x: float
    y: float
    thick: float
    has_room: bool
    count: int
    starts: int
    ends: int
    message: str
    url: str
    arcs: Sequence[Arc]


@dataclass(frozen=True)
class Drawing:
    """The whole, and how large it is."""

    width: float
    height: float
    rulers: Sequence[MapRuler]
    arcs: Sequence[Arc]
    ribbons: Sequence[Ribbon]
    counts: Mapping[str, int]


@dataclass(frozen=True)
class _Plan:
    """Where each page's ruler stands, by primary key; how long the pages are; how tall
    a CSS pixel is drawn; the room between two rulers."""

    at: Mapping[int, float]
    long: Mapping[int, PageHeight]
    scale: float
    room: float

    def scale_of(self, page: int) -> float:
        """The one scale, or a smaller one for a page that would be drawn too tall."""
        return min(self.scale, _TALL / self.long[page].height)

    def y(self, page: int, number: int | None) -> float:
        """How far down an element of a page is drawn."""
        return _TOP + self.long[page].top_of(number) * self.scale_of(page)

    def near(self, hop: Hop) -> tuple[int, int]:
        """The same for hops that start and end in the same sections, or in sections so
        near to each other that they are one arc to the eye."""
        start = self._section(hop.link.page_id, hop.link.number)
        end = self._section(hop.page.pk, hop.end) if hop.page else 0.0
        return int(start // _ONE_ARC), int(end // _ONE_ARC)

    def _section(self, page: int, number: int | None) -> float:
        """How far down the section is drawn that an element stands in."""
        return self.long[page].section_top(number) * self.scale_of(page)


def draw(
    pages: Sequence[Page],
    hops: Sequence[Hop],
    long: Mapping[int, PageHeight],
    centre: Page | None,
    worst: Mapping[int, str],
) -> Drawing:
    """The drawing of these pages and hops. long: how long each page is; worst: the worst
    landing on each that was measured."""
    heights = [long[page.pk].height for page in pages] or [1.0]
    # One page of hundreds of screens would make specks of all others.
    longest = min(max(heights), _OUTLIER * statistics.median(heights))
    step = min(190.0, (_WIDTH - RULER - 60) / max(1, len(pages) - 1))
    at = {page.pk: _LEFT + step * place for place, page in enumerate(pages)}
    plan = _Plan(at, long, _TALL / longest, step - RULER)
    counts = {kind: sum(hop.kind == kind for hop in hops) for kind in KINDS}
    touched = _touched(hops)
    rulers = [
        _ruler(page, plan, page == centre, touched.get(page.pk, 0), worst.get(page.pk))
        for page in pages
    ]
    crossing, others = _crossing(hops) if len(pages) > 2 else ({}, hops)
    arcs = [_arc(hop, count, plan) for hop, count in _bundled(others, plan, len(hops) > _MANY)]
    labels = MapLabels(list(at.values()), RULER)
    ribbons = [_ribbon(ends, between, plan, labels) for ends, between in crossing.items()]
    height = max((ruler.foot for ruler in rulers), default=_TOP) + 10
    shown = {kind: n for kind, n in counts.items() if n}
    return Drawing(_WIDTH, height, rulers, arcs, ribbons, shown)


def _crossing(hops: Sequence[Hop]) -> tuple[dict[tuple[int, int], list[Hop]], list[Hop]]:
    """The hops from one page to another, by these two, where there are many of them; and the
    others."""
    found: dict[tuple[int, int], list[Hop]] = {}
    others = []
    for hop in hops:
        if hop.kind == THERE and hop.page:
            found.setdefault((hop.link.page_id, hop.page.pk), []).append(hop)
        else:
            others.append(hop)
    few = [hop for between in found.values() if len(between) < _RIBBON for hop in between]
    many = {ends: between for ends, between in found.items() if len(between) >= _RIBBON}
    return many, [*others, *few]


def _touched(hops: Iterable[Hop]) -> dict[int, int]:
    """How many hops start or end on each page."""
    found: dict[int, int] = {}
    for hop in hops:
        for key in {hop.link.page_id, *([hop.page.pk] if hop.page else [])}:
            found[key] = found.get(key, 0) + 1
    return found


def _ruler(page: Page, plan: _Plan, is_centre: bool, hops: int, worst: str | None) -> MapRuler:
    x, length = plan.at[page.pk], plan.long[page.pk]
    width = int((plan.room + RULER - 4) / _LETTER)
    lines = textwrap.wrap(page.title, min(22, width), max_lines=2, placeholder="…")
    title = [(_TOP - 12 - 16 * (len(lines) - at - 1), line) for at, line in enumerate(lines)]
    scale = plan.scale_of(page.pk)
    edges = [_TOP + top * scale for top in (*length.tops, length.height)]
    odd: list[str] = []
    even: list[str] = []
    dots: list[str] = []
    for at, section in enumerate(length.sections):
        y, tall = edges[at], max(0.8, edges[at + 1] - edges[at] - 0.6)
        strip = f"M{x + 4:.1f} {y:.1f}h{RULER - 8}v{tall:.1f}h{8 - RULER}z"
        (even if at % 2 else odd).append(strip)
        if section.mark and tall > 2:
            dots.append(f"M{x + 6.6:.1f} {y + min(6, tall / 2):.1f}{_DOT}")
    height = max(_LEAST, length.height * scale)
    return MapRuler(
        page=page,
        x=x,
        height=height,
        title=title,
        odd=" ".join(odd),
        even=" ".join(even),
        marked=" ".join(dots),
        is_centre=is_centre,
        is_shortened=plan.scale_of(page.pk) < plan.scale,
        hops=hops,
        worst=worst,
    )


def _bundled(hops: Sequence[Hop], plan: _Plan, many: bool) -> list[tuple[Hop, int]]:
    """The hops to draw, each with how many it stands for: a menu is the same on
    every page, and of many those of a kind between the same two sections are one arc."""
    found: dict[object, list[Hop]] = {}
    for hop in hops:
        key: object = (hop.link.page_id, hop.link.number)
        if hop.kind == MENU:
            key = (MENU, hop.page and hop.page.pk, hop.end)
        elif many:
            key = (hop.kind, hop.link.page_id, hop.page and hop.page.pk, plan.near(hop))
        found.setdefault(key, []).append(hop)
    return [(same[0], len(same)) for same in found.values()]


def _arc(hop: Hop, count: int, plan: _Plan) -> Arc:
    start, end = hop.link.page_id, hop.page.pk if hop.page else hop.link.page_id
    x, y = plan.at[start] + RULER, plan.y(start, hop.link.number)
    to_x, to_y = plan.at[end], plan.y(end, hop.end)
    if hop.kind == BROKEN:
        path = f"M{x:.1f} {y:.1f}h7m4 0h7"
        head = f"M{x + 19:.1f} {y - 3:.1f}l6 6m0-6l-6 6"
    elif hop.kind == MENU:
        path = f"M{to_x - 11:.1f} {_TOP - 8:.1f}V{to_y:.1f}H{to_x - 4:.1f}"
        head = _head(to_x, to_y, 1)
    elif end == start:
        reach = x + min(plan.room * 0.72, 14 + abs(to_y - y) * 0.24)
        path = f"M{x:.1f} {y:.1f}C{reach:.1f} {y:.1f} {reach:.1f} {to_y:.1f} {x + 5:.1f} {to_y:.1f}"
        head = _head(x, to_y, -1)
    else:
        path, head = _across(x, y, to_x, to_y)
    return Arc(
        hop.kind,
        path,
        head,
        start,
        end,
        _message(hop, count),
        _url(hop),
        1 + min(1.6, (count - 1) * 0.2),
    )


def _ribbon(ends: tuple[int, int], hops: Sequence[Hop], plan: _Plan, labels: MapLabels) -> Ribbon:
    """One band from the middle of where the hops start to the middle of where they end."""
    start, end = ends
    y = statistics.fmean(plan.y(start, hop.link.number) for hop in hops)
    to_y = statistics.fmean(plan.y(end, hop.end) for hop in hops)
    x, to_x = plan.at[start] + RULER, plan.at[end]
    path, head = _across(x, y, to_x, to_y)
    count = len(hops)
    room = labels.place(_curve(x, y, to_x, to_y), count)
    page = hops[0].page
    return Ribbon(
        path=path,
        head=head,
        x=room[0] if room else 0.0,
        y=room[1] + 4 if room else 0.0,  # the middle of its digits
        thick=min(_THICKEST, 2 * math.sqrt(count)),
        has_room=room is not None,
        count=count,
        starts=start,
        ends=end,
        message=f"{count} hops from {hops[0].link.page.title} to {page.title if page else ''}",
        url=f"?page={start}&with={end}",
        arcs=[_arc(hop, many, plan) for hop, many in _bundled(hops, plan, True)],
    )


def _across(x: float, y: float, to_x: float, to_y: float) -> tuple[str, str]:
    """From the right edge of one ruler to the near edge of another."""
    (left, top), *others = _curve(x, y, to_x, to_y)
    points = " ".join(f"{one:.1f} {other:.1f}" for one, other in others)
    head = _head(to_x, to_y, 1) if to_x > x else _head(to_x + RULER, to_y, -1)
    return f"M{left:.1f} {top:.1f}C{points}", head


def _curve(x: float, y: float, to_x: float, to_y: float) -> Curve:
    """From the right edge of one ruler to the left edge of another, or the other way round
    where that one is to the left."""
    way = 1 if to_x > x else -1
    if way < 0:
        x, to_x = x - RULER, to_x + RULER
    bend = way * max(24.0, abs(to_x - x) * 0.45)
    return (x, y), (x + bend, y), (to_x - bend, to_y), (to_x - 5 * way, to_y)


def _head(x: float, y: float, way: int) -> str:
    return f"M{x:.1f} {y:.1f}l{-6 * way} -3v6z"


def _message(hop: Hop, count: int) -> str:
    text = hop.link.text or "a picture"
    if hop.kind == MENU:
        return f"Menu: “{text}”, on {counted(count, 'page')}, {hop.link.href}"
    more = f" and {count - 1} more" if count > 1 else ""
    why = f". {hop.why}" if hop.why else ""
    return f"“{text}”{more} on {hop.link.page.title}, {hop.link.href}{why}"


def _url(hop: Hop) -> str:
    return f"{hop.link.page.get_absolute_url()}#hop-{hop.link.number}"
