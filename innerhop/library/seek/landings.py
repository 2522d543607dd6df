"""Where the readers of a page's hops end up, at each width that was measured; and what was
found when a hop was walked."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from innerhop.core import landings
from innerhop.core.addresses import fragments
from innerhop.core.landings import Box, Cover, Landing, Target, View
from innerhop.library.models import Layout, Link, Page, Walk
from innerhop.library.seek import hops
from innerhop.library.seek.hops import BROKEN, Hop

_HIDDEN = "hidden"
_AGREE = 2  # px between the computed and the walked scroll position
_HIDES = 12  # px that have to be covered for the place that a walk looks at to be under it


@dataclass(frozen=True)
class Laid:
    """A page's layout at one width. unrun: whether its own scripts were at rest, which may
    hide or shrink its header for visitors."""

    view: View
    targets: Mapping[str, Target]
    hidden: frozenset[str]
    unrun: bool = False


def read(view: Mapping[str, Any], targets: Mapping[str, Any]) -> Laid:
    """A layout as it is kept."""
    covers = tuple(Cover(bool(row[0]), *row[1:]) for row in view["covers"])
    seen = View(
        view["width"], view["height"], view["page"], view["padding"], covers,
        view["snap"], tuple(view["snaps"]), tuple(view.get("late", ())),
        view.get("foot", 0),
    )  # fmt: skip
    return Laid(
        seen,
        {id_: _target(row) for id_, row in targets.items()},
        frozenset(id_ for id_, row in targets.items() if row["hidden"]),
        bool(view.get("unrun")),
    )


Layouts = Mapping[tuple[int, int], Laid]  # by a page's primary key and the width


def ends_laid(asked: Iterable[Hop]) -> Layouts:
    """The layouts of the pages that hops lead to."""
    return layouts(hop.page.pk for hop in asked if hop.page)


def _target(row: Mapping[str, Any]) -> Target:
    boxes = tuple(Box(*box) for box in row["boxes"])
    return Target(row["top"], row["margin"], row["content"], row["line"], row["heading"], boxes)


def layouts(pages: Iterable[int]) -> dict[tuple[int, int], Laid]:
    """The layouts of pages, by primary key and width, that are of the text they have now."""
    rows = Layout.objects.filter(page__in=set(pages)).select_related("page")
    return {
        (row.page_id, row.width): read(row.view, row.targets)
        for row in rows
        if row.revision == row.page.revision
    }


def worst_of(pages: Sequence[Page]) -> dict[int, str]:
    """The worst landing of hops to each page, by primary key, that was measured as it is now:
    "" where no hop leads to it."""
    found: dict[int, list[str]] = {}
    for one in Layout.objects.filter(page__in=pages).select_related("page"):
        if one.revision == one.page.revision:
            found.setdefault(one.page_id, []).append(one.worst)
    order = (*landings.VERDICTS, "")
    return {page: min(verdicts, key=order.index) for page, verdicts in found.items()}


def id_of(hop: Hop) -> str:
    """What a hop asks for on its page, "" for the top."""
    if hop.end is None and not hop.why:
        return ""
    return fragments.id_of(hop.link.fragment)


def is_words(hop: Hop) -> bool:
    """Whether a hop leads to words, which are found by the browser."""
    return fragments.has_directive(hop.link.fragment or "")


def landing_of(hop: Hop, laid: Laid | None, padding: float | None = None) -> Landing | None:
    """Where a hop's reader ends up; None where that is not known yet. padding: the room at
    the view's top instead of the page's own."""
    if hop.kind == BROKEN and hop.link.why != _HIDDEN:
        return landings.landing(View(0, 0, 0), None)
    if laid is None or is_words(hop):
        return None
    view = laid.view if padding is None else laid.view._replace(padding=padding)
    id_ = id_of(hop)
    if not id_:
        return Landing(0, 0, 0, landings.CLEAR)
    target = laid.targets.get(id_)
    if target is None:
        return None
    shut = hop.kind == BROKEN or id_ in laid.hidden
    return landings.landing(view, target, landings.SHUT if shut else "")


def landing_at(laid: Laid, id_: str) -> Landing | None:
    """Where readers who are sent to a mark end up; None for one that was not measured."""
    target = laid.targets.get(id_)
    if target is None:
        return None
    return landings.landing(laid.view, target, landings.SHUT if id_ in laid.hidden else "")


@dataclass(frozen=True)
class LandingRow:
    """A hop with its landings, by width, as far as they are known; walks: by width, what was
    found when it was walked, as far as that is still so."""

    hop: Hop
    landings: Mapping[int, Landing]
    walks: Mapping[int, Walk] = field(default_factory=dict)

    @property
    def worst(self) -> str:
        """The worst verdict, "" where none is known."""
        return landings.worst(self.landings.values())

    @property
    def is_as_computed(self) -> bool:
        """Whether no walk disagreed with what was computed."""
        return all(walk.agrees for walk in self.walks.values())


def of_hops(
    asked: Sequence[Hop], widths: Sequence[int], laid: Layouts | None = None
) -> list[LandingRow]:
    """Hops with their landings and walks. laid: the layouts of the pages that they lead to,
    where these are at hand."""
    laid = ends_laid(asked) if laid is None else laid
    walks = _walks(asked)
    rows = []
    for hop in asked:
        known = {}
        for width in widths:
            one = landing_of(hop, laid.get((hop.page.pk, width)) if hop.page else None)
            if one is not None:
                known[width] = one
        rows.append(LandingRow(hop, known, walks.get((hop.link.page_id, hop.link.number), {})))
    return rows


def _walks(asked: Sequence[Hop]) -> dict[tuple[int, int], dict[int, Walk]]:
    hops_by = {(hop.link.page_id, hop.link.number): hop for hop in asked}
    rows = Walk.objects.filter(page__in={page for page, _ in hops_by}).select_related(
        "page", "end_page"
    )
    kept: dict[tuple[int, int], dict[int, Walk]] = {}
    for row in rows:
        hop = hops_by.get((row.page_id, row.number))
        end = row.end_page.revision if row.end_page else 0
        is_so = row.revision == row.page.revision and row.end_revision == end
        if hop is not None and is_so and row.href == hop.link.href:
            kept.setdefault((row.page_id, row.number), {})[row.width] = row
    return kept


def of_page(page: Page, widths: Sequence[int]) -> list[LandingRow]:
    """The hops of a page, worst first."""
    return in_order(of_hops(hops.out_of(page), widths))


def nths(rows: Iterable[LandingRow]) -> dict[tuple[int, int], int]:
    """Which of its page's links with the same address each one is."""
    pages = {row.hop.link.page_id for row in rows}
    links = Link.objects.filter(page__in=pages).order_by("page", "number")
    seen: Counter[tuple[int, str]] = Counter()
    found = {}
    for page, number, href in links.values_list("page", "number", "href"):
        found[page, number] = seen[page, href]
        seen[page, href] += 1
    return found


