"""What acts ask for, as Django forms: types, limits and what is said when something is
not as it should be. Whoever sends it may be wrong about what the page is."""

from __future__ import annotations

from typing import Any, ClassVar

from django import forms
from django.core.exceptions import ValidationError

from innerhop.core import style_lines
from innerhop.core.addresses import address_forms, typed_addresses
from innerhop.core.planners import looks, markers, own_button, selection
from innerhop.core.refusals import Refusal
from innerhop.library.acts import alike, ends
from innerhop.library.acts.fix_acts import Which
from innerhop.library.acts.hop_acts import Manner
from innerhop.library.models import Link, Page

UNREADABLE = "The browser sent something that can't be read. Load the page again."
GONE = "What this was about is no longer there. Load the page again to see it as it is."
_LARGEST = 2**31 - 1
_LONGEST_TYPED = 10_000
_LONGEST_WORDS = 300
_MOST_MARKS = 20_000


class Unreadable(Refusal):
    """Something sent is not what an act asks for."""


class WholeField(forms.IntegerField):
    """A whole number from 0 on: an element's, say."""

    def __init__(self, **more: Any) -> None:
        super().__init__(min_value=0, max_value=_LARGEST, **more)

    def to_python(self, value: Any) -> int | None:
        if value is None and not self.required:
            return None
        if not isinstance(value, int) or isinstance(value, bool):
            raise ValidationError(UNREADABLE)
        return value


class TypedField(forms.CharField):
    """What someone typed, less the space around it."""

    def __init__(self, **more: Any) -> None:
        super().__init__(**{"required": False, "max_length": _LONGEST_TYPED, **more})

    def to_python(self, value: Any) -> str:
        if value is None:
            return ""
        if not isinstance(value, str):
            raise ValidationError(UNREADABLE)
        return str(super().to_python(value))


class YesField(forms.BooleanField):
    """Yes or no; no where nothing is sent."""

    def __init__(self) -> None:
        super().__init__(required=False)


class MaybeField(forms.Field):
    """Yes, no, or neither."""

    def to_python(self, value: Any) -> bool | None:
        if value is not None and not isinstance(value, bool):
            raise ValidationError(UNREADABLE)
        return value


class ChoiceField(forms.ChoiceField):
    """One of a few words."""

    def __init__(self, words: tuple[str, ...], otherwise: str = "") -> None:
        choices = [(word, word) for word in words]
        super().__init__(choices=choices, required=not otherwise and "" not in words)
        self.otherwise = otherwise
        self.error_messages["invalid_choice"] = self.error_messages["required"] = UNREADABLE

    def clean(self, value: Any) -> str:
        if value is None:
            value = self.otherwise
        if not isinstance(value, str):
            raise ValidationError(UNREADABLE)
        return str(super().clean(value))


class MarksField(forms.Field):
    """Elements, by number, with the IDs they are to have."""

    def to_python(self, value: Any) -> list[tuple[int, str | None]]:
        if not isinstance(value, list) or not 0 < len(value) <= _MOST_MARKS:
            raise ValidationError("Choose at least one section to mark.")
        whole = WholeField()
        return [
            (whole.clean(row.get("number")), self.id_of(row.get("id"))) for row in rows_in(value)
        ]

    def id_of(self, value: Any) -> str | None:
        """An ID that was sent."""
        return str(TypedField().clean(value))


class SuggestedField(MarksField):
    """The same, None where an ID is to be suggested."""

    def id_of(self, value: Any) -> str | None:
        return None if value is None else super().id_of(value)


def rows_in(value: list[Any]) -> list[dict[str, Any]]:
    """The rows of a list that was sent. Raises ValidationError where one is no row."""
    if not all(isinstance(row, dict) for row in value):
        raise ValidationError(UNREADABLE)
    return value


class NumbersField(forms.Field):
    """A list of whole numbers, or None."""

    def to_python(self, value: Any) -> set[int] | None:
        if value is None:
            return None
        if not isinstance(value, list) or len(value) > _MOST_MARKS:
            raise ValidationError(UNREADABLE)
        return {WholeField().clean(one) for one in value}


class PointField(forms.Field):
    """An end of selected words."""

    def to_python(self, value: Any) -> selection.Point:
        if not isinstance(value, dict):
            raise ValidationError("No words are selected. Select the words that readers click.")
        whole = WholeField()
        return selection.Point(
            *(whole.clean(value.get(one)) for one in ("number", "child", "offset"))
        )


