"""Who may do what on a site."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_http_methods

from innerhop.core.refusals import Refusal
from innerhop.library import doing
from innerhop.library.acts.people_acts import ROLES, NobodyThere
from innerhop.library.acts.site_acts import NothingToSet
from innerhop.library.models import Editor, Membership, Site
from innerhop.library.querysets import can_be_kept
from innerhop.screens.access import editor_of, for_members, number_asked
from innerhop.screens.history.people import person


@require_http_methods(["GET", "POST"])
@for_members
def show(request: HttpRequest, site: Site) -> HttpResponse:
    """All who belong to the site, and what each may do; its owners let in, and out."""
    trouble = ""
    if request.method == "POST":
        doing.require(editor_of(request), site, doing.PEOPLE)
        try:
            doing.do(editor_of(request), doing.PEOPLE, site, _wanted(request))
        except NothingToSet:
            pass
        except Refusal as problem:
            trouble = problem.message
        if not trouble:
            still = site.membership_set.filter(editor=editor_of(request)).exists()
            return redirect("people", site.slug) if still else redirect("sites")
    members = site.membership_set.select_related("editor").order_by("pk")
    context: dict[str, Any] = {
        "members": [(one, person(one.editor)) for one in members],
        "roles": [(role, role.label, said) for role, said in ROLES.items()],
        "trouble": trouble,
        "typed": request.POST.get("name", ""),
        "default": Membership.Role.EDITOR,
    }
    return render(request, "people/people.html", context, status=422 if trouble else 200)


def _wanted(request: HttpRequest) -> dict[str, Any]:
    """What was asked for, as the act asks for it. Raises NobodyThere."""
    sent = request.POST
    key = number_asked(sent.get("editor", "")) or _named(sent.get("name", ""))
    role = "" if "out" in sent else sent.get("role", "")
    return {"editor": key, "role": role, "hands_over": "hands_over" in sent}


def _named(name: str) -> int:
    name = name.strip()
    found = Editor.objects.filter(username=name).first() if can_be_kept(name) else None
    if found is None:
        raise NobodyThere(
            f"Nobody here signs in as “{name[:80]}”."
            if name
            else "Type the name that they sign in with."
        )
    return found.pk
