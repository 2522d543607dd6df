"""Tables that only lay out a page, told from tables of figures by what their markup says (HTML
Standard, the table element: techniques that tell a layout table from one that is not)."""

from __future__ import annotations

from innerhop.core.source.tree import Source

# https://html.spec.whatwg.org/multipage/tables.html#the-table-element: signs of figures.
_OF_FIGURES = ("th", "caption", "thead")
_ROLES = ("presentation", "none")
_CELL = "td"
# Where the markup says neither (common practice, no source).
_LONG = 200  # characters: what a cell of running text has at least
_SHORT = 20  # what a number or a sign beside it has at most


def lays_out(source: Source, number: int) -> bool:
    """Whether the innermost table around an element only lays out the page, so that the
    element's cell holds text as any part of the page does. False where there is no table.

    >>> page = Source("<table><tr><td>1.<td><p id=q>When is it due?</p><p>In March.</table>")
    >>> lays_out(page, page.reading.matching("#q")[0])
    True
    """
    reading = source.reading
    around = reading.within(number, f"table, {_CELL}")
    if len(around) < 2 or reading.tag(around[0]) != _CELL:
        return False
    cell, table = around[0], around[1]
    if (reading.attr(table, "role") or "").strip().lower() in _ROLES:
        return True
    is_bordered = (reading.attr(table, "border") or "0").strip() != "0"
    if is_bordered or any(_has(source, table, tag) for tag in _OF_FIGURES):
        return False
    return len(source.text_of(cell)) >= _LONG or _is_numbered(source, cell)


def _has(source: Source, table: int, tag: str) -> bool:
    """Whether a table has such an element of its own, not of one that stands in a cell."""
    reading = source.reading
    return any(reading.within(one, "table")[0] == table for one in reading.inside(table, tag))


def _is_numbered(source: Source, cell: int) -> bool:
    """Whether a cell has its row to itself, but for a number or a sign."""
    row = source.parent(cell)
    others = [one for one in source.reading.inside(row, _CELL) if source.parent(one) == row]
    return all(len(source.text_of(one).strip()) <= _SHORT for one in others if one != cell)
