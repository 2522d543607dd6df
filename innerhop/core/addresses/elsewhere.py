"""Files of other hosts, by what tells one from another: the scheme doesn't."""

from __future__ import annotations

from innerhop.core.addresses import urls


def elsewhere_name(address: str) -> str:
    """A whole address without its scheme and fragment; "" for what is none of the web.

    >>> elsewhere_name("https://fonts.example/css?family=Lock#a")
    'fonts.example/css?family=Lock'
    """
    found = urls.resolve(address, address)
    if found is None or not found.origin.startswith(("http://", "https://")):
        return ""
    return f"{found.origin.partition('//')[2]}{found.path}{found.query}"