class EndField(forms.Field):
    """Where a hop is to end; `ActForm` looks it up. `page`, `id`, `number` of an element
    that has no mark yet with `mark`, `directive`; or `outside`."""

    def to_python(self, value: Any) -> dict[str, Any] | None:
        if value is None and not self.required:
            return None
        if not isinstance(value, dict):
            raise ValidationError("Choose where the hop should end.")
        outside = TypedField().clean(value.get("outside"))
        if outside:
            return {"outside": outside}
        return {
            "page": WholeField().clean(value.get("page")),
            "id": TypedField().clean(value.get("id")),
            "directive": TypedField().clean(value.get("directive")),
            "number": WholeField().clean(value.get("number")) if value.get("mark") else None,
        }


SIDES = (markers.ON, markers.BEFORE, markers.AFTER, markers.INSIDE)


class AskingForm(forms.Form):
    """What is asked with. PARAMETERS: what a field is called by what answers, where that isn't
    the name it is sent by."""

    PARAMETERS: ClassVar[dict[str, str]] = {}

    def read(self) -> dict[str, Any]:
        """What was sent, read. Raises Unreadable with the first thing that is wrong."""
        if not self.is_valid():
            for errors in self.errors.values():
                raise Unreadable(" ".join(str(one) for one in errors))
        return self.cleaned_data

    def asked(self) -> dict[str, Any]:
        """The same, as the parameters of what answers."""
        self.read()
        return self.parameters()

    def parameters(self) -> dict[str, Any]:
        """The parameters, once all is read."""
        names = _PARAMETERS | self.PARAMETERS
        return {names.get(name, name): value for name, value in self.cleaned_data.items()}


_PARAMETERS: dict[str, str] = {"id": "id_", "all": "everywhere"}


class ActForm(AskingForm):
    """What an act on a page asks for. page: the page."""

    def __init__(self, sent: Any, page: Page) -> None:
        super().__init__(sent)
        self.page = page

    def clean_end(self) -> ends.Goal | None:
        """Where a hop is to end: on this site, or elsewhere."""
        return self.goal(self.cleaned_data.get("end"))

    def goal(self, sent: dict[str, Any] | None) -> ends.Goal | None:
        """What an `EndField` gave, looked up."""
        if sent is None:
            return None
        if "outside" in sent:
            return self._outside(sent["outside"])
        page = Page.objects.filter(site=self.page.site_id, pk=sent["page"])
        found = page.select_related("site").first()
        if found is None:
            raise ValidationError(GONE)
        return ends.End(found, sent["id"], sent["number"], sent["directive"])

    def _outside(self, typed: str) -> ends.Outside:
        try:
            read = typed_addresses.read(typed, self.page.address, self.page.site.address)
        except Refusal as problem:
            raise ValidationError(problem.message) from None
        if not read.outside:
            raise ValidationError("That address is on this site. Choose the page it leads to.")
        return ends.Outside(read.outside)


class ElementForm(ActForm):
    """An element, by number."""

    number = WholeField()


class MarksForm(ActForm):
    """Elements and their IDs."""

    PARAMETERS: ClassVar = {"marks": "wanted"}

    marks = MarksField()


class MarkerForm(ElementForm):
    """Where an empty marker goes, its ID, and whether room for what covers it is left."""

    side = ChoiceField(SIDES[1:])
    id = TypedField()
    room = YesField()


class MoveMarkForm(ElementForm):
    """Where a mark goes."""

    to = WholeField()
    side = ChoiceField(SIDES, markers.ON)


class RenameForm(ElementForm):
    """A new ID; whether the old one stays as a marker; whether readers who come by it are led on;
    which hops go along."""

    PARAMETERS: ClassVar = {"id": "new"}

    id = TypedField()
    keep = YesField()
    lead = YesField()
    follow = NumbersField(required=False)


class NewIdForm(ElementForm):
    """An ID for a marker before an element."""

    PARAMETERS: ClassVar = {"id": "new"}

    id = TypedField()


class TakeAwayForm(ElementForm):
    """What becomes of the hops that arrive there, and of readers who come by the old ID: whether
    they are led on, and whether a line says where."""

    lead = YesField()
    line = YesField()
    then = ChoiceField(("break", "keep", "retarget"), "break")
    end = EndField(required=False)

    def clean_end(self) -> ends.End | None:
        return _on_site("Hops to a mark", super().clean_end())


class FragmentForm(ActForm):
    """A fragment, as it stands in an address."""

    old = TypedField()


class LevelForm(ElementForm):
    """A heading's level."""

    PARAMETERS: ClassVar = {"level": "to"}

    level = WholeField()


class HeadingForm(ElementForm):
    """The level and the ID of a new heading, and whether it looks as the line did."""

    level = WholeField()
    id = TypedField()
    keeps_look = YesField()


class InClassForm(ElementForm):
    """A word that stands in an element's class."""

    word = TypedField()


class LockForm(ElementForm):
    """Whether a part is to be locked, or unlocked."""

    on = YesField()


