"""The proof that an edit did what was asked and nothing else: the page read
again after it is the old tree plus what was asked for."""

from __future__ import annotations

from collections.abc import Iterator

from innerhop.core.source import Node, Source


def same_but_for_id(old: Source, new: Source, number: int, id_: str) -> bool:
    """Whether `new` is `old` with that ID on that element."""
    if new.document.text != old.document.text or len(new.nodes) != len(old.nodes):
        return False
    if str(new.node(number).attr("id")) != id_:
        return False
    return all(
        one == other or (at == number and _less_id(one) == _less_id(other))
        for at, (one, other) in enumerate(zip(_shape(old), _shape(new), strict=True))
    )


def same_but_for_link(old: Source, new: Source, number: int) -> bool:
    """Whether `new` is `old` with one `a` more, which is its element `number`."""
    if new.document.text != old.document.text or len(new.nodes) != len(old.nodes) + 1:
        return False
    shape = list(_shape(new))
    _, above, _ = shape.pop(number)

    def counted_before(parent: int) -> int:
        return above if parent == number else parent - (parent > number)

    return all(
        (tag, counted_before(parent), attrs) == before
        for (tag, parent, attrs), before in zip(shape, _shape(old), strict=True)
    )


Shape = tuple[str, int, dict[str, object]]


def _shape(source: Source) -> Iterator[Shape]:
    """Each element's tag, its parent's number, and its attributes."""
    for node in source.nodes:
        parent = node.parent
        above = source.number(parent) if isinstance(parent, Node) else -1
        yield node.tag, above, dict(node.attrs)


def _less_id(shape: Shape) -> Shape:
    tag, parent, attrs = shape
    return tag, parent, {name: value for name, value in attrs.items() if name != "id"}


def same_but_for_style(old: Source, new: Source) -> bool:
    """Whether `new` is `old` with one `style` more in its head."""
    shapes = [[one for one in _shape(source) if one[0] != "style"] for source in (old, new)]
    tags = [[(tag, attrs) for tag, _, attrs in shape] for shape in shapes]
    bodies = [source.document.select_one("body") for source in (old, new)]
    texts = [body.text if body else "" for body in bodies]
    return tags[0] == tags[1] and texts[0] == texts[1] and len(new.nodes) == len(old.nodes) + 1
