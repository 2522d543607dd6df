"""How tags and values are written into markup, which nothing else spells: no more escaping than
reading needs, and only characters that the page's own encoding has."""

from __future__ import annotations

import html
import re
from collections.abc import Mapping

from innerhop.core.edits import Edit
from innerhop.core.source.file_encoding import FileEncoding

# HTML Standard 13.1.2.3: what an unquoted attribute value may not hold.
_NEEDS_QUOTES = re.compile("[\t\n\f\r \"'=<>`]")


def attribute(name: str, value: str, encoding: FileEncoding, like: str = "") -> str:
    """`name="value"` as it stands in a tag.

    like: the attribute as it stands there now, whose quotes are kept.
    """
    written = escape(value, encoding)
    bare = re.fullmatch(r"[^=\s]+\s*=\s*[^\"'\s].*", like, re.DOTALL)
    if bare and written and not _NEEDS_QUOTES.search(written) and not written.endswith("/"):
        return f"{name}={written}"
    if like.endswith("'") and "'" not in written:
        return f"{name}='{written}'"
    return f'{name}="{written.replace(chr(34), "&quot;")}"'


def kept(values: Mapping[str, str | None]) -> dict[str, str]:
    """The attributes that a new tag has: those with a value."""
    return {name: value for name, value in values.items() if value is not None}


def attributes(values: Mapping[str, str | None], encoding: FileEncoding) -> str:
    """Attributes as they stand in a new tag, each with a space before it."""
    return "".join(f" {attribute(name, value, encoding)}" for name, value in kept(values).items())


def start_tag(tag: str, values: Mapping[str, str | None], encoding: FileEncoding) -> str:
    """A new start tag."""
    return f"<{tag}{attributes(values, encoding)}>"


def end_tag(tag: str) -> str:
    """A new end tag."""
    return f"</{tag}>"


def element(
    tag: str, values: Mapping[str, str | None], inside: str, encoding: FileEncoding
) -> str:  # fmt: skip
    """A new element. inside: what it holds, as it is written."""
    return f"{start_tag(tag, values, encoding)}{inside}{end_tag(tag)}"


def may_have_head(page: str) -> bool:
    """Whether a page's text may have a head of its own, told without reading it as a tree."""
    small = page.lower()
    return "</head" in small or "</title" in small


def alone(written: str) -> str:
    """A page of which the body holds that and nothing else, to be read by itself."""
    return f"<!doctype html><body>{written}"


def raw_text(tag: str, inside: str) -> str:
    """A new element of which the text is no markup (HTML Standard 13.1.2), such as a style."""
    return f"<{tag}>{inside}{end_tag(tag)}"


def new_value(start: int, old: str, name: str, value: str, encoding: FileEncoding) -> Edit:
    """The edit that gives an attribute, which stands as `old` at `start`, another
    value: between its quotes where it has some, and nothing else of it."""
    quoted = re.fullmatch(r"([^=]*=\s*)([\"'])(.*)\2", old, re.DOTALL)
    if quoted is None:
        return Edit(start, old, attribute(name, value, encoding, like=old))
    before, quote, inner = quoted.groups()
    reference = "&quot;" if quote == '"' else "&#39;"
    written = escape(value, encoding).replace(quote, reference)
    return Edit(start + len(before) + 1, inner, written)


def escape(value: str, encoding: FileEncoding) -> str:
    """A value as it stands between quotes: `&` as a reference where it would begin
    one (HTML Standard 13.2.5.72), and all that the encoding can't write."""
    return _as_references(re.sub(r"&(?=[#a-zA-Z0-9])", "&amp;", value), encoding)


def text(words: str, encoding: FileEncoding) -> str:
    """Words as they stand between tags: nothing in them is markup."""
    return _as_references(html.escape(words, quote=False), encoding)


def _as_references(written: str, encoding: FileEncoding) -> str:
    if encoding.can_write(written):
        return written
    return "".join(c if encoding.can_write(c) else f"&#{ord(c)};" for c in written)
