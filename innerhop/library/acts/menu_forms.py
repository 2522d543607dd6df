"""What acts on menus ask for."""

from __future__ import annotations

from typing import Any, ClassVar

from django import forms as django_forms
from django.core.exceptions import ValidationError

from innerhop.core.addresses.address_forms import FORMS
from innerhop.core.planners import markers
from innerhop.library.acts import forms
from innerhop.library.acts.forms import EndField, NumbersField, TypedField, WholeField, YesField
from innerhop.library.acts.menu_items import AskedItem

DEEPEST = 5  # levels of items under items
LONGEST = 200  # characters of an item's words
_MOST = 1_000
_TOO_MANY = f"A menu of more than {_MOST} items can’t be saved. Make several of it."


class ItemsField(django_forms.Field):
    """The items of a menu, in order: `item` of the menu's own, `depth`, and what is to be
    different: `label`, `end`, `form`."""

    def to_python(self, value: Any) -> list[dict[str, Any]]:
        if not isinstance(value, list):
            raise ValidationError(forms.UNREADABLE)
        if len(value) > _MOST:
            raise ValidationError(_TOO_MANY)
        return [_row(one) for one in forms.rows_in(value)]


def _row(row: dict[str, Any]) -> dict[str, Any]:
    label = row.get("label")
    depth = WholeField().clean(row.get("depth"))
    if depth >= DEEPEST:
        raise ValidationError("Items can stand under items four levels deep, not deeper.")
    return {
        "item": WholeField(required=False).clean(row.get("item")),
        "depth": depth,
        "label": None if label is None else " ".join(words_of(label).split()),
        "end": EndField(required=False).clean(row.get("end")),
        "form": forms.ChoiceField(("", *FORMS), "").clean(row.get("form")),
    }


def words_of(value: Any) -> str:
    """The words of an item. Raises ValidationError where there are too many."""
    found = TypedField().clean(value)
    if len(found) > LONGEST:
        raise ValidationError(f"An item’s words are at most {LONGEST} characters.")
    return str(found)


class MenuItemsForm(forms.ElementForm):
    """A menu, by its number on the page, and its items as they are to be."""

    PARAMETERS: ClassVar = {"items": "asked"}

    items = ItemsField(required=False)

    def clean_items(self) -> list[AskedItem]:
        """The items, with the ends of their links looked up."""
        return [
            AskedItem(row["item"], row["depth"], row["label"], self.goal(row["end"]), row["form"])
            for row in self.cleaned_data["items"] or ()
        ]


class NewMenuForm(MenuItemsForm):
    """A new menu beside a part: its name, and its items."""

    side = forms.ChoiceField((markers.BEFORE, markers.AFTER))
    name = TypedField(max_length=60)


class KeptPlanForm(forms.ActForm):
    """A plan of a menu, its name, and its items. plan: its number, none for a new one."""

    PARAMETERS: ClassVar = {"items": "asked"}

    plan = WholeField(required=False)
    name = TypedField(max_length=60)
    items = ItemsField(required=False)

    def clean_items(self) -> list[AskedItem]:
        """The items, with their ends looked up; where one is gone, what is kept of it."""
        return [
            AskedItem(None, row["depth"], row["label"], self.goal(row["end"]))
            for row in self.cleaned_data["items"] or ()
        ]


class DroppedPlanForm(forms.ActForm):
    """Which plan of a menu is to be given up."""

    plan = WholeField()


class NewItemForm(forms.ActForm):
    """An item to put at the end of a menu. menu: its name in addresses. sections: of the
    page, that get items too."""

    PARAMETERS: ClassVar = {"menu": "key"}

    menu = TypedField(max_length=200)
    label = TypedField(max_length=LONGEST)
    end = EndField()
    sections = NumbersField(required=False)
    room = YesField()

    def clean_sections(self) -> list[int]:
        return sorted(self.cleaned_data["sections"] or ())
