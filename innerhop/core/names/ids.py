"""IDs: what is valid, what is advised, and what to suggest for a section.

Valid is little: HTML Standard #the-id-attribute: at least one
character, no ASCII whitespace, unique in its tree. The rest is advice, common
practice with no written source, and never forced.
"""

from __future__ import annotations

import re
import unicodedata
from collections import Counter
from collections.abc import Container, Iterable
from dataclasses import dataclass
from functools import lru_cache
from typing import NamedTuple

from slugify import slugify

from innerhop.core.names import transliteration

ASCII_WHITESPACE = "\t\n\f\r "  # Infra Standard 4.6
_LONGEST_ADVISED = 40
_LONGEST_SUGGESTED = 32
_LONGEST_ALLOWED = 2_000  # ours: what an address can carry without being cut on its way
_LONGEST_READ = 400  # of a heading, before it is cut to size
_UNSEEN = ("Cf", "Zs", "Zl", "Zp")
_EMPTY_NAMES = re.compile(
    r"(?:untitled|section|heading|block|element|item|anchor|link|id|row|column|new|title|text)"
    r"(?:[-_]?\d+)?"
)
_UUID = re.compile(r"[0-9a-f]{8}-(?:[0-9a-f]{4}-){3}[0-9a-f]{12}", re.IGNORECASE)
_DATE = re.compile(r"(?:19|20)\d{6}")


class Naming(NamedTuple):
    """How a page's IDs are named. language: of the words they are made of (BCP 47).
    own_letters: whether they keep the letters of that language."""

    language: str = "en"
    own_letters: bool = False


PLAIN = Naming()


@dataclass(frozen=True, slots=True)
class IdReading:
    """What is to be said of an ID that someone typed.

    id: what would be written: the typed text less a leading hash and outer
    space. Empty when nothing is left.
    valid: whether the HTML Standard lets it stand.
    message: one plain line, empty when there is nothing to say.
    fix: an ID that follows the advice, when `id` does not; else empty.
    """

    id: str
    valid: bool
    message: str
    fix: str


def read(typed: str, naming: Naming = PLAIN, taken: Container[str] = ()) -> IdReading:
    """Help with a typed ID: what it becomes, whether it may stand, and advice.

    `taken` holds the IDs that other elements of the page as served have.
    """
    bare = typed.strip(ASCII_WHITESPACE)
    id_ = bare.lstrip("#").strip(ASCII_WHITESPACE)
    taken_off = "The # is put in front for you, so it is left out here. " if id_ != bare else ""
    if not id_:
        return IdReading("", False, taken_off + "An ID needs at least one letter or digit.", "")
    fix = suggest(id_, naming, taken)
    if len(id_) > _LONGEST_ALLOWED:
        return IdReading(id_, False, f"This has {len(id_)} characters; keep it under 40.", fix)
    if not _can_be_kept(id_):
        return IdReading(id_, False, "This holds characters that no page can carry.", fix)
    if has_whitespace(id_):
        message = "An ID can't hold spaces: browsers would not find it. Join the words by hyphens."
        return IdReading(id_, False, taken_off + message, fix)
    if id_ in taken:
        message = (
            f"Another part of this page has the ID “{id_}”, and readers always arrive at the first."
        )
        return IdReading(id_, False, taken_off + message, fix)
    advice = _advice(id_, naming)
    return IdReading(id_, True, taken_off + advice, fix if advice and fix != id_ else "")


def _can_be_kept(id_: str) -> bool:
    """No lone surrogates and no control characters: they would not survive being saved."""
    return all(unicodedata.category(character) not in ("Cs", "Cc") for character in id_)


def _advice(id_: str, naming: Naming) -> str:
    """Advice on a valid ID: common practice, no source."""
    if any(unicodedata.category(character) in _UNSEEN for character in id_):
        return "This holds a character that nobody can see, so a link typed by hand would miss it."
    if id_.lower() == "top":
        return "Links to #top lead to the top of every page. With this ID they would lead here."
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
    if not all(c in "-_" or unicodedata.category(c)[0] in "LMN" for c in id_):
        return "Letters, digits, hyphens and underscores travel best in an address."
    if not id_.isascii() and not naming.own_letters:
        return "Copied addresses show such letters as codes. Plain a to z travels better."
    if len(id_) > _LONGEST_ADVISED:
        return f"Readers see this in the address bar, and {len(id_)} characters are a lot."
    if says_nothing(id_):
        return "This says nothing about the section to someone who reads the address."
    return ""


