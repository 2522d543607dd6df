"""The index: the sections, marks and links of every page's current text as
rows, written in the transaction that writes the text, so that questions about
the whole site never read pages again."""

from __future__ import annotations

from collections.abc import Iterable

from innerhop.core import addresses
from innerhop.core import facts as core_facts
from innerhop.core import outline as core_outline
from innerhop.library.models import Link, Mark, Page, Section
from innerhop.library.texts import PageText, base_of

_BATCH = 2_000
TITLE_LENGTH = 500


def describe(page: Page, text: PageText) -> None:
    """Set on the page what its own text says about it. The caller saves it."""
    facts = text.facts
    named = core_outline.page_heading(facts.headings)
    first = facts.headings[0].text if facts.headings else ""
    title = (named.text if named else "") or facts.title or page.title or first or page.path
    page.title = title[:TITLE_LENGTH]
    page.language = (facts.language or page.site.language)[:35]
    page.base_href = facts.base_href
    page.words = core_outline.count_words(text.source)


def write(texts: Iterable[PageText]) -> None:
    """Write the rows of these pages, whose old rows are gone already."""
    sections: list[Section] = []
    marks: list[Mark] = []
    links: list[Link] = []
    for text in texts:
        page = text.page
        sections += (_section(page, one) for one in text.sections)
        marks += (_mark(page, one) for one in text.facts.marks)
        links += _links(page, text.facts.links)
    Section.objects.bulk_create(sections, _BATCH)
    Mark.objects.bulk_create(marks, _BATCH)
    Link.objects.bulk_create(links, _BATCH)


def rewrite(text: PageText) -> None:
    """Write a page's rows anew after its text or its address has changed."""
    for model in (Section, Mark, Link):
        model.objects.filter(page=text.page).delete()
    write([text])


def _section(page: Page, one: core_outline.Section) -> Section:
    return Section(
        page=page,
        number=one.number,
        rank=one.rank,
        depth=one.depth,
        title=one.title[:TITLE_LENGTH],
        mark=one.mark,
        words=one.words,
    )


def _mark(page: Page, one: core_facts.Mark) -> Mark:
    return Mark(
        page=page, number=one.number, attribute=one.attribute, value=one.value, tag=one.tag[:60]
    )


def _links(page: Page, links: list[core_facts.Link]) -> Iterable[Link]:
    base = base_of(page)
    own = addresses.resolve("/", page.site.address)
    for one in links:
        found = addresses.resolve(one.href, base)
        inside = found is not None and own is not None and found.origin == own.origin
        yield Link(
            page=page,
            number=one.number,
            href=one.href,
            text=one.text,
            region=one.region,
            site_id=page.site_id,
            key=page.site.key_of(found.path)[:1000] if found and inside else "",
            fragment=found.fragment if found else None,
        )
