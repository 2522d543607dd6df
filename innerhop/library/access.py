"""Who may sign in: the demo's editor, whose password is published, on a demo start only."""

from __future__ import annotations

from functools import lru_cache

from django.conf import settings
from django.contrib.auth.backends import ModelBackend
from django.contrib.auth.hashers import check_password
from django.contrib.auth.models import AnonymousUser

from innerhop.library.models import Editor

PUBLISHED = "marrowby-lock-7"  # the demo editor's password, which the README names


class Backend(ModelBackend):
    """Django's own, which lets nobody in, or stay in, with the published password where
    the demo is not what runs."""

    def user_can_authenticate(self, user: Editor | AnonymousUser | None) -> bool:
        if not isinstance(user, Editor) or not super().user_can_authenticate(user):
            return False
        is_demo = user.get_username() == settings.DEMO_EDITOR and not settings.DEMO
        return not (is_demo and _is_published(user.password))


@lru_cache(maxsize=8)
def _is_published(kept: str) -> bool:
    """Whether a kept password is the published one; slow to find out, so once each."""
    return check_password(PUBLISHED, kept)
