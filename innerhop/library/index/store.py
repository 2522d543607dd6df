"""Rows of the index, written. What a change leaves alone stays: most touch one or two of
a page's thousand rows, and where elements came or went the others are moved along by
one statement.

PostgreSQL's own ways (COPY, arrays) stand here and nowhere else: with rows by the
hundred thousand they take a tenth of the time that inserting them takes.
"""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from django.db import connection
from django.db.models import Model

from innerhop.core.site import hops
from innerhop.library.index.rows import COLUMNS, VERDICT, Row, Rows
from innerhop.library.models import Finding, Link, Mark, Page

_AT_ONCE = 5_000
_VALUE = COLUMNS[Mark].index("value")
# The columns that are numbers of elements of the row's own page.
_NUMBERED: dict[type[Model], list[str]] = {
    **{model: [one for one in columns[:2] if one in ("number", "last")]
       for model, columns in COLUMNS.items()},
    Finding: ["number"],
}  # fmt: skip


@dataclass(frozen=True)
class Delta:
    """What has to be done to the rows of one page.

    shifts: (from that number on, by how much) the numbers of its rows move, in order
    and each in the count before all of them. ids_alone: whether nothing of its text changed
    but IDs, and names. gone: the primary keys of rows that go.
    made: new rows. values: of marks that came, went or are another element's now.
    """

    page: Page
    shifts: Sequence[tuple[int, int]] = ()
    gone: Mapping[type[Model], Sequence[int]] = field(default_factory=dict)
    made: Rows = field(default_factory=dict)
    values: Collection[str] = ()
    ids_alone: bool = False

    @property
    def is_empty(self) -> bool:
        return not (self.shifts or any(self.gone.values()) or any(self.made.values()))


def deltas(
    pages: Sequence[Page], wanted: Sequence[Rows], shifts: Sequence[Sequence[tuple[int, int]]]
) -> list[Delta]:
    """What makes the rows of these pages the wanted ones."""
    there = {model: _there(model, pages) for model in COLUMNS}
    return [
        _delta(page, rows, moved, {model: found.get(page.pk, []) for model, found in there.items()})
        for page, rows, moved in zip(pages, wanted, shifts, strict=True)
    ]


def _there(model: type[Model], pages: Sequence[Page]) -> dict[int, list[Row]]:
    """The rows that pages have, each with its primary key in front."""
    found: dict[int, list[Row]] = defaultdict(list)
    rows = model._default_manager.filter(page__in=pages).order_by()
    for page_id, *row in rows.values_list("page_id", "pk", *COLUMNS[model]):
        found[page_id].append(tuple(row))
    return found


def _delta(
    page: Page,
    wanted: Rows,
    shifts: Sequence[tuple[int, int]],
    there: Mapping[type[Model], Sequence[Row]],
) -> Delta:
    gone: dict[type[Model], list[int]] = {}
    made: Rows = {}
    values: set[str] = set()
    for model, rows in wanted.items():
        old = _moved(model, there[model], shifts)
        left = Counter(rows)
        gone[model] = []
        for pk, row in old:
            if left[row] > 0:
                left[row] -= 1
            else:
                gone[model].append(pk)
                if model is Mark:
                    values.add(row[_VALUE])
        made[model] = list(left.elements())
    values |= {row[_VALUE] for row in made.get(Mark, ())}
    return Delta(page, shifts, gone, made, values)


def _moved(
    model: type[Model], rows: Sequence[Row], shifts: Sequence[tuple[int, int]]
) -> list[tuple[int, Row]]:
    """Rows as they stand after the shifts, each with its primary key apart."""
    numbers = len(_NUMBERED[model])  # which stand first
    first = min((first for first, _ in shifts), default=None)
    found = []
    for pk, *row in rows:
        if first is not None and row[numbers - 1] >= first:  # most of a page stands before
            row[:numbers] = [number + _by(number, shifts) for number in row[:numbers]]
        found.append((pk, tuple(row)))
    return found


def _by(number: int, shifts: Sequence[tuple[int, int]]) -> int:
    return sum(by for first, by in shifts if number >= first)