def in_order(rows: Sequence[LandingRow]) -> list[LandingRow]:
    """Worst first, what is not known yet last, and before all where a walk was not as
    computed; in each, in the order of the pages."""
    order = {verdict: at for at, verdict in enumerate((*landings.VERDICTS, ""))}
    return sorted(rows, key=lambda row: (row.is_as_computed, order[row.worst]))


@dataclass(frozen=True)
class Effect:
    """What a mend would do to landings: how many become clear, and worse. headers: by width,
    how tall what stays in view is, where that matters."""

    clear: int
    worse: int
    headers: Mapping[int, int] = field(default_factory=dict)


def with_room(asked: Sequence[Hop], widths: Sequence[int], air: int, laid: Layouts) -> Effect:
    """What room for the header, as tall as it is at each width and some air, would do."""
    tallest: dict[int, int] = dict.fromkeys(widths, 0)
    for width in widths:
        for (_, at), one in laid.items():
            if at == width:
                under = landings.covered_to(one.view.covers, one.view.height)
                tallest[width] = max(tallest[width], round(under))

    def after(hop: Hop, at_end: Laid) -> Landing | None:
        under = landings.covered_to(at_end.view.covers, at_end.view.height)
        return landing_of(hop, at_end, max(at_end.view.padding, under + air if under else 0))

    return Effect(*_changed(asked, widths, laid, after), tallest)


