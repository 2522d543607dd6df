"""What acts on a site as a whole ask for."""

from __future__ import annotations

from typing import Any, ClassVar

from django import forms
from django.core.exceptions import ValidationError

from innerhop.core import style_lines
from innerhop.core.addresses.address_forms import FORMS
from innerhop.library.acts.forms import (
    UNREADABLE,
    AskingForm,
    ChoiceField,
    NumbersField,
    TypedField,
    WholeField,
    YesField,
)
from innerhop.library.changes import let_go
from innerhop.library.models import Editor, Membership


class SiteForm(AskingForm):
    """What an act on a site asks for. by: who asks."""

    def __init__(self, sent: Any, by: Editor) -> None:
        super().__init__(sent)
        self.by = by


class AsideForm(SiteForm):
    """What is to be set aside: findings, or a rule on the whole site."""

    findings = NumbersField(required=False)
    rule = TypedField(max_length=40)
    reason = TypedField(max_length=1_000)

    def parameters(self) -> dict[str, Any]:
        return super().parameters() | {"editor": self.by}


class CountAgainForm(SiteForm):
    """What was set aside and is to count again."""

    PARAMETERS: ClassVar = {"aside": "key"}

    aside = WholeField()


class TakeInForm(SiteForm):
    """A bringing in, by primary key, of which new texts wait."""

    PARAMETERS: ClassVar = {"bring_in": "key"}

    bring_in = WholeField()


class MovedThereForm(SiteForm):
    """A page that did not come, one that did, and the bringing in, by primary key."""

    page = WholeField()
    to = WholeField()
    bring_in = WholeField()


class RemovedForm(SiteForm):
    """A page or a file of the site, by primary key, that is to be deleted."""

    page = WholeField(required=False)
    file = WholeField(required=False)


class PersonForm(SiteForm):
    """Somebody, by primary key, what they are to be on the site, "" for nothing, and whether they
    may hand over."""

    PARAMETERS: ClassVar = {"editor": "key"}

    editor = WholeField()
    role = ChoiceField(("", *Membership.Role.values), "")
    hands_over = YesField()


class KeptForm(SiteForm):
    """A page, by primary key, and the editors it is kept for."""

    PARAMETERS: ClassVar = {"page": "key"}

    page = WholeField()
    editors = NumbersField(required=False)

    def clean_editors(self) -> set[int]:
        return self.cleaned_data["editors"] or set()


class _TableField(forms.Field):
    """Values by name, as JSON has them."""

    def to_python(self, value: Any) -> dict[str, Any]:
        if value is not None and not isinstance(value, dict):
            raise ValidationError(UNREADABLE)
        return value or {}


class SettingsForm(SiteForm):
    """Settings of a site, by field; those that aren't sent stay."""

    name = TypedField(max_length=120)
    language = TypedField(max_length=35)
    own_letters = YesField()
    hop_form = ChoiceField(("", *FORMS), "")
    air = forms.IntegerField(required=False, min_value=0, max_value=style_lines.MOST_AIR)
    keeps_months = forms.TypedChoiceField(
        choices=[(str(one), str(one)) for one in let_go.CHOICES], coerce=int, required=False
    )
    back_words = _TableField(required=False)
    frame = _TableField(required=False)

    def parameters(self) -> dict[str, Any]:
        """What was sent alone."""
        read = self.cleaned_data
        return {"wanted": {name: value for name, value in read.items() if name in self.data}}
