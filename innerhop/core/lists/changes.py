"""What is to become of a list of links, entry by entry."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Protocol

from innerhop.core.formats import html, pieces
from innerhop.core.formats.pieces import Kept, Node, Piece, Raw, TagsAgain
from innerhop.core.plan import Plan, join_plans
from innerhop.core.source.content_models import LISTS
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.core.source.tree import Source

Values = Mapping[str, str | None]


class EntryThere(Protocol):
    """An entry that a list has."""

    @property
    def number(self) -> int:
        """Of its link, or of what holds its words."""

    @property
    def item(self) -> int:
        """Of the list entry around it, or the same."""

    @property
    def label(self) -> str:
        """Its words."""

    @property
    def depth(self) -> int:
        """How many entries it stands under."""


@dataclass(frozen=True, slots=True)
class EntryChange:
    """An entry as it is to be. there: which of the list's entries, None for a new one.
    label: its words, None to leave what it has. values: attributes that elements of it are to
    have. link: the attributes of a new entry's link. becomes: the link that words are to
    become, by its attributes."""

    there: EntryThere | None
    label: str | None = None
    values: Mapping[int, Values] = field(default_factory=dict)
    link: Mapping[str, str] = field(default_factory=dict)
    becomes: Mapping[str, str] | None = None

    @property
    def is_any(self) -> bool:
        """Whether anything of an entry that is there is to be different."""
        return bool(self.values) or self.has_other_words

    @property
    def has_other_words(self) -> bool:
        """Whether what holds its words is to hold something else."""
        return self.label is not None or self.becomes is not None


def plan(source: Source, change: EntryChange, encoding: FileEncoding) -> Plan:
    """An entry changed where it stands. Raises pieces.NotWhole."""
    assert change.there is not None
    plans = [
        html.give(source, {number: values}, encoding) for number, values in change.values.items()
    ]
    if change.has_other_words:
        number = change.there.number
        plans.append(pieces.plan_filled(source, number, words_of(source, change), encoding))
    return join_plans(plans)


def words_of(source: Source, change: EntryChange) -> list[Node]:
    """What the element that holds an entry's words is to hold. Raises pieces.NotWhole."""
    assert change.there is not None
    number = change.there.number
    label = change.label if change.label is not None else change.there.label
    if change.becomes is None:
        return relabelled(source, number, label)
    link = Piece("a", change.becomes, (label,))
    kept = [node for node in pieces.held_by(source, number) if isinstance(node, Kept)]
    return [link, *(node for node in kept if source.tags[node.number] in LISTS)]


def relabelled(source: Source, number: int, label: str) -> list[Node]:
    """What an element holds, with other words: pictures, and what the words stand in, stay."""
    nodes, done = _with_words(source, number, label, done=False)
    return nodes if done else [*nodes, label]


def _with_words(source: Source, number: int, label: str, done: bool) -> tuple[list[Node], bool]:
    found: list[Node] = []
    for node in pieces.held_by(source, number):
        if isinstance(node, Kept) and source.tags[node.number] in LISTS:
            found.append(node)
        elif isinstance(node, Kept):
            if not source.text_of(node.number).strip() or source.tags[node.number] == "svg":
                found.append(node)
                continue
            inside, done = _with_words(source, node.number, label, done)
            found.append(TagsAgain(source, node.number, tuple(inside)))
        elif isinstance(node, Raw) and node.read.strip():
            lead = node.read[: len(node.read) - len(node.read.lstrip())]
            tail = node.read[len(node.read.rstrip()) :]
            found.append(f"{lead}{'' if done else label}{tail}")
            done = True
        else:
            found.append(node)
    return found, done


@dataclass(frozen=True)
class ListManner:
    """How new entries of a list are written. models: entries that they may be written like,
    the best first. common: what of an element's attributes neighbours have in common.
    from_nothing: a new entry where there is none to be like; it may refuse. between: what
    stands between two links of a line that has but one."""

    models: Sequence[EntryThere]
    common: Callable[[Mapping[str, str]], dict[str, str]]
    from_nothing: Callable[[EntryChange], Node]
    between: str = " "
