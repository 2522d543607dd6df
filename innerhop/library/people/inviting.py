"""Invitations: somebody is asked into a site by mail, and comes in with an account of their own."""

from __future__ import annotations

import secrets
from dataclasses import dataclass
from datetime import timedelta

from allauth.account.models import EmailAddress
from django.conf import settings
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.core.mail import EmailMessage
from django.core.validators import validate_email
from django.db import IntegrityError, transaction
from django.db.models import QuerySet
from django.urls import reverse
from django.utils import timezone

from innerhop.core.refusals import Refusal
from innerhop.library import doing
from innerhop.library.acts.people_acts import ROLES
from innerhop.library.models import Editor, Invitation, Site
from innerhop.library.querysets import can_be_kept

LASTS = timedelta(days=7)
_AT_ONCE = 50  # of a site that wait
_LONGEST_NAME = 60


class CannotInvite(Refusal):
    """Nobody is invited so; says what to do."""


class CannotJoin(Refusal):
    """What was typed can't be an account; says why."""


@dataclass(frozen=True)
class Newcomer:
    """Who comes in: the name to sign in with, the one to be called by, and the password."""

    name: str
    called: str
    password: str


def open_for(site: Site) -> QuerySet[Invitation]:
    """The invitations into a site that wait for an answer."""
    return site.invitations.filter(accepted=None, made__gt=timezone.now() - LASTS)


def find(key: str) -> Invitation | None:
    """The invitation with that key, where it still can be answered."""
    if not can_be_kept(key):
        return None
    rows = Invitation.objects.filter(key=key, accepted=None, made__gt=timezone.now() - LASTS)
    found: Invitation | None = rows.select_related("site", "inviter").first()
    return found if found and found.site.removed is None else None


def invite(inviter: Editor, site: Site, email: str, role: str, hands_over: bool) -> Invitation:
    """Ask somebody into a site, by a mail with a link that lasts a week. Raises doing.MayNot,
    CannotInvite, and what sending a mail raises; then nobody is invited."""
    doing.require(inviter, site, doing.PEOPLE)
    email = email.strip()
    try:
        validate_email(email)
    except ValidationError:
        raise CannotInvite("That is no mail address. One looks like jo@example.org.") from None
    if role not in ROLES:
        raise CannotInvite("Choose what they are to be on the site.")
    if site.editors.filter(email__iexact=email).exists():
        raise CannotInvite("Somebody with this address belongs to the site already.")
    if open_for(site).count() >= _AT_ONCE:
        raise CannotInvite(f"{_AT_ONCE} invitations wait already. Take some back first.")
    with transaction.atomic():
        open_for(site).filter(email__iexact=email).delete()  # the new link is the one that works
        found: Invitation = Invitation.objects.create(
            site=site, email=email, role=role, hands_over=hands_over, inviter=inviter,
            key=secrets.token_urlsafe(32),
        )  # fmt: skip
        _mail(found).send()
    return found


def _mail(invitation: Invitation) -> EmailMessage:
    link = settings.EDITOR_ADDRESS + reverse("join", args=[invitation.key])
    inviter, site = invitation.inviter.called, invitation.site
    lines = (
        f"{inviter} asks you to work on {site.name} ({site.address}) in Inner Hop, as "
        f"{invitation.get_role_display().lower()}: one who {ROLES[invitation.role]}.",
        f"Come in here, within a week: {link}",
        "If you don't know what this is about, do nothing: without you, nothing comes of it.",
    )
    return EmailMessage(f"{inviter} asks you to {site.name}", "\n\n".join(lines),
                        to=[invitation.email])  # fmt: skip


def accept(invitation: Invitation, editor: Editor) -> None:
    """Let somebody into the site that they were asked to. Raises doing.MayNot where who asked
    may not any more, and what the act raises."""
    with transaction.atomic():
        rows = Invitation.objects.select_for_update().filter(pk=invitation.pk, accepted=None)
        if not rows.update(accepted=timezone.now(), editor=editor):
            raise CannotJoin("This invitation has been answered already.")
        asked = {"editor": editor.pk, "role": invitation.role, "hands_over": invitation.hands_over}
        if not invitation.site.editors.filter(pk=editor.pk).exists():
            doing.do(invitation.inviter, doing.PEOPLE, invitation.site, asked)


def join(invitation: Invitation, newcomer: Newcomer) -> Editor:
    """Make an account for who was invited, and let them in. Their address is known to be theirs:
    the link went to it. Raises CannotJoin, and the same."""
    name, called = newcomer.name.strip(), " ".join(newcomer.called.split())
    if not name or not called or not can_be_kept(name + called + newcomer.password):
        raise CannotJoin("Type a name to sign in with, and one to be called by.")
    if max(len(name), len(called)) > _LONGEST_NAME:
        raise CannotJoin(f"A name has up to {_LONGEST_NAME} characters.")
    first, _, last = called.partition(" ")
    editor = Editor(username=name, first_name=first, last_name=last, email=invitation.email)
    try:
        Editor.username_validator(name)
        validate_password(newcomer.password, editor)
    except ValidationError as problem:
        raise CannotJoin(" ".join(problem.messages)) from None
    editor.set_password(newcomer.password)
    try:
        with transaction.atomic():
            if Editor.objects.filter(username__iexact=name).exists():
                raise IntegrityError
            editor.save()
            EmailAddress.objects.create(
                user=editor, email=invitation.email.lower(), verified=True, primary=True
            )
            accept(invitation, editor)
    except IntegrityError:
        raise CannotJoin(
            "Somebody signs in with this name, or has this address, already. If that is you, sign "
            "in, and open the link of the invitation once more."
        ) from None
    return editor
