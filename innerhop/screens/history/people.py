"""People, as they are told apart on a drawing."""

from __future__ import annotations

from dataclasses import dataclass

from innerhop.library.models import Editor

_COLOURS = ("here", "good", "warn", "there", "back")


@dataclass(frozen=True)
class Person:
    """Somebody: name, the letters that stand for them, and the colour of their dots, by its
    name among those of the screens."""

    name: str
    letters: str
    colour: str


NOBODY = Person("somebody who left", "–", "back")


def person(editor: Editor | None) -> Person:
    """How somebody is shown; NOBODY for who is not here any more."""
    if editor is None:
        return NOBODY
    name = editor.called
    words = [word for word in name.replace(".", " ").replace("_", " ").split() if word]
    letters = "".join(word[0] for word in words[:2]) if len(words) > 1 else name[:2]
    return Person(name, letters.upper(), _COLOURS[editor.pk % len(_COLOURS)])
