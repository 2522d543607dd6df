"""What findings are made of: rules, what they find, and what they look at."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, Literal, NamedTuple, Protocol

from innerhop.core.facts.sections import Section
from innerhop.core.findings.requests import Request
from innerhop.core.findings.traits import Trait
from innerhop.core.names.ids import Naming
from innerhop.core.site.guesses import Meanings, Titles
from innerhop.core.site.page_rows import MarkRow

# How bad a finding is: readers get stuck; readers are misled; it could be better; and for
# information, which counts as nothing wrong.
STUCK, MISLED, BETTER, NOTE = "stuck", "misled", "better", "note"
LEVELS = (STUCK, MISLED, BETTER, NOTE)

# The rows of a page (`PageRows`) that rules read: of links, ENDS is what becomes of readers.
MARKS, LINKS, SECTIONS, TRAITS, MENUS = "marks", "links", "sections", "traits", "menus"
ENDS = "ends"

# What rules ask of the site (`SiteView`), by the name of the question.
Question = Literal[
    "arrivals", "has_folder", "having", "ids", "is_shared", "moved", "naming", "near", "page",
    "path", "sections", "times", "title", "titles", "with_class",
]  # fmt: skip

Told = Mapping[str, Any]  # what is specific to a place; plain values, as JSON has them


class JudgedLink(NamedTuple):
    """A link (`page_rows.LinkRow`) with what becomes of its readers (`site.hops.Verdict`)."""

    number: int
    href: str
    text: str
    region: str
    key: str
    fragment: str | None
    new_tab: bool
    permalink: bool
    kind: str
    end_page: int | None
    end: int | None
    why: str
    opens: bool


@dataclass(frozen=True, slots=True)
class PageRows:
    """A page as rules see it: its rows, and what is known of it as a whole.

    page: its key in the store that it comes from. base_href: None without a `base`. menus:
    the words of each menu's items, with the number of each. landings: by ID, the worst
    landing of the hops to it that isn't clear, in words, with its verdict; of pages that a
    browser has measured. screens: how many screens long it is, about.
    """

    page: int
    path: str
    key: str
    title: str
    language: str
    base_href: str | None = None
    lists: int = 0
    ways_back: int = 0
    screens: float = 0
    marks: Sequence[MarkRow] = ()
    links: Sequence[JudgedLink] = ()
    sections: Sequence[Section] = ()
    traits: Sequence[Trait] = ()
    menus: Sequence[Sequence[tuple[int, str]]] = ()
    landings: Mapping[str, tuple[str, str]] = field(default_factory=dict)

    def called(self, number: int) -> str:
        """The title of the section that a heading begins; "" for none."""
        return next((one.title for one in self.sections if one.number == number), "")

    def of_kind(self, kind: str) -> list[Trait]:
        """Its traits of one kind."""
        return [one for one in self.traits if one.kind == kind]


class SiteView(Protocol):
    """What rules ask of the other pages of a site. Pages are named by their keys in the
    store. Each question may take long and is asked only where something is amiss.

    meant: what hops to no ID likely mean.
    """

    meant: Meanings

    @property
    def address(self) -> str:
        """The site's own address."""

    @property
    def asked(self) -> Collection[str]:
        """The rules, by name, that it asks for beside those that are always looked for."""

    def naming(self, page: int) -> Naming:
        """How IDs on a page are named."""

    def path(self, page: int) -> str:
        """A page's path."""

    def title(self, page: int) -> str:
        """A page's title."""

    def ids(self, page: int) -> Sequence[str]:
        """The IDs of a page, in tree order."""

    def sections(self, page: int) -> Sequence[Section]:
        """The sections of a page."""

    def titles(self, page: int) -> Titles:
        """The sections of a page, to be looked up by what a hop asks for."""

    def having(self, id_: str) -> Sequence[int]:
        """The pages that have an ID, in the order of their paths."""

    def with_class(self, page: int, word: str) -> int | None:
        """The first element of a page with a word among its classes."""

    def moved(self, key: str) -> int | None:
        """The page that had an address before, where that is known."""

    def page(self, key: str) -> int | None:
        """The page with that key of an address."""

    def has_folder(self, path: str) -> bool:
        """Whether a page has an address in a folder, named with its slashes."""

    def near(self, key: str) -> Sequence[int]:
        """Pages with an address that is very like one, likeliest first."""

    def times(self, page: int, fragment: str) -> int:
        """How often the words of a text directive stand on a page."""

    def arrivals(self, page: int) -> Collection[int]:
        """The elements of a page at which hops of the site end."""

    def is_shared(self, page: int, number: int) -> bool:
        """Whether an element stands in a part that several pages have."""


