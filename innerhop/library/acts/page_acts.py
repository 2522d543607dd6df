"""Acts on a page as a whole, and on parts of it that come from elsewhere."""

from __future__ import annotations

from innerhop.core.planners import smooth_scrolling
from innerhop.library.acts.base import Act
from innerhop.library.acts.forms import GONE, Unreadable
from innerhop.library.changes import effects, locked_parts
from innerhop.library.changes.prepare import PagePlan
from innerhop.library.index import shared_parts
from innerhop.library.index.texts import currents
from innerhop.library.models import LockedPart, Page


def smooth(page: Page) -> Act:
    """Ask for smooth scrolling on the page. Raises smooth_scrolling.CannotSmooth."""
    plan = PagePlan(page, page.revision, lambda text: smooth_scrolling.plan_smooth(text.source))
    return Act("Hops on this page scroll smoothly, unless a visitor asked for less motion", [plan])


def _on_pages(count: int) -> str:
    return f" on all {count} pages that share it" if count > 1 else ""


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
