"""Settings that would let a page's own scripts meet the editors' cookies are refused."""

from __future__ import annotations

import ipaddress
from collections.abc import Iterator
from typing import Any

from django.conf import settings
from django.core.checks import CheckMessage, Error, Tags, register
from publicsuffixlist import PublicSuffixList


def register_checks() -> None:
    """Have Django run them with every command."""
    register(hosts_apart, Tags.security)
    register(behind_a_proxy, Tags.security, deploy=True)


def hosts_apart(**_: Any) -> list[CheckMessage]:
    """Editors' and visitors' host names may not lie under one registrable domain: a page there
    could set cookies for the editors' (RFC 6265bis, 8.6, “Weak Integrity”)."""
    return [
        Error(
            f"Pages are shown under {shown}, which lies under {domain} as the editors’ "
            f"screens at {editors} do: a page's script could set their cookies.",
            hint="Show pages under a domain of their own: set VISITOR_HOSTS to it.",
            id="innerhop.E001",
        )
        for editors, shown, domain in _met(settings.EDITOR_HOSTS, settings.VISITOR_HOSTS)
    ]


def behind_a_proxy(**_: Any) -> list[CheckMessage]:
    """On a server, TLS ends at a proxy in front, and mails lead back to it."""
    found: list[CheckMessage] = []
    if settings.ALLAUTH_TRUSTED_PROXY_COUNT < 1:
        found.append(
            Error(
                "No proxy is trusted, so nobody is known to come by TLS, and all seem to come "
                "from one address.",
                hint="Set TRUSTED_PROXIES to how many of your own stand in front.",
                id="innerhop.E002",
            )
        )
    if not settings.EDITOR_ADDRESS.startswith("https://"):
        found.append(
            Error(
                "Mails can't lead back: EDITOR_ADDRESS says no address that begins with https://.",
                hint="Set EDITOR_ADDRESS, such as https://hops.example.org.",
                id="innerhop.E003",
            )
        )
    return found


def _met(editors: list[str], visitors: list[str]) -> Iterator[tuple[str, str, str]]:
    suffixes = PublicSuffixList()
    for one in editors:
        domain = _domain(one, suffixes)
        for shown in visitors:
            if domain and domain == _domain(shown, suffixes):
                yield one, shown, domain


def _domain(host: str, suffixes: PublicSuffixList) -> str:
    """The registrable domain of a host name or of all names that end so; for what has none,
    an address or a single name, itself (https://publicsuffix.org/list/)."""
    name = host.strip().removeprefix("*").strip(".").lower()
    try:
        return str(ipaddress.ip_address(name))
    except ValueError:
        found: str | None = suffixes.privatesuffix(name)
        return found or name