@dataclass(frozen=True, slots=True)
class Found:
    """One place where something is wrong.

    number: the element. words: a few that it is known by. cause: what places have in common
    that are one thing to mend; "" where all of a rule are. told: what the rule's sentences
    and its fix name. key: what the place is known by again after edits.
    """

    rule: str
    number: int
    words: str
    cause: str = ""
    told: Told = field(default_factory=dict)
    key: str = ""


@dataclass(frozen=True, slots=True)
class Fix:
    """How a place is mended. label: what the button says. request: what is asked for it, for
    one place; None where it has no mend for that one.
    is_safe: whether it can be done without anybody looking, since only one thing can be
    meant. on: what is told as the page on which the act works; "" for the place's own. many:
    what the button says for several places, where each is mended in its own way. is_seen:
    whether readers see that it was done, so that editors see it first."""

    label: str
    request: Callable[[Found], Request | None]
    is_safe: bool = False
    on: str = ""
    many: str = ""
    is_seen: bool = False


class Standard(NamedTuple):
    """Where a rule comes from, with an address for those who want to read it; "" for
    common practice without one."""

    name: str
    url: str = ""


PRACTICE = Standard("Common practice, no source")


class _Dots(dict[str, str]):
    def __missing__(self, name: str) -> str:
        return "…"


@dataclass(frozen=True, slots=True)
class Rule:
    """One kind of finding.

    title, why: may name what was told of the first place, as in "{id}"; "{on}" is a page's
    title. kind: what it is called where no place is meant, if its title says little without
    names. avoid: how it doesn't come about.
    find: what it finds on a page; reads: the rows of it that `find` looks at. recognise: for
    a kind of broken hop, what is told of a link that is one. asks: what either asks of the site,
    so that it is looked for anew when the answer may be another; None for whatever there is to
    ask. needs_browser: whether files alone don't tell. about_link: whether what it finds on a
    page are links.
    cause: what is told by which places are grouped; "" where all of the rule are one group.
    on_asking: whether it is a matter of taste, and looked for only where a site asks for it.
    no_fix: why nothing is mended by itself. desk: what its page opens with, where that is
    not the place itself; "list" for the maker of contents lists.
    """

    name: str
    level: str
    title: str
    why: str
    source: Standard
    avoid: str
    find: Callable[[PageRows, SiteView], Iterable[Found]] | None = None
    reads: tuple[str, ...] = ()
    asks: tuple[Question, ...] | None = None
    recognise: Callable[[JudgedLink, PageRows, SiteView], Told | None] | None = None
    fix: Fix | None = None
    no_fix: str = ""
    cause: str = ""
    needs_browser: bool = False
    about_link: bool = False
    on_asking: bool = False
    desk: str = ""
    kind: str = ""

    @property
    def is_on_link(self) -> bool:
        """Whether the element that it finds is a link."""
        return self.about_link or self.recognise is not None

    @property
    def called(self) -> str:
        """Its title, about no place in particular."""
        return self.kind or self.in_general(self.title)

    def in_general(self, template: str) -> str:
        """A sentence of the rule about no place in particular."""
        return template.format_map(_Dots())

    def says(self, template: str, found: Found, title: Callable[[int], str]) -> str:
        """A sentence of the rule, or its fix's label, about a place. title: of a page, which
        is told by its key as `on`, since titles change without a finding being another."""
        values = {"words": found.words, **found.told}
        if "on" in values:
            values["on"] = title(values["on"])
        return template.format_map(values)

    def at(self, number: int, words: str, *, key: str = "", **told: Any) -> Found:
        """A place that this rule found."""
        cause = str(told.get(self.cause, "")) if self.cause else ""
        return Found(self.name, number, words, cause, told, key or words)


def link_words(link: JudgedLink) -> str:
    """What a link is known by."""
    return link.text or "a picture or nothing"
