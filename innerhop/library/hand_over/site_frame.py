"""The frame of pages that came as a body alone: a header with the site's name and a planned
menu, and a footer, so that they can be seen as readers will see them, and handed over whole."""

from __future__ import annotations

from collections.abc import Sequence
from html import escape

from innerhop.core.contents.entries import Branch, nested
from innerhop.core.site.stations import THERE
from innerhop.library.index.texts import PageText
from innerhop.library.models import MenuPlan, Page
from innerhop.library.seek import menu_plans
from innerhop.library.seek.menu_plans import PlannedItem

_STYLE = (
    "body{max-width:44rem;margin:2rem auto;padding:0 1.25rem;font:1.0625rem/1.6 Georgia,serif}"
    "img,svg,video,table{max-width:100%}"
    "@media(prefers-reduced-motion:no-preference){html{scroll-behavior:smooth}}"
)
_FRAME_STYLE = (
    "body>header{display:flex;flex-wrap:wrap;gap:.25rem 1.5rem;padding-bottom:.75rem;"
    "border-bottom:1px solid}body>header ul{display:flex;flex-wrap:wrap;gap:.25rem 1rem;"
    "margin:0;padding:0;list-style:none}body>header ul ul{padding-left:1rem}"
    "body>footer{margin-top:3rem;padding-top:.75rem;border-top:1px solid}"
)


def framed(page: Page, body: str, head: str = "") -> str:
    """The body of a post as a document: in its site's frame where it has one, else in the
    plain clothes of any site. head: what goes first into its head."""
    site = page.site
    before, after = ("", "")
    style = _STYLE
    if site.frame:
        style += _FRAME_STYLE
        before = f'<header><a href="/">{escape(site.name)}</a>{_menu(page)}</header><main>'
        words = site.frame.get("footer", "")
        after = f"</main><footer><p>{escape(words)}</p></footer>" if words else "</main>"
    language = page.language or site.language
    return (
        f'<!doctype html><html lang="{escape(language)}"><head>{head}'
        f'<meta charset="utf-8"><meta name="viewport" content="width=device-width">'
        f"<title>{escape(page.title)}</title><style>{style}</style></head>"
        f"<body>{before}{body}{after}</body></html>"
    )


def _menu(page: Page) -> str:
    """The planned menu of the site, the open page's item marked (ARIA 1.2, aria-current)."""
    key = page.site.frame.get("menu")
    plan = MenuPlan.objects.filter(site=page.site_id, pk=key, gone=False).first() if key else None
    if plan is None or not plan.items:
        return ""
    items = menu_plans.items_of(plan)
    branches = nested([(one.depth, one) for one in items])
    return f'<nav aria-label="{escape(plan.name)}">{_listed(branches, page)}</nav>'


def _listed(branches: Sequence[Branch[PlannedItem]], page: Page) -> str:
    return "<ul>" + "".join(
        f"<li>{_link(one.entry, page)}{_listed(one.below, page) if one.below else ''}</li>"
        for one in branches
    ) + "</ul>"  # fmt: skip


def _link(item: PlannedItem, page: Page) -> str:
    is_open = menu_plans.does(item, page.pk) == THERE
    current = ' aria-current="page"' if is_open else ""
    return f'<a href="{escape(item.address)}"{current}>{escape(item.label)}</a>'


def file_text(text: PageText) -> str | None:
    """A page as it is handed over in its site's frame; None for one that goes as it is."""
    page = text.page
    if not page.body_only or not page.site.frame.get("out"):
        return None
    return framed(page, text.text)
