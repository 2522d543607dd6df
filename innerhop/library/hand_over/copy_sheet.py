"""The copy sheet: for editors whose pages live in another system, what to enter
there to do what was done here, step by step, ticked off as they go."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, replace

from innerhop.core import style_lines
from innerhop.core.copy_steps import steps as copy_steps
from innerhop.core.copy_steps.step import STYLE, Step
from innerhop.core.edits import Edit
from innerhop.library.acts import page_acts
from innerhop.library.changes import effects, our_files
from innerhop.library.changes.since_it_came import first_and_edits
from innerhop.library.index import shared_parts
from innerhop.library.index.texts import PageText, current
from innerhop.library.models import Editor, Page, Seen, Site, Tick
from innerhop.library.seek import menu_plans
from innerhop.library.seek.menu_plans import ItemToEnter

# The fields of a copy sheet as CSV and JSON, with what stands in each.
FIELDS = {
    "page": "The title of the page; of an item of a menu, the menu's name.",
    "address": "The page’s address, in full.",
    "step": "The step’s number on its page, from the page’s top down.",
    "kind": "heading, id, marker, link, style or markup; for what goes no-id, no-link, or away for "
    "a whole part; for items of menus new-item, item-words, item-end, move-item or no-item, and "
    "menu where the menu lives in another system.",
    "section": "The words of the heading, question or line like one that the part stands under.",
    "part": "The part of the page: what kind it is there, its first words, and which of several.",
    "place": "Where it is in the section, or whether the header, a menu or the footer holds it.",
    "enter": "What to type or paste, as it is. An ID is without its #.",
    "instead_of": "What stands there now, if anything.",
    "note": "How it is done.",
    "markup": "The part as it then is, for places where only markup can be entered: whole where it "
    "is short, else its start tag.",
    "done": "Whether it has been ticked off: true or false.",
}


@dataclass(frozen=True)
class Sheet:
    """One page's part of the copy sheet. done: the keys of the steps ticked off, or seen on the
    site. seen: of those that were seen there."""

    page: Page
    steps: list[Step]
    done: frozenset[str]
    seen: frozenset[str] = frozenset()

    @property
    def rows(self) -> list[tuple[Step, bool, bool]]:
        """Each step, with whether it is done, and whether it was seen on the site."""
        return [(step, step.key in self.done, step.key in self.seen) for step in self.steps]

    @property
    def left(self) -> int:
        """How many steps are not done yet."""
        return sum(not done for _, done, _ in self.rows)


def of_page(page: Page) -> Sheet:
    """What has to be entered for a page, since it came in."""
    first, edits = first_and_edits(page)
    ticked = page.ticks.values_list("key", flat=True)
    seen = frozenset(Seen.objects.filter(page=page).values_list("found", flat=True).first() or ())
    done = seen.union(ticked)
    if not edits:
        return Sheet(page, [], done)
    now = current(page)
    # Reading menus takes longer than all else: only where something in one is different.
    menus = (first.menus, now.menus) if _is_in_menu(now, edits) else ((), ())
    return Sheet(page, copy_steps.steps(first.source, now.source, edits, menus), done, seen)


def _is_in_menu(now: PageText, edits: Iterable[Edit]) -> bool:
    """Whether some of what was done lies in a menu of the page as it is now."""
    numbers = now.page.menus.values_list("number", flat=True)
    tags = ((now.source.start_tag(one), now.source.end_of(one)) for one in numbers)
    spans = [(tag.start, end) for tag, end in tags if tag and end]
    shift = 0
    for edit in sorted(edits, key=lambda one: one.start):
        start = edit.start + shift
        if any(first <= start <= last for first, last in spans):
            return True
        shift += len(edit.new) - len(edit.old)
    return False


def of_site(site: Site) -> list[Sheet]:
    """The sheets of all pages on which there is something to do. What is done in a
    part or a menu that pages share, and a line of style for several, is on the sheet of the
    first of them, once."""
    touched = site.pages.filter(revision__gt=1).select_related("site")
    of_pages = [sheet for sheet in map(of_page, touched) if sheet.steps]
    same = Counter(step.key for sheet in of_pages for step in sheet.steps if _is_of_many(step))
    seen: set[tuple[str, str]] = set()
    sheets = []
    for sheet in of_pages:
        steps = list(_not_seen(sheet, same, seen))
        if steps:
            sheets.append(replace(sheet, steps=steps))
    return sheets


def _is_of_many(step: Step) -> bool:
    """Whether a step that stands on several pages is one thing to do."""
    return bool(step.menu) or step.kind == STYLE


def _not_seen(sheet: Sheet, same: Mapping[str, int], seen: set[tuple[str, str]]) -> Iterator[Step]:
    parts = shared_parts.of_page(sheet.page)
    for step in sheet.steps:
        if _is_of_many(step):
            if ("", step.key) not in seen:
                seen.add(("", step.key))
                yield replace(step, pages=same[step.key])
            continue
        part = next((one for one in parts if one.number <= step.number <= one.last), None)
        if part is None:
            yield step
        elif (part.digest, step.key) not in seen:
            seen.add((part.digest, step.key))
            yield replace(step, pages=part.pages)


def tick(page: Page, key: str, on: bool, editor: Editor) -> Sheet:
    """Tick a step off, or take the tick back. Raises LookupError for no step of the page."""
    sheet = of_page(page)
    if all(step.key != key for step in sheet.steps):
        raise LookupError("no such step")
    if on:
        Tick.objects.get_or_create(page=page, key=key, defaults={"editor": editor})
    else:
        page.ticks.filter(key=key).delete()
    done = (sheet.done | {key}) if on else (sheet.done - {key}) | sheet.seen
    return replace(sheet, done=done)


def rows(sheets: Iterable[Sheet]) -> list[dict[str, object]]:
    """The steps as rows with the FIELDS."""
    return [
        {
            "page": sheet.page.title,
            "address": sheet.page.address,
            "step": number,
            "kind": step.kind,
            "section": step.section,
            "part": step.what,
            "place": step.at or ("" if step.within.startswith("in “") else step.within),
            "enter": step.enter,
            "instead_of": step.before,
            "note": step.note,
            "markup": step.markup,
            "done": done,
        }
        for sheet in sheets
        for number, (step, done, _) in enumerate(sheet.rows, 1)
    ]


def menus(site: Site) -> list[tuple[str, list[ItemToEnter]]]:
    """The menus that live in another system, by name, with what to enter for each item."""
    plans = site.menu_plans.filter(gone=False)
    return [(plan.name, menu_plans.lines_of(plan)) for plan in plans if plan.items]


def menu_rows(site: Site) -> list[dict[str, object]]:
    """The same as rows with the FIELDS: the item's words as its part."""
    return [
        {
            "page": name,
            "address": "",
            "step": number,
            "kind": "menu",
            "section": line.under,
            "part": line.item.label,
            "place": f"item {line.place}" + (f" under “{line.under}”" if line.under else ""),
            "enter": line.item.address,
            "instead_of": "",
            "note": "An item of a menu that lives in another system.",
            "markup": "",
            "done": False,
        }
        for name, lines in menus(site)
        for number, line in enumerate(lines, 1)
    ]


