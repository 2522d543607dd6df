"""What a broken hop most likely means, asked of the whole site's index."""

from __future__ import annotations

from collections.abc import Collection, Iterable
from dataclasses import dataclass
from functools import cached_property

from django.db.models import Window
from django.db.models.functions import RowNumber

from innerhop.core.addresses.fragments import id_of, percent_decode
from innerhop.core.findings.broken import id_in_class
from innerhop.core.findings.table import BROKEN_HOPS, RULES
from innerhop.core.names.ids import is_a_systems
from innerhop.core.site import guesses as rules
from innerhop.core.site.hops import NO_HASH, NO_PAGE
from innerhop.library.index.texts import naming_of, paths_of
from innerhop.library.models import Finding, Mark, Page, Section, Site
from innerhop.library.seek.hops import BROKEN, Hop, missing_hash

# The rules that say where a broken hop was meant to lead, or what would make it arrive. An ID
# that stands in a class is offered where the class is.
_TELLING = [one.name for one in BROKEN_HOPS if one is not id_in_class.RULE]
_MOST_PAGES = 3
_MOST = 4  # guesses in all
_MOST_ELSEWHERE = 50
_SAME_WORDS = "A heading of another page has the words of the link."
_SAME_TITLE = "That page is called what the link says."
_LITTLE_OFF = "The page’s address is a little off."
_OTHER_FOLDER = "The page is in another folder."


@dataclass(frozen=True)
class Guess:
    """A place that was likely meant, and the slip, in one line. mends_id: whether the
    hop is right as it is, and the ID should be mended. marks: the heading, by number,
    that has no ID yet and would get this one. rule: of the finding that says so, by name; ""
    for what could be meant beside it."""

    page: Page
    id: str
    why: str
    mends_id: bool = False
    marks: int | None = None
    rule: str = ""


def _key(hop: Hop) -> tuple[int, int]:
    return hop.link.page_id, hop.link.number


