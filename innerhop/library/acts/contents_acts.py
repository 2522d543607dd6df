"""Acts on contents lists and ways back: made, brought up to date, taken over, removed."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace

from innerhop.core.contents import in_step, lists, settings, ways_back
from innerhop.core.contents.entries import Possible, usual
from innerhop.core.contents.kinds import KINDS, Style, WantedEntry
from innerhop.core.contents.labels import labels_in
from innerhop.core.contents.lists import ContentsList, ListEntry, of_scope
from innerhop.core.contents.settings import Settings
from innerhop.core.counting import counted
from innerhop.core.formats import pieces
from innerhop.core.names import ids
from innerhop.core.plan import Plan, join_plans
from innerhop.core.planners import contents, markers, marking, page_styles, visitor_parts
from innerhop.core.planners import ways_back as back_planner
from innerhop.core.planners.contents import CannotList
from innerhop.core.source.tree import Source
from innerhop.library.acts import ways_acts
from innerhop.library.acts.base import Act, Preview, in_copies, joined, marked
from innerhop.library.acts.ends import End, file_on, link_to
from innerhop.library.acts.ways_acts import Ways
from innerhop.library.changes import effects
from innerhop.library.changes.prepare import PagePlan
from innerhop.library.index import shared_parts
from innerhop.library.index.texts import PageText, current, naming_of
from innerhop.library.models import Page

LIST_ID = "contents"


@dataclass(frozen=True)
class AskedEntry:
    """An entry as it is asked for. page: the page that it leads to. part: the number of
    the part that it leads to there, None for the page as a whole, or for an entry that
    stays as it is. link: of the entry in a list that is there. id: for a part without one.
    label: the editor's words for it, "" for the part's own."""

    page: Page
    part: int | None
    link: int | None = None
    id: str = ""
    label: str = ""


@dataclass(frozen=True)
class Spec:
    """A contents list as it is asked for. there: the number of one that is there. at, side:
    where a new one goes, None for the usual place."""

    entries: Sequence[AskedEntry]
    kind: str
    there: int | None = None
    at: int | None = None
    side: str = markers.BEFORE
    levels: Sequence[str] = ()
    scope: str = settings.PAGE
    own_order: bool = False
    title: str = ""
    title_level: int = 0
    classes: str = ""
    look: str = ""
    ways: Ways = field(default_factory=Ways)


def make(page: Page, spec: Spec) -> Act:
    """Make a contents list, or give one that is there these entries; with the marks that
    they need and the ways back that are asked for, as one change. Raises CannotList,
    CannotMark, and what planning raises."""
    text = current(page)
    one = list_at(text, spec.there) if spec.there is not None else None
    if spec.kind not in KINDS and (one is None or one.settings.kind != spec.kind):
        raise CannotList("Points are made with what visitors get. Choose them there.")
    entries = _Entries(text, one).of(spec.entries)
    list_id = (one.id if one else "") or ids.free(LIST_ID, _taken(text, entries))
    at = spec.at if spec.at is not None else one.number if one else usual_place(text)
    if one is None:
        ways_acts.refuse_shared(page, at)
    plan = _Planned(replace(spec, at=at), entries, list_id)
    plans = [PagePlan(page, page.revision, plan.make), *_marks(entries)]
    starts = _headings(text, entries)
    if spec.ways.where:
        plans += ways_acts.plans(page, spec.ways, list_id, starts)
    numbers = _numbers(text, spec, entries)
    plans += numbers
    found = [effects.file(page, path) for path in _FILES] if numbers else []
    ways = ways_acts.said(text, spec.ways, starts)
    message = ", ".join(part for part in (_message(one, spec, entries), ways) if part)
    act = Act(message, joined(plans), notes=_notes(text, entries), effects=found)
    lit = [
        entry.wanted.href
        for entry in entries
        if entry.is_new or (one and entry.wanted.link is None)
    ]
    spot = (one.number, "") if one else (at, spec.side)
    return replace(act, preview=_preview(list_id, spot, lit))


def usual_list(page: Page) -> Act:
    """Put a list of a page's main sections where such lists usually stand, each section
    marked that has no ID, with ways back to it where the page has none. Raises as `make`."""
    text = current(page)
    levels = usual(text.possible)
    entries = [AskedEntry(page, one.number) for one in text.possible if one.kind in levels]
    if len(entries) > _MOST_USUAL:
        raise CannotList(
            f"A list of {len(entries)} entries is too long for a reader. Open the page and list "
            "one part of it, or chosen sections."
        )
    ways = Ways() if text.ways_back else Ways(ways_back.SECTIONS, to_list=True)
    return make(page, Spec(entries, lists.NESTED, levels=levels, ways=ways))


_MOST_USUAL = 200
_FILES = (visitor_parts.STYLE, visitor_parts.SCRIPT)


def _numbers(text: PageText, spec: Spec, entries: Sequence[_Entry]) -> list[PagePlan]:
    """Numbers such as 1.1 are a matter of style: what links the files that have it from a
    page with such a list, where it has a head to link them in."""
    page = text.page
    is_deep = len({entry.wanted.level for entry in entries}) > 1
    if spec.kind != lists.NUMBERED or not is_deep or page.body_only:
        return []
    if visitor_parts.read(text.source).needs_files or page_styles.end_of_head(text.source) is None:
        return []

    def link(text: PageText) -> Plan:
        parts = visitor_parts.Parts(lit=True)
        return visitor_parts.plan_files(text.source, parts, text.revision.encoding, file_on(page))

    return [PagePlan(page, page.revision, link)]


@dataclass(frozen=True)
class _Entry:
    """wanted: as it will be written. possible: the part of a page that it leads to.
    is_new: whether that is marked only now."""

    wanted: WantedEntry
    page: Page
    possible: Possible | None
    id: str
    is_new: bool = False


class _Entries:
    """What entries will be, for the page that the list stands on. listing: the list that is
    there, if it is."""

    def __init__(self, text: PageText, listing: ContentsList | None) -> None:
        self.text = text
        self.there = {entry.number: entry for entry in listing.entries} if listing else {}
        self.texts = {text.page.pk: text}
        self.parts: dict[int, dict[int, Possible]] = {}
        self.suggesters: dict[int, ids.Suggester] = {}

    def of(self, asked: Sequence[AskedEntry]) -> list[_Entry]:
        """The entries, each with how it is written; where a part has no ID yet, with the
        one that is asked for, or else suggested. Raises CannotList."""
        found = [self._entry(one) for one in asked]
        for entry in found:
            if entry.id:
                self._suggester(entry.page).taken.add(entry.id)
        return [self._with_id(entry) for entry in found]

    def _entry(self, asked: AskedEntry) -> _Entry:
        old = self.there.get(asked.link) if asked.link is not None else None
        if asked.link is not None and old is None:
            raise CannotList("An entry of this list is no longer there. Load the page again.")
        if asked.part is None:
            return self._as_it_is(old, asked) if old else self._whole_page(asked)
        part = self._part(asked.page, asked.part)
        label = " ".join(asked.label.split()) or part.title
        id_ = part.mark or asked.id
        is_led = old is not None and old.to in (id_, *part.others)
        keeps = is_led and asked.page.pk == self.text.page.pk
        href = old.href if old and keeps else ""  # still to be written
        link = old.number if old else None
        wanted = WantedEntry(href, label, part.level, label != part.title, link)
        return _Entry(wanted, asked.page, part, id_, not part.mark)

    def _as_it_is(self, old: ListEntry, asked: AskedEntry) -> _Entry:
        wanted = WantedEntry(old.href, asked.label or old.label, 2, old.own, old.number)
        return _Entry(wanted, self.text.page, None, old.to)

    def _whole_page(self, asked: AskedEntry) -> _Entry:
        title = asked.label or asked.page.title
        href = link_to(self.text.page, End(asked.page, ""), is_shared=False)
        return _Entry(WantedEntry(href, title, 1, title != asked.page.title), asked.page, None, "")

    def _part(self, page: Page, number: int) -> Possible:
        if page.pk not in self.parts:
            self.parts[page.pk] = {one.number: one for one in self._text(page).possible}
        found = self.parts[page.pk].get(number)
        if found is None:
            raise CannotList("A part that is to be listed is no longer there. Load the page again.")
        return found

    def _text(self, page: Page) -> PageText:
        if page.pk not in self.texts:
            self.texts[page.pk] = current(page)
        return self.texts[page.pk]

    def _suggester(self, page: Page) -> ids.Suggester:
        if page.pk not in self.suggesters:
            taken = self._text(page).marks.ids()
            self.suggesters[page.pk] = ids.Suggester(naming_of(page), taken)
        return self.suggesters[page.pk]

    def _with_id(self, entry: _Entry) -> _Entry:
        page, part = entry.page, entry.possible
        if part is None or entry.wanted.href:
            return entry
        id_ = entry.id or self._suggester(page).suggest(part.title)
        href = link_to(self.text.page, End(page, id_), is_shared=False)
        return replace(entry, id=id_, wanted=replace(entry.wanted, href=href))


@dataclass(frozen=True)
class _Planned:
    """What makes the plan for the page that holds the list."""

    spec: Spec
    entries: Sequence[_Entry]
    list_id: str

    def make(self, text: PageText) -> Plan:
        spec, wanted = self.spec, [entry.wanted for entry in self.entries]
        encoding = text.revision.encoding
        own = Settings(
            spec.kind, tuple(spec.levels), self._left_out(text), spec.scope, spec.own_order
        )
        one = list_at(text, self.spec.there) if self.spec.there is not None else None
        if one is not None and one.settings.kind == spec.kind:
            return contents.plan_kept(
                text.source, one, wanted, own=own, id_=self.list_id, encoding=encoding
            )
        look = {"class": spec.look} if spec.look else {}
        page = text.page
        label = labels_in(page.language or page.site.language).on_this_page
        style = Style(own, spec.title, spec.title_level, label=label, classes=spec.classes,
                      look=look, id=self.list_id)  # fmt: skip
        if one is not None:
            wanted = [replace(entry, link=None) for entry in wanted]
            return contents.plan_in_place(text.source, one, wanted, style, encoding)
        assert spec.at is not None
        return contents.plan_new(
            text.source, spec.at, spec.side, wanted, style=style, encoding=encoding
        )

    def _left_out(self, text: PageText) -> frozenset[str]:
        """The keys of the parts of these levels that someone took out of the list."""
        if self.spec.scope == settings.CHOSEN:
            return frozenset()
        possible = of_scope(text.possible, self.spec.scope)
        listed = {one.possible.number for one in self.entries if one.possible}
        inside = range(0)
        if self.spec.there is not None:
            one = list_at(text, self.spec.there)
            inside = range(one.number, one.last + 1)
        return frozenset(
            part.key
            for part in possible
            if part.kind in self.spec.levels
            and part.number not in listed
            and part.number not in inside
        )


def usual_place(text: PageText) -> int:
    """Before which part a new list goes unless someone points elsewhere."""
    if not text.possible:
        raise CannotList(
            "This page has no headings, and nothing that serves as one, so there is no usual place "
            "for a list. Point at the part before which it is to stand."
        )
    return contents.usual_place(text.source, text.possible[0].number)


def list_at(text: PageText, number: int) -> ContentsList:
    """The contents list that is an element of a page. Raises CannotList."""
    found = next((one for one in text.lists if one.number == number), None)
    if found is None:
        raise CannotList("This list is no longer there. Load the page again to see it as it is.")
    return found


def _taken(text: PageText, entries: Sequence[_Entry]) -> set[str]:
    return {*text.marks.ids(), *(entry.id for entry in entries)}


def _marks(entries: Sequence[_Entry]) -> list[PagePlan]:
    """The plans that mark what has no ID yet: all of a page at once where it is all of its
    own, since they are told apart from each other then."""
    by_page: dict[int, list[tuple[Page, int, str]]] = {}
    for entry in entries:
        if entry.is_new and entry.possible is not None:
            row = (entry.page, entry.possible.number, entry.id)
            by_page.setdefault(entry.page.pk, []).append(row)
    plans: list[PagePlan] = []
    for rows in by_page.values():
        page = rows[0][0]
        shared = [(number, id_) for _, number, id_ in rows if shared_parts.around(page, number)]
        own = [(number, id_) for _, number, id_ in rows if (number, id_) not in shared]
        if own:
            plans.append(PagePlan(page, page.revision, _marking(own)))
        for number, id_ in shared:
            plans += in_copies(page, number, marked(id_))
    return plans


def _marking(wanted: Sequence[tuple[int, str]]) -> Callable[[PageText], Plan]:
    return lambda text: marking.plan_marks(text.source, text.marks, wanted, text.revision.encoding)


def _headings(text: PageText, entries: Sequence[_Entry]) -> list[int]:
    own = [e.possible for e in entries if e.possible and e.page.pk == text.page.pk]
    highest = min((one.level for one in own), default=0)
    return sorted(one.number for one in own if one.level == highest)


def _message(listing: ContentsList | None, spec: Spec, entries: Sequence[_Entry]) -> str:
    if listing is None:
        return f"Made a contents list of {counted(len(entries), 'entry', 'entries')}"
    there = {entry.number for entry in listing.entries}
    kept = {entry.wanted.link for entry in entries} & there
    more, less = sum(entry.wanted.link is None for entry in entries), len(there - kept)
    said = [f"{more} more" if more else "", f"{less} fewer" if less else ""]
    what = " and ".join(part for part in said if part)
    if listing.settings.kind != spec.kind:
        return f"Made the contents list a {KINDS[spec.kind].title.lower()} one"
    return f"Brought the contents list up to date{f': {what}' if what else ''}"


def _notes(text: PageText, entries: Sequence[_Entry]) -> list[str]:
    said = Counter(entry.wanted.label for entry in entries)
    twice = [label for label, count in said.items() if count > 1]
    found: list[str] = []
    if twice:
        found.append(
            f"“{twice[0]}” stands in the list more than once. Change the words of one, so that "
            "readers can tell where each leads."
        )
    if not text.page.keeps_hashes:
        found.append(
            "This page’s base makes a bare hash leave the page, so its entries are written with "
            "the page’s address."
        )
    return found


def _preview(
    list_id: str, spot: tuple[int, str], lit: Sequence[str]
) -> Callable[[Source], Preview]:
    """What finds the markup that the list will be, for the sheet to show."""

    def found(new: Source) -> Preview:
        element = next(one for one in new.having(settings.KIND) if one.attr("id") == list_id)
        first, last = pieces.whole(new, element.number)
        return Preview(new.text[first:last], *spot, list(lit))

    return found


def remove(page: Page, number: int, with_ways: bool = False) -> Act:
    """Take a contents list out; with_ways: the ways back too. Raises CannotList."""
    text = current(page)
    one = list_at(text, number)

    def plan(text: PageText) -> Plan:
        plans = [contents.plan_removal(text.source, list_at(text, number))]
        if with_ways:
            plans.append(back_planner.plan_out(text.source, ways_acts.replaced(text)))
        return join_plans(plans)

    notes = []
    to_it = [way for way in text.ways_back if way.to and way.to == one.id]
    if with_ways:
        to_it = [way for way in to_it if not way.is_made]
        if to_it:
            notes.append(
                f"{counted(len(to_it), 'way')} back of the site’s own will lead nowhere: lead them "
                "elsewhere, or keep the list."
            )
    elif to_it:
        notes.append(f"{counted(len(to_it), 'way')} back would lead nowhere. Remove them too.")
    message = f"Removed the contents list of {counted(len(one.entries), 'entry', 'entries')}"
    return Act(message, [PagePlan(page, page.revision, plan)], notes=notes)


def update(pages: Sequence[Page], number: int | None = None) -> Act:
    """Bring the lists of pages up to date: what was chosen for them stays. number: the list
    that is meant, or an element in it; all of each page without one. Raises CannotList where
    none is out of step."""
    off = [page for page in pages if page.lists_off]
    if not off:
        raise CannotList("All contents lists are in step with their pages.")
    plans = [PagePlan(page, page.revision, _updating(number), is_alone=True) for page in off]
    where = f"on {len(off)} pages" if len(off) > 1 else f"of “{off[0].title}”"
    return Act(f"Brought the contents list{'s' if len(off) > 1 else ''} {where} up to date", plans)


def update_lists(page: Page, number: int | None = None, everywhere: bool = False) -> Act:
    """Bring the lists of a page up to date, or those of all pages of its site. Raises the
    same."""
    every = page.site.pages.filter(lists_off__gt=0).select_related("site")
    return update(list(every) if everywhere else [page], number)


def _updating(number: int | None) -> Callable[[PageText], Plan]:
    return lambda text: plan_update(text, number)


def plan_update(text: PageText, number: int | None = None) -> Plan:
    """All lists of a page, or the one that an element is or stands in, brought up to date."""
    plans = []
    wanted_marks: dict[int, str] = {}
    suggester = ids.Suggester(naming_of(text.page), text.marks.ids())
    meant = [one for one in text.lists if number is None or one.number <= number <= one.last]
    for one in meant:
        parts = in_step.up_to_date(one, text.source, text.possible)
        if parts is None:
            continue
        wanted = []
        for part, entry, label in parts:
            if part is None:
                assert entry is not None
                wanted.append(WantedEntry(entry.href, entry.label, 2, entry.own, entry.number))
                continue
            id_ = part.mark or wanted_marks.get(part.number, "")
            if not id_:
                id_ = suggester.suggest(part.title)
                wanted_marks[part.number] = id_
            keeps = entry is not None and entry.to == id_
            href = entry.href if entry and keeps else link_to(
                text.page, End(text.page, id_), is_shared=False
            )  # fmt: skip
            own = bool(entry and entry.own)
            wanted.append(
                WantedEntry(href, label, part.level, own, entry.number if entry else None)
            )
        plans.append(contents.plan_entries(text.source, one, wanted, text.revision.encoding))
    if wanted_marks:
        plans.append(_marking(sorted(wanted_marks.items()))(text))
    return join_plans(plans)
