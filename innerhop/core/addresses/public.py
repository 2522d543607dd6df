"""Which addresses may be fetched for an editor: those that the whole world can reach, and none of
the network that this application stands in."""

from __future__ import annotations

import ipaddress

import ada_url

from innerhop.core.refusals import Refusal

_PORTS = {"http:": "", "https:": ""}  # URL Standard: the port is "" where it is the scheme's own
# Such names are of the machine itself or of its own network: RFC 6761, RFC 6762, RFC 8375.
_OWN_NAMES = ("localhost", "local", "internal", "home.arpa", "invalid", "test", "onion")
# https://www.rfc-editor.org/rfc/rfc6052: an IPv4 address inside one of these is what is reached.
_TRANSLATED = ipaddress.IPv6Network("64:ff9b::/96")
Address = ipaddress.IPv4Address | ipaddress.IPv6Address


class NotPublic(Refusal):
    """An address that isn't fetched; says why."""


def is_public(address: str) -> bool:
    """Whether an IP address is one that the whole world can reach.

    By the registries of special addresses of IPv4 and IPv6 (RFC 6890), through which an IPv4
    address inside an IPv6 one is judged by itself.

    >>> is_public("93.184.216.34"), is_public("10.0.0.7"), is_public("::ffff:127.0.0.1")
    (True, False, False)
    """
    try:
        found = ipaddress.ip_address(address.partition("%")[0])
    except ValueError:
        return False
    return all(one.is_global and not one.is_multicast for one in _inside(found))


def _inside(address: Address) -> list[Address]:
    """An address, and the IPv4 addresses that it carries."""
    if isinstance(address, ipaddress.IPv4Address):
        return [address]
    carried: list[Address] = []
    if address.ipv4_mapped is not None:
        return [address.ipv4_mapped]
    if address.sixtofour is not None:
        carried.append(address.sixtofour)
    if address.teredo is not None:
        carried += address.teredo
    if address in _TRANSLATED:
        return [ipaddress.IPv4Address(int(address) & 0xFFFFFFFF)]
    return [address, *carried]


def require(href: str, let_through: frozenset[str] = frozenset()) -> None:
    """Raise NotPublic where a whole address is none to be fetched, as far as it tells by itself:
    what its name stands for is judged when that is looked up. let_through: hosts with their
    ports, as the URL Standard writes them, that are fetched all the same."""
    try:
        url = ada_url.URL(href)
    except ValueError:
        raise NotPublic(f"{href} can't be read as an address") from None
    if url.protocol not in _PORTS:
        raise NotPublic(f"{href} is neither http nor https")
    if url.username or url.password:
        raise NotPublic(f"the address of {url.host} holds a name or a password, which isn't sent")
    if url.host in let_through:
        return
    if url.port != _PORTS[url.protocol]:
        raise NotPublic(f"{url.host} is on a port of its own, and only 80 and 443 are fetched from")
    name = url.hostname.strip("[]").rstrip(".")
    if _is_literal(name):
        if not is_public(name):
            raise NotPublic(f"{url.hostname} is an address inside a network, not a public one")
    elif "." not in name or name.rpartition(".")[2] in _OWN_NAMES or name.endswith(".home.arpa"):
        raise NotPublic(f"{url.hostname} is a name inside a network, not a public one")


def _is_literal(name: str) -> bool:
    try:
        ipaddress.ip_address(name)
    except ValueError:
        return False
    return True
