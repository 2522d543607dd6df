"""Renaming an ID: the element's own tag, what else on its page points at it, and
the fragment of every hop to it, each by touching the characters of the ID only."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping
from html import unescape

from innerhop.core.addresses import fragments
from innerhop.core.addresses.address_forms import RELATIVE, form_of
from innerhop.core.edits import Edit
from innerhop.core.facts.page_facts import Facts
from innerhop.core.formats import html
from innerhop.core.plan import Plan, of_attributes
from innerhop.core.planners.markers import CannotMark
from innerhop.core.planners.marking import mark_of, names_of
from innerhop.core.source import attributes, markup
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.core.source.tree import Source

# HTML Standard, "Attributes" index: values that are an ID or a list of IDs of the
# same tree; WAI-ARIA 1.2, 6.2.4: ID reference and ID reference list.
_REFERENCES = (
    "for", "form", "list", "headers", "itemref", "popovertarget", "commandfor",
    "aria-activedescendant", "aria-controls", "aria-describedby", "aria-details",
    "aria-errormessage", "aria-flowto", "aria-labelledby", "aria-owns",
)  # fmt: skip
# The number sign that begins the fragment, not the one of a character reference.
_HASH = re.compile("(?<!&)#")


def plan_rename(
    source: Source, facts: Facts, number: int, new: str, encoding: FileEncoding
) -> Plan:
    """Give an element's mark another name, on its own page, hops left aside; where an
    `a` has it as `id` and as `name`, both. The new ID has been checked.

    Raises CannotMark when the element has no mark, or it can't be done safely.
    """
    mark = mark_of(facts, number)
    same = [name for name, value in names_of(facts, number).items() if value == mark.value]
    asked: dict[int, dict[str, str | None]] = {number: dict.fromkeys(same, new)}
    edits = attributes.plan(source, number, asked[number], encoding)
    if mark.attribute == "id" and facts.ids()[mark.value].number == number:
        edits += _follow_references(source, mark.value, new, encoding, asked)
    return of_attributes(edits, asked)


def _follow_references(
    source: Source,
    old: str,
    new: str,
    encoding: FileEncoding,
    asked: dict[int, dict[str, str | None]],
) -> Iterable[Edit]:
    """Labels, descriptions and the like that name the element go with it."""
    edits: list[Edit] = []
    for name in _REFERENCES:
        for element in source.having(name):
            number, value = element.number, element.attr(name) or ""
            if old not in value.split() or source.attribute(number, name) is None:
                continue
            words = re.split(r"(\s+)", value)
            followed = "".join(new if word == old else word for word in words)
            edits += attributes.plan(source, number, {name: followed}, encoding)
            asked.setdefault(number, {})[name] = followed
    return edits


def plan_follow(source: Source, links: Mapping[int, str], encoding: FileEncoding) -> Plan:
    """Make links, by number, end at another ID of the page they lead to. What stands
    before the hash stays as it is written, and so does a fragment directive. Raises
    CannotMark when that can't be done safely.
    """
    edits = []
    asked = {}
    for number, id_ in links.items():
        href = source.element(number).attr("href") or ""
        edit, value = _with_fragment(source, number, href, id_, encoding)
        edits.append(edit)
        asked[number] = {"href": value}
    return of_attributes(edits, asked)


def _with_fragment(
    source: Source, number: int, href: str, id_: str, encoding: FileEncoding
) -> tuple[Edit, str]:
    """The edit, and the href as it is read afterwards."""
    span = source.attribute(number, "href")
    if span is None:
        raise CannotMark("A link's tag is not in the page's text, so it can't be changed.")
    before, _, fragment = href.partition("#")
    _, mark, directive = fragment.partition(fragments.FRAGMENT_DIRECTIVE)
    value = f"{before}#{fragments.encode(id_)}{mark}{directive}"
    raw = source.original(span)
    hash_ = _HASH.search(raw)
    quoted = raw[-1] in "\"'" and "'" not in id_
    if hash_ and quoted and not mark and "#" not in unescape(raw[: hash_.start()]):
        start, old = span.start + hash_.end(), raw[hash_.end() : -1]
        return Edit(start, old, markup.escape(fragments.encode(id_), encoding)), value
    return markup.new_value(span.start, raw, "href", value, encoding), value


def mentions(text: str, id_: str) -> bool:
    """Whether a style sheet or a script seems to name the ID: `#fees` as a
    selector, or the bare ID in quotes (practice)."""
    name = re.escape(id_)
    return re.search(rf"#{name}(?![\w-])|[\"']{name}[\"']", text) is not None


def names_class(text: str, word: str) -> bool:
    """Whether a style sheet has a selector for that class (practice)."""
    return re.search(rf"\.{re.escape(word)}(?![\w-])", text) is not None


def mentioned_on(source: Source, id_: str) -> list[str]:
    """What on the page itself seems to name the ID and can't follow: "style", "script"."""
    return [
        tag
        for tag in ("style", "script")
        if any(mentions(element.text, id_) for element in source.of_tags(tag))
    ]


def plan_addresses(source: Source, hrefs: Mapping[int, str], encoding: FileEncoding) -> Plan:
    """Give links, by number, other addresses."""
    return html.give(source, {number: {"href": href} for number, href in hrefs.items()}, encoding)


def takes_relative_files(source: Source) -> bool:
    """Whether the page takes a picture, style sheet or script by an address that is
    read from the page's own place."""
    elements = source.of_tags("img", "script", "link", "source")
    found = (one.attr("href" if one.tag == "link" else "src") or "" for one in elements)
    return any(form_of(address) == RELATIVE for address in found if address)
