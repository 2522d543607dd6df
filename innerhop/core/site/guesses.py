"""What a broken hop most likely means: the commonest slips of the hand in an
address, each recognised by what it leaves behind.

The slips are common practice, no source; that one is likelier than another is
their order here.
"""

from __future__ import annotations

import re
from collections import defaultdict
from collections.abc import Callable, Collection, Sequence
from functools import cached_property, lru_cache
from itertools import islice
from typing import NamedTuple

from rapidfuzz import process
from rapidfuzz.distance import OSA
from slugify import slugify

from innerhop.core.addresses.fragments import id_of, percent_decode
from innerhop.core.names.ids import Naming, has_hash, has_whitespace, is_a_systems, suggest

NEAR = 80  # of 100: how alike two names are for one to be a slip of the other
_MOST = 3
# Longer names are compared with nothing: nobody types them, and closeness takes time
# that grows with the product of both lengths.
_LONGEST = 200
_SHORT = 4  # letters: of fewer, one slip makes another word


# Kinds of slip: a hash too many; a space, a capital or what joins words; a letter; another page.
HASH, SPELT, LETTER, ELSEWHERE = "hash", "spelt", "letter", "elsewhere"


class Meant(NamedTuple):
    """An ID that was likely meant, of which page, and the slip, in one line and by its kind.
    mends_id: whether the hop is right and the ID is what should be mended."""

    page: int
    id: str
    why: str
    kind: str
    mends_id: bool = False


class Meanings:
    """What fragments that find nothing could mean on one site, each asked after once: hops are
    alike, and several rules ask the same of each.

    ids: what tells the IDs of a page, in tree order. having: what tells the pages with an ID.
    """

    def __init__(
        self, ids: Callable[[int], Sequence[str]], having: Callable[[str], Collection[int]]
    ) -> None:
        self._ids, self._having = ids, having
        self._names: dict[int, Ids] = {}
        self._told: dict[tuple[int, str], list[Meant]] = {}

    def of(self, fragment: str, page: int) -> list[Meant]:
        """What a fragment could mean that finds nothing on the page that it leads to."""
        key = (page, fragment)
        if key not in self._told:
            if page not in self._names:
                self._names[page] = Ids(self._ids(page))
            having = self._having(id_of(fragment))
            self._told[key] = likely(fragment, page, self._names[page], having)
        return self._told[key]


def likely(fragment: str, page: int, here: Ids, having: Collection[int]) -> list[Meant]:
    """What a fragment that finds nothing could mean, likeliest first. page: the page that it
    leads to. here: its IDs. having: the pages that have the ID asked for."""
    asked = id_of(fragment)
    others = [one for one in having if one != page]
    if len(asked) > _LONGEST or is_a_systems(asked):
        return []  # nobody typed that: nothing is a slip of it
    found = [Meant(page, id_, why, kind, bool(_unfit(id_)))
             for id_, why, kind in _slips(asked, here)]  # fmt: skip
    found += [Meant(page, id_, "A slip of a letter.", LETTER) for id_ in _near(asked, here)]
    if 0 < len(others) <= (_FEW_PAGES if is_telling(asked) else 1):
        found += [Meant(one, asked, "It is on another page.", ELSEWHERE) for one in others]
    kept: dict[tuple[int, str], Meant] = {}
    for one in found:
        kept.setdefault((one.page, one.id), one)
    return list(kept.values())[:_MOST]


class Ids:
    """The IDs of a page, looked up by what slips leave of them, so that a page may have as many
    broken hops as it has IDs."""

    def __init__(self, ids: Sequence[str]) -> None:
        self.places = {id_: at for at, id_ in enumerate(ids) if len(id_) <= _LONGEST}

    @cached_property
    def by_letters(self) -> dict[str, list[str]]:
        """By what stays of one without capitals, and without what joins its words."""
        found: dict[str, list[str]] = defaultdict(list)
        for id_ in self.places:
            for left in {f"={id_.casefold()}", _plain(id_)}:
                found[left].append(id_)
        return found

    @cached_property
    def _by_less(self) -> dict[str, list[str]]:
        found: dict[str, list[str]] = defaultdict(list)
        for id_ in self.places:
            for left in _less_one(id_):
                found[left].append(id_)
        return found

    def a_letter_off(self, asked: str) -> list[str]:
        """Those from which a letter more, less or other, or two changed over, tell it; the
        same ones first. None on pages with so many that nobody tells them apart."""
        if len(self.places) > MOST_IDS:
            return []
        near = {*self.places} if len(self.places) < _FEW_IDS else {
            one for left in _less_one(asked) for one in self._by_less.get(left, ())
        }  # fmt: skip
        far = {one: OSA.distance(asked, one, score_cutoff=1) for one in near}
        found = [one for one in near if far[one] <= 1]
        return sorted(found, key=lambda one: (far[one], self.places[one]))


