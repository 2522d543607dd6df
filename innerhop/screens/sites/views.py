"""The sites an editor belongs to, and starting a new one."""

from __future__ import annotations

from typing import Any

from django import forms
from django.contrib.auth.decorators import login_required
from django.http import HttpRequest, HttpResponse, QueryDict
from django.shortcuts import redirect, render
from django.views.decorators.http import require_http_methods

from innerhop.core import style_lines
from innerhop.core.addresses import address_forms, fragments
from innerhop.core.addresses.urls import NotAnAddress, read_site_address
from innerhop.core.contents import ways_back
from innerhop.core.names import ids
from innerhop.core.refusals import Refusal
from innerhop.library import doing, removal, sites
from innerhop.library.acts import convert_and_move, site_acts, ways_acts
from innerhop.library.acts.ends import start_of
from innerhop.library.changes import kept_small, let_go
from innerhop.library.models import Editor, Section, Site
from innerhop.screens.access import editor_of, for_editors, number_asked

_LANGUAGES = [
    ("en", "English"), ("de", "German"), ("fr", "French"), ("es", "Spanish"), ("it", "Italian"),
    ("nl", "Dutch"), ("pl", "Polish"), ("pt", "Portuguese"), ("sv", "Swedish"), ("cy", "Welsh"),
    ("el", "Greek"), ("uk", "Ukrainian"), ("tr", "Turkish"), ("ja", "Japanese"),
]  # fmt: skip


class SiteForm(forms.Form):
    """A new site: what it is called, where readers find it, and its language."""

    name = forms.CharField(max_length=120, label="Name of the site")
    address = forms.CharField(max_length=300, label="Address")
    language = forms.ChoiceField(choices=_LANGUAGES, label="Language of its pages")

    def clean_address(self) -> str:
        try:
            return read_site_address(self.cleaned_data["address"])
        except NotAnAddress as problem:
            raise forms.ValidationError(str(problem)) from None


# A bare hash works within one page only, so it is no way of writing for a site.
_DEFAULT_FORMS = (address_forms.PATH, address_forms.RELATIVE, address_forms.ABSOLUTE)


_SAID = ("Always", "Two years", "One year", "Half a year", "Three months")
_KEEPS = list(zip(let_go.CHOICES, _SAID, strict=True))


class SettingsForm(forms.Form):
    """What a site is called, the language of its pages, and how its IDs are written."""

    name = forms.CharField(max_length=120, label="Name of the site")
    language = forms.CharField(max_length=35, label="Language of its pages")
    letters = forms.ChoiceField(choices=[("plain", "plain"), ("own", "own")])
    hop_form = forms.ChoiceField(
        required=False, choices=[("", "own"), *((form, form) for form in _DEFAULT_FORMS)]
    )
    keeps_months = forms.TypedChoiceField(
        choices=_KEEPS, coerce=int, required=False, empty_value=None,
        label="How long what was done can be taken back",
    )  # fmt: skip
    air = forms.IntegerField(
        min_value=0, max_value=style_lines.MOST_AIR, label="Air below a header that stays in view"
    )


@require_http_methods(["GET", "POST"])
@for_editors
def settings(request: HttpRequest, site: Site) -> HttpResponse:
    """A site's settings, with what they mean for headings it has."""
    letters = "own" if site.own_letters else "plain"
    now: dict[str, Any] = {"name": site.name, "language": site.language, "letters": letters}
    now |= {"hop_form": site.hop_form, "air": site.air, "keeps_months": site.keeps_months}
    form = SettingsForm(request.POST or now)
    if request.method == "POST" and form.is_valid():
        try:
            doing.do(editor_of(request), "settings", site, _wanted(site, form, request.POST))
        except site_acts.NothingToSet:
            pass
        except Refusal as problem:
            form.add_error(None, problem.message)
        if not form.errors:
            return redirect(site)
    context = {
        "form": form,
        "size": kept_small.size(site),
        "keeps": _keeps(site),
        "who_owns": doing.who_may(site, "settings"),
        "examples": _examples(site),
        "languages": _languages(site),
        "hop_forms": _hop_forms(site),
        "own_form": convert_and_move.FORM_NAMES[site.own_form],
        "bodies": site.pages.filter(body_only=True).count(),
        "plans": site.menu_plans.filter(gone=False),
        "back_words": [
            (tag, site.back_words.get(tag, ""), ways_back.words_in(tag))
            for tag in ways_acts.languages_of(site)
        ],
    }
    return render(request, "sites/settings.html", context)


