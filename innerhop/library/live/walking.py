"""The job that follows the hops of the site itself, in a browser, at the editor's widths."""

from __future__ import annotations

import os
from collections import Counter
from collections.abc import Iterator, Sequence
from itertools import groupby
from pathlib import Path
from typing import Any, NamedTuple

from django.conf import settings
from django.db import transaction

from innerhop.core import landings, widths
from innerhop.core.addresses import urls
from innerhop.core.addresses.fragments import has_directive, id_of
from innerhop.core.counting import counted
from innerhop.core.findings.found import JudgedLink
from innerhop.core.refusals import Refusal
from innerhop.core.site.hops import BROKEN, MENU, NO_HOP
from innerhop.fetch import browser
from innerhop.fetch.asked import Asked
from innerhop.fetch.walking import FetchedCopy, HopToWalk, Tools, Tour, Walked, walked
from innerhop.library import rehearsal
from innerhop.library.jobs import kinds
from innerhop.library.jobs.kinds import JobKind, JobOutcome
from innerhop.library.jobs.running import Stopped, TakenUp, Work
from innerhop.library.live.there import PagesThere
from innerhop.library.models import Page, Seen, Site, WalkedThere
from innerhop.library.seek import landings as seek

KIND = "walk-there"
_BUILT = Path(settings.BASE_DIR) / "static" / "dist"
_NEAR = 2  # px between where the view stops and where it was computed to
_MOST = 2_000  # hops: three widths of more take hours


class LedTour(NamedTuple):
    """The tour of a page, with the links that it follows."""

    page: Page
    tour: Tour
    links: Sequence[JudgedLink]


def tours(site: Site) -> tuple[list[LedTour], int]:
    """The hops of a site as it was at the last look, page by page: those that lead somewhere. One
    of a menu, or of another part of the frame, is followed on the first page that has it. And how
    many there are beyond the most that are followed."""
    there = PagesThere(site)
    known: set[tuple[int | None, str | None]] = set()
    found: list[LedTour] = []
    count = 0
    for at, page in enumerate(there.pages):
        links, steps = [], []
        nth: Counter[str] = Counter()
        for link in there.whole.rows(at).links:
            nth[link.href] += 1
            end = (link.end_page, link.fragment)
            is_shared = link.kind == MENU or bool(link.region)
            if not _is_followed(link) or (is_shared and end in known):
                continue
            if is_shared:
                known.add(end)
            count += 1
            if count > _MOST:
                continue
            assert link.end_page is not None  # it leads somewhere
            links.append(link)
            to = there.pages[link.end_page].address
            id_ = id_of(link.fragment or "") if link.end is not None else ""
            steps.append(HopToWalk(link.href, nth[link.href] - 1, to, id_))
        if steps:
            found.append(LedTour(page, Tour(page.address, steps), links))
    return found, max(0, count - _MOST)


def _is_followed(link: JudgedLink) -> bool:
    return link.kind not in (NO_HOP, BROKEN) and not has_directive(link.fragment or "")


def run(work: Work) -> JobOutcome:
    """Follow them. What was followed stays, wherever it ends."""
    site = work.job.site
    led, beyond = tours(site)
    if not led:
        raise Refusal("Nothing there is to be followed. Have the site looked at first.")
    # Playwright runs an event loop of its own in this thread; the ORM is not used from it.
    os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"
    by_address = {one.tour.address: one for one in led}
    agent = Asked("", contact=settings.FETCH_CONTACT).agent
    tools = Tools((_BUILT / "sheet.js").read_text(), (_BUILT / "following.js").read_text(),
                  lambda address: _copy(site, address), settings.FETCH_PAUSE)  # fmt: skip
    total = sum(len(one.links) for one in led) * len(widths.ALL)
    work.tell(0, total, "Hops followed")
    pages = done = 0
    seen = walked([one.tour for one in led], widths.ALL, agent, settings.FETCH_LETS_THROUGH, tools)
    for address, some in groupby(_told(work, seen), lambda one: one.address):
        rows = [_row(by_address[address], one) for one in some]
        _keep(work, by_address[address].page, rows)
        pages, done = pages + 1, done + len(rows)
    gone = WalkedThere.objects.filter(site=site).exclude(page__in=[one.page for one in led])
    gone.delete()
    hops, more = counted(done // len(widths.ALL), "hop"), ""
    if beyond:
        more = f" {beyond:,} more are over the {_MOST:,} that are followed at a time."
    message = f"{hops} of {counted(pages, 'page')} followed at three widths.{more}"
    return JobOutcome(message, {"walked": True})


def _told(work: Work, seen: Iterator[Walked]) -> Iterator[Walked]:
    for at, one in enumerate(seen, 1):
        if work.stop.is_set():
            seen.close()  # type: ignore[attr-defined]  # a generator's: the browser ends
            raise Stopped("Stopped. The pages that were done stand.")
        work.tell(at, work.total)
        yield one


@transaction.atomic
def _keep(work: Work, page: Page, rows: Sequence[WalkedThere]) -> None:
    if not work.is_ours():
        raise TakenUp
    WalkedThere.objects.filter(page=page).delete()
    WalkedThere.objects.bulk_create(rows)


def _copy(site: Site, address: str) -> FetchedCopy | None:
    """What an address of the site gave when it was last fetched."""
    found = urls.resolve(address, address)
    if found is None:
        return None
    seen = Seen.objects.filter(page__site=site, page__key=site.key_of(found.path))
    page = seen.exclude(content=b"").first()
    if page is not None:
        return FetchedCopy(bytes(page.content), f"text/html; charset={page.label}")
    asset = site.assets.filter(path=found.path).first()
    return FetchedCopy(bytes(asset.content), asset.media_type) if asset else None


def _row(led: LedTour, one: Walked) -> WalkedThere:
    link, step = led.links[one.at], led.tour.steps[one.at]
    row = WalkedThere(
        page=led.page, site_id=led.page.site_id, number=link.number, href=link.href,
        words=(link.text or "a picture or nothing")[:200], width=one.width, is_copy=one.is_copy,
    )  # fmt: skip
    found = rehearsal.found_of(one.told)
    landing = _landing(one, step.id)
    row.trouble = _trouble(found, step, landing)[:300]
    if landing is not None:
        row.verdict, row.says = landing.verdict, landings.says(landing)[:300]
    return row


def _landing(one: Walked, id_: str) -> landings.Landing | None:
    if one.laid is None:
        return None
    if not id_:
        return landings.Landing(0, 0, 0, landings.CLEAR)
    try:
        return seek.landing_at(rehearsal.laid_of(one.laid, one.width), id_)
    except rehearsal.NoLayout:
        return None


def _trouble(told: dict[str, Any], step: HopToWalk, landing: landings.Landing | None) -> str:
    """What went otherwise than it should; "" for nothing."""
    if told.get("trouble"):
        return str(told["trouble"])
    if told.get("away"):
        return "It leads readers to another site."
    if step.id and not told.get("arrived"):
        return "Nobody arrives: the page that the site gives does not have that ID."
    y = float(told.get("y", 0))
    if landing is not None and abs(y - landing.y) > _NEAR:
        where = "above" if y < landing.y else "below"
        return f"The view stops {abs(y - landing.y):.0f} px {where} where the page says it should."
    return ""


def called(_job: Any) -> str:
    """What it is called."""
    return "Following the hops of the site itself"


kinds.register(JobKind(KIND, called, run, is_possible=browser.is_there))
