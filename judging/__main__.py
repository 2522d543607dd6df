"""Judgements held against verdicts: the precision and recall of each rule, on the corpora that
are on this machine. `--left KIND` shows the drawn places that nobody has judged yet."""

from __future__ import annotations

import argparse
import sys
from collections import defaultdict
from collections.abc import Sequence
from concurrent.futures import ProcessPoolExecutor

from innerhop.core.findings.found import NOTE
from innerhop.core.findings.table import RULES
from judging import corpora, places, verdicts
from judging.places import LIST, MENU, OFFER, Place

# The least that each kind is to reach (see "Judging what a page's maker meant").
OFFERS_MEND, OTHERS, OFFERS = 0.95, 0.90, 0.70


def goal(kind: str) -> float:
    """The least precision of a kind."""
    if kind == OFFER:
        return OFFERS
    rule = RULES.get(kind)
    return OFFERS_MEND if rule is not None and rule.fix is not None else OTHERS


def found_here(names: Sequence[str] = ()) -> list[Place]:
    """All places of the corpora on this machine, or of some of them."""
    wanted = [one.name for one in corpora.here() if not names or one.name in names]
    with ProcessPoolExecutor(2) as pool:
        return [place for some in pool.map(_places_of, wanted) for place in some]


def _places_of(name: str) -> list[Place]:
    return places.of(next(one for one in corpora.here() if one.name == name))


def main() -> int:
    """The command. Returns 1 where a kind that is always looked for misses its goal."""
    parser = argparse.ArgumentParser("judge", description=__doc__)
    parser.add_argument("--left", metavar="KIND", help="show what is drawn and not judged")
    parser.add_argument("corpus", nargs="*", help="only these corpora")
    asked = parser.parse_args()
    found = found_here(asked.corpus)
    by_kind: dict[str, list[Place]] = defaultdict(list)
    for one in found:
        by_kind[one.kind].append(one)
    drawn = {kind: places.draw(some) for kind, some in by_kind.items()}
    if asked.left:
        return _show_left(drawn, asked.left)
    return _report(by_kind, drawn)


def _show_left(drawn: dict[str, list[Place]], kinds: str) -> int:
    known = verdicts.kept()
    there = {one.name: one for one in corpora.here()}
    for kind in drawn if kinds == "all" else kinds.split(","):
        for one in drawn.get(kind, ()):
            if one.key not in known:
                print("\t".join((one.kind, one.corpus, one.file, one.place)))
                print("   ", one.shown)
                print("      ", places.context(there[one.corpus], one))
    return 0


def _report(by_kind: dict[str, list[Place]], drawn: dict[str, list[Place]]) -> int:
    known, missed = verdicts.kept(), 0
    print(f"{'':20} {'found':>6} {'drawn':>5} {'right':>5} {'arg.':>5} {'wrong':>5} {'left':>5}")
    for kind in (*RULES, LIST, MENU, places.SECTION, OFFER):
        some = verdicts.precision(drawn.get(kind, ()), known)
        share, least = some.share, goal(kind)
        said = "" if share is None else f"{share:4.0%} of {least:.0%}"
        is_usual = kind not in RULES or not (RULES[kind].on_asking or RULES[kind].level == NOTE)
        if share is not None and share < least:
            said += "  UNDER" if is_usual else "  (when asked for)"
            missed += is_usual
        print(f"{kind:20} {len(by_kind.get(kind, ())):6} {some.drawn:5} {some.right:5} "
              f"{some.arguable:5} {some.wrong:5} {some.left:5}  {said}")  # fmt: skip
    there = {one.key: one for some in by_kind.values() for one in some}
    for kind in (LIST, MENU, places.SECTION):
        wanted = [one for one in verdicts.expected() if one.kind == kind]
        got, total = verdicts.recall(wanted, there)
        if total:
            print(
                f"{kind:20} {got} of {total} found on {len(wanted)} whole pages: {got / total:.0%}"
            )
            missed += got / total < OTHERS
    return 1 if missed else 0


if __name__ == "__main__":
    sys.exit(main())
