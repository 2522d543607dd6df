"""Writing a site's file."""

from __future__ import annotations

import hashlib
import json
import zipfile
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import datetime
from pathlib import Path
from typing import IO, Any

from django.db import connection, models, transaction

from innerhop.library.backup.tables import FORMAT, OF_SITE, TABLES, VERSION, Table
from innerhop.library.hand_over.differences import file_of
from innerhop.library.models import Editor, Site

GONE = 0  # what is known by nothing: a row that is not there any more
_AT_ONCE = 20  # rows with texts that are held at once
# The same site gives the same bytes: no time of writing stands in it.
_MADE = (1980, 1, 1, 0, 0, 0)


def save(site: Site, path: Path) -> None:
    """Write a site into a file, as of one moment. The file is there whole, or not at all."""
    is_within = connection.in_atomic_block
    with _beside(path) as out, transaction.atomic(), connection.cursor() as cursor:
        if not is_within:
            # https://www.postgresql.org/docs/15/transaction-iso.html#XACT-REPEATABLE-READ
            cursor.execute("set transaction isolation level repeatable read")
        write(site, out)


@contextmanager
def _beside(path: Path) -> Iterator[IO[bytes]]:
    """A file to write to, which takes the place of the one at `path` once it is whole."""
    beside = path.with_name(f"{path.name}.part")
    try:
        with beside.open("wb") as out:
            yield out
        beside.replace(path)
    finally:
        beside.unlink(missing_ok=True)


def write(site: Site, out: IO[bytes]) -> None:
    """Write a site's file."""
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        _Writer(site, archive).write()


class _Writer:
    """Numbers rows by their order, so that the same site is the same file anywhere."""

    def __init__(self, site: Site, archive: zipfile.ZipFile) -> None:
        self.site, self.archive = site, archive
        self.numbers: dict[type[models.Model], dict[int, int]] = {}
        self.written: set[str] = set()

    def write(self) -> None:
        for table in TABLES:
            keys = table.rows(self.site).order_by("pk").values_list("pk", flat=True)
            self.numbers[table.model] = {key: at for at, key in enumerate(keys, 1)}
        people = self._people()
        self.numbers[Editor] = {one.pk: at for at, one in enumerate(people, 1)}
        counts = {table.name: len(self.numbers[table.model]) for table in TABLES}
        manifest = {"format": FORMAT, "version": VERSION, "slug": self.site.slug,
                    "rows": {**counts, "person": len(people)}}  # fmt: skip
        self._put("manifest.json", json.dumps(manifest, indent=1) + "\n")
        self._put("site.json", _line(self._row(OF_SITE, self.site)))
        self._put("person.jsonl", "".join(_line(self._person(one)) for one in people))
        for table in TABLES:
            rows = table.rows(self.site).order_by("pk").iterator(chunk_size=_AT_ONCE)
            lines = "".join(_line(self._row(table, row)) for row in rows)
            self._put(f"{table.name}.jsonl", lines)
        for page in self.site.pages.order_by("pk").select_related("site"):
            name, data = file_of(page)
            self._put(f"pages/{name.lstrip('/')}", data)

    def _people(self) -> list[Editor]:
        """All who belong to the site, and all who did something there."""
        keys = set(self.site.membership_set.values_list("editor", flat=True))
        for table in TABLES:
            for column in table.columns:
                if column.related_model is Editor:
                    keys |= set(
                        table.rows(self.site).order_by().values_list(column.attname, flat=True)
                    )
        return list(Editor.objects.filter(pk__in=keys - {None}).order_by("username"))

    def _person(self, one: Editor) -> dict[str, Any]:
        member = self.site.membership_set.filter(editor=one).first()
        return {
            "username": one.username, "first_name": one.first_name, "last_name": one.last_name,
            "email": one.email, "role": member.role if member else None,
            "hands_over": member.hands_over if member else None,
        }  # fmt: skip

    def lead(self, model: type[models.Model], key: int) -> int:
        return self.numbers.get(model, {}).get(key, GONE)

    def _row(self, table: Table, row: models.Model) -> dict[str, Any]:
        found = {one.name: self._value(table, one, row) for one in table.columns}
        if table.many:
            many = getattr(row, table.many)
            keys = many.through.objects.filter(**{many.source_field_name: row.pk})
            model, name = many.model, many.target_field_name
            found[table.many] = [self.lead(model, key) for key in
                                 keys.order_by(name).values_list(name, flat=True)]  # fmt: skip
        return found

    def _value(self, table: Table, column: models.Field[Any, Any], row: models.Model) -> Any:
        value = getattr(row, column.attname)
        if value is None:
            return None
        if column.name in table.leads:
            return table.leads[column.name](value, self.lead)
        if column.related_model is not None:
            return self.lead(column.related_model, value) or None
        if isinstance(column, models.BinaryField):
            return self._blob(bytes(value))
        return value.isoformat() if isinstance(value, datetime) else value

    def _blob(self, data: bytes) -> str:
        name = hashlib.sha256(data).hexdigest()
        if name not in self.written:
            self.written.add(name)
            self._put(f"data/{name}", data)
        return name

    def _put(self, name: str, data: str | bytes) -> None:
        self.archive.writestr(zipfile.ZipInfo(name, _MADE), data, zipfile.ZIP_DEFLATED)


def _line(row: dict[str, Any]) -> str:
    return json.dumps(row, ensure_ascii=False, sort_keys=True) + "\n"


def save_all(path: Path) -> int:
    """Write all sites into one file, each as a file of its own in it. Returns how many."""
    sites = list(Site.objects.order_by("slug"))
    with _beside(path) as out, zipfile.ZipFile(out, "w", zipfile.ZIP_STORED) as archive:
        for site, inner in _each(sites, path):
            archive.write(inner, f"sites/{site.slug}.zip")
    return len(sites)


def _each(sites: list[Site], path: Path) -> Iterator[tuple[Site, Path]]:
    inner = path.with_name(f"{path.name}.one")
    try:
        for site in sites:
            save(site, inner)
            yield site, inner
    finally:
        inner.unlink(missing_ok=True)
