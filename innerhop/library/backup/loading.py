"""Reading a site's file into a database, whatever is there already."""

from __future__ import annotations

import hashlib
import json
import shutil
import tempfile
import zipfile
import zlib
from collections.abc import Iterator
from itertools import islice
from pathlib import Path
from typing import IO, Any

from django.core.exceptions import ObjectDoesNotExist, ValidationError
from django.db import DatabaseError, OperationalError, models, transaction

from innerhop.core.refusals import Refusal
from innerhop.library import sites
from innerhop.library.backup.tables import CAME_LATER, FORMAT, OF_SITE, TABLES, VERSION, Table
from innerhop.library.index import index, verdicts
from innerhop.library.models import Editor, Membership, Site

_AT_ONCE = 50


# What rows raise that name, or hold, what they can't.
_OFF = (DatabaseError, ValidationError, ObjectDoesNotExist, LookupError, TypeError, ValueError,
        Refusal)  # fmt: skip


class CannotLoad(Refusal):
    """A file is none of a site, or not whole; says what is wrong."""


def load(path: Path) -> list[Site]:
    """Read the sites of a file in, beside those that are there. People are those with the same
    names, or new ones without a password. Raises CannotLoad; then nothing was read in."""
    try:
        with zipfile.ZipFile(path) as archive, transaction.atomic():
            inner = [name for name in archive.namelist() if name.startswith("sites/")]
            if not inner:
                return [_Reader(archive).read()]
            return [_one_of(archive, name) for name in inner]
    except (zipfile.BadZipFile, OSError, EOFError, zlib.error) as problem:
        raise CannotLoad(f"This file can't be read as one of a site: {problem}.") from None
    except (OperationalError, CannotLoad):
        raise
    except _OFF as problem:
        raise CannotLoad(f"Rows of this file don't fit together: {problem}.") from None


def _one_of(archive: zipfile.ZipFile, name: str) -> Site:
    with tempfile.TemporaryFile() as out:
        with archive.open(name) as inner:
            shutil.copyfileobj(inner, out)
        with zipfile.ZipFile(out) as one:
            return _Reader(one).read()