def _less_one(name: str) -> set[str]:
    """A name, and what is left of it without one letter: two that are a slip apart have one of
    these in common."""
    return {name, *(name[:at] + name[at + 1 :] for at in range(len(name)))}


MOST_IDS = 20_000
_FEW_IDS = 40  # which are compared in less time than they are looked up


def _slips(asked: str, ids: Ids) -> list[tuple[str, str, str]]:
    """IDs that an asked one is, but for a slip: each with that in one line, and its kind."""
    bare = asked.strip("#").strip()
    found = []
    if bare != asked and bare in ids.places and "#" in asked:
        found.append((bare, "A # too many.", HASH))
    elif bare != asked and bare in ids.places:
        found.append((bare, "A space that does not belong there.", SPELT))
    lefts = (f"={bare.casefold()}", _plain(bare))
    alike = {one for left in lefts if left for one in ids.by_letters.get(left, ())}
    for id_ in sorted(alike - {bare}, key=ids.places.__getitem__):
        if id_.casefold() == bare.casefold():
            found.append((id_, "Capitals count in an ID.", SPELT))
        else:
            other = "Spaces, hyphens or letters are written differently."
            found.append((id_, _unfit(id_) or other, SPELT))
    return found


def _unfit(id_: str) -> str:
    """Why a hop is right, and the ID is what should be mended; "" where that isn't so."""
    if has_whitespace(id_):
        return "The ID holds a space, which no ID may: the ID is to be mended."
    return "The ID was written with its #: the ID is to be mended." if has_hash(id_) else ""


@lru_cache(maxsize=16_384)  # one page's IDs are looked at for each of its hops
def _plain(name: str) -> str:
    """A name less what joins its words: whole, since long names begin alike."""
    return slugify(re.sub(r"[\s_.-]+", " ", name)) or name.casefold()


def is_telling(id_: str) -> bool:
    """Whether an ID is a name of one thing: on another page a short word such as `usage`
    is another section of that kind."""
    return len(re.findall(r"[^\W\d_]{2,}", id_)) >= 2 or len(id_) >= _LONG


_FEW_PAGES = 2  # on more, it is no name of one thing
_LONG = 12  # characters


def _near(asked: str, ids: Ids) -> list[str]:
    """IDs that somebody who meant to type them could have mistyped so: a letter off, or two
    changed over, and the numbers in them the same. Two letters off are another word as often
    as not (`intern`, `extern`)."""
    if len(asked) < _SHORT:
        return []
    numbers = _NUMBERS.findall(asked)
    near = (
        one for one in ids.a_letter_off(asked)
        if _NUMBERS.findall(one) == numbers and not _adds(asked, one)
    )  # fmt: skip
    return list(islice(near, _MOST))


def _adds(asked: str, other: str) -> bool:
    """Whether one is the other with a letter more at its end, as plurals and cases are, in a
    name so short that both are words."""
    short, long = sorted((asked, other), key=len)
    return len(short) < _LONG_NAME and long.startswith(short) and len(long) > len(short) + 1


_LONG_NAME = 8  # letters
_NUMBERS = re.compile(r"\d+")


class Titled(NamedTuple):
    """A section that could have been meant: its heading's number and words, and its ID
    or ""."""

    number: int
    title: str
    id: str


