"""What stands in a site's file, as a JSON Schema (2020-12): one definition a file of rows."""

from __future__ import annotations

from typing import Any

from django.db import models

from innerhop.library.backup.tables import OF_SITE, TABLES, Table

_ADDRESS = "https://json-schema.org/draft/2020-12/schema"
# By the kind of column, the first that fits.
_TYPES: tuple[tuple[type[models.Field[Any, Any]], dict[str, Any]], ...] = (
    (models.JSONField, {}),
    (models.BinaryField, {"type": "string", "pattern": "^[0-9a-f]{64}$"}),
    (models.BooleanField, {"type": "boolean"}),
    (models.DateTimeField, {"type": "string", "format": "date-time"}),
    (models.ForeignKey, {"type": "integer", "minimum": 1}),
    (models.IntegerField, {"type": "integer"}),
    (models.Field, {"type": "string"}),
)
_PERSON = {
    "type": "object",
    "additionalProperties": False,
    "required": ["username", "first_name", "last_name", "email", "role", "hands_over"],
    "properties": {
        **{name: {"type": "string"} for name in ("username", "first_name", "last_name", "email")},
        "role": {"enum": ["owner", "editor", "reader", None]},
        "hands_over": {"type": ["boolean", "null"]},
    },
}


def schema() -> dict[str, Any]:
    """The schema. A line of NAME.jsonl is valid against `#/$defs/NAME`."""
    rows = {table.name: _of(table) for table in (OF_SITE, *TABLES)}
    return {"$schema": _ADDRESS, "title": "A site’s file of Inner Hop, version 1",
            "$defs": {"person": _PERSON, **rows}}  # fmt: skip


def _of(table: Table) -> dict[str, Any]:
    found = {column.name: _column(column) for column in table.columns}
    if table.many:
        found[table.many] = {"type": "array", "items": {"type": "integer"}}
    return {"type": "object", "additionalProperties": False, "required": sorted(found),
            "properties": found}  # fmt: skip


def _column(column: models.Field[Any, Any]) -> dict[str, Any]:
    said = next(said for kind, said in _TYPES if isinstance(column, kind))
    if column.null and "type" in said:
        return {**said, "type": [said["type"], "null"]}
    return said