class _Reader:
    """Gives each row a new primary key, and leads what names it there."""

    def __init__(self, archive: zipfile.ZipFile) -> None:
        self.archive = archive
        self.keys: dict[type[models.Model], dict[int, int]] = {}

    def read(self) -> Site:
        manifest = self._json("manifest.json")
        if not isinstance(manifest, dict) or manifest.get("format") != FORMAT:
            raise CannotLoad("This is no file of a site: save_site writes one.")
        if manifest.get("version") != VERSION:
            raise CannotLoad("This file is of another version of Inner Hop than this one reads.")
        people = [self._person(row) for row in self._lines("person")]
        self.keys[Editor] = {at: one.pk for at, (one, _) in enumerate(people, 1)}
        site = self._site(str(manifest.get("slug", "")), people)
        for table in TABLES:
            self.keys[table.model] = self._table(site, table)
        self._lead_json(site)
        for page in site.pages.select_related("site").order_by("pk"):
            page.site = site
            index.read_anew(page)
        verdicts.renew_all(site, list(site.pages.select_related("site")))
        return site

    def _site(self, slug: str, people: list[tuple[Editor, dict[str, Any]]]) -> Site:
        row = self._json("site.json")
        owners = [one for one, said in people if said.get("role") == Membership.Role.OWNER]
        if not owners:
            raise CannotLoad("This file names nobody who owns the site.")
        site = sites.create(slug, str(row.get("address")), str(row.get("language")), owners[0])
        for column in OF_SITE.columns:
            setattr(site, column.attname, self._value(OF_SITE, column, row))
        site.save()
        site.membership_set.all().delete()
        Membership.objects.bulk_create(
            Membership(site=site, editor=one, role=said["role"], hands_over=said["hands_over"])
            for one, said in people if said.get("role") in Membership.Role.values
        )  # fmt: skip
        return site

    def _person(self, row: dict[str, Any]) -> tuple[Editor, dict[str, Any]]:
        name = str(row.get("username", ""))
        found = Editor.objects.filter(username=name).first()
        if found is None:
            found = Editor(username=name, **{key: row[key] for key in _CALLED})
            found.set_unusable_password()
            found.save()
        return found, row

    def _table(self, site: Site, table: Table) -> dict[int, int]:
        keys: dict[int, int] = {}
        to_site = any(one.related_model is Site for one in table.model._meta.concrete_fields)
        lines = self._lines(table.name)
        while rows := list(islice(lines, _AT_ONCE)):
            made = []
            for row in rows:
                values = {one.attname: self._value(table, one, row) for one in table.columns}
                made.append(table.model(**values, **({"site": site} if to_site else {})))
            times = {one.name for one in table.columns if getattr(one, "auto_now_add", False)}
            said = [{name: getattr(one, name) for name in times} for one in made]
            table.model._default_manager.bulk_create(made)
            for one, kept in zip(made, said, strict=True):  # which Django has set to now
                for name, value in kept.items():
                    setattr(one, name, value)
            if times:
                _everything(table.model).bulk_update(made, list(times))
            for row, one in zip(rows, made, strict=True):
                keys[len(keys) + 1] = one.pk
                if table.many:
                    many = getattr(one, table.many)
                    many.set([self.lead(many.model, key) for key in row[table.many]])
        return keys

    def _lead_json(self, site: Site) -> None:
        """What JSON names may be any row, so it is led when all are there."""
        for table in (OF_SITE, *TABLES):
            if not table.leads:
                continue
            for row in table.rows(site).order_by("pk"):
                for name, led in table.leads.items():
                    setattr(row, name, led(getattr(row, name), self.lead))
                row.save(update_fields=list(table.leads))
        site.refresh_from_db()

    def lead(self, model: type[models.Model], number: int) -> int:
        return self.keys.get(model, {}).get(number, 0)

    def _value(self, table: Table, column: models.Field[Any, Any], row: dict[str, Any]) -> Any:
        if column.name not in row:
            if column.name in CAME_LATER:
                return column.get_default()
            raise CannotLoad(f"A row of {table.name} lacks its {column.name}.")
        value = row[column.name]
        if value is None or column.name in table.leads:
            return value
        if column.related_model is not None:
            return self.lead(column.related_model, value)
        if isinstance(column, models.BinaryField):
            return self._blob(str(value))
        return column.to_python(value)

    def _blob(self, name: str) -> bytes:
        try:
            data = self.archive.read(f"data/{name}")
        except KeyError:
            raise CannotLoad(f"The file lacks data/{name}.") from None
        if hashlib.sha256(data).hexdigest() != name:
            raise CannotLoad(f"data/{name} is not what it was when it was written.")
        return data

    def _json(self, name: str) -> Any:
        try:
            return json.loads(self.archive.read(name))
        except (KeyError, ValueError):
            raise CannotLoad(
                f"This is no file of a site: it has no {name} that can be read."
            ) from None

    def _lines(self, name: str) -> Iterator[dict[str, Any]]:
        try:
            with self.archive.open(f"{name}.jsonl") as lines:
                yield from _parsed(lines, name)
        except KeyError:
            raise CannotLoad(f"The file lacks {name}.jsonl.") from None


def _parsed(lines: IO[bytes], name: str) -> Iterator[dict[str, Any]]:
    for at, line in enumerate(lines, 1):
        try:
            row = json.loads(line)
        except ValueError:
            row = None
        if not isinstance(row, dict):
            raise CannotLoad(f"Line {at} of {name}.jsonl can't be read.")
        yield row


_CALLED = ("first_name", "last_name", "email")


def _everything(model: type[models.Model]) -> models.Manager[Any]:
    found: models.Manager[Any] = getattr(model, "everything", model._default_manager)
    return found
