"""Dressing a page for the sheet: each start tag gets its element's number, our
one script goes in front of everything, and addresses of the site's own files
are led to where the sheet can fetch them.

It is all done as edits on the page's text, so the sheet's tree is the page's.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass
from html import escape

from innerhop.core.addresses import urls
from innerhop.core.addresses.elsewhere import elsewhere_name
from innerhop.core.edits import Edit, apply
from innerhop.core.site import page_parts
from innerhop.core.source.tree import Source

NUMBER = "data-hop-n"
ELSEWHERE = "-/elsewhere/"  # what stands before the names of files of other hosts

# What the sheet fetches, each with the attributes that name it; scripts don't run there.
_FETCHING = {tag: names for tag, names in page_parts.FETCHING.items() if tag != "script"} | {
    "link": ("href",),
    "base": ("href",),
}
_DOCTYPE = re.compile(r"(?:\s|<!--.*?-->)*<!doctype[^>]*>", re.IGNORECASE | re.DOTALL)


@dataclass(frozen=True, slots=True)
class FileAddresses:
    """How the sheet reaches the site's files: `folder` stands for the site's root. elsewhere: the
    names of the files of other hosts that are kept."""

    folder: str
    page_address: str
    base: str
    elsewhere: frozenset[str] = frozenset()

    def leads(self, address: str) -> str:
        """An address of this site as one the sheet can fetch; others as they are.

        Addresses relative to the page need nothing: the sheet has the page's path.
        """
        found = urls.resolve(address, self.base)
        own = urls.resolve("/", self.page_address)
        relative = not re.match(r"[/\\]|[a-z][a-z0-9+.-]*:", address.strip(), re.IGNORECASE)
        if self.elsewhere and found and elsewhere_name(found.href) in self.elsewhere:
            return f"{self.folder}/{ELSEWHERE}{elsewhere_name(found.href)}"
        if found is None or own is None or found.origin != own.origin or relative:
            return address
        tail = f"#{found.fragment}" if found.fragment is not None else ""
        return f"{self.folder}{found.path}{found.query}{tail}"

    def leads_css(self, css: str) -> str:
        """A style sheet whose addresses are led the same way."""
        return page_parts.CSS_ADDRESS.sub(lambda found: found[1] + self.leads(found[2]), css)


def dress(source: Source, way: FileAddresses, script: str) -> str:
    """The page's text for the sheet. script: the tag of our own script."""
    return apply(source.text, [Edit(_front(source), "", script), *_numbers(source, way)])


def dress_body(source: Source, way: FileAddresses) -> str:
    """The body of a post for the sheet, to be put in its frame."""
    return apply(source.text, _numbers(source, way))


def _numbers(source: Source, way: FileAddresses) -> Iterator[Edit]:
    for number in range(len(source)):
        place = source.after_tag_name(number)
        if place is not None:
            yield Edit(place, "", f' {NUMBER}="{number}"')
    for number, tag in enumerate(source.tags):
        if tag in _FETCHING or tag in ("meta", "style"):
            yield from _lead(source, number, tag, way)
    for element in source.having("style"):
        style = element.attr("style") or ""
        if "url(" in style:
            yield from _rewrite(source, element.number, "style", way.leads_css(style))


def _lead(source: Source, number: int, tag: str, way: FileAddresses) -> Iterator[Edit]:
    if tag == "meta" and (source.attr(number, "http-equiv") or "").lower() in _META_THAT_ACT:
        yield from _rewrite(source, number, "http-equiv", "x-left-out")
    if tag == "style":
        yield from _lead_style(source, number, way)
    for name in _FETCHING.get(tag, ()):
        value = source.attr(number, name)
        if value is not None:
            led = _lead_set(value, way) if name == "srcset" else way.leads(value)
            if led != value:
                yield from _rewrite(source, number, name, led)


# A page that sends itself elsewhere, or forbids our script, does so for visitors only.
_META_THAT_ACT = ("refresh", "content-security-policy")


def _lead_set(value: str, way: FileAddresses) -> str:
    found = page_parts.candidates(value)
    return ", ".join(" ".join((way.leads(address), *size)) for address, *size in found)


def _lead_style(source: Source, number: int, way: FileAddresses) -> Iterator[Edit]:
    opening, closing = source.start_tag(number), source.end_tag(number)
    if opening and closing:
        css = source.text[opening.end : closing.start]
        led = way.leads_css(css)
        if led != css:
            yield Edit(opening.end, css, led)


def _rewrite(source: Source, number: int, name: str, value: str) -> Iterator[Edit]:
    span = source.attribute(number, name)
    if span is not None:
        yield Edit(span.start, source.original(span), f'{name}="{escape(value)}"')


def _front(source: Source) -> int:
    """Where a script comes before all else of the page without changing its tree:
    right behind the head's tag, or the document's, or the doctype."""
    for number in (1, 0):
        tag = source.start_tag(number) if number < len(source) else None
        if tag is not None:
            return tag.end
    doctype = _DOCTYPE.match(source.text)
    return doctype.end() if doctype else 0
