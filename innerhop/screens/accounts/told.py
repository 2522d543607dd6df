"""What happens to accounts, logged: who came in, from where, who tried in vain, and what became of
their password and second step. Never what was typed (OWASP ASVS 5, 16.3)."""

from __future__ import annotations

import logging
from typing import Any

from allauth.account import signals as account
from allauth.mfa import signals as mfa
from axes.signals import user_locked_out
from django.contrib.auth import signals as auth
from django.dispatch import Signal
from django.http import HttpRequest

from innerhop.library.models import Editor
from innerhop.screens.accounts.adapters import client_address

_log = logging.getLogger("innerhop.accounts")

EVENTS: dict[Signal, str] = {
    auth.user_logged_in: "came in",
    auth.user_logged_out: "went out",
    auth.user_login_failed: "wrong password",
    user_locked_out: "shut out for a while",
    account.password_changed: "password changed",
    account.password_set: "password set",
    account.password_reset: "password set anew by a mail",
    account.email_changed: "mail address changed",
    mfa.authenticator_added: "second step added",
    mfa.authenticator_removed: "second step removed",
    mfa.authenticator_reset: "codes for a lost phone made anew",
}


def listen() -> None:
    """Log each of them from here on."""
    for signal in EVENTS:
        signal.connect(_tell)


def _tell(signal: Signal, request: HttpRequest | None = None, **about: Any) -> None:
    editor = about.get("user") or _known(about)
    who = f"account {editor.pk}" if editor is not None and editor.pk else "no account"
    whence = client_address(request) if request is not None else "this machine"
    _log.info("%s: %s, from %s", EVENTS[signal], who, whence)


def _known(about: dict[str, Any]) -> Editor | None:
    """Whose account was tried. A name that is nobody's may be a password in the wrong field."""
    name = (about.get("credentials") or {}).get("username") or about.get("username") or ""
    return Editor.objects.filter(username=name).first() if name else None
