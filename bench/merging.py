"""Pages that come in again: the three texts of one become one, and hundreds at once."""

from __future__ import annotations

import time

from turbohtml import parse

from bench.pages import page
from innerhop.core.edits import apply
from innerhop.core.facts.page_facts import gather
from innerhop.core.merge.merging import Merged
from innerhop.core.planners import marking
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.core.source.tree import Source
from innerhop.library import doing, sites
from innerhop.library.bring_in import bring_ins
from innerhop.library.models import BringIn, Editor
from innerhop.practice.serving import fresh_database

Figure = tuple[str, float, str, float]
_UTF8 = FileEncoding("utf-8", "utf-8", b"")
_RUNS = 15
_PAGES = 500


def figures() -> list[Figure]:
    """A ratio to the bare parse, and seconds."""
    return [
        ("three texts of a page of 100 kB made one ÷ bare parse", _ratio(), "×", 10),
        *_again(),
    ]


def _ratio() -> float:
    text = page(150, 75, marked=False)
    base = Source(text)
    headings = [one.number for one in base.of_tags("h2", "h3") if not one.attr("id")][:20]
    marks = [(number, f"here-{number}") for number in headings]
    edits = marking.plan_marks(base, gather(base), marks, _UTF8).edits
    here, theirs = apply(text, edits), text.replace(" the ", " that ", 40)

    def merge() -> None:
        Merged(Source(text), Source(here), edits, Source(theirs), encoding=_UTF8)

    bare = _best(lambda: parse(text, source_locations=True, scripting=True))
    return _best(merge) / bare


def _best(act: object) -> float:
    return min(_took(act) for _ in range(_RUNS))


def _took(act: object) -> float:
    begin = time.perf_counter()
    act()  # type: ignore[operator]
    return time.perf_counter() - begin


def _again() -> list[Figure]:
    fresh_database("innerhop_bench")
    editor = Editor.objects.create_user("bench")
    site = sites.create("again", "again.example", "en", editor)
    texts = [page(12, 75, marked=False, seed=at) for at in range(_PAGES)]
    _bring_in(site, editor, texts)
    for one in site.pages.select_related("site"):
        mark = {"number": one.sections.filter(mark="").last().number, "id": "made-here"}
        doing.do(editor, "mark", one, {"marks": [mark]})
    later = [text.replace("the", "that", 9) for text in texts]
    came = _took(lambda: _bring_in(site, editor, later))
    key = BringIn.objects.latest("pk").pk
    taken = _took(lambda: doing.do(editor, "take-in", site, {"bring_in": key}))
    return [
        (f"{_PAGES} pages that were worked on, brought in again", came, "s", 10),
        (f"{_PAGES} pages taken in, what was done here kept", taken, "s", 10),
    ]


def _bring_in(site: object, editor: Editor, texts: list[str]) -> None:
    pieces = [bring_ins.NewFile(f"p{at}.html", text.encode()) for at, text in enumerate(texts)]
    for _ in bring_ins.bring_in(site, editor, pieces, len(pieces), replace=True):
        pass
