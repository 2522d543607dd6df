"""Sessions that are open, for who asks a server without a browser."""

from __future__ import annotations

from django.conf import settings
from django.contrib.auth import BACKEND_SESSION_KEY, HASH_SESSION_KEY, SESSION_KEY
from django.contrib.sessions.backends.db import SessionStore

from innerhop.library.models import Editor


def cookie_of(editor: Editor) -> str:
    """The cookie of a new session of theirs."""
    session = SessionStore()
    session[SESSION_KEY] = str(editor.pk)
    session[BACKEND_SESSION_KEY] = "innerhop.library.access.Backend"
    session[HASH_SESSION_KEY] = editor.get_session_auth_hash()
    session.save()
    return f"{settings.SESSION_COOKIE_NAME}={session.session_key}"
