"""Acts on a page as a whole, and on parts of it that come from elsewhere."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterable, Mapping

from django.db.models import QuerySet

from innerhop.core import style_lines
from innerhop.core.counting import counted
from innerhop.core.facts import spacers as spacer_facts
from innerhop.core.formats import html
from innerhop.core.landings import covered_to
from innerhop.core.plan import Plan
from innerhop.core.planners import page_styles
from innerhop.core.planners import spacers as spacers_planner
from innerhop.core.refusals import Refusal
from innerhop.core.source import markup
from innerhop.library.acts.base import Act, in_copies, joined
from innerhop.library.acts.forms import GONE, Unreadable
from innerhop.library.changes import effects, locked_parts, our_files
from innerhop.library.changes.prepare import PagePlan
from innerhop.library.index import shared_parts
from innerhop.library.index.texts import PageText, current, currents
from innerhop.library.models import Asset, Layout, LockedPart, Measure, Page, Site
from innerhop.library.seek import landings


class NothingLacks(Refusal):
    """No page needs the style."""


def smooth(page: Page, everywhere: bool = False) -> Act:
    """Ask for smooth scrolling, on the page or on all of its site. Raises
    page_styles.CannotStyle, and NothingLacks."""
    lacking = [one for one in _pages(page, everywhere) if not _glides(one)]
    plans, left_out = _styled(lacking, lambda _: page_styles.SMOOTH, everywhere)
    message = f"Hops{_where(plans)} scroll smoothly, unless a visitor asked for less motion"
    return Act(message, plans, notes=left_out)


def say_language(page: Page) -> Act:
    """Let a page say that it is in its site's language. Raises NothingLacks where it says
    one, or has no tag of its own to say it in."""
    text = current(page)
    if text.facts.language:
        raise NothingLacks("The page says its language already.")
    if page.body_only or not len(text.source) or text.source.start_tag(0) is None:
        raise NothingLacks(
            "The page’s text has no html tag: the site’s system puts that around it, and is "
            "where the language is to be said."
        )
    language = page.site.language

    def plan(text: PageText) -> Plan:
        return html.give(text.source, {0: {"lang": language}}, text.revision.encoding)

    message = f"The page says that its language is “{language}”"
    return Act(message, [PagePlan(page, page.revision, plan)])


def make_room(page: Page, everywhere: bool, sheet: int | None, room_on: str) -> Act:
    """Leave room for what stays at the top of the view: in a style sheet of the site, by primary
    key, or without one in the head of the page, or of all pages. room_on: as `style_lines` has
    it. Raises the same."""
    if sheet is not None:
        return room_in_sheet(page, sheet, room_on)
    return room(page, everywhere, room_on)


def room(page: Page, everywhere: bool = False, where: str = style_lines.PAGE) -> Act:
    """Leave room for what stays at the top of the view, as tall as it was measured and the
    site's air, on the page or on all of its site. A page that nobody has looked at yet gets
    the room that the others need. where: as `style_lines` has it. Raises the same."""

    def lines(heights: Mapping[int, int]) -> str:
        return style_lines.room(heights, page.site.air, where)

    pages = _pages(page, everywhere)
    by_page = headers_of(pages)
    own = {pk: lines(found) for pk, found in by_page.items()}
    if any(one.pk not in own for one in pages):
        others = by_page if everywhere else headers_of(page.site.pages.all())
        site_wide = lines(tallest(others.values()))
        own |= {one.pk: site_wide for one in pages if one.pk not in own}
    lacking = [one for one in pages if own[one.pk]]
    plans, left_out = _styled(lacking, lambda one: own[one.pk], everywhere)
    return Act(f"Left room for what stays at the top of the view{_where(plans)}", plans,
               notes=left_out)  # fmt: skip


def room_in_sheet(page: Page, key: int, where: str = style_lines.PAGE) -> Act:
    """The same, once for the site: at the end of one of its own style sheets, by primary key.
    Raises NothingLacks, and Unreadable where there is none."""
    asset = style_sheets_of(page.site).filter(pk=key).first()
    if asset is None:
        raise Unreadable("This style sheet is no longer there. Choose another place.")
    found = tallest(headers_of(page.site.pages.all()).values())
    css = style_lines.room(found, page.site.air, where)
    if b"\0" in bytes(asset.content):  # UTF-16, in which each letter is two bytes
        raise NothingLacks(f"{asset.path} is in an encoding that lines can’t be added to.")
    lines = bytes(asset.content).splitlines()
    if not css or all(line.encode() in lines for line in css.splitlines()):
        raise NothingLacks("Nothing has to be changed: the pages have it already.")
    message = f"Left room for what stays at the top of the view, in {asset.path}"
    return Act(message, [], effects=[effects.sheet(asset, css)])


def style_sheets_of(site: Site) -> QuerySet[Asset]:
    """The site's own style sheets, in the order of their paths."""
    sheets = site.assets.filter(media_type="text/css").exclude(path__in=our_files.TYPES)
    return sheets.order_by("path")


