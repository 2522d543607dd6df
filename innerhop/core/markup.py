"""How values are written into markup: no more escaping than reading needs, and
only characters that the page's own encoding has."""

from __future__ import annotations

import re

from innerhop.core.encoding import Spelling

# HTML Standard 13.1.2.3: what an unquoted attribute value may not hold.
_NEEDS_QUOTES = re.compile("[\t\n\f\r \"'=<>`]")


def attribute(name: str, value: str, spelling: Spelling, like: str = "") -> str:
    """`name="value"` as it stands in a tag.

    like: the attribute as it stands there now, whose quotes are kept.
    """
    written = _escape(value, spelling)
    bare = re.fullmatch(r"[^=\s]+\s*=\s*[^\"'\s].*", like, re.DOTALL)
    if bare and written and not _NEEDS_QUOTES.search(written) and not written.endswith("/"):
        return f"{name}={written}"
    if like.endswith("'") and "'" not in written:
        return f"{name}='{written}'"
    return f'{name}="{written.replace(chr(34), "&quot;")}"'


def _escape(value: str, spelling: Spelling) -> str:
    """`&` where it would begin a character reference (HTML Standard 13.2.5.72),
    and as references all that the encoding can't write."""
    escaped = re.sub(r"&(?=[#a-zA-Z0-9])", "&amp;", value)
    if spelling.can_write(escaped):
        return escaped
    return "".join(c if spelling.can_write(c) else f"&#{ord(c)};" for c in escaped)
