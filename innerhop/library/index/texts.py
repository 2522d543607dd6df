"""A page's current text, read: what every service and screen starts from."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any

from django.contrib.postgres.aggregates import ArrayAgg
from django.db import connection
from django.db.models import F, Value
from django.utils import timezone
from psycopg.types.json import Jsonb

from innerhop.core.edits import Edit, apply
from innerhop.core.names import ids
from innerhop.core.site import guesses
from innerhop.core.site.page_reading import PageReading
from innerhop.core.source import file_encoding
from innerhop.library.models import Page, Revision, Site


@dataclass
class PageText(PageReading):
    """A page with its text at one revision. What is read from it is read once."""

    page: Page
    revision: Revision

    @cached_property
    def text(self) -> str:  # type: ignore[override]
        """The page's text, line ends and all as they are in its file."""
        return text_of(self.revision)

    @property
    def address(self) -> str:
        """The page's whole address."""
        return self.page.address

    @property
    def key(self) -> str:
        """What all its addresses have in common on its site."""
        return self.page.key

    @property
    def is_loose(self) -> bool:
        """As its site has it."""
        return self.page.site.loose_addresses

    @property
    def is_body_only(self) -> bool:
        """Whether it is the body of a post."""
        return self.page.body_only

    @property
    def led_on(self) -> Mapping[str, str]:
        """As its site has it."""
        known: Mapping[str, str] = self.page.site.led_on
        return known


def text_of(revision: Revision) -> str:
    """A revision's text; where it is not kept as a whole, the last one before that is, with what
    was done since."""
    if revision.content is not None:
        return file_encoding.decode_as(bytes(revision.content), revision.encoding)
    before = Revision.objects.filter(page=revision.page_id, number__lt=revision.number)
    whole = before.filter(content__isnull=False).order_by("-number")[0]
    since = Revision.objects.filter(page=revision.page_id, number__gt=whole.number)
    text = text_of(whole)
    rows = since.filter(number__lte=revision.number).order_by("number")
    for edits in rows.values_list("edits", flat=True):
        text = apply(text, from_rows(edits or ()))
    return text


def bytes_of(revision: Revision) -> bytes:
    """The same, as its file has it."""
    if revision.content is not None:
        return bytes(revision.content)
    return file_encoding.encode(text_of(revision), revision.encoding)


def current(page: Page) -> PageText:
    """The page with the text it has now."""
    return PageText(page, page.revisions.get(number=page.revision))


def currents(pages: Sequence[Page]) -> list[PageText]:
    """The same for many pages, in their order."""
    rows = Revision.objects.filter(page__in=pages, number=F("page__revision"))
    found = {row.page_id: row for row in rows}
    return [PageText(page, found[page.pk]) for page in pages]


# The columns of a revision, each with its type in the database.
_COLUMNS = {
    "id": "int8", "page_id": "int8", "number": "int4", "content": "bytea", "label": "varchar",
    "codec": "varchar", "mark": "bytea", "edits": "jsonb", "change_id": "int8",
    "made": "timestamptz", "came": "bytea", "carried": "jsonb", "places": "jsonb",
}  # fmt: skip


def keep(revisions: Sequence[Revision]) -> None:
    """Write new revisions and give each its primary key. They go as they are: in a statement,
    each byte would be two digits, which takes several times as long."""
    table = Revision._meta.db_table
    with connection.cursor() as cursor:
        cursor.execute(
            "select nextval(pg_get_serial_sequence(%s, 'id')) from generate_series(1, %s)",
            [table, len(revisions)],
        )
        for revision, (key,) in zip(revisions, cursor.fetchall(), strict=True):
            revision.pk, revision.made = key, timezone.now()
        statement = f"copy {table} ({', '.join(_COLUMNS)}) from stdin (format binary)"
        with cursor.copy(statement) as copy:  # psycopg's own
            copy.set_types(list(_COLUMNS.values()))
            for one in revisions:
                edits, carried = (None if rows is None else Jsonb(rows)
                                  for rows in (one.edits, one.carried))  # fmt: skip
                came = None if one.came is None else bytes(one.came)
                more = (edits, one.change_id, one.made, came, carried, Jsonb(one.places))
                content, mark = bytes(one.content or b""), bytes(one.mark)
                copy.write_row((one.pk, one.page_id, one.number, content, one.label, one.codec,
                                mark, *more))  # fmt: skip
    for revision in revisions:
        revision._state.adding = False


def naming_of(page: Page) -> ids.Naming:
    """How IDs on the page are named: in its own language, in the site's way."""
    return ids.Naming(page.language or page.site.language, page.site.own_letters)


def paths_of(site: Site) -> guesses.Paths:
    """The addresses of a site's pages, of which one may have been meant by another. One row
    of ten thousand keys comes much faster than as many rows."""
    keys = ArrayAgg("key", default=Value([]))
    return guesses.Paths(sorted(site.pages.order_by().aggregate(keys=keys)["keys"]))


Row = list[int | str | list[str]]


def to_rows(edits: Sequence[Edit]) -> list[Row]:
    """Edits as they are kept in a revision."""
    return [[edit.start, _kept(edit.old), _kept(edit.new)] for edit in edits]


def from_rows(rows: Sequence[Sequence[Any]]) -> list[Edit]:
    """Edits as they were kept in a revision."""
    return [Edit(start, _read(old), _read(new)) for start, old, new in rows]


def _kept(words: str) -> str | list[str]:
    """As JSON holds it. What holds bytes that the page's encoding can't explain, lone surrogates
    here, is no text to it (RFC 8259, 8.2), and kept as bytes in hexadecimal digits."""
    try:
        words.encode()
    except UnicodeEncodeError:
        return [words.encode("utf-8", "surrogatepass").hex()]
    return words


def _read(kept: str | list[str]) -> str:
    if isinstance(kept, str):
        return kept
    return bytes.fromhex(kept[0]).decode("utf-8", "surrogatepass")