class Guesser:
    """What hops of one site could mean; what it asks the index for, it asks once."""

    def __init__(self, site: Site) -> None:
        self.site = site
        self._titled: dict[int, rules.Titles] = {}
        self._ids: dict[int, rules.Ids] = {}
        self._rows: dict[tuple[int, int], Finding | None] = {}
        self._pages: dict[int, Page] = {}
        self._having: dict[str, list[Mark]] = {}

    @cached_property
    def _paths(self) -> rules.Paths:
        return paths_of(self.site)

    def look_ahead(self, asked: Iterable[Hop]) -> None:
        """Ask the index at once what it has to say of these hops."""
        new = [hop for hop in asked if hop.kind == BROKEN and _key(hop) not in self._rows]
        if not new:
            return
        pages, numbers = {hop.link.page_id for hop in new}, {hop.link.number for hop in new}
        there = Finding.objects.filter(page__in=pages, number__in=numbers, rule__in=_TELLING)
        rows = list(there.order_by("-pk"))  # of several for one hop, the first counts
        self._rows |= dict.fromkeys(map(_key, new))
        self._rows |= {(row.page_id, row.number): row for row in rows}
        told = [row.told for row in rows]
        wanted = {one[name] for one in told for name in ("page", "on") if one.get(name)}
        known = Page.objects.select_related("site").filter(site=self.site)
        self._pages |= known.in_bulk(wanted - self._pages.keys())
        self._look_for({id_of(hop.link.fragment) for hop in new if hop.page is not None})

    def _look_for(self, ids: Collection[str]) -> None:
        """The first parts of the site that have each of these IDs."""
        new = set(ids) - self._having.keys()
        if not new:
            return
        place = Window(RowNumber(), partition_by="value", order_by="pk")
        rows = Mark.objects.with_values(self.site.pk, new).annotate(place=place)
        first = rows.filter(place__lte=_MOST_ELSEWHERE).select_related("page__site").order_by("pk")
        self._having |= {value: [] for value in new}
        for row in first:
            self._having[row.value].append(row)

    def guesses(self, hop: Hop) -> list[Guess]:
        """What a broken hop could mean, likeliest first; nothing for others. First comes what
        its finding says, so that every screen says the same."""
        if hop.kind != BROKEN:
            return []
        answer = self._answer(hop)
        others = self._others(hop)
        if answer is None:
            return others
        known = (answer.page.pk, answer.id)
        return [answer, *(one for one in others if (one.page.pk, one.id) != known)][:_MOST]

    def likeliest(self, hop: Hop) -> Guess | None:
        """The first of them, without a look for others."""
        if hop.kind != BROKEN:
            return None
        return self._answer(hop) or next(iter(self._others(hop)), None)

    def _answer(self, hop: Hop) -> Guess | None:
        self.look_ahead([hop])
        row = self._rows[_key(hop)]
        page = self._pages.get(row.told.get("page", 0)) if row else None
        if row is None or page is None:
            return None
        rule, found = RULES[row.rule], row.found
        why = rule.says(rule.why, found, self._title)
        if hop.link.fragment and not found.told.get("id"):
            why += " It has no such ID, so this is its top."
        return Guess(
            page,
            found.told.get("spelt") or found.told["id"],
            why,
            mends_id="spelt" in found.told,
            marks=found.told.get("marks"),
            rule=rule.name,
        )

    def _title(self, page: int) -> str:
        return self._pages[page].title if page in self._pages else "a page"

    def _others(self, hop: Hop) -> list[Guess]:
        link = hop.link
        if link.why == NO_HASH:
            return [Guess(link.page, missing_hash(link.key), "The # is missing.")]
        fragment = link.fragment or ""
        if hop.page is not None:
            named = self._named(hop.page, fragment, link.text)
            found = {
                (one.page.pk, one.id): one
                for one in reversed([*self.on_page(hop.page, fragment), *named])
            }  # the first of each counts
            elsewhere = self._called(link.text, hop.page) if len(found) < _MOST else []
            return [*reversed(found.values()), *elsewhere][:_MOST]
        return self._near_pages(link.key, fragment) if link.why == NO_PAGE else []

    def _titles(self, page: Page) -> rules.Titles:
        if page.pk not in self._titled:
            rows = page.sections.order_by("number").values_list("number", "title", "mark")
            self._titled[page.pk] = rules.Titles(
                [rules.Titled(*row) for row in rows], naming_of(page)
            )
        return self._titled[page.pk]

    def _ids_of(self, page: Page) -> rules.Ids:
        if page.pk not in self._ids:
            marks = Mark.objects.filter(page=page).order_by("number")
            values = marks.values_list("value", flat=True)
            self._ids[page.pk] = rules.Ids(list(dict.fromkeys(values)))
        return self._ids[page.pk]

    def _named(self, page: Page, fragment: str, text: str) -> list[Guess]:
        found = []
        for one, why in self._titles(page).like(fragment, text):
            wanted = one.id or percent_decode(fragment)
            found.append(Guess(page, wanted, why, marks=None if one.id else one.number))
        return found

    def _called(self, text: str, but: Page) -> list[Guess]:
        """Marked sections of other pages, and pages, that are called what the link says."""
        words = " ".join(text.split())
        if not rules.is_telling(words):
            return []
        sections = Section.objects.filter(site=self.site, title__iexact=words).exclude(page=but)
        rows = sections.exclude(mark="").select_related("page__site").order_by("pk")
        found = [Guess(one.page, one.mark, _SAME_WORDS) for one in rows[:_MOST_PAGES]]
        titled = self.site.pages.filter(title__iexact=words).exclude(pk=but.pk)
        pages = titled.select_related("site")[:_MOST_PAGES]
        return [*found, *(Guess(one, "", _SAME_TITLE) for one in pages)]

    def near(self, path: str) -> list[Page]:
        """The pages whose addresses that one could be a slip of, nearest first."""
        keys = self._paths.slips(path)
        rows = self.site.pages.filter(key__in=keys).select_related("site")
        found = {page.key: page for page in rows}
        return [found[key] for key in keys if key in found]

    def _near_pages(self, key: str, fragment: str) -> list[Guess]:
        elsewhere = self._paths.same_file(key)
        rows = self.site.pages.filter(key__in=elsewhere).select_related("site")
        pages = dict.fromkeys(rows, _OTHER_FOLDER) | dict.fromkeys(self.near(key), _LITTLE_OFF)
        found = []
        for page, why in pages.items():
            id_ = percent_decode(fragment)
            has = bool(fragment) and self._has(page, id_)
            if not rules.may_mean(key, page.path, has and not is_a_systems(id_)):
                continue
            if not fragment or has:
                found.append(Guess(page, id_, why))
            else:
                found.append(Guess(page, "", f"{why} It has no such ID, so this is its top."))
        return sorted(found, key=lambda one: not one.id)[:_MOST_PAGES]

    def _has(self, page: Page, value: str) -> bool:
        return Mark.objects.with_value(self.site.pk, value).filter(page=page).exists()

    def on_page(self, page: Page, fragment: str) -> list[Guess]:
        """What a fragment that finds nothing could mean on a page, or elsewhere."""
        self._look_for([id_of(fragment)])
        rows = [one for one in self._having[id_of(fragment)] if one.page_id != page.pk]
        pages = {page.pk: page, **{one.page_id: one.page for one in rows}}
        likely = rules.likely(fragment, page.pk, self._ids_of(page), [one.page_id for one in rows])
        return [Guess(pages[one.page], one.id, one.why, one.mends_id) for one in likely]
