"""What browsers found out about pages as visitors get them, kept: how they lie, and what
became of readers who followed their hops. It comes from where a page's own scripts run, so
it is read as hearsay: numbers within reason, and IDs that the page has."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Any

from django.db import transaction
from django.db.models import Exists, OuterRef

from innerhop.core import landings, widths
from innerhop.core.addresses import fragments
from innerhop.core.refusals import CONFLICT, Refusal
from innerhop.library.index import findings
from innerhop.library.models import Layout, Link, Page, Walk
from innerhop.library.seek import hops
from innerhop.library.seek import landings as seek

_FARTHEST = 10_000_000.0  # px
_MOST_COVERS, _MOST_SNAPS, _MOST_BOXES = 40, 4_000, 12
_OFF = (landings.SHUT, landings.COVERED, landings.CUT, landings.GAP)
_SNAPS = ("", landings.MANDATORY, landings.PROXIMITY)


class NoLayout(Refusal):
    """What a browser told of a page can't be so."""


class Late(Refusal):
    """The page has changed since a browser looked at it."""

    status = CONFLICT


def keep_layout(page: Page, revision: int, width: int, told: Mapping[str, Any]) -> Layout:
    """Keep how a page lies at a width. Raises Late, and NoLayout."""
    _require(page, revision)
    if not widths.LEAST <= width <= widths.MOST:
        raise NoLayout(f"Pages are looked at from {widths.LEAST} to {widths.MOST:,} px wide.")
    view = _view(told.get("view"), width)
    sent = told.get("targets")
    if not isinstance(sent, dict):
        raise NoLayout("The browser did not say where the marks of the page stand.")
    marks = set(page.marks.values_list("value", flat=True))
    targets = {id_: _target(row) for id_, row in sent.items() if id_ in marks}
    laid = seek.read(view, targets)
    found = {id_: one for id_ in _asked_for(page) if (one := seek.landing_at(laid, id_))}
    off = {
        id_: [one.verdict, f"{landings.says(one)} on a screen {width} px wide"]
        for id_, one in found.items() if one.verdict in _OFF
    }  # fmt: skip
    with transaction.atomic():
        row, _ = Layout.objects.update_or_create(
            page=page, width=width,
            defaults={
                "revision": revision, "view": view, "targets": targets,
                "worst": landings.worst(found.values()), "off": off,
            },
        )  # fmt: skip
        findings.renew(page.site, [page.pk])
        _judge_again(page, width)
    return row


def laid_of(told: Mapping[str, Any], width: int) -> seek.Laid:
    """How a page lies, as a browser told it, with all that it told of. Raises NoLayout."""
    sent = told.get("targets")
    if not isinstance(sent, dict):
        raise NoLayout("The browser did not say where the marks of the page stand.")
    targets = {str(id_): _target(row) for id_, row in list(sent.items())[:_MOST_SNAPS]}
    return seek.read(_view(told.get("view"), width), targets)


def found_of(told: Mapping[str, Any]) -> dict[str, Any]:
    """What was seen of a reader who followed a hop, as a browser told it."""
    return _found(told)


def _judge_again(page: Page, width: int) -> None:
    """Hold what was walked to a page at a width against how it lies as is known now."""
    walked = Walk.objects.filter(end_page=page, width=width)
    starts = Exists(walked.filter(page=OuterRef("page"), number=OuterRef("number")))
    links = hops.with_ends(Link.objects.filter(starts, site=page.site), {page.pk: page})
    off = []
    for row in seek.of_hops(hops.of_links(links), [width]):
        walk = row.walks.get(width)
        trouble = "" if walk is None else seek.disagrees(row, width, walk.found)
        if walk is not None and walk.trouble != trouble:
            walk.trouble, walk.agrees = trouble, not trouble
            off.append(walk)
    Walk.objects.bulk_update(off, ["trouble", "agrees"])


def _require(page: Page, revision: int) -> None:
    if page.revision != revision:
        raise Late("The page has changed since the browser looked at it. Look again.")


def _asked_for(page: Page) -> set[str]:
    """The IDs of a page that hops of the site lead to."""
    rows = Link.objects.hops().to_page(page).with_fragment().values_list("fragment", flat=True)
    return {fragments.id_of(one) for one in rows.distinct()}


