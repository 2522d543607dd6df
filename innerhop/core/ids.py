"""IDs: what is valid, what is advised, and what to suggest for a section.

Valid is little: HTML Standard 3.2.6, "The id attribute": at least one
character, no ASCII whitespace, unique in its tree. The rest is advice, common
practice with no written source, and never forced.
"""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Container
from dataclasses import dataclass

from slugify import slugify

ASCII_WHITESPACE = "\t\n\f\r "  # Infra Standard 4.6
_LONGEST_ADVISED = 40
_LONGEST_SUGGESTED = 32
_LONGEST_ALLOWED = 2_000  # ours: what an address can carry without being cut on its way
# python-slugify writes ä as a; a German reader expects ae.
_GERMAN = (("ä", "ae"), ("ö", "oe"), ("ü", "ue"), ("Ä", "Ae"), ("Ö", "Oe"), ("Ü", "Ue"))
_EMPTY_NAMES = re.compile(
    r"(?:untitled|section|heading|block|element|item|anchor|link|id|row|column|new|title|text)"
    r"(?:[-_]?\d+)?"
)


@dataclass(frozen=True, slots=True)
class Reading:
    """What is to be said of an ID that someone typed.

    id: what would be written: the typed text less a leading hash and outer
    space. Empty when nothing is left.
    valid: whether the HTML Standard lets it stand.
    said: one plain line, empty when there is nothing to say.
    fix: an ID that follows the advice, when `id` does not; else empty.
    """

    id: str
    valid: bool
    said: str
    fix: str


def read(typed: str, language: str = "en", taken: Container[str] = ()) -> Reading:
    """Help with a typed ID: what it becomes, whether it may stand, and advice.

    `taken` holds the IDs that other elements of the page as served have.
    """
    bare = typed.strip(ASCII_WHITESPACE)
    id_ = bare.lstrip("#").strip(ASCII_WHITESPACE)
    taken_off = "The # is put in front for you, so it is left out here. " if id_ != bare else ""
    if not id_:
        return Reading("", False, taken_off + "An ID needs at least one letter or digit.", "")
    fix = suggest(id_, language, taken)
    if len(id_) > _LONGEST_ALLOWED:
        return Reading(id_, False, f"This has {len(id_)} characters; keep it under 40.", fix)
    if not _can_be_kept(id_):
        return Reading(id_, False, "This holds characters that no page can carry.", fix)
    if any(character in ASCII_WHITESPACE for character in id_):
        said = "An ID can't hold spaces: browsers would not find it. Join the words by hyphens."
        return Reading(id_, False, taken_off + said, fix)
    if id_ in taken:
        said = (
            f"Another part of this page has the ID “{id_}”, and readers always arrive at the first."
        )
        return Reading(id_, False, taken_off + said, fix)
    advice = _advice(id_)
    return Reading(id_, True, taken_off + advice, fix if advice and fix != id_ else "")


def _can_be_kept(id_: str) -> bool:
    """No lone surrogates and no control characters: they would not survive being saved."""
    return all(unicodedata.category(character) not in ("Cs", "Cc") for character in id_)


def _advice(id_: str) -> str:
    """Advice on a valid ID: common practice, no source."""
    if "#" in id_:
        return "A # inside an ID confuses readers of the address."
    if "%" in id_:
        return "A % inside an ID is easily read as a code in the address."
    if id_ != id_.lower():
        return (
            "Capitals count in an ID, so a link must repeat them exactly. Small letters are safer."
        )
    if not id_[0].isalpha():
        return "Style sheets and older systems want an ID to begin with a letter."
    if re.search(r"[^\w-]", id_):
        return "Letters, digits, hyphens and underscores travel best in an address."
    if len(id_) > _LONGEST_ADVISED:
        return f"Readers see this in the address bar, and {len(id_)} characters are a lot."
    if says_nothing(id_):
        return "This says nothing about the section to someone who reads the address."
    return ""


def says_nothing(id_: str) -> bool:
    """Names such as `section-3` or `untitled` (common practice, no source)."""
    return bool(_EMPTY_NAMES.fullmatch(id_.lower()))


def suggest(text: str, language: str = "en", taken: Container[str] = ()) -> str:
    """A good ID for a section with that heading, free on its page.

    Words of the text in small letters joined by hyphens, transliterated as the
    language asks, cut at a word; `-2`, `-3`… when taken.
    """
    replacements = _GERMAN if language.lower().startswith("de") else ()
    # Apostrophes go without a trace: "skipper's" is one word.
    plain = re.sub(r"[’'ʼ]", "", text)
    name = slugify(plain, max_length=_LONGEST_SUGGESTED, word_boundary=True, save_order=True,
                   replacements=replacements)  # fmt: skip
    name = name or "part"
    if not name[0].isalpha():
        name = f"part-{name}"
    return free(name, taken)


def free(name: str, taken: Container[str]) -> str:
    """`name`, or with the first of `-2`, `-3`… that nothing on the page has."""
    if name not in taken:
        return name
    number = 2
    while f"{name}-{number}" in taken:
        number += 1
    return f"{name}-{number}"
