"""What is judged: every finding, contents list, menu, section and offer of a corpus, each a place
with a few words of what stands there."""

from __future__ import annotations

import hashlib
from collections import Counter, defaultdict
from collections.abc import Iterable, Iterator, Mapping, Sequence
from typing import NamedTuple

from innerhop.check.reading import FilePage
from innerhop.core.addresses import urls
from innerhop.core.findings import offers
from innerhop.core.findings.table import RULES
from innerhop.core.menus import item_rows, site_menus
from judging.corpora import Corpus

# What is judged beside what rules find.
LIST, MENU, SECTION, OFFER = "is-a-list", "is-a-menu", "is-a-section", "offer"
SEED = "1911"
DRAWN = 30
_CONTEXT = 220  # characters of the markup


class Place(NamedTuple):
    """A place. kind: a rule's name, or one of those above. place: what it is known by in its
    file: the number of its element, or for words the number and the first character."""

    kind: str
    corpus: str
    file: str
    place: str
    shown: str

    @property
    def key(self) -> tuple[str, str, str, str]:
        """What a verdict is kept by."""
        return self.kind, self.corpus, self.file, self.place


def draw(places: Iterable[Place], count: int = DRAWN) -> list[Place]:
    """Some of the places of one kind: the same each time, spread over the corpora that have
    them."""
    by_corpus: dict[str, list[Place]] = defaultdict(list)
    for one in places:
        by_corpus[one.corpus].append(one)
    for some in by_corpus.values():
        some.sort(key=_shuffled)
    drawn: list[Place] = []
    for at in range(max(map(len, by_corpus.values()), default=0)):
        drawn += [by_corpus[name][at] for name in sorted(by_corpus) if at < len(by_corpus[name])]
    return drawn[:count]


def _shuffled(one: Place) -> str:
    return hashlib.sha256("|".join((SEED, *one.key)).encode()).hexdigest()


def of(corpus: Corpus) -> list[Place]:
    """All places of a corpus."""
    pages = [corpus.page(at) for at in range(len(corpus.site.files))]
    found = (*_findings(corpus), *_parts(corpus, pages), *_offers(corpus, pages))
    return [one._replace(shown=" ".join(one.shown.split())) for one in found]


def _findings(corpus: Corpus) -> Iterator[Place]:
    whole, files = corpus.site.whole, corpus.site.files
    for page in range(len(whole.pages)):
        for one in whole.findings(page):
            rule = RULES[one.rule]
            said = f"{one.words!r}: {rule.says(rule.why, one, whole.title)}"
            if rule.fix is not None and rule.fix.request(one) is not None:
                said += f" [{rule.says(rule.fix.label, one, whole.title)}]"
            yield Place(one.rule, corpus.name, files[page].name, str(one.number), said)


def _parts(corpus: Corpus, pages: Sequence[FilePage]) -> Iterator[Place]:
    """Lists and sections of each page, and the menus that pages share."""
    seen: list[site_menus.SeenMenu] = []
    at: dict[tuple[str, str], list[tuple[str, int]]] = defaultdict(list)
    for file, page in zip(corpus.site.files, pages, strict=True):
        for one in page.lists:
            words = f"{one.title!r}: " + ", ".join(entry.label for entry in one.entries[:8])
            yield Place(LIST, corpus.name, file.name, str(one.number), words)
        for section in page.sections:
            words = f"{section.level or 'bold'} {section.title!r}"
            yield Place(SECTION, corpus.name, file.name, str(section.number), words)
        own = urls.resolve(page.address, page.address)
        for menu in page.menus:
            rows = item_rows.rows(menu, page.ends.resolve, own)
            digest = item_rows.digest(rows)
            at[menu.region, digest].append((file.name, menu.number))
            seen.append(site_menus.SeenMenu(digest, menu.region, menu.name, rows))
    yield from _menus(corpus, seen, at)


def _menus(
    corpus: Corpus, seen: Sequence[site_menus.SeenMenu],
    at: Mapping[tuple[str, str], Sequence[tuple[str, int]]],
) -> Iterator[Place]:  # fmt: skip
    counts = Counter((one.region, one.digest) for one in seen)
    first = {(one.region, one.digest): one for one in reversed(seen)}
    lists = [site_menus.Counted(first[key], count) for key, count in counts.most_common()]
    for group in site_menus.grouped(lists, len(corpus.site.files)):
        words = ", ".join(item.label for item in group.lists[0].seen.items[:8])
        for one in group.lists:
            for file, number in at[one.seen.region, one.seen.digest]:
                said = f"{group.lists[0].seen.region}, {group.pages} places: {words}"
                yield Place(MENU, corpus.name, file, str(number), said)


def _offers(corpus: Corpus, readings: Sequence[FilePage]) -> Iterator[Place]:
    whole = corpus.site.whole
    ends = [
        offers.Named(page, one.number, one.title, one.mark)
        for page, read in enumerate(whole.pages)
        for one in read.sections
        if one.level
    ]
    known = offers.names(ends)
    rare: frozenset[str] = frozenset()
    if len(readings) <= offers.COUNTED:
        said = Counter(one for page in readings for one in offers.mentions(page, known))
        rare = frozenset(one for one, count in said.items() if count <= offers.RARELY)
    for page, reading in enumerate(readings):
        for one in offers.offers(reading, page, known, (), rare):
            before, after = one.around
            words = f"{before}[[{one.words.text}]]{after} → {whole.path(one.end.page)}"
            start = one.words.start
            place = f"{start.number}:{start.child}:{start.offset}"
            file = corpus.site.files[page].name
            yield Place(OFFER, corpus.name, file, place, f"{words} “{one.end.title}”")


def context(corpus: Corpus, place: Place) -> str:
    """The markup around a place, in one line."""
    files = corpus.site.files
    page = corpus.page(next(at for at, one in enumerate(files) if one.name == place.file))
    number = int(place.place.partition(":")[0])
    tag = page.source.start_tag(number)
    start = tag.start if tag and number else 0
    return " ".join(page.source.text[max(0, start - _CONTEXT // 2) : start + _CONTEXT].split())
