"""Headings and sections: levels, lines that serve as headings, what nobody can link to."""

from __future__ import annotations

from collections.abc import Iterator

from innerhop.core.facts import lines
from innerhop.core.findings import traits
from innerhop.core.findings.found import (
    BETTER,
    MARKS,
    MISLED,
    PRACTICE,
    SECTIONS,
    TRAITS,
    Fix,
    Found,
    PageRows,
    Rule,
    SiteView,
    Standard,
)
from innerhop.core.findings.requests import CloseGaps, GiveId, MakeHeading, SayLanguage
from innerhop.core.names import ids

_DEEPEST = 6
_SECOND = 2


def _skipped(page: PageRows, site: SiteView) -> Iterator[Found]:
    for trait in page.of_kind(traits.SKIPPED):
        before, own = map(int, trait.told.split())
        words = page.called(trait.number) or "a heading"
        yield SKIPPED.at(trait.number, words, before=before, own=own, to=before + 1)


def _lines(page: PageRows, site: SiteView) -> Iterator[Found]:
    level = 1
    for one in page.sections:
        if 0 < one.level <= _DEEPEST:
            level = one.level
        elif one.level == lines.LEVEL:
            to = min(max(level + 1, _SECOND), _DEEPEST)
            yield LINE.at(one.number, one.title, to=to)


def _unmarked(page: PageRows, site: SiteView) -> Iterator[Found]:
    taken: set[str] | None = None
    for one in page.sections:
        if not one.level or one.mark or not one.title:
            continue
        if taken is None:
            taken = set(site.ids(page.page))
        new = ids.suggest(one.title, site.naming(page.page), taken)
        taken.add(new)
        yield UNMARKED.at(one.number, one.title, new=new)


def _no_language(page: PageRows, site: SiteView) -> Iterator[Found]:
    if not page.language:
        title = next((one.title for one in page.sections if not one.title.isascii()), "")
        if any(letter.isalpha() and not letter.isascii() for letter in title):
            yield NO_LANGUAGE.at(0, title, key=page.path)


def _heading(found: Found) -> MakeHeading:
    return MakeHeading(found.number, found.told["to"])


def _mark(found: Found) -> GiveId:
    return GiveId(found.number, found.told["new"])


SKIPPED = Rule(
    name="level-skipped",
    level=BETTER,
    title="A heading level is skipped",
    why="After level {before} comes level {own}. Who hears the page looks for what is between.",
    source=Standard("WCAG 2.2, G141", "https://www.w3.org/WAI/WCAG22/Techniques/general/G141"),
    avoid="A heading’s level says how deep its section lies, not how large its letters are.",
    find=_skipped,
    reads=(SECTIONS, TRAITS),
    asks=(),
    fix=Fix(
        "Close the gaps on this page",
        lambda _: CloseGaps(),
        many="Close the gaps",
        is_seen=True,
    ),
)

LINE = Rule(
    name="bold-line",
    level=BETTER,
    title="A line serves as a heading",
    why="It looks like one, and no list of contents, no screen reader and no ID knows it.",
    source=Standard("WCAG 2.2, F2", "https://www.w3.org/WAI/WCAG22/Techniques/failures/F2"),
    avoid="Choose a heading’s level in the editor, not bold or large letters.",
    find=_lines,
    reads=(SECTIONS,),
    asks=(),
    fix=Fix("Make it a heading", _heading, many="Make them headings", is_seen=True),
)

UNMARKED = Rule(
    name="unmarked",
    on_asking=True,
    level=BETTER,
    title="Sections that nobody can link to",
    why="Without an ID, readers can be sent to the top of the page only, and have to look.",
    source=PRACTICE,
    avoid="Mark the sections of a page when it is written.",
    find=_unmarked,
    reads=(MARKS, SECTIONS),
    asks=("ids", "naming"),
    fix=Fix("Mark it #{new}", _mark, many="Mark them"),
)

NO_LANGUAGE = Rule(
    name="no-language",
    level=MISLED,
    title="The page doesn’t say its language",
    why="Screen readers and the names of IDs go by it: how is “{words}” read out, or spelt?",
    source=Standard(
        "WCAG 2.2, 3.1.1 “Language of Page”", "https://www.w3.org/TR/WCAG22/#language-of-page"
    ),
    avoid='The html tag says the language of its page: lang="cy".',
    find=_no_language,
    reads=(SECTIONS,),
    asks=(),
    fix=Fix("Say the site’s language", lambda _: SayLanguage()),
)
