"""Leaving: an account ends, and what was done with it stays in the history of its sites."""

from __future__ import annotations

from django.conf import settings
from django.db import transaction

from innerhop.core.refusals import CONFLICT, Refusal
from innerhop.library.models import Editor, Membership, Site


class CannotLeave(Refusal):
    """An account can't end yet; says what to do first."""

    status = CONFLICT


def leave(editor: Editor) -> None:
    """End an account for good: who had it is out of all sites and sessions, and what they did is
    somebody's who left. Sentences of the history that name them stay. Raises CannotLeave while
    they are the only owner of a site."""
    if settings.DEMO and editor.get_username() == settings.DEMO_EDITOR:
        raise CannotLeave("The demo goes with this account, so it stays.")
    with transaction.atomic():
        owned = Site.objects.filter(
            membership__editor=editor, membership__role=Membership.Role.OWNER
        )
        for site in owned.select_for_update(no_key=True, of=("self",)):
            others = site.membership_set.filter(role=Membership.Role.OWNER).exclude(editor=editor)
            if not others.filter(editor__is_active=True).exists():
                raise CannotLeave(
                    f"You are the only owner of “{site.name}”. Let another own it, or delete it, "
                    "then leave."
                )
        editor.delete()