def spacers(page: Page, below: int | None = None) -> Act:
    """Take out the empty paragraphs above parts that readers are sent to: those above one
    element, or all of the page. Raises NothingLacks, and pieces.NotWhole."""
    text = current(page)
    rows = [one for one in spacer_facts.spacers(text.source) if below in (None, one.below)]
    if not rows:
        raise NothingLacks("No empty paragraph stands there any more.")
    count = sum(len(row.numbers) for row in rows)
    plans = [plan for row in rows for plan in in_copies(page, row.numbers[0], _without)]
    return Act(f"Took out {counted(count, 'empty line')}", joined(plans))


def _without(text: PageText, first: int) -> Plan:
    rows = [one for one in spacer_facts.spacers(text.source) if one.numbers[0] == first]
    return spacers_planner.plan_out(text.source, rows)


def headers_of(pages: Iterable[Page]) -> dict[int, dict[int, int]]:
    """By page, by primary key, and width: how tall what covers the view's top is where the
    page leaves too little room; of pages that a browser has looked at, in the sheet or as
    visitors get them, which counts."""
    found: dict[int, dict[int, int]] = defaultdict(dict)
    for one in Measure.objects.filter(page__in=pages):
        found[one.page_id][one.width] = one.header if one.header > one.padding else 0
    for row in Layout.objects.filter(page__in=pages).only("page_id", "width", "view"):
        view = landings.read(row.view, {}).view
        under = round(covered_to(view.covers, view.height))
        found[row.page_id][row.width] = under if under > view.padding else 0
    return found


def tallest(heights: Iterable[Mapping[int, int]]) -> dict[int, int]:
    """The tallest header of several pages, by width."""
    most: dict[int, int] = {}
    for one in heights:
        for width, height in one.items():
            most[width] = max(height, most.get(width, 0))
    return most


def _pages(page: Page, everywhere: bool) -> list[Page]:
    if not everywhere:
        return [page]
    return list(page.site.pages.select_related("site").prefetch_related("measures"))


def _glides(page: Page) -> bool:
    measured = list(page.measures.all())
    return bool(measured) and all(one.smooth for one in measured)


def _styled(
    pages: list[Page], css: Callable[[Page], str], everywhere: bool
) -> tuple[list[PagePlan], list[str]]:
    """The plans for pages that have not got the style already; of many, those without a
    head are left out, and that is said."""
    plans, headless = [], 0
    for text in currents(pages):
        line = css(text.page)
        if line in text.text:
            continue
        if everywhere and (text.page.body_only or not markup.may_have_head(text.text)):
            headless += 1
            continue
        plans.append(PagePlan(text.page, text.page.revision, _plan_style(line)))
    if not plans:
        raise NothingLacks("Nothing has to be changed: the pages have it already.")
    left = f"{counted(headless, 'page')} without a head of their own stay as they are."
    return plans, [left] if headless else []


def _plan_style(css: str) -> Callable[[PageText], Plan]:
    return lambda text: page_styles.plan_style(text.source, css)


def _where(plans: list[PagePlan]) -> str:
    return " on this page" if len(plans) == 1 else f" on {len(plans)} pages"


def _on_pages(count: int) -> str:
    return f" on all {count} pages that share it" if count > 1 else ""


def set_lock(page: Page, number: int, on: bool) -> Act:
    """Lock a part, or let it be edited again. Raises the same."""
    return lock(page, number) if on else unlock(page, number)


def lock(page: Page, number: int) -> Act:
    """Leave a part alone from now on, on every page that has it: it comes from the
    site's own system."""
    copies = shared_parts.copies(page, number)
    texts = currents([copy.page for copy in copies])
    texts[0].source.element(number)  # refused where there is none
    pairs = zip(copies, texts, strict=True)
    lasts = [text.source.last_inside(copy.number) for copy, text in pairs]
    message = f"Locked this part{_on_pages(len(copies))}"
    return Act(message, [], effects=effects.lock(copies, lasts))


def unlock(page: Page, number: int) -> Act:
    """Let a locked part be edited again, everywhere."""
    if locked_parts.around(locked_parts.of([page])[page.pk], number) is None:
        raise Unreadable(GONE)
    copies = shared_parts.copies(page, number)
    places = {(copy.page.pk, copy.number) for copy in copies}
    rows = LockedPart.objects.filter(page__in=[copy.page for copy in copies], lifted=False)
    parts = [one for one in rows if (one.page_id, one.number) in places]
    if not parts:
        raise Unreadable(GONE)
    message = f"Unlocked this part{_on_pages(len(parts))}"
    return Act(message, [], effects=effects.unlock(parts))
