"""The sites an editor belongs to, and starting a new one."""

from __future__ import annotations

from django import forms
from django.contrib.auth.decorators import login_required
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_http_methods

from innerhop.core.addresses import NotAnAddress, read_site_address
from innerhop.library import sites

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


@login_required
@require_http_methods(["GET", "POST"])
def list_sites(request: HttpRequest) -> HttpResponse:
    """The editor's sites, and the form for a new one."""
    form = SiteForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        site = sites.create(**form.cleaned_data, editor=request.user)  # type: ignore[arg-type]
        return redirect("bring-in", site.slug)
    mine = list(sites.of(request.user))  # type: ignore[arg-type]
    if len(mine) == 1 and request.method == "GET" and "all" not in request.GET:
        return redirect(mine[0])
    return render(request, "sites/sites.html", {"sites": mine, "form": form})
