"""The proof that an edit did what was asked and nothing else: the page read
again after it is the old tree plus what was asked for.

Two trees are compared as one stream each: every element with its parent, and
every run of text with its parent, in tree order. Elements that were asked for,
or asked away, are left out of the stream, and what they hold counts as their
parent's.
"""

from __future__ import annotations

from collections.abc import Collection, Iterator, Mapping

from innerhop.core.source.tree import Node, Source, is_text

Values = Mapping[str, str | None]


def same_but(
    old: Source,
    new: Source,
    *,
    attributes: Mapping[int, Values] | None = None,
    tags: Mapping[int, str] | None = None,
    added: Collection[int] = (),
    removed: Collection[int] = (),
    filled: bool = False,
) -> bool:
    """Whether `new` is `old` but for what was asked.

    attributes: for elements of `old`, by number, attributes with the value
    they are to have, None for none. tags: for elements of `old`, the tag they
    are to have. added: the numbers, in `new`, of elements more. removed: the
    numbers, in `old`, of elements that are gone, though not what they held.
    filled: whether the added elements brought text of their own.
    """
    if len(new.nodes) - len(added) != len(old.nodes) - len(removed):
        return False
    before = _stream(old, removed, attributes or {}, tags or {})
    after = _stream(new, added, {}, {}, filled)
    return list(before) == list(after)


Event = tuple[object, ...]


def _stream(
    source: Source,
    skipped: Collection[int],
    attributes: Mapping[int, Values],
    tags: Mapping[int, str],
    filled: bool = False,
) -> Iterator[Event]:
    kept = {-1: -1}  # each element's place among those that are kept
    number, place = -1, -1
    text: list[object] = []
    for node in source.document.descendants:
        if isinstance(node, Node):
            number += 1
            above = kept[_number(source, node.parent)]
            if number in skipped:
                kept[number] = above
                continue
            place += 1
            kept[number] = place
            if text:
                yield tuple(text)
                text = []
            wanted = attributes.get(number)
            # As written: the parser's own mapping has some as lists of tokens.
            attrs: dict[str, object] = {name: node.attr(name) for name in node.attrs}
            if wanted:
                attrs = _with(attrs, wanted)
            yield tags.get(number, node.tag), above, attrs
        elif is_text(node):
            parent = _number(source, node.parent)
            if parent in skipped and (filled or node.parent.tag == "style"):  # type: ignore[union-attr]
                continue
            above = kept[parent]
            if text and text[-2] == above:
                text[-1] = f"{text[-1]}{node.text}"
            else:
                text += [above, node.text]
    yield tuple(text)


def _number(source: Source, node: object) -> int:
    """An element's number; -1 for the document, and for a template's content."""
    return source.number(node) if isinstance(node, Node) else -1


def _with(attrs: dict[str, object], wanted: Values) -> dict[str, object]:
    for name, value in wanted.items():
        if value is None:
            attrs.pop(name, None)
        else:
            attrs[name] = value
    return attrs