@dataclass(frozen=True)
class Styles:
    """What goes into the site as a whole. room: the lines that leave room under a header, where
    the site has pages that are bodies alone, whose head is not here to put them in, and nobody
    has put them anywhere; "" else. sheets: lines that were put into style sheets of the site, by
    path. files: those that pages link for what visitors get, by path, with what stands in them.
    """

    room: str
    sheets: list[tuple[str, str]]
    files: list[tuple[str, str]]


def styles(site: Site, sheets: Iterable[Sheet]) -> Styles:
    """That of a site whose pages have these sheets."""
    lines = _lines_in_sheets(site)
    files = site.assets.filter(path__in=our_files.TYPES).order_by("path")
    texts = [(one.path, bytes(one.content).decode()) for one in files]
    saved = [step.enter for sheet in sheets for step in sheet.steps if step.kind == STYLE]
    is_made = any(style_lines.makes_room(text) for text in (*saved, *(css for _, css in lines)))
    room = ""
    if not is_made and site.pages.filter(body_only=True).exists():
        headers = page_acts.tallest(page_acts.headers_of(site.pages.all()).values())
        room = style_lines.room(headers, site.air)
    return Styles(room, lines, texts)


def _lines_in_sheets(site: Site) -> list[tuple[str, str]]:
    """The lines that standing changes put into style sheets, by the sheet's path."""
    paths = dict(site.assets.values_list("pk", "path"))
    changes = site.changes.filter(undone=None, effects__contains=[{"kind": effects.SHEET}])
    found = [one for change in changes.order_by("pk") for one in change.effects]
    return [(paths[one["asset"]], one["lines"].strip()) for one in found
            if one["kind"] == effects.SHEET and one["asset"] in paths]  # fmt: skip