def has_whitespace(id_: str) -> bool:
    """Whether an ID holds ASCII whitespace, which makes it invalid
    (https://html.spec.whatwg.org/multipage/dom.html#the-id-attribute)."""
    return not _WHITESPACE.isdisjoint(id_)


_WHITESPACE = frozenset(ASCII_WHITESPACE)


def has_hash(id_: str) -> bool:
    """Whether an ID was typed with the hash that belongs to links (common practice, no source).

    >>> [has_hash(one) for one in ("#fees", "fees", "#", "c#")]
    [True, False, False, False]
    """
    return id_.startswith("#") and id_.strip("#") != ""


def says_nothing(id_: str) -> bool:
    """Names such as `section-3` or `untitled` (common practice, no source)."""
    return bool(_EMPTY_NAMES.fullmatch(id_.lower()))


@lru_cache(maxsize=65_536)  # asked of each mark whenever one of its page comes or goes
def looks_generated(id_: str) -> bool:
    """IDs that a site's system made up and may make anew: long numbers, random strings such
    as `block-7f3a9c21`, builders' blocks with a number (common practice, no source).

    >>> [looks_generated(one) for one in ("block-7f3a9c21", "comp-kx92m1_4", "winter-2026-27")]
    [True, True, False]
    """
    if not _DIGIT.search(id_):
        return False
    if _UUID.search(id_) or _BUILT.match(id_) or _is_counted_block(id_):
        return True
    return any(map(_is_random, _RUNS.findall(id_)))


def is_counted(id_: str) -> bool:
    """IDs that a system counts through, such as `id23`, `idm1237` or `sec-4.2_1`: another
    part has that one as soon as one is put in before it (common practice, no source)."""
    return bool(_COUNTED.fullmatch(id_))


@lru_cache(maxsize=65_536)  # asked of each mark, by several rules
def is_a_systems(id_: str) -> bool:
    """Whether an ID says nothing of its part, since nobody chose it."""
    return says_nothing(id_) or is_counted(id_) or looks_generated(id_)


_DIGIT = re.compile(r"\d")
_RUNS = re.compile("[A-Za-z0-9]{6,}")  # shorter ones say nothing
# Longer words than these are somebody's: `lock-12`, `step-3`.
_COUNTED = re.compile(
    r"(?:[a-z]{1,3}|_+|index|sect|para|item|node|elem|list|link|post|page|cell|text|menu|line|note|"
    r"accordion|bookmark|panel|tab|widget)[-_]?\d+(?:[-_.]\d+)*",
    re.IGNORECASE,
)
# Blocks of builders: words for parts of a page, and a number or a short code behind one (from
# memory).
_BLOCKS = frozenset("""
acc accordion anchor block body bookmark box card cell col collapse column comp component
container content el elem element field footer form gallery grid group h header heading id image
img inner item link list main menu module node outer panel para paragraph post row section slide
tab text title toc widget wrap wrapper
""".split())  # fmt: skip
_BUILT = re.compile(
    rf"(?:{'|'.join(sorted(_BLOCKS))})[-_](?=[a-z0-9]*\d)(?!(?:[a-z]+\d{{1,3}}|(?:19|20)\d\d)(?:[-_]|$))"
    r"[a-z0-9]{4,}(?:[-_][a-z0-9]+)*$",
    re.IGNORECASE,
)
_PARTS = re.compile(r"[A-Z]?[a-z]+|[A-Z]+|\d+")
_YEAR = re.compile(r"(?:19|20)\d\d")


def _is_counted_block(id_: str) -> bool:
    """Whether an ID is words for parts of a page and counters alone: `content_block_12`,
    `row-0-1`, `paragraph-id--4711`. A word and a small number could be somebody's: `slide-3`."""
    parts = _PARTS.findall(id_)
    numbers = [one for one in parts if one.isdigit()]
    words = [one.lower() for one in parts if not one.isdigit()]
    if not (words and numbers) or not _BLOCKS.issuperset(words):
        return False
    is_long = any(len(one) > _COUNTER and not _YEAR.fullmatch(one) for one in numbers)
    return is_long or len(parts) > _WORD_AND_COUNTER


