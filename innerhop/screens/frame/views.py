"""Signing in and out, and finding any page or mark of a site."""

from __future__ import annotations

import sys
from collections.abc import Callable
from functools import wraps
from typing import Any

from allauth.account.utils import perform_login
from axes.decorators import axes_dispatch
from django.conf import settings
from django.contrib.auth import login
from django.contrib.auth import views as auth_views
from django.contrib.auth.decorators import login_required
from django.contrib.auth.forms import AuthenticationForm
from django.http import Http404, HttpRequest, HttpResponse, HttpResponseBase, JsonResponse
from django.middleware.csrf import get_token
from django.shortcuts import get_object_or_404, redirect, render
from django.template import loader
from django.utils.decorators import method_decorator
from django.utils.http import url_has_allowed_host_and_scheme
from django.views.decorators.debug import sensitive_post_parameters
from django.views.decorators.http import require_GET, require_POST

from innerhop.core.facts import mark_words
from innerhop.core.names.ids import looks_generated
from innerhop.library import tidying
from innerhop.library.index.texts import current
from innerhop.library.models import Editor, Page, Site
from innerhop.library.seek import ends, typed_addresses
from innerhop.library.seek.guesses import Guess
from innerhop.screens.access import for_editors, number_asked, page_of
from innerhop.screens.frame import faults
from innerhop.screens.frame.built import built


class SignInForm(AuthenticationForm):
    """Name and password, with messages in our own voice."""

    error_messages = {
        "invalid_login": "This name and password don't belong together. "
        "Capitals count in both. After five tries the way in is shut for 15 minutes.",
        "inactive": "This account has been closed. Ask the person who runs Inner Hop here.",
    }


View = Callable[..., HttpResponseBase]


_LONGEST_NAME = 200  # characters; no editor's is longer