def _view(told: Any, width: int) -> dict[str, Any]:
    if not isinstance(told, dict):
        raise NoLayout("The browser did not say how the page lies.")
    snap = told.get("snap")
    covers = _rows(told.get("covers"), 5, _MOST_COVERS)
    snaps, late = told.get("snaps"), told.get("late")
    return {
        "width": width,
        "height": _number(told.get("height")) or 1,
        "page": _number(told.get("page")),
        "padding": _number(told.get("padding")),
        "covers": covers,
        "snap": snap if snap in _SNAPS else "",
        "snaps": _numbers(snaps),
        "late": _numbers(late),
        "foot": max(0.0, _number(told.get("foot"))),
        "unrun": bool(told.get("unrun")),
    }


def _numbers(told: Any) -> list[float]:
    return [_number(one) for one in told[:_MOST_SNAPS]] if isinstance(told, list) else []


def _target(told: Any) -> dict[str, Any]:
    if not isinstance(told, dict):
        raise NoLayout("The browser did not say where a mark stands.")
    found: dict[str, Any] = {
        name: _number(told.get(name)) for name in ("top", "margin", "content", "line", "heading")
    }
    found["boxes"] = _rows(told.get("boxes"), 4, _MOST_BOXES)
    found["hidden"], found["opens"] = bool(told.get("hidden")), bool(told.get("opens"))
    return found


def _rows(told: Any, count: int, most: int) -> list[list[float]]:
    rows = told if isinstance(told, list) else []
    return [
        [_number(one) for one in row]
        for row in rows[:most]
        if isinstance(row, list) and len(row) == count
    ]


def _number(value: Any) -> float:
    """A length on a page; no page is longer."""
    is_whole = isinstance(value, int)
    if not is_whole and not (isinstance(value, float) and math.isfinite(value)):
        return 0.0
    # Held within reason before it is made a float, which the largest whole numbers can't be.
    return float(max(-_FARTHEST, min(value, _FARTHEST)))


def keep_walk(page: Page, revision: int, number: int, width: int, told: Mapping[str, Any]) -> Walk:
    """Keep what became of a reader who followed a hop. Raises Late, and NoLayout."""
    _require(page, revision)
    link = hops.with_ends(Link.objects.filter(page=page, number=number), {page.pk: page})
    found_hops = hops.of_links(link)
    if not found_hops:
        raise NoLayout("This hop is no longer on the page.")
    hop = found_hops[0]
    if width not in {one.width for one in widths.ALL} and not _is_looked_at(page, width):
        raise NoLayout(f"Nobody has looked at this site {width:,} px wide.")
    (row,) = seek.of_hops(found_hops, [width])
    found = _found(told)
    trouble = seek.disagrees(row, width, found)
    walk, _ = Walk.objects.update_or_create(
        page=page, number=number, width=width,
        defaults={
            "href": hop.link.href, "revision": revision, "end_page": hop.page,
            "end_revision": hop.page.revision if hop.page else 0, "agrees": not trouble,
            "trouble": trouble, "found": found,
        },
    )  # fmt: skip
    return walk


def _is_looked_at(page: Page, width: int) -> bool:
    return Layout.objects.filter(page__site=page.site_id, width=width).exists()


_TEXTS = ("path", "hash", "target", "trouble")
_YES = ("arrived", "astray", "opened", "away")
_LENGTHS = ("y", "before", "top", "view", "page")


def _found(told: Mapping[str, Any]) -> dict[str, Any]:
    found: dict[str, Any] = {
        name: str(told[name])[:1_000].replace("\0", "") for name in _TEXTS if told.get(name)
    }
    found |= {name: bool(told.get(name)) for name in _YES}
    found |= {name: _number(told.get(name)) for name in _LENGTHS if told.get(name) is not None}
    if isinstance(told.get("seen"), bool):  # else nobody could tell
        found["seen"] = told["seen"]
    return found


def unmeasured(page: Page, widths: list[int]) -> list[int]:
    """The widths at which nobody has measured the page as it is now."""
    rows = page.layouts.filter(revision=page.revision).values_list("width", flat=True)
    return [width for width in widths if width not in set(rows)]
