"""The files that a page needs to look as it does: styles, pictures, fonts, scripts."""

from __future__ import annotations

import re
from collections.abc import Iterator

from innerhop.core.addresses import urls
from innerhop.core.facts.page_facts import Facts
from innerhop.core.source.tree import Source

# HTML Standard, "Attributes" index: what fetches something, beside `link`.
FETCHING = {
    "img": ("src", "srcset"),
    "source": ("src", "srcset"),
    "video": ("src", "poster"),
    "audio": ("src",),
    "track": ("src",),
    "input": ("src",),
    "script": ("src",),
    "image": ("href", "xlink:href"),
    "use": ("href", "xlink:href"),
    "body": ("background",),
    "table": ("background",),
    "td": ("background",),
}
# https://html.spec.whatwg.org/multipage/links.html#linkTypes: those that a browser fetches.
_LINKED = frozenset(("stylesheet", "icon", "apple-touch-icon", "manifest"))
# What stands before an address, and the address.
CSS_ADDRESS = re.compile(r"""(url\(\s*["']?|@import\s+["'])([^"')]+)""", re.IGNORECASE)


def parts(source: Source, base: str, *, scripts: bool = True) -> list[str]:
    """The whole addresses of what a page fetches, in their order, each once. base: what its
    addresses are resolved against. scripts: whether these are among them."""
    return _resolved(_written(source, scripts), base)


def css_parts(css: str, base: str) -> list[str]:
    """The same of a style sheet at the address `base`."""
    return _resolved(_of_css(css), base)


def _resolved(written: Iterator[str], base: str) -> list[str]:
    found = (urls.resolve(one, base) for one in written if one)
    whole = (f"{one.origin}{one.path}{one.query}" for one in found
             if one is not None and one.origin.startswith("http"))  # fmt: skip
    return list(dict.fromkeys(whole))


def _written(source: Source, scripts: bool) -> Iterator[str]:
    for element in source.of_tags(*FETCHING, "link", "style"):
        if element.tag == "script" and not scripts:
            continue
        if element.tag == "link":
            if _LINKED & set((element.attr("rel") or "").lower().split()):
                yield element.attr("href") or ""
        elif element.tag == "style":
            yield from _of_css(source.text_of(element.number))
        for name in FETCHING.get(element.tag, ()):
            value = element.attr(name) or ""
            yield from (one[0] for one in candidates(value)) if name == "srcset" else [value]
    for element in source.having("style"):
        yield from _of_css(element.attr("style") or "")


def _of_css(css: str) -> Iterator[str]:
    return (one[2] for one in CSS_ADDRESS.finditer(css))


def candidates(srcset: str) -> list[list[str]]:
    """The pictures that a `srcset` offers, each with its address, and its width or density.

    https://html.spec.whatwg.org/multipage/images.html#srcset-attributes
    """
    found = (one.split(None, 1) for one in re.split(r",\s+|,(?=/)", srcset))
    return [one for one in found if one]


def canonical(source: Source, base: str) -> str | None:
    """The address that a page names as its own, whole and without its fragment; None where it
    names none, or more than one.

    https://www.rfc-editor.org/rfc/rfc6596
    """
    named = {
        element.attr("href") or ""
        for element in source.of_tags("link")
        if "canonical" in (element.attr("rel") or "").lower().split()
    }
    if len(named) != 1:
        return None
    found = urls.resolve(named.pop(), base)
    return f"{found.origin}{found.path}{found.query}" if found else None


_FEW_WORDS, _FEW_LINKS = 25, 3


def is_drawn_by_scripts(source: Source, facts: Facts, words: int) -> bool:
    """Whether a page has next to nothing of its own to read or to follow, and scripts that may
    bring it, as pages that are drawn by their scripts alone (practice). A short page has a
    heading, or links."""
    is_bare = words < _FEW_WORDS and len(facts.links) < _FEW_LINKS and not facts.headings
    return is_bare and any(
        element.attr("src") or element.attr("type") == "module"
        for element in source.of_tags("script")
    )
