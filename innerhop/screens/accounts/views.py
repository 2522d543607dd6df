"""An editor's own account, and the way in for who was invited."""

from __future__ import annotations

from allauth.account.utils import perform_login
from django.contrib.auth.decorators import login_required
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.cache import never_cache
from django.views.decorators.debug import sensitive_post_parameters
from django.views.decorators.http import require_http_methods

from innerhop.core.refusals import Refusal
from innerhop.library import sites
from innerhop.library.models import Editor
from innerhop.library.people import inviting, leaving
from innerhop.library.people.inviting import Newcomer
from innerhop.library.querysets import can_be_kept
from innerhop.screens.access import editor_of

_LONGEST = 60


@login_required
@require_http_methods(["GET", "POST"])
def account(request: HttpRequest) -> HttpResponse:
    """What they are called, and the ways to all else."""
    editor, trouble = editor_of(request), ""
    if request.method == "POST":
        called = " ".join(request.POST.get("called", "").split())
        if called and can_be_kept(called) and len(called) <= _LONGEST:
            editor.first_name, _, editor.last_name = called.partition(" ")
            editor.save(update_fields=["first_name", "last_name"])
            return redirect("account")
        trouble = f"Type a name of up to {_LONGEST} characters."
    context = {
        "trouble": trouble,
        "sites": [(one, one.membership_set.get(editor=editor)) for one in sites.of(editor)],
    }
    return render(request, "accounts/account.html", context, status=422 if trouble else 200)


@login_required
@sensitive_post_parameters("password")
@require_http_methods(["GET", "POST"])
def leave(request: HttpRequest) -> HttpResponse:
    """End the account, after its password was typed once more."""
    editor, trouble = editor_of(request), ""
    if request.method == "POST":
        try:
            if not editor.check_password(request.POST.get("password", "")):
                raise leaving.CannotLeave("That is not the password of this account.")
            leaving.leave(editor)
        except Refusal as problem:
            trouble = problem.message
        else:
            request.session.flush()
            return redirect("sign-in")
    return render(request, "accounts/leave.html", {"trouble": trouble},
                  status=422 if trouble else 200)  # fmt: skip


@never_cache
@sensitive_post_parameters("password")
@require_http_methods(["GET", "POST"])
def join(request: HttpRequest, key: str) -> HttpResponse:
    """Come in by an invitation: with the account that is signed in, or with a new one."""
    invitation = inviting.find(key)
    if invitation is None:
        message = "It has been answered, taken back, or is older than a week. Ask for another."
        said = {"title": "This invitation is not open any more", "message": message}
        return render(request, "frame/plain.html", said, status=410)
    here = request.user if isinstance(request.user, Editor) else None
    trouble = ""
    if request.method == "POST":
        try:
            if here is not None:
                inviting.accept(invitation, here)
                return redirect(invitation.site)
            typed = {name: request.POST.get(name, "") for name in ("name", "called", "password")}
            editor = inviting.join(invitation, Newcomer(**typed))
            return perform_login(request, editor, redirect_url=invitation.site.get_absolute_url())  # type: ignore[no-any-return]
        except Refusal as problem:
            trouble = problem.message
    context = {
        "invitation": invitation, "trouble": trouble, "here": here,
        "name": request.POST.get("name", ""), "called": request.POST.get("called", ""),
    }  # fmt: skip
    return render(request, "accounts/join.html", context, status=422 if trouble else 200)