_COUNTER = 3  # digits
_WORD_AND_COUNTER = 2  # parts
_HEX = re.compile(r"(?=.*\d)(?=.*[a-f])[0-9a-f]{8,}", re.IGNORECASE)
_SHORT_RUNS = 2.2  # characters: names such as `Rss201rev2Feed` are made of longer ones


def _is_random(part: str) -> bool:
    if part.isdigit():
        return not _DATE.fullmatch(part)
    runs = re.findall(r"\d+|\D+", part)
    if _HEX.fullmatch(part.lstrip("gG")) and len(runs) >= 3:
        return True
    return len(runs) >= 4 and len(part) / len(runs) <= _SHORT_RUNS


def suggest(text: str, naming: Naming = PLAIN, taken: Container[str] = ()) -> str:
    """A good ID for a section with that heading, free on its page.

    Words of the text in small letters joined by hyphens, in the site's own
    letters or written with a to z as the language asks, cut at a word; `-2`,
    `-3`… when taken.
    """
    return free(_name(text, naming), taken)


def _name(text: str, naming: Naming) -> str:
    # Apostrophes go without a trace: "skipper's" is one word.
    plain = re.sub(r"[’'ʼ]", "", text)
    keeps = naming.own_letters or not transliteration.can_spell(naming.language)
    name = (_kept(plain) if keeps else _plain(plain, naming.language)) or "part"
    if not name[0].isalpha() or name == "top":  # which is every page's own top
        name = f"part-{name}"
    return name


class Suggester:
    """Good IDs for several sections of one page, each free of the others. taken: those that
    the page has."""

    def __init__(self, naming: Naming, taken: Iterable[str]) -> None:
        self.naming = naming
        self.taken = set(taken)
        # A page may have thousands of the same words: names and numbers that are known.
        self._names: dict[str, str] = {}
        self._numbers: Counter[str] = Counter()

    def suggest(self, text: str) -> str:
        """The next one, for a section with that heading."""
        if text not in self._names:
            self._names[text] = _name(text, self.naming)
        name = self._names[text]
        found = name if name not in self.taken else ""
        while not found or found in self.taken:
            self._numbers[name] += 1
            found = f"{name}-{self._numbers[name] + 1}"
        self.taken.add(found)
        return found


# Words that don't belong at either end of a name (common practice, no source).
_LITTLE = {
    "en": "a an the of to in on at for from and or with by is are it its this that into as",
    "de": "der die das ein eine einer eines dem den des im in am an auf für von und oder mit zu",
    "fr": "le la les un une des de du d l à au aux en et ou pour par sur avec dans",
    "es": "el la los las un una de del en a al y o por para con",
    "it": "il lo la i gli le un una di del della in a al e o per con su",
    "nl": "de het een van in op aan voor en of met te bij is",
}
_WORDS_OF_A_NAME = 4


def first_words(text: str, language: str = "en") -> str:
    """The few words of running text that could name it: up to its first stop,
    four at most, without little words at either end."""
    clause = re.split(r"[.,:;!?…()–—]", text.strip(), maxsplit=1)[0] or text
    little = set(_LITTLE.get(transliteration.primary(language), "").split())
    words = clause.split()
    while len(words) > 1 and words[0].lower() in little:
        words = words[1:]
    words = words[:_WORDS_OF_A_NAME]
    while len(words) > 1 and words[-1].lower() in little:
        words = words[:-1]
    return " ".join(words)


def _plain(text: str, language: str) -> str:
    return slugify(
        transliteration.spelled(text[:_LONGEST_READ], language),
        max_length=_LONGEST_SUGGESTED,
        word_boundary=True,
        save_order=True,
        replacements=transliteration.table(language),
    )


def _kept(text: str) -> str:
    """The words in their own letters. Marks that belong to a letter stay with it."""
    lower = unicodedata.normalize("NFC", text[:_LONGEST_READ]).lower()
    spaced = "".join(c if unicodedata.category(c)[0] in "LMN" else " " for c in lower)
    words = spaced.split()
    name = "-".join(words)
    if len(name) <= _LONGEST_SUGGESTED:
        return name
    head = name[: _LONGEST_SUGGESTED + 1].rpartition("-")[0]
    return head or name[:_LONGEST_SUGGESTED]


def free(name: str, taken: Container[str]) -> str:
    """`name`, or with the first of `-2`, `-3`… that nothing on the page has."""
    if name not in taken:
        return name
    number = 2
    while f"{name}-{number}" in taken:
        number += 1
    return f"{name}-{number}"
