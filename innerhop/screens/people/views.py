"""Who may do what on a site."""

from __future__ import annotations

from smtplib import SMTPException
from typing import Any

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_http_methods

from innerhop.core.refusals import Refusal
from innerhop.library import doing
from innerhop.library.acts.people_acts import ROLES, NobodyThere
from innerhop.library.acts.site_acts import NothingToSet
from innerhop.library.models import Editor, Membership, Site
from innerhop.library.people import inviting
from innerhop.library.querysets import can_be_kept
from innerhop.screens.access import editor_of, for_members, number_asked
from innerhop.screens.history.people import person

_PAGES = 500  # that one is chosen from


@require_http_methods(["GET", "POST"])
@for_members
def show(request: HttpRequest, site: Site) -> HttpResponse:
    """All who belong to the site, and what each may do; its owners let in, and out."""
    trouble = ""
    if request.method == "POST":
        doing.require(editor_of(request), site, doing.PEOPLE)
        try:
            _carry_out(request, site)
        except NothingToSet:
            pass
        except Refusal as problem:
            trouble = problem.message
        if not trouble:
            still = site.membership_set.filter(editor=editor_of(request)).exists()
            return redirect("people", site.slug) if still else redirect("sites")
    members = site.membership_set.select_related("editor").order_by("pk")
    context: dict[str, Any] = {
        "pages": site.pages.order_by("path")[:_PAGES],
        "kept": [
            (page, Editor.objects.filter(pk__in=page.kept_for))
            for page in site.pages.exclude(kept_for=[]).order_by("path")
        ],
        "editors": [one.editor for one in members if one.role == Membership.Role.EDITOR],
        "invited": inviting.open_for(site),
        "typed_email": request.POST.get("email", ""),
        "shows_mails": settings.DEMO,
        "members": [(one, person(one.editor)) for one in members],
        "roles": [(role, Membership.Role(role).label, said) for role, said in ROLES.items()],
        "trouble": trouble,
        "typed": request.POST.get("name", ""),
        "default": Membership.Role.EDITOR,
    }
    return render(request, "people/people.html", context, status=422 if trouble else 200)


def _carry_out(request: HttpRequest, site: Site) -> None:
    """What an owner asked for. Raises what that raises."""
    editor, sent = editor_of(request), request.POST
    if "uninvite" in sent:
        inviting.open_for(site).filter(pk=number_asked(sent["uninvite"])).delete()
    elif "page" in sent:
        chosen = [number_asked(one) for one in sent.getlist("for")] if "all" not in sent else []
        asked = {"page": number_asked(sent["page"]), "editors": chosen}
        doing.do(editor, "keep-page", site, asked)
    elif "email" in sent:
        try:
            hands_over = "hands_over" in sent
            inviting.invite(editor, site, sent["email"], sent.get("role", ""), hands_over)
        except (SMTPException, OSError):
            raise inviting.CannotInvite(
                "The mail could not be sent, so nobody was invited. Ask the person who runs Inner "
                "Hop here to look at its mail settings."
            ) from None
    else:
        doing.do(editor, doing.PEOPLE, site, _wanted(request))


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
