"""What of a site is written into its file: which rows, and what in them names other rows. All
else follows from the texts, or is measured anew."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any

from django.db import models
from django.db.models import QuerySet

from innerhop.library.models import (
    Asset,
    BringIn,
    Change,
    Editor,
    Elsewhere,
    LockedPart,
    Look,
    MenuPlan,
    Move,
    NewText,
    Page,
    Revision,
    Seen,
    SetAside,
    Site,
    Tick,
)

FORMAT, VERSION = "inner-hop-site", 1
# Gives for a row of a model, by what it is known by, what it is known by on the other side.
Lead = Callable[[type[models.Model], int], int]
_EFFECTS: dict[str, type[models.Model]] = {
    "page": Page, "page_id": Page, "text_of": Page, "part": LockedPart, "plan": MenuPlan,
    "bring_in": BringIn, "editor": Editor, "editor_id": Editor, "menu": MenuPlan,
    "asset": Asset,
}  # fmt: skip
_ASKED: dict[str, type[models.Model]] = {"page": Page, "bring_in": BringIn, "editor": Editor}
_FRAME: dict[str, type[models.Model]] = {"menu": MenuPlan}


def _led(names: Mapping[str, type[models.Model]]) -> Callable[[Any, Lead], Any]:
    """A value of JSON with other numbers in the places of those names, however deep."""

    def led(value: Any, lead: Lead) -> Any:
        if isinstance(value, list):
            return [led(one, lead) for one in value]
        if not isinstance(value, dict):
            return value
        found = {name: lead(names[name], one) if name in names and _is_key(one) else led(one, lead)
                 for name, one in value.items()}  # fmt: skip
        if "texts" in value:
            found["texts"] = [lead(NewText, one) for one in value["texts"]]
        if "what" in value and _is_key(value.get("key")):  # what was deleted
            found["key"] = lead(Page if value["what"] == "page" else Asset, value["key"])
        return found

    return led


def _is_key(value: Any) -> bool:
    return isinstance(value, int) and not isinstance(value, bool)


def _people(value: Any, lead: Lead) -> Any:
    return [lead(Editor, one) for one in value]


def _pages(value: Any, lead: Lead) -> Any:
    return [lead(Page, one) for one in value] if value is not None else None


@dataclass(frozen=True)
class Table:
    """Rows of one model. rows: those of a site. without: columns that are not written. leads:
    what other rows a column of JSON names. many: a relation to many of another table."""

    model: type[models.Model]
    rows: Callable[[Site], QuerySet[Any]]
    without: frozenset[str] = frozenset()
    leads: Mapping[str, Callable[[Any, Lead], Any]] = field(default_factory=dict)
    many: str = ""

    @property
    def name(self) -> str:
        """What its file is called, without its ending."""
        return self.model._meta.model_name or ""

    @property
    def columns(self) -> list[models.Field[Any, Any]]:
        """Its columns, in the order in which they are written."""
        return [one for one in self.model._meta.concrete_fields
                if not one.primary_key and one.name not in self.without
                and one.related_model is not Site]  # fmt: skip


def _of_pages(model: type[Any]) -> Callable[[Site], QuerySet[Any]]:
    return lambda site: model._default_manager.filter(page__site=site)


# Columns that files of earlier versions lack: they get what new rows have.
CAME_LATER = frozenset(("keeps_months", "let_go"))
# Written on a page by the reading of its text.
_READ = frozenset((
    "section_count", "marked_count", "broken_count", "lists", "lists_off", "ways_back", "indexed",
    "words", "base_href", "language",
))  # fmt: skip
# In an order in which each names only rows before it, JSON aside.
TABLES = (
    Table(MenuPlan, lambda site: site.menu_plans.all(), leads={"items": _led(_EFFECTS)}),
    Table(Page, lambda site: Page.everything.filter(site=site), _READ,
          leads={"kept_for": _people}),
    Table(Change, lambda site: Change.everything.filter(site=site),
          leads={"effects": _led(_EFFECTS), "asked": _led(_ASKED), "let_go": _pages}),
    Table(Revision, lambda site: Revision.objects.filter(page__site=site, number__gt=0)),
    Table(BringIn, lambda site: site.bring_ins.all(), many="pages",
          leads={"gone": _pages, "drawn": _pages}),
    # What was found of it is found again.
    Table(NewText, _of_pages(NewText), frozenset(("found", "number"))),
    Table(LockedPart, _of_pages(LockedPart)),
    Table(Move, lambda site: site.moves.all()),
    Table(SetAside, lambda site: site.set_aside.all()),
    Table(Tick, _of_pages(Tick)),
    Table(Asset, lambda site: Asset.everything.filter(site=site)),
    Table(Elsewhere, lambda site: site.elsewhere.all()),
    Table(Look, lambda site: site.looks.all(), leads={"changed": _led(_EFFECTS)}),
    Table(Seen, _of_pages(Seen)),
)  # fmt: skip
# A site's own row. Its addresses here are made anew, and its feed's is a secret.
OF_SITE = Table(Site, lambda site: Site.objects.filter(pk=site.pk),
                frozenset(("slug", "visitor_host", "feed_key", "removed", "remover")),
                leads={"frame": _led(_FRAME)})  # fmt: skip
