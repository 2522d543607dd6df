"""What a page's text says about marks, links and headings: the facts that all
else is computed from.

Every fact names its element by number (see `source.tree`). Gathering them is one
walk over the elements, kept lean because whole sites are read this way.
"""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from typing import NamedTuple

from innerhop.core.addresses.fragments import Targets, indicated
from innerhop.core.facts import frame, heading_marks
from innerhop.core.facts.empty_markers import TAGS as MARKER_TAGS
from innerhop.core.facts.empty_markers import is_marker
from innerhop.core.facts.signs import is_sign
from innerhop.core.facts.words import Budgeted, words, words_without
from innerhop.core.source.content_models import LEVELS
from innerhop.core.source.parser import Elements
from innerhop.core.source.tree import Source


class Mark(NamedTuple):
    """An element that readers can be sent to.

    attribute: "id", or "name" for `<a name>`
    (https://html.spec.whatwg.org/multipage/browsing-the-web.html#find-a-potential-indicated-element,
    step 2). empty: whether the element is there for that only, a marker that visitors
    don't see.
    """

    number: int
    attribute: str
    value: str
    tag: str
    empty: bool = False


class Link(NamedTuple):
    """An `a` or `area` with an href, as written. region: "nav", "header", "footer" or
    "aside" where it stands in the site's frame, else ""; `nav` wins inside the
    others. target: its own `target`, or "" (see `Facts.base_target`). permalink:
    whether it is a link of a heading, a term or a caption to that very part (practice)."""

    number: int
    href: str
    text: str
    region: str
    target: str = ""
    permalink: bool = False


class Heading(NamedTuple):
    """An `h1` to `h6`, its level, its words, its own ID if it has one, and its
    region, as a link's."""

    number: int
    level: int
    text: str
    id: str
    region: str = ""


@dataclass(slots=True)
class Facts:
    """All that was found on one page, each list in tree order.

    frame: the regions of the site's frame, from the number of each to the last
    number inside it. regions: what part of the frame each is.
    """

    title: str = ""
    language: str = ""
    base_href: str | None = None
    base_target: str = ""
    marks: list[Mark] = field(default_factory=list)
    links: list[Link] = field(default_factory=list)
    headings: list[Heading] = field(default_factory=list)
    frame: dict[int, int] = field(default_factory=dict)
    regions: dict[int, str] = field(default_factory=dict)

    def targets(self) -> Targets[int]:
        """What fragments can find on this page, as element numbers."""
        return Targets.of((mark.attribute, mark.value, mark.number) for mark in self.marks)

    def ids(self) -> dict[str, Mark]:
        """Every ID on the page with the element that readers arrive at."""
        found: dict[str, Mark] = {}
        for mark in self.marks:
            if mark.attribute == "id":
                found.setdefault(mark.value, mark)
        return found


def gather_marks(source: Source) -> Facts:
    """The marks of a page and nothing else, for those who need no more: it takes a
    fraction of the time."""
    gathering = _Gathering(source)
    gathering.gather_marks()
    return gathering.facts


def gather(source: Source) -> Facts:
    """The facts of a page.

    Elements inside `template` are left out: they are in no visitor's tree
    (https://html.spec.whatwg.org/multipage/scripting.html#the-template-element).
    """
    return _Gathering(source).run()


# A named tuple made in the quickest way: a page may have thousands.
_tuple = tuple.__new__