class HopForm(ActForm):
    """Where a hop ends, how it is written and opens, and whether its end gets room."""

    end = EndField()
    form = ChoiceField(("", *address_forms.FORMS), "")
    new_tab = MaybeField(required=False)
    room = YesField()  # left on the page where it ends

    def parameters(self) -> dict[str, Any]:
        read = super().parameters()
        return read | {"manner": Manner(read.pop("form"), read.pop("new_tab"))}


class WordsForm(ElementForm):
    """The words that a link is to have."""

    words = TypedField(max_length=500)


class WordsHopForm(HopForm):
    """The words that are to be a hop, from one point to another."""

    start = PointField()
    stop = PointField()
    where = ChoiceField(alike.WHERE, alike.HERE)
    one_a_section = YesField()

    def parameters(self) -> dict[str, Any]:
        read = super().parameters()
        return read | {"words": selection.Words(read.pop("start"), read.pop("stop"))}


class LookField(forms.Field):
    """What a button looks like, and a link in its place would not."""

    def to_python(self, value: Any) -> dict[str, str]:
        if value is None:
            return {}
        if not isinstance(value, dict) or len(value) > len(looks.PROPERTIES):
            raise ValidationError(UNREADABLE)
        return {
            name: text
            for name, text in value.items()
            if isinstance(name, str) and isinstance(text, str) and looks.is_look(name, text)
        }


class PartHopForm(HopForm):
    """The part that is to be a hop."""

    PARAMETERS: ClassVar = {"button_look": "look"}

    number = WholeField()
    button_look = LookField(required=False)


class LinkBesideForm(PartHopForm):
    """A new link beside a part: its words, and what it is to look like."""

    PARAMETERS: ClassVar = {**PartHopForm.PARAMETERS, "link_colour": "ground"}

    side = ChoiceField((markers.BEFORE, markers.AFTER))
    words = TypedField(max_length=_LONGEST_WORDS)
    like = WholeField(required=False)
    link_colour = TypedField(max_length=40)  # of a button of our own look; "" for none

    def clean_link_colour(self) -> own_button.Colour | None:
        computed = self.cleaned_data["link_colour"]
        return own_button.colour(computed) if computed else None


class OfLinkForm(ActForm):
    """A link that is there."""

    PARAMETERS: ClassVar = {"number": "link"}

    number = WholeField()

    def clean_number(self) -> Link:
        return _link(self.page, self.cleaned_data["number"])


class LinkForm(OfLinkForm, HopForm):
    """A link that is there, and where it is to lead."""


class MendForm(OfLinkForm):
    """A broken hop, and where it is to lead. all: whether all with the same cause are."""

    end = EndField()
    all = YesField()

    def clean_end(self) -> ends.End | None:
        return _on_site("A broken hop", super().clean_end())


class ReopenForm(OfLinkForm):
    """A link that is there, and how it is to open."""

    new_tab = YesField()


def _on_site(what: str, end: ends.Goal | None) -> ends.End | None:
    if isinstance(end, ends.Outside):
        raise ValidationError(f"{what} can be led to another place on this site only.")
    return end


def _link(page: Page, number: int) -> Link:
    found: Link | None = page.links.filter(number=number).first()
    if found is None:
        raise ValidationError(GONE)
    return found


class ConvertForm(ActForm):
    """In which form hops are to be written, which of them, and whether on the whole site."""

    form = ChoiceField(address_forms.FORMS)
    origin = ChoiceField(("", *address_forms.FORMS), "")
    all = YesField()


class AddressForm(ActForm):
    """A page's address, as someone types it."""

    PARAMETERS: ClassVar = {"path": "typed"}

    path = TypedField()


class EverywhereForm(ActForm):
    """all: whether it is to be done on all pages of the site."""

    all = YesField()


class RoomForm(EverywhereForm):
    """Where the room for a header is to be made. sheet: the style sheet of the site that the
    line goes into; without one it goes into the pages' heads."""

    room_on = ChoiceField((style_lines.PAGE, style_lines.TARGET), style_lines.PAGE)
    sheet = WholeField(required=False)


class SpacersForm(ActForm):
    """Empty paragraphs that are to go: those above that element, or all of the page."""

    below = WholeField(required=False)


class FixForm(EverywhereForm):
    """Findings to mend: a rule and a cause, and which of these, unless it is all. only: the
    page, by primary key, to which it is kept."""

    rule = TypedField(max_length=40)
    cause = TypedField(max_length=300)
    findings = NumbersField(required=False)
    only = WholeField(required=False)

    def parameters(self) -> dict[str, Any]:
        read = self.cleaned_data
        chosen = None if read["all"] else read["findings"] or set()
        return {"which": Which(read["rule"], read["cause"], chosen, read["only"])}
