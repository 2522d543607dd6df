"""Made-up pages of a wanted size, in the canal trust's manner, always the same."""

from __future__ import annotations

import random
import re

_WORDS = re.split(
    " ",
    "lock gate paddle canal boat winter mooring bridge tunnel water towpath pound sluice "
    "beam windlass keeper basin wharf the a of and to in it is on for with from",
)


def page(sections: int, words: int, marked: bool = True, seed: int = 7) -> str:
    """A page with so many sections of about so many words, each marked and linked to."""
    chance = random.Random(seed)
    parts = [
        "<!doctype html>\n<html lang=en><head><meta charset=utf-8><title>Made up</title></head>"
        "<body><header><nav><a href=/>Home</a> <a href=/locks/>Locks</a></nav></header><main>"
        "<h1>Made up</h1>\n"
    ]
    for number in range(sections):
        text = " ".join(chance.choice(_WORDS) for _ in range(words))
        mark = f' id="part-{number}"' if marked else ""
        target = chance.randrange(sections)
        parts.append(
            f"<section class=block><h{2 + number % 2}{mark}>Part {number}</h{2 + number % 2}>\n"
            f'<p class="lead">{text} <a href="#part-{target}">see <b>part {target}</b></a>.</p>\n'
            f"<ul><li>one</li><li>two</li></ul></section>\n"
        )
    return "".join([*parts, "</main></body></html>"])