def _wanted(site: Site, form: SettingsForm, sent: QueryDict) -> dict[str, Any]:
    """The settings as they are to be, by field."""
    kept = form.cleaned_data
    words = {tag: sent.get(f"back-{tag}", "") for tag in ways_acts.languages_of(site)}
    wanted = {name: kept[name] for name in ("name", "language", "hop_form", "air")}
    if kept["keeps_months"] is not None:
        wanted["keeps_months"] = kept["keeps_months"]
    wanted |= {"own_letters": kept["letters"] == "own", "back_words": sites.back_words(words)}
    if "frame-shown" in sent:  # a site without such pages is not asked
        wanted["frame"] = _frame(site, sent) if "frame-on" in sent else {}
    return wanted


def _keeps(site: Site) -> list[tuple[str, str, int]]:
    """For how long what was done can be taken back: each with how much is older than that."""
    return [(str(months), said, let_go.older(site, let_go.limit(months)).count() if months else 0)
            for months, said in _KEEPS]  # fmt: skip


def _frame(site: Site, sent: QueryDict) -> dict[str, object]:
    key = number_asked(sent.get("frame-menu", "")) or None
    footer, out = sent.get("frame-footer", ""), "frame-out" in sent
    return sites.frame(site, key, footer, out)


def _hop_forms(site: Site) -> list[address_forms.Written]:
    """The forms, each with a hop of the site written so: from its first page to a
    mark on its last one."""
    pages = site.pages.select_related("site")
    start, end = pages.first(), pages.last()
    if start is None or end is None:
        return [address_forms.Written(form, "", "") for form in _DEFAULT_FORMS]
    mark = end.marks.exclude(value="").first()
    fragment = fragments.encode(mark.value) if mark else "top"
    here = start_of(start, False)
    return [address_forms.written(here, end.address, fragment, form) for form in _DEFAULT_FORMS]


def _languages(site: Site) -> list[tuple[str, str]]:
    """Those we list, and the site's own where it is another."""
    known = {code for code, _ in _LANGUAGES}
    return _LANGUAGES if site.language in known else [(site.language,) * 2, *_LANGUAGES]


def _examples(site: Site) -> list[dict[str, str]]:
    """A few headings of the site with both of their IDs, those that differ first."""
    rows = Section.objects.filter(site=site).exclude(title="").order_by().select_related("page")
    found = []
    for row in rows[:400]:
        language = row.page.language or site.language
        plain, own = (ids.suggest(row.title, ids.Naming(language, own)) for own in (False, True))
        found.append({"title": row.title, "plain": plain, "own": own})
    return sorted(found, key=lambda one: one["plain"] == one["own"])[:4]


@login_required
@require_http_methods(["GET", "POST"])
def list_sites(request: HttpRequest) -> HttpResponse:
    """The editor's sites, and the form for a new one."""
    form = SiteForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        site = sites.create(**form.cleaned_data, editor=request.user)  # type: ignore[arg-type]
        return redirect("bring-in", site.slug)
    editor: Editor = request.user  # type: ignore[assignment]
    mine, deleted = list(sites.of(editor)), list(removal.removed_sites(editor))
    if len(mine) == 1 and request.method == "GET" and "all" not in request.GET:
        return redirect(mine[0])
    return render(request, "sites/sites.html", {"sites": mine, "form": form, "deleted": deleted})