def within_reason(view: View) -> View:
    """A view that gets no NUL and no endless name in what was typed: nobody is called so, and
    no database keeps it, not even to say that somebody tried."""

    @wraps(view)
    def cleaned(request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponseBase:
        typed = request.POST.copy()
        for name, values in typed.lists():
            plain = [value.replace("\0", "\ufffd") for value in values]
            is_name = name == "username"
            typed.setlist(name, [one[:_LONGEST_NAME] for one in plain] if is_name else plain)
        request.POST = typed  # type: ignore[assignment]  # a dictionary of the same kind
        return view(request, *args, **kwargs)

    return cleaned


@method_decorator([within_reason, axes_dispatch, sensitive_post_parameters()], name="dispatch")
class SignIn(auth_views.LoginView):
    """Sign in; on a demo start, with one click too."""

    template_name = "frame/sign_in.html"
    authentication_form = SignInForm
    redirect_authenticated_user = True

    def form_valid(self, form: AuthenticationForm) -> HttpResponse:
        tidying.tidy()
        # A second step may come between, where the account has one.
        where = self.get_redirect_url() or None
        return perform_login(self.request, form.get_user(), redirect_url=where)  # type: ignore[no-any-return]

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        demo = settings.DEMO and Editor.objects.filter(username=settings.DEMO_EDITOR).exists()
        # Django puts the host into the context as "site".
        return super().get_context_data(**kwargs) | {"site": None, "demo": demo}


class SignOut(auth_views.LogoutView):
    """Sign out, by POST."""


@require_GET
@login_required
def token(request: HttpRequest) -> JsonResponse:
    """The guard against forgery, for a screen that was open while its editor signed in
    anew elsewhere."""
    response = JsonResponse({"csrf": get_token(request)})
    response["Cache-Control"] = "no-store"
    return response


@require_POST
def sign_in_demo(request: HttpRequest) -> HttpResponse:
    """One click in, on a demo start only."""
    if not settings.DEMO:
        raise Http404
    editor = get_object_or_404(Editor, username=settings.DEMO_EDITOR)
    login(request, editor, backend="innerhop.library.access.Backend")
    # Back to where they were, and to no other host.
    wanted = request.POST.get("next", "")
    is_ours = url_has_allowed_host_and_scheme(wanted, {request.get_host()}, request.is_secure())
    return redirect(wanted if is_ours else "sites")


def locked_out(request: HttpRequest, *_args: object, **_kwargs: object) -> HttpResponse:
    """What someone sees after too many wrong passwords."""
    response = render(request, "frame/locked_out.html", status=429)
    response["Retry-After"] = str(round(settings.AXES_COOLOFF_TIME * 3600))
    return response


def form_too_old(request: HttpRequest, reason: str = "") -> HttpResponse:
    """What someone sees when a form's guard against forgery has run out."""
    message = "This form has been open too long, or cookies are off. Load the page and try again."
    return _plain(request, "Try once more", message, 403)


def not_found(request: HttpRequest, exception: Exception) -> HttpResponse:
    """No such screen, or not for who asks."""
    message = "There is no such page here, or it is of a site that you don’t belong to."
    return _plain(request, "Not here", message, 404)


def failed(request: HttpRequest) -> HttpResponse:
    """Something broke on our side. The database perhaps, so nothing is asked of it; when
    that is all, the answer is the one of a service that will be back."""
    message, status, is_passing = faults.told(sys.exc_info()[1])
    if request.headers.get("Accept", "").startswith("application/json"):
        return JsonResponse({"message": message}, status=status)
    said = {"message": message, "built": built(), "number": getattr(request, "number", "")}
    page = loader.get_template("frame/broken.html").render(said)
    return HttpResponse(page, status=status, headers={"Retry-After": "10"} if is_passing else {})


def _plain(request: HttpRequest, title: str, message: str, status: int) -> HttpResponse:
    if request.headers.get("Accept", "").startswith("application/json"):
        return JsonResponse({"message": message}, status=status)
    return render(request, "frame/plain.html", {"title": title, "message": message}, status=status)


@require_GET
@for_editors
def find(request: HttpRequest, site: Site) -> HttpResponse:
    """Pages, sections and marks for a search field, as JSON."""
    near = None
    if _number(request, "near"):
        near = Page.objects.filter(site=site, pk=_number(request, "near")).first()
    asked = request.GET.get("q", "")[:_LONGEST].replace("\0", "")
    pages = bool(request.GET.get("pages"))
    from_ = _number(request, "from")
    start = page_of(site, from_) if from_ else None
    found = ends.find(site, asked, near, pages)
    if not asked.strip():  # first what is called as the words are that are to lead there
        alike = ends.called(site, request.GET.get("words", "")[:_LONGEST].replace("\0", ""), near)
        found = list(dict.fromkeys([*alike, *found]))
    rows = [_row(one, start or near) for one in found]
    read = _read(request, start, asked) if start and asked.strip() else None
    if start is None or read is None:
        return JsonResponse({"found": rows, "message": ""})
    typed = [_typed_row(read, start)] if read.arrives else []
    typed += [_likely_row(one, start) for one in read.likely]
    known = {(one["page"], one["id"]) for one in typed}
    rows = [one for one in rows if not one["id"] or (one["page"], one["id"]) not in known]
    return JsonResponse({"found": [*typed, *rows], "message": read.message})


def _read(request: HttpRequest, start: Page, asked: str) -> typed_addresses.Understood | None:
    """What was typed, read from a page; an item of a menu stands on others, too."""
    here = f"“{start.title}”" if request.GET.get("menu") else "this page"
    return typed_addresses.understand(start, asked, here)


_LONGEST = 2_000  # characters of an address


def _number(request: HttpRequest, name: str) -> int:
    """A page's primary key in the address, 0 for none."""
    return number_asked(request.GET.get(name, ""))


def _typed_row(read: typed_addresses.Understood, start: Page) -> dict[str, object]:
    """What was typed, as an end to choose."""
    if read.page is None:
        more = {"kind": "outside", "title": read.outside, "outside": read.outside}
        return {
            "page": None,
            "pageTitle": "another site",
            "id": "",
            "number": None,
            "here": False,
            **more,
        }
    title = ends.title_of(read.page, read.id) or ("Words on it" if read.directive else "Its top")
    found = ends.FoundEnd("mark" if read.id else "page", read.page, title, read.id, None)
    return {**_row(found, start), "directive": read.directive}


def _likely_row(guess: Guess, start: Page) -> dict[str, object]:
    if guess.marks is not None:
        title = mark_words.words_of(current(guess.page).source, guess.marks)
        found = ends.FoundEnd("section", guess.page, title or "a part", "", guess.marks)
        return {**_row(found, start), "why": guess.why}
    title = ends.title_of(guess.page, guess.id) or guess.page.title
    found = ends.FoundEnd("mark" if guess.id else "page", guess.page, title, guess.id, None)
    return {**_row(found, start), "why": guess.why}


def _row(end: ends.FoundEnd, near: Page | None) -> dict[str, object]:
    return {
        "kind": end.kind,
        "title": end.title,
        "id": end.id,
        "generated": bool(end.id) and looks_generated(end.id),
        "number": end.number,
        "depth": end.depth,
        "what": end.what,
        "shared": end.is_shared,
        "page": end.page.pk,
        "pageTitle": end.page.title,
        "path": end.page.path,
        "here": near is not None and near.pk == end.page.pk,
        "url": end.page.get_absolute_url(),
    }
