"""Editors are told of hops that broke on the site: by mail, and by a feed."""

from __future__ import annotations

import logging
import secrets
from collections.abc import Iterable, Mapping
from smtplib import SMTPException
from typing import Any

from django.conf import settings
from django.core.mail import EmailMessage, get_connection
from django.db import transaction
from django.urls import reverse

from innerhop.core.counting import counted
from innerhop.library.models import Editor, Look, Membership, Site

_log = logging.getLogger(__name__)
_IN_FEED = 30  # looks
_IN_MAIL = 50  # hops

Told = Mapping[str, Any]  # of `Look.changed`


def broke(look: Look) -> list[Told]:
    """The hops that broke since the look before."""
    return [one for one in look.changed if one["what"] == "broke"]


def mended(look: Look) -> list[Told]:
    """The hops that led nowhere before, and do no more."""
    return [one for one in look.changed if one["what"] == "mended"]


def title(look: Look) -> str:
    """What a look found new, in one line."""
    said = []
    if broke(look):
        said.append(f"{counted(len(broke(look)), 'hop')} broke")
    if mended(look):
        verb = "was" if len(mended(look)) == 1 else "were"
        said.append(f"{counted(len(mended(look)), 'hop')} {verb} mended")
    return f"{look.site.name}: {' and '.join(said) or 'nothing new'}"


def lines(changed: Iterable[Told]) -> list[str]:
    """A sentence for each hop."""
    return [f"“{one['words']}” on “{one['title']}” ({one['path']}) to {one['href']}: {one['why']}"
            for one in changed]  # fmt: skip


def in_feed(site: Site) -> list[Look]:
    """The looks that found something new, the newest first."""
    return list(site.looks.select_related("site").exclude(changed=[])[:_IN_FEED])


def mailing(editor: Editor, site: Site) -> bool:
    """Whether an editor is written to."""
    return Membership.objects.filter(editor=editor, site=site, mails=True).exists()


@transaction.atomic
def set_mailing(editor: Editor, site: Site, on: bool, address: str = "") -> None:
    """Whether an editor is to be written to. address: where to; "" for the one that is known."""
    if address:
        editor.email = address
        editor.save(update_fields=["email"])
    Membership.objects.filter(editor=editor, site=site).update(mails=on)


def new_feed_key(site: Site) -> None:
    """Give a site's feed an address that nobody can guess; the one before ends."""
    site.feed_key = secrets.token_urlsafe(32)
    site.save(update_fields=["feed_key"])


def end_feed(site: Site) -> None:
    """Whoever has the feed's address gets nothing more."""
    site.feed_key = ""
    site.save(update_fields=["feed_key"])


def tell(look: Look) -> None:
    """Write to those who want it, where something broke. Within a transaction: after its end."""
    transaction.on_commit(lambda: tell_now(look))


def tell_now(look: Look) -> None:
    """Write to those who want it, where something broke."""
    members = Membership.objects.filter(site=look.site, mails=True, editor__is_active=True)
    to = [one for one in members.values_list("editor__email", flat=True) if one]
    if to and broke(look):
        _send(look, to)


def _send(look: Look, to: list[str]) -> None:
    said = lines(broke(look))
    more = [f"And {len(said) - _IN_MAIL} more."] if len(said) > _IN_MAIL else []
    if settings.EDITOR_ADDRESS:
        more.append(settings.EDITOR_ADDRESS + reverse("live", args=[look.site.slug]))
    text = "\n\n".join(["These lead nowhere now, and did not before:", *said[:_IN_MAIL], *more])
    subject = " ".join(title(look).split())  # a name may hold a line's end, a header may not
    mails = [EmailMessage(subject, text, to=[one]) for one in to]
    try:
        with get_connection() as connection:
            connection.send_messages(mails)
    except (OSError, SMTPException):  # what was seen stands, whoever is told of it
        _log.exception("mails can't be sent")