def apply(done: Sequence[Delta]) -> None:
    """Carry the deltas out. Within a transaction."""
    _shift(done)
    for model in COLUMNS:
        gone = [pk for delta in done for pk in delta.gone.get(model, ())]
        for at in range(0, len(gone), _AT_ONCE):
            model._default_manager.filter(pk__in=gone[at : at + _AT_ONCE]).delete()
    insert((delta.page, delta.made) for delta in done)


def _shift(done: Sequence[Delta]) -> None:
    """Move the numbers of pages' rows, of what is found on them, and the ends of hops to them:
    the last shift of every page at once, then the one before it."""
    left = [(delta.page, list(delta.shifts)) for delta in done]
    while rows := [(page, *shifts.pop()) for page, shifts in left if shifts]:
        pages = [page.pk for page, _, _ in rows]
        firsts, bys = [first for _, first, _ in rows], [by for _, _, by in rows]
        moved = "unnest(%s::bigint[], %s::bigint[], %s::bigint[]) as v(page, first, by)"
        with connection.cursor() as cursor:
            for model, columns in _NUMBERED.items():
                table = model._meta.db_table
                for column in columns:
                    cursor.execute(
                        f"update {table} as t set {column} = t.{column} + v.by from {moved} "
                        f"where t.page_id = v.page and t.{column} >= v.first",
                        [pages, firsts, bys],
                    )
            keys = [page.key for page, _, _ in rows]
            cursor.execute(
                f'update {Link._meta.db_table} as t set "end" = t."end" + v.by from '
                "unnest(%s::bigint[], %s::bigint[], %s::bigint[], %s::text[]) "
                "as v(page, first, by, key) where t.site_id = %s and t.key = v.key "
                'and t."end" >= v.first and t.end_page_id = v.page',
                [pages, firsts, bys, keys, rows[0][0].site_id],
            )


def insert(pairs: Iterable[tuple[Page, Rows]]) -> None:
    """Write new rows. Within a transaction."""
    by_model: dict[type[Model], list[tuple[Page, Row]]] = defaultdict(list)
    for page, rows in pairs:
        for model, made in rows.items():
            by_model[model] += ((page, row) for row in made)
    for model, made in by_model.items():
        if model is Link:  # what becomes of its readers is found out later
            insert_links((page, row, hops.NONE) for page, row in made)
        elif made:
            _copy(model, COLUMNS[model], made)


def insert_links(made: Iterable[tuple[Page, Row, hops.Verdict]]) -> None:
    """Write new links with what becomes of their readers. Within a transaction."""
    _copy(
        Link, (*COLUMNS[Link], *VERDICT), ((page, (*row, *verdict)) for page, row, verdict in made)
    )


def _copy(model: type[Model], columns: Sequence[str], made: Iterable[tuple[Page, Row]]) -> None:
    names = ", ".join(f'"{name}"' for name in ("page_id", "site_id", *columns))
    with connection.cursor() as cursor:
        statement = f"copy {model._meta.db_table} ({names}) from stdin"
        with cursor.copy(statement) as copy:  # psycopg's own
            for page, row in made:
                copy.write_row((page.pk, page.site_id, *row))


def set_values(model: type[Model], columns: Mapping[str, str], rows: Sequence[Row]) -> None:
    """Give many rows values of their own by one statement. columns: each with its type;
    rows: the primary key, then the values in that order."""
    table, names = model._meta.db_table, list(columns)
    arrays = ", ".join(f"%s::{kind}[]" for kind in ("bigint", *columns.values()))
    sets = ", ".join(f'"{name}" = v.c{at}' for at, name in enumerate(names))
    fields = ", ".join(["pk", *(f"c{at}" for at in range(len(names)))])
    with connection.cursor() as cursor:
        for at in range(0, len(rows), _AT_ONCE):
            taken: list[Any] = [
                list(column) for column in zip(*rows[at : at + _AT_ONCE], strict=True)
            ]
            cursor.execute(
                f"update {table} as t set {sets} from unnest({arrays}) as v({fields}) "
                "where t.id = v.pk",
                taken,
            )
