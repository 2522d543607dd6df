"""Reading a page, as ratios to the bare parse of the same text, so that the machine's
speed falls out, small ones in milliseconds: its facts, all that the index needs, and the proof
of a plan."""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable

from turbohtml import parse

from bench.pages import page
from innerhop.core.addresses.link_ends import LinkEnds
from innerhop.core.edits import apply
from innerhop.core.facts import hidden_parts, shared_parts
from innerhop.core.facts.page_facts import gather
from innerhop.core.facts.sections import sections_and_words
from innerhop.core.plan import Plan
from innerhop.core.planners import hopping, marking
from innerhop.core.planners.selection import Point, Words, texts_below
from innerhop.core.proof import is_claimed
from innerhop.core.source import file_encoding
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.core.source.tree import Source
from innerhop.practice import demo

RUNS = 31
Figure = tuple[str, float, str, float]
ENDS = LinkEnds("https://marrowby.example/", None)


def figures() -> list[Figure]:
    """Facts, index and proofs ÷ bare parse, of the demo site and of a large page."""
    files = [data for name, data in demo.files() if name.endswith("html")]
    found: list[Figure] = []
    for name, datas in {"demo site": files, "1 MB, 2,000 marks": [page(2000, 75).encode()]}.items():
        found += _of(name, datas)
    return found


def _of(name: str, datas: list[bytes]) -> list[Figure]:
    texts = [file_encoding.decode(data)[0] for data in datas]

    def bare() -> None:
        for text in texts:
            parse(text, source_locations=True, scripting=True)

    def each(act: Callable[[bytes], object]) -> Callable[[], None]:
        def done() -> None:
            for data in datas:
                act(data)

        return done

    proofs = {"attributes": _mark, "any plan": _hop}
    reads = {"facts": _facts, "all that the index needs": _index}
    if len(datas) > 1:  # small pages: what any Python takes outweighs the parser
        own = [(f"{what}, a page, {name}", _median(each(act)) / len(datas) * 1000, "ms", most)
               for (what, act), most in zip(reads.items(), (0.4, 1.0), strict=True)]  # fmt: skip
        took = _median(bare) / len(datas) * 1000
        own.append((f"the bare parse, a page, {name}", took, "ms", float("inf")))
    else:
        own = [(f"{what} ÷ bare parse, {name}", _ratio(each(act), bare), "×", most)
               for (what, act), most in zip(reads.items(), (4, 8), strict=True)]  # fmt: skip
    return [
        *own,
        *(
            (f"proof of {what} ÷ bare parse, {name}", _ratio(_proof(texts, make), bare), "×", most)
            for (what, make), most in zip(proofs.items(), (1.5, 4), strict=True)
        ),
    ]


def _facts(data: bytes) -> object:
    return gather(Source(file_encoding.decode(data)[0]))


def _index(data: bytes) -> object:
    source = Source(file_encoding.decode(data)[0])
    facts = gather(source)
    return (
        sections_and_words(source, facts),
        hidden_parts.states(source, [mark.number for mark in facts.marks]),
        shared_parts.regions(source, facts, ENDS.resolve),
        [ENDS.resolve(link.href) for link in facts.links],
    )


def _mark(source: Source) -> Plan:
    paragraph = source.tags.index("p")
    return marking.plan_marks(source, gather(source), [(paragraph, "zz-new")], FileEncoding())


def _hop(source: Source) -> Plan:
    number, child, data = next(
        one
        for one in texts_below(source, 0, 0)
        if source.tags[one[0]] == "p" and len(one[2].split()) > 2
    )
    lead = len(data) - len(data.lstrip())
    words = Words(Point(number, child, lead), Point(number, child, lead + 4))
    return hopping.plan_hop(source, words, {"href": "#zz-new"}, FileEncoding())


def _proof(texts: list[str], make: Callable[[Source], Plan]) -> Callable[[], None]:
    """Whether each page after a plan is what that claims. Reading the new text is not
    counted: the index needs it read all the same."""
    cases = []
    for text in texts:
        source = Source(text)
        plan = make(source)
        cases.append((source, Source(apply(text, plan.edits)), plan))

    def prove() -> None:
        for old, new, plan in cases:
            assert is_claimed(old, new, plan)

    return prove


def _ratio(act: Callable[[], None], bare: Callable[[], None]) -> float:
    """The median of the ratios of single runs, taken in turn: the machine's
    speed drifts, and both of a pair meet the same."""
    return statistics.median(_time(act) / _time(bare) for _ in range(RUNS))


def _median(act: Callable[[], None]) -> float:
    """Seconds of a run."""
    return statistics.median(_time(act) for _ in range(RUNS))


def _time(act: Callable[[], None]) -> float:
    start = time.perf_counter()
    act()
    return time.perf_counter() - start
