"""The index: the sections, marks, links and regions of every page's current text
as rows, written in the transaction that writes the text, so that questions about
the whole site never read pages again."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterable, Sequence
from typing import Any

from django.db import transaction
from django.db.models import Model

from innerhop.core.addresses import link_target, urls
from innerhop.core.facts import hidden_parts, shared_parts
from innerhop.core.facts import sections as core_outline
from innerhop.library.index.texts import PageText, base_of, current
from innerhop.library.models import Link, Mark, Page, Region, Section

_BATCH = 2_000
TITLE_LENGTH = 500
VERSION = 3  # one more whenever the rows say something new: see `catch_up`

Row = dict[str, Any]


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
    page.indexed = VERSION


# What `describe` sets, for those who save many pages at once.
DESCRIBED = ("title", "language", "base_href", "words", "indexed")


def described(page: Page) -> list[Any]:
    """The same, as it is now."""
    return [getattr(page, name) for name in DESCRIBED]


def write(texts: Iterable[PageText]) -> None:
    """Write the rows of these pages, which have none yet."""
    texts = list(texts)
    for model, rows_of in _KINDS:
        made = [model(page=text.page, **row) for text in texts for row in rows_of(text)]
        model._default_manager.bulk_create(made, _BATCH)


def rewrite(texts: Sequence[PageText]) -> None:
    """Make the rows of these pages what their texts say now. Rows that say so
    already are left alone: most changes touch one or two of a page's thousand."""
    for model, rows_of in _KINDS:
        wanted = [(text.page, row) for text in texts for row in rows_of(text)]
        _sync(model, [text.page for text in texts], wanted)


def catch_up() -> int:
    """Write the rows of pages anew that an older version wrote. Returns how many."""
    keys = list(Page.objects.exclude(indexed=VERSION).values_list("pk", flat=True))
    for key in keys:
        with transaction.atomic():
            page = Page.objects.select_for_update(of=("self",)).select_related("site").get(pk=key)
            text = current(page)
            describe(page, text)
            page.save(update_fields=DESCRIBED)
            rewrite([text])
    return len(keys)


def _sync(model: type[Model], pages: list[Page], wanted: list[tuple[Page, Row]]) -> None:
    fields = _fields(model)
    there: dict[tuple[Any, ...], list[int]] = defaultdict(list)
    rows = model._default_manager.filter(page__in=pages).order_by()
    for pk, page_id, *values in rows.values_list("pk", "page_id", *fields):
        there[(page_id, *values)].append(pk)
    made = []
    for page, row in wanted:
        known = there.get((page.pk, *(row[name] for name in fields)))
        if known:
            known.pop()
        else:
            made.append(model(page=page, **row))
    gone = [pk for keys in there.values() for pk in keys]
    for at in range(0, len(gone), _BATCH):
        model._default_manager.filter(pk__in=gone[at : at + _BATCH]).delete()
    model._default_manager.bulk_create(made, _BATCH)


def _fields(model: type[Model]) -> list[str]:
    """The columns that say something of the page, in one order."""
    columns = (field.attname for field in model._meta.concrete_fields)
    return [name for name in columns if name not in ("id", "page_id")]


def _sections(text: PageText) -> Iterable[Row]:
    for one in text.sections:
        yield {
            "number": one.number,
            "rank": one.rank,
            "depth": one.depth,
            "title": one.title[:TITLE_LENGTH],
            "mark": one.mark,
            "words": one.words,
        }


def _marks(text: PageText) -> Iterable[Row]:
    shut = hidden_parts.states(text.source)
    for one in text.facts.marks:
        yield {**one._asdict(), "tag": one.tag[:60], "closed": shut.get(one.number, "")}


def _links(text: PageText) -> Iterable[Row]:
    page = text.page
    base = base_of(page)
    own = urls.resolve("/", page.site.address)
    for one in text.facts.links:
        found = urls.resolve(one.href, base)
        inside = found is not None and own is not None and found.origin == own.origin
        row = one._asdict()
        target = row.pop("target") or text.facts.base_target
        yield {
            **row,
            "new_tab": link_target.is_new_tab(target),
            "site_id": page.site_id,
            "key": page.site.key_of(found.path)[:1000] if found and inside else "",
            "fragment": found.fragment if found else None,
        }


def _regions(text: PageText) -> Iterable[Row]:
    if text.page.body_only:  # the frame is the site's own, and not in the text
        return
    for one in shared_parts.regions(text.source, text.facts, base_of(text.page)):
        yield {**one._asdict(), "site_id": text.page.site_id}


_KINDS: tuple[tuple[type[Model], Callable[[PageText], Iterable[Row]]], ...] = (
    (Section, _sections),
    (Mark, _marks),
    (Link, _links),
    (Region, _regions),
)
