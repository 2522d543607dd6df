"""How the letters of a language are written with a to z, for names in addresses.

python-slugify knows every script, but one way for each letter. Here is what a
reader of the language expects where that differs.
"""

from __future__ import annotations

import re
from functools import cache
from typing import Protocol

from slugify import special

Table = tuple[tuple[str, str], ...]

# ISO 843 / ELOT 743, transcription: υ alone is y (the slug library's table), but
# not in these pairs.
_GREEK_PAIRS: Table = tuple(
    (pair, latin)
    for pairs, latin in (
        (("ου", "ού", "Ου", "Ού", "ΟΥ"), "ou"),
        (("γγ",), "ng"),
        (("γξ",), "nx"),
        (("γχ",), "nch"),
        (("η", "ή", "Η", "Ή"), "i"),
    )
    for pair in pairs
)
_GREEK_V = re.compile(r"([αεηΑΕΗ])[υύ](?=[βγδζλμνραεηιουωάέήίόύώ])")
_GREEK_F = re.compile(r"([αεηΑΕΗ])[υύ]")
# Common practice in Denmark and Norway, no source: what names become in addresses.
_NORDIC: Table = (("æ", "ae"), ("ø", "oe"), ("å", "aa"), ("Æ", "Ae"), ("Ø", "Oe"), ("Å", "Aa"))
# Cabinet of Ministers of Ukraine, resolution 55 of 27 January 2010, from memory.
_UKRAINIAN: Table = (
    ("зг", "zgh"), ("ґ", "g"), ("г", "h"), ("є", "ie"), ("и", "y"), ("і", "i"), ("ї", "i"),
    ("й", "i"), ("х", "kh"), ("щ", "shch"), ("ю", "iu"), ("я", "ia"), ("ь", ""), ("’", ""),
)  # fmt: skip
_UKRAINIAN_FIRST = {"є": "ye", "ї": "yi", "й": "y", "ю": "yu", "я": "ya"}
# Bulgarian Transliteration Act of 2009, from memory.
_BULGARIAN: Table = (
    ("щ", "sht"), ("ъ", "a"), ("х", "h"), ("ю", "yu"), ("я", "ya"), ("ь", "y"), ("й", "y"),
    ("ц", "ts"),
)  # fmt: skip
_BULGARIAN_LAST = re.compile(r"ия\b")

_TABLES: dict[str, Table] = {
    "de": tuple(special.GERMAN),
    "el": (*_GREEK_PAIRS, *special.GREEK),
    "da": _NORDIC,
    "nb": _NORDIC,
    "nn": _NORDIC,
    "no": _NORDIC,
    "uk": _UKRAINIAN,
    "bg": _BULGARIAN,
}


def primary(language: str) -> str:
    """The primary language subtag of a tag such as `de-AT` (BCP 47, 2.2.1)."""
    return re.split("[-_]", language.strip().lower())[0]


def table(language: str) -> Table:
    """What is to be replaced before the general rules are used."""
    return _TABLES.get(primary(language), ())


def spelled(text: str, language: str) -> str:
    """The text with what no table of single letters can do done first."""
    which = primary(language)
    if which == "ja":
        reader = _japanese()
        return " ".join(piece["hepburn"] for piece in reader.convert(text)) if reader else text
    if which == "el":
        return _GREEK_F.sub(r"\1f", _GREEK_V.sub(r"\1v", text))
    if which == "uk":
        return re.sub(r"\b[єїйюя]", lambda first: _UKRAINIAN_FIRST[first[0]], text.lower())
    return _BULGARIAN_LAST.sub("ia", text.lower()) if which == "bg" else text


class _Reader(Protocol):
    def convert(self, text: str) -> list[dict[str, str]]: ...


@cache
def _japanese() -> _Reader | None:
    """The readings of Japanese words, in Hepburn, where that is installed (see the README:
    its licence is one that not everybody wants). Loaded when first asked for: its
    dictionary is large, and few sites are Japanese."""
    try:
        import pykakasi  # noqa: PLC0415
    except ImportError:
        return None
    reader: _Reader = pykakasi.kakasi()  # type: ignore[no-untyped-call]
    return reader


def can_spell(language: str) -> bool:
    """Whether words of that language can be written with a to z here."""
    return primary(language) != "ja" or _japanese() is not None