class _Gathering:
    """The elements of a page that tell something, taken kind by kind: a column at a
    time is read much faster than an element at a time."""

    def __init__(self, source: Source) -> None:
        self.source = source
        self.reading = source.reading
        self.facts = Facts()
        self.words = Budgeted(source)
        self.left_out = self._template_contents()
        self.identified = self._kept(source.reading.identified)
        self.ids = dict(zip(self.identified.numbers, self.identified.values("id"), strict=True))

    def _template_contents(self) -> set[int]:
        count = self.reading.count_inside
        templates = self.reading.of_tags(("template",))
        runs = (range(one + 1, one + count(one) + 1) for one in templates)
        return {number for run in runs for number in run}

    def _kept(self, group: Elements) -> Elements:
        """Those of some elements that are in no template's contents."""
        if self.left_out:
            return group.only(number not in self.left_out for number in group.numbers)
        return group

    def _of_tags(self, tags: Iterable[str]) -> Elements:
        return self._kept(self.reading.group(tags))

    def run(self) -> Facts:
        self._head()
        self._frame()
        self._headings()
        self._links()
        self.gather_marks()
        self._permalinks()
        return self.facts

    def _head(self) -> None:
        facts, source = self.facts, self.source
        facts.language = source.attr(0, "lang") or "" if len(source) else ""
        named = self._of_tags(("base", "title"))
        titles = []
        for number, tag in zip(named.numbers, named.tags(), strict=True):
            if tag == "title":
                titles.append(number)
                continue
            href = source.attr(number, "href")
            if href is not None and facts.base_href is None:
                facts.base_href = href
            facts.base_target = facts.base_target or (source.attr(number, "target") or "")
        # SVG has a `title` too; only HTML's names the page.
        own = (one for one in titles if self.reading.is_html(one))
        facts.title = next((text for one in own if (text := words(source, one))), "")

    def _frame(self) -> None:
        """The runs of numbers that are the site's frame, and what part of it each is."""
        facts, end = self.facts, -1
        tagged = self._of_tags(frame.TAGS)
        parts = dict(zip(tagged.numbers, tagged.tags(), strict=True))
        parts.update(frame.roles(self.source))
        self.runs: list[tuple[int, int, str]] = []
        for number in sorted(parts):
            if number <= end:
                if parts[number] == frame.NAV:  # it wins from here on
                    self.runs.append((number, end, frame.NAV))
            elif not frame.is_content(self.source, number):
                end = number + self.reading.count_inside(number)
                facts.frame[number] = end
                facts.regions[number] = parts[number]
                self.runs.append((number, end, parts[number]))

    def _regions(self, numbers: Sequence[int]) -> list[str]:
        """What part of the frame each of some elements, in tree order, stands in."""
        found = [""] * len(numbers)
        for first, last, kind in self.runs:
            for at in range(bisect_left(numbers, first), bisect_right(numbers, last)):
                found[at] = kind
        return found

    def _headings(self) -> None:
        group, ids = self._of_tags(LEVELS), self.ids
        numbers = group.numbers
        levels = [LEVELS[tag] for tag in group.tags()]
        own = [ids.get(number) or "" for number in numbers]
        texts, regions = self.words.of_all(group), self._regions(numbers)
        rows = zip(numbers, levels, texts, own, regions, strict=True)
        self.facts.headings = [_tuple(Heading, row) for row in rows]

    def _links(self) -> None:
        group = self._of_tags(("a", "area"))
        hrefs = group.values("href")
        if None in hrefs:
            group = group.only(href is not None for href in hrefs)
            hrefs = [href for href in hrefs if href is not None]
        numbers = group.numbers
        targets: list[str] = [""] * len(numbers)
        if self.reading.matching("a[target], area[target]"):
            targets = [one or "" for one in group.values("target")]
        texts, regions = self.words.of_all(group), self._regions(numbers)
        none = [False] * len(numbers)
        rows = zip(numbers, hrefs, texts, regions, targets, none, strict=True)
        self.facts.links = [_tuple(Link, row) for row in rows]

    def gather_marks(self) -> None:
        """Every ID and anchor name of the page."""
        source, reading = self.source, self.reading
        marks = [
            _tuple(Mark, (one, "id", id_, tag, tag in MARKER_TAGS and is_marker(source, one)))
            for (one, id_), tag in zip(self.ids.items(), self.identified.tags(), strict=True)
            if id_
        ]
        named = [
            Mark(number, "name", reading.attr(number, "name") or "", "a", is_marker(source, number))
            for number in reading.matching("a[name]:not([name=''])")
            if number not in self.left_out
        ]
        if named:
            marks = sorted([*marks, *named], key=lambda mark: (mark.number, mark.attribute))
        self.facts.marks = marks

    def _permalinks(self) -> None:
        """Links in a heading that lead to it, and signs of other parts: no words of these,
        and no hops of the page."""
        facts, source = self.facts, self.source
        inside = set(source.reading.matching(OWN_LINKS)) if facts.headings else set()
        numbers = [heading.number for heading in facts.headings]
        own: dict[int, set[int]] = {}
        targets = facts.targets() if inside else Targets.of(())
        for at, link in enumerate(facts.links):
            signs = link.href.startswith("#") and len(link.href) > 1 and is_sign(link.text)
            if not signs and link.number not in inside:
                continue
            heading = bisect_right(numbers, link.number) - 1
            is_inside = heading >= 0 and link.number in inside
            if signs or (is_inside and self._leads_to(link, numbers[heading], targets)):
                facts.links[at] = link._replace(permalink=True)
                if is_inside:
                    own.setdefault(heading, set()).add(link.number)
        for at, links in own.items():
            text = words_without(source, numbers[at], links)
            facts.headings[at] = facts.headings[at]._replace(text=text or facts.headings[at].text)

    def _leads_to(self, link: Link, heading: int, targets: Targets[int]) -> bool:
        end = indicated(link.href[1:], targets)
        return end == heading or end in set(heading_marks.near(self.source, heading))


OWN_LINKS = ", ".join(f"{level} a[href^='#']" for level in LEVELS)
