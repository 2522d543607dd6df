"""How the package that keeps accounts is told what is different here."""

from __future__ import annotations

import base64
import hashlib

from allauth.account.adapter import DefaultAccountAdapter, get_adapter
from allauth.core.internal import httpkit
from allauth.mfa.adapter import DefaultMFAAdapter
from allauth.mfa.models import Authenticator
from cryptography.fernet import Fernet
from django.conf import settings
from django.http import HttpRequest

from innerhop.library.models import Editor

NOBODYS = "0.0.0.0"


class Accounts(DefaultAccountAdapter):  # type: ignore[misc]
    """Nobody signs up: accounts are made by who was invited."""

    def is_open_for_signup(self, request: HttpRequest) -> bool:
        """Never."""
        return False

    def get_client_ip(self, request: HttpRequest) -> str:
        """Whose request it is: past as many proxies as are trusted, and no others (RFC 7239, 8.1:
        whoever asks can write into that header what they like). NOBODYS where the server asks
        over a socket of its own machine, and no proxy is trusted."""
        return httpkit.get_client_ip(request) or NOBODYS


class SecondSteps(DefaultMFAAdapter):  # type: ignore[misc]
    """What second steps rest on is kept so that a copy of the database alone tells nobody."""

    def encrypt(self, text: str) -> str:
        """A secret, as it is kept."""
        return _box().encrypt(text.encode()).decode()

    def generate_authenticator_name(self, user: Editor, type: str) -> str:
        """What a passkey is called until somebody calls it otherwise."""
        count = Authenticator.objects.filter(user=user, type=type).count()
        return f"Passkey {count + 1}" if count else "Passkey"

    def decrypt(self, encrypted_text: str) -> str:
        """The secret again."""
        return _box().decrypt(encrypted_text.encode()).decode()


def _box() -> Fernet:
    key = hashlib.sha256(f"second steps {settings.SECRET_KEY}".encode()).digest()
    return Fernet(base64.urlsafe_b64encode(key))


def client_address(request: HttpRequest) -> str:
    """The same, for what counts wrong passwords."""
    address: str = get_adapter(request).get_client_ip(request)
    return address