def with_mark_moved(
    asked: Sequence[Hop], widths: Sequence[int], laid: Layouts, place: tuple[Page, str]
) -> Effect:
    """What it would do to move a mark to what its readers came for: the heading that it
    stands below, or what they see first. place: its page and ID."""
    page, id_ = place

    def after(hop: Hop, at_end: Laid) -> Landing | None:
        target = at_end.targets.get(id_)
        if target is None:
            return None
        moved = Laid(at_end.view, {id_: landings.at_content(target)}, at_end.hidden)
        return landing_of(hop, moved)

    own = [hop for hop in asked if hop.page == page and id_of(hop) == id_]
    return Effect(*_changed(own, widths, laid, after))


def _changed(
    asked: Sequence[Hop],
    widths: Sequence[int],
    laid: Layouts,
    after: Callable[[Hop, Laid], Landing | None],
) -> tuple[int, int]:
    """How many landings would become clear, and how many worse. after: where a hop's reader
    would end up."""
    order = landings.VERDICTS.index
    clear = worse = 0
    for hop in asked:
        for width in widths:
            at_end = laid.get((hop.page.pk, width)) if hop.page else None
            before = landing_of(hop, at_end)
            if before is None or at_end is None:
                continue
            then = after(hop, at_end)
            if then is not None:
                clear += then.verdict == landings.CLEAR and before.verdict != landings.CLEAR
                worse += order(then.verdict) < order(before.verdict)
    return clear, worse


def disagrees(row: LandingRow, width: int, told: Mapping[str, Any]) -> str:
    """Why what was walked is not as it was computed, in one sentence; "" where it is."""
    hop, computed = row.hop, row.landings.get(width)
    if told.get("trouble"):
        return str(told["trouble"])[:300]
    if hop.page is None:
        return "" if told.get("away") or not told.get("arrived") else "It arrives somewhere."
    if told.get("path") != hop.page.path and hop.kind != BROKEN:
        return f"It ends on {told.get('path') or 'another site'}, not on {hop.page.path}."
    if hop.kind == BROKEN:
        return "It arrives, though nothing there has this ID." if told.get("arrived") else ""
    if id_of(hop) and not is_words(hop) and not told.get("arrived"):
        return "The browser found another part, or none, for this hash."
    y = told.get("y")
    if computed is not None and isinstance(y, int | float) and abs(y - computed.y) > _AGREE:
        return f"The page is scrolled to {round(y)} px, not to {round(computed.y)} px."
    return _not_meant(hop, computed, told)


def _not_meant(hop: Hop, computed: Landing | None, told: Mapping[str, Any]) -> str:
    """Why a reader who got to the right place has not all that was meant, or more of it."""
    fragment = hop.link.fragment or ""
    if fragment and not is_words(hop) and told.get("hash", "") != f"#{fragment}":
        return f"The address bar does not show #{fragment}, so nobody can pass the place on."
    if told.get("opened") and not hop.link.new_tab:
        return "It opens in another tab, though nothing in the link says so."
    if told.get("astray"):
        return "The focus went to another part, where those who use the keyboard go on."
    if computed is None or "seen" not in told:
        return ""
    if computed.verdict == landings.CLEAR and not told["seen"]:
        return "Something lies over it that was not there when the page was measured."
    hides = computed.verdict == landings.COVERED and computed.by > _HIDES
    if hides and told["seen"]:
        return "It is in view, though a header was there when the page was measured."
    return ""
