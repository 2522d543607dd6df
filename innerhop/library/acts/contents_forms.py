"""What acts on contents lists, ways back and visitors' parts ask for (see `forms`)."""

from __future__ import annotations

import re
from typing import Any, ClassVar

from django import forms
from django.core.exceptions import ValidationError

from innerhop.core.contents import settings, ways_back
from innerhop.core.contents.entries import MOST_DEEP
from innerhop.core.contents.kinds import KINDS
from innerhop.core.contents.lists import POINTS
from innerhop.core.planners import markers
from innerhop.core.planners.visitor_parts import Parts
from innerhop.library.acts.contents_acts import AskedEntry, Spec
from innerhop.library.acts.forms import (
    GONE,
    ActForm,
    ChoiceField,
    ElementForm,
    EverywhereForm,
    NumbersField,
    TypedField,
    WholeField,
    YesField,
    rows_in,
)
from innerhop.library.acts.ways_acts import NONE, Ways
from innerhop.library.models import Page

_LONGEST_SCOPE = 300
_MOST_ENTRIES = 2 * MOST_DEEP
_LONGEST_LABEL = 300
_WORD = re.compile(r"[^\s\"'<>=`]{1,80}")


class LabelField(TypedField):
    """Words of an entry, or above a list."""

    def __init__(self) -> None:
        super().__init__(max_length=_LONGEST_LABEL)


class WordsField(TypedField):
    """Classes, or other words of markup, with spaces between."""

    def clean(self, value: Any) -> str:
        words = str(super().clean(value)).split()
        if not all(_WORD.fullmatch(word) for word in words):
            raise ValidationError("A class is one word without quotes or angle brackets.")
        return " ".join(words)


class EntriesField(forms.Field):
    """The entries of a contents list: `part` or null, `link` or null, `page` or null for
    the page itself, `id`, `label`."""

    def to_python(self, value: Any) -> list[dict[str, Any]]:
        if not isinstance(value, list) or not value:
            raise ValidationError("Choose at least one entry.")
        if len(value) > _MOST_ENTRIES:
            raise ValidationError(
                f"A list of {len(value)} entries is too long for a reader. List the highest "
                "level only, or one part of the page."
            )
        maybe = WholeField(required=False)
        return [
            {
                "part": maybe.clean(row.get("part")),
                "link": maybe.clean(row.get("link")),
                "page": maybe.clean(row.get("page")),
                "id": TypedField().clean(row.get("id")),
                "label": LabelField().clean(row.get("label")),
            }
            for row in rows_in(value)
        ]


class WaysBackForm(ActForm):
    """Ways back as they are to be. instead: those of the site's own that they replace."""

    where = ChoiceField(("", NONE, ways_back.SECTIONS, ways_back.SCREENS, ways_back.PLACES), "")
    words = LabelField()
    to_list = YesField()
    places = NumbersField(required=False)
    instead = NumbersField(required=False)

    @property
    def ways(self) -> Ways:
        read = self.cleaned_data
        places, instead = (sorted(read[name] or ()) for name in ("places", "instead"))
        return Ways(read["where"], read["words"], read["to_list"], places, instead)

    def parameters(self) -> dict[str, Any]:
        return {"ways": self.ways}


class RewordedWaysForm(ActForm):
    """Other words for ways back. instead: of these of the site's own."""

    words = LabelField()
    to_list = YesField()
    instead = NumbersField(required=False)

    def clean_instead(self) -> list[int]:
        return sorted(self.cleaned_data["instead"] or ())


class UpdateListsForm(EverywhereForm):
    """Lists to be brought up to date. number: of one of a page, or of an element in it;
    without one, all that are out of step."""

    number = WholeField(required=False)


class ContentsForm(WaysBackForm):
    """A contents list as it is to be."""

    there = WholeField(required=False)
    at = WholeField(required=False)
    side = ChoiceField((markers.BEFORE, markers.AFTER), markers.BEFORE)
    kind = ChoiceField((*KINDS, POINTS))
    levels = WordsField()
    scope = TypedField(max_length=_LONGEST_SCOPE)
    own_order = YesField()
    title = LabelField()
    title_level = WholeField(required=False)
    classes = WordsField()
    look_class = WordsField()
    entries = EntriesField()
    room = YesField()

    def clean_title_level(self) -> int:
        level: int = self.cleaned_data["title_level"] or 0
        if level not in (0, 2, 3, 4, 5, 6):
            raise ValidationError("A heading’s level is from 2 to 6.")
        return level

    def clean_entries(self) -> list[AskedEntry]:
        rows = self.cleaned_data["entries"]
        keys = {row["page"] for row in rows} - {None, self.page.pk}
        pages = Page.objects.filter(site=self.page.site_id, pk__in=keys).select_related("site")
        found = {page.pk: page for page in pages} | {None: self.page, self.page.pk: self.page}
        if keys - found.keys():
            raise ValidationError(GONE)
        return [
            AskedEntry(found[row["page"]], row["part"], row["link"], row["id"], row["label"])
            for row in rows
        ]

    @property
    def spec(self) -> Spec:
        read = self.cleaned_data
        return Spec(
            entries=read["entries"], kind=read["kind"], there=read["there"], at=read["at"],
            side=read["side"], levels=read["levels"].split(),
            scope=read["scope"] or settings.PAGE, own_order=read["own_order"],
            title=" ".join(read["title"].split()), title_level=read["title_level"],
            classes=read["classes"], look=read["look_class"], ways=self.ways,
        )  # fmt: skip

    def parameters(self) -> dict[str, Any]:
        return {"spec": self.spec, "room": self.cleaned_data["room"]}


class RemoveListForm(ElementForm):
    """A contents list that is to go. ways: whether the ways back go with it."""

    PARAMETERS: ClassVar = {"ways": "with_ways"}

    ways = YesField()


_MOST_SCREENS = 50


class VisitorPartsForm(ActForm):
    """What a page is to give its visitors; all: whether every page of the site is."""

    all = YesField()
    lit = YesField()
    focus = YesField()
    replaces = YesField()
    snap = YesField()
    up = WholeField(required=False)
    points = YesField()
    signs = YesField()
    always = YesField()

    def clean_up(self) -> int:
        screens: int = self.cleaned_data["up"] or 0
        if screens > _MOST_SCREENS:
            raise ValidationError("A way back comes after 50 screens at most.")
        return screens

    def parameters(self) -> dict[str, Any]:
        read = super().parameters()
        return {"everywhere": read.pop("everywhere"), "parts": Parts(**read)}