class Titles:
    """The sections of a page, looked up by their words and by the IDs that those would make."""

    def __init__(self, sections: Sequence[Titled], naming: Naming) -> None:
        self._sections, self._naming = sections, naming

    @cached_property
    def _by_words(self) -> dict[str, list[Titled]]:
        found: dict[str, list[Titled]] = defaultdict(list)
        for one in self._sections:
            found[_folded(one.title)].append(one)
        return found

    @cached_property
    def _by_name(self) -> dict[str, list[Titled]]:
        found: dict[str, list[Titled]] = defaultdict(list)
        for one in self._sections:
            if not one.id:
                found[suggest(one.title, self._naming)].append(one)
        return found

    def like(self, fragment: str, text: str) -> list[tuple[Titled, str]]:
        """The sections that a hop to no ID could mean, each with why: one that would have that
        ID if it were marked, and one whose heading has the link's words."""
        asked, words = percent_decode(fragment), _folded(text)
        found = {
            one.number: (one, f"“{one.title}” has no ID yet. With this one, the hop arrives.")
            for one in self._by_name.get(asked, ())[:_MOST]
        }
        for one in self._by_words.get(words, ())[: 2 * _MOST] if words else ():
            if one.id != asked:
                found.setdefault(one.number, (one, "Its heading has the words of the link."))
        return list(found.values())[:_MOST]


def _folded(text: str) -> str:
    return " ".join(text.casefold().split())


class Paths:
    """Addresses of pages, of which one may have been meant by another that isn't there."""

    def __init__(self, paths: Sequence[str]) -> None:
        self._paths = paths
        self._bare = [_bare(one) for one in paths]

    def near(self, path: str) -> list[str]:
        """Those in another folder, or that an address could be a slip of, likeliest first."""
        return list(dict.fromkeys([*self.same_file(path), *self.slips(path)]))

    def same_file(self, path: str) -> list[str]:
        """Those whose last part is that of an address, so that only the folder is off."""
        name = _bare(path).rpartition("/")[2]
        if not name:
            return []
        folder = f"/{name}"
        same = (at for at, one in enumerate(self._bare) if one == name or one.endswith(folder))
        found = [self._paths[at] for at in islice(same, 2)]
        return found if len(found) == 1 else []  # of two nobody knows which

    def slips(self, path: str) -> list[str]:
        """Those that an address could be a slip of, nearest first."""
        asked = _bare(path)
        if not _SHORT <= len(asked) <= _LONGEST:
            return []
        most = 1 if len(asked) < _LONG_NAME else 2
        matches = process.extract(
            asked, self._typed, scorer=OSA.distance, score_cutoff=most, limit=_MOST
        )
        numbers = _NUMBERS.findall(asked)
        return [self._paths[at] for one, _, at in matches if _NUMBERS.findall(one) == numbers]

    @cached_property
    def _typed(self) -> list[str | None]:
        return [one if len(one) <= 2 * _LONGEST else None for one in self._bare]


def may_mean(asked: str, there: str, has_id: bool) -> bool:
    """Whether a page with one address could have been meant by another that isn't there, so
    surely that links may be led to it. has_id: whether it has the ID, of somebody's own, that
    they ask for.

    Of a site of which a part is here, many addresses are not, and near ones are other pages:
    `git-rm` is no slip of `git-am`, nor is `/topics/settings` in another folder than
    `/ref/settings` by mistake. So a slip is one in a word that is long enough, and a name in
    another folder says by itself what it is of.
    """
    one, other = (_ENDING.sub("", _bare(path)) for path in (asked, there))
    name = one.rpartition("/")[2]
    if name == other.rpartition("/")[2]:
        return has_id or is_telling(name)
    return _is_slip(_WORDS.split(one), _WORDS.split(other))


_ENDING = re.compile(r"\.x?html?$")
_WORDS = re.compile(r"[-_./\s]+")
_LONG_WORD = 5  # letters: of fewer, a letter off is another word


def _is_slip(one: list[str], other: list[str]) -> bool:
    if "".join(one) == "".join(other):
        return True  # only what joins the words is off
    off = [pair for pair in zip(one, other, strict=False) if pair[0] != pair[1]]
    if len(one) != len(other) or len(off) != 1:
        return False
    short, long = sorted(off[0], key=len)
    if sorted(short) == sorted(long) and len(short) >= _SHORT:
        return OSA.distance(short, long) == 1  # two letters changed over
    least = _LONG_WORD if len(one) > 1 else _SHORT  # in a family of names, short words differ
    if len(short) < least or _NUMBERS.findall(short) != _NUMBERS.findall(long):
        return False
    if long.endswith(short) or (long.startswith(short) and long != f"{short}s"):
        return False  # `hcontrol`, `control`: a word of its own
    return OSA.distance(short, long) <= (1 if len(short) < _LONG_NAME else 2)


def _bare(path: str) -> str:
    return percent_decode(path).casefold().strip("/")
