"""New texts of pages that were worked on here: what becomes of what was done, seen before
anything is taken in."""

from __future__ import annotations

import hashlib
import json
from collections import Counter
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any

from django.db.models import Count, F
from rapidfuzz import fuzz

from innerhop.core.edits import Edit, EditsClash
from innerhop.core.merge.carrying import SAME
from innerhop.core.merge.deeds import Unclear
from innerhop.core.merge.drawn import TextToDraw
from innerhop.core.merge.lost import Lost, lost
from innerhop.core.merge.merging import BOTH, HERE, THERE, Meeting, Merged, Undecided
from innerhop.core.merge.unlike import is_another
from innerhop.core.plan import Plan, from_data
from innerhop.core.proof import proved
from innerhop.core.refusals import Refusal
from innerhop.core.source import file_encoding
from innerhop.library.bring_in.again import CameAgain
from innerhop.library.changes.prepare import NextText
from innerhop.library.changes.since_it_came import of_pages
from innerhop.library.index.texts import PageText, current, currents
from innerhop.library.models import BringIn, Link, NewText, Page, Revision, Site

WHOLE = "whole"  # the choice for a page as a whole


class CannotSay(Refusal):
    """Somebody has to say first what a page is to become."""

    def __init__(self, pages: Sequence[Page]) -> None:
        names = ", ".join(f"“{page.title}”" for page in pages[:_NAMED])
        more = f" and {len(pages) - _NAMED} more" if len(pages) > _NAMED else ""
        super().__init__(
            f"On {names}{more} both sides meet. Say there what is to stand, then take it all in."
        )


_NAMED = 4


def wait(bring_in: BringIn, again: Sequence[CameAgain]) -> Iterator[int]:
    """Keep new texts until somebody says what becomes of them; what waited for the same pages
    before goes. Says after each how many are done."""
    pages = Page.objects.select_related("site").in_bulk([one.page for one in again])
    NewText.objects.filter(page__in=pages, change=None).delete()
    rows = [
        NewText(
            page=pages[one.page], bring_in=bring_in, content=one.data, label=one.encoding.label,
            codec=one.encoding.codec, mark=one.encoding.mark,
        )
        for one in again
    ]  # fmt: skip
    for at, found in enumerate(_found(rows), start=1):
        found.save()
        yield at


def _found(rows: Sequence[NewText]) -> Iterator[NewText]:
    """New texts, with what was found of each as its page is now."""
    for at in range(0, len(rows), _BATCH):
        for news in read(rows[at : at + _BATCH]):
            _find(news)
            yield news.row


_BATCH = 40  # pages whose texts are held at once


def waiting(site: Site) -> int | None:
    """The bringing in, by its primary key, of which texts wait; None for none."""
    rows = NewText.objects.filter(bring_in__site=site, change=None, left=False, page__removed=None)
    return rows.order_by("-bring_in").values_list("bring_in", flat=True).first()


def of(bring_in: BringIn) -> list[NewText]:
    """The new texts of one bringing in, as they are with what the pages say now; those where
    an editor has something to say first."""
    known = NewText.objects.filter(bring_in=bring_in, page__removed=None).defer("content")
    rows = list(known.select_related("page__site"))
    led = _led([row.page for row in rows])
    old = [
        row for row in rows
        if row.change_id is None
        and (row.number, row.found.get("led")) != (row.page.revision, led[row.page_id])
    ]  # fmt: skip
    before = {row.pk: _states(row) for row in old}
    for row in _found(old):
        # What was said of a part that both sides have otherwise by now was said of another.
        same = {key for key, state in _states(row).items() if before[row.pk].get(key) == state}
        row.choices = {key: one for key, one in row.choices.items() if key in {*same, WHOLE}}
        row.save(update_fields=["number", "found", "choices"])
    return sorted(rows, key=lambda row: (not row.found["meetings"], row.page.path))


def _states(row: NewText) -> dict[str, str]:
    """By the key of each meeting, what both sides had when it was found."""
    return {one["key"]: one["state"] for one in row.found.get("meetings", ())}


@dataclass
class News:
    """A new text, read beside what is here. here: the page as it is. first, edits: as it came,
    and what was done to that. led: the hops of other pages that lead to it (see `_led`)."""

    row: NewText
    here: PageText
    first: PageText
    edits: Sequence[Edit]
    led: Led

    @cached_property
    def there(self) -> PageText:
        """The page as it comes."""
        return _there(self.row)

    @cached_property
    def arriving(self) -> Counter[str]:
        """How many hops of other pages lead to each ID of the page."""
        source = self.here.source
        ids = ((source.attr(end, "id"), count) for end, count in self.led if end < len(source))
        return Counter({id_: count for id_, count in ids if id_})

    @cached_property
    def merged(self) -> Merged | None:
        """What becomes of both; None where that can't be told."""
        try:
            return Merged(self.first.source, self.here.source, self.edits, self.there.source,
                          encoding=self.row.encoding, led=self.arriving.keys())  # fmt: skip
        except (Unclear, EditsClash):
            return None

    @cached_property
    def lost(self) -> Lost:
        """What was made here and would be gone with the whole as it is there."""
        return lost(self.first, self.here, self.there)

    def next_text(self, choices: Mapping[str, str]) -> NextText:
        """What the page becomes. Raises CannotSay where somebody has to choose first."""
        plan = Plan()
        if choices.get(WHOLE) != THERE:
            if self.merged is None:
                raise CannotSay([self.row.page])
            plan = self.merged.plan(choices)
        return _carried_out(self.row, self.there, plan)


def next_text(row: NewText) -> NextText:
    """What a page becomes, as it was chosen; `row` as `of` has just given it. Where nothing was
    chosen it was planned already. Raises CannotSay where somebody has to choose first."""
    if not row.choices and "plan" in row.found:
        return _carried_out(row, _there(row), from_data(row.found["plan"]))
    return read([row])[0].next_text(row.choices)


def _carried_out(row: NewText, there: PageText, plan: Plan) -> NextText:
    source = proved(there.source, plan)
    data = file_encoding.encode(source.text, row.encoding)
    came = bytes(row.content)
    return NextText(data, row.encoding, None, source, came=came, carried=plan.edits)


def _there(row: NewText) -> PageText:
    text = Revision(content=row.content, label=row.label, codec=row.codec, mark=row.mark)
    return PageText(row.page, text)


def read(rows: Sequence[NewText]) -> list[News]:
    """New texts beside what is here, in their order."""
    pages = [row.page for row in rows]
    texts = currents(pages)
    led = _led(pages)
    came = of_pages(pages)
    return [
        News(row, text, first, edits, led[row.page_id])
        for row, text, (first, edits) in zip(rows, texts, came, strict=True)
    ]


Led = list[list[int]]


def _led(pages: Sequence[Page]) -> dict[int, Led]:
    """By page, the elements that hops of other pages end at, each with how many."""
    links = Link.objects.filter(end_page__in=pages, end__gte=0).exclude(page=F("end_page"))
    rows = links.values_list("end_page", "end").annotate(Count("pk")).order_by("end_page", "end")
    found: dict[int, Led] = {page.pk: [] for page in pages}
    for page, end, count in rows:
        found[page].append([end, count])
    return found


def _find(news: News) -> None:
    """Find out what becomes of a page, in short."""
    row, merged = news.row, news.merged
    row.number = row.page.revision
    if merged is None:
        meeting = {"key": WHOLE, "at": 0, "options": [THERE, HERE], "proposal": "", "state": ""}
        row.found = {"there": [[0, 1]], "here": [], "same": 0, "done": 0, "led": news.led,
                     "meetings": [meeting]}  # fmt: skip
        return
    drawn = TextToDraw(merged.match)
    deeds = [one.deed for one in merged.carried]
    row.found = {
        "led": news.led,
        "length": len(merged.new.text),
        "sections": drawn.sections(),
        "there": [[*one] for one in drawn.there()],
        "here": [[*one] for one in drawn.here(deeds)],
        "same": len(merged.of(SAME)),
        "done": len(deeds),
        "meetings": [
            {"key": one.key, "at": drawn.place(one.ground.first), "options": one.options,
             "proposal": one.proposal, "state": _state(one)} for one in merged.meetings
        ],
        "unlike": is_another(news.first.source, news.there.source),
        **_plan(merged),
    }  # fmt: skip


def _state(meeting: Meeting) -> str:
    sides = f"{meeting.theirs}\0{meeting.ours}".encode("utf-8", "surrogatepass")
    return hashlib.sha256(sides).hexdigest()[:16]


def _plan(merged: Merged) -> dict[str, Any]:
    """What is to be done where nothing else is chosen, to be carried out later; empty where
    somebody has to choose, or where it holds what JSON can't."""
    try:
        plan = merged.plan({}).as_data()
        json.dumps(plan, ensure_ascii=False).encode()
    except (Undecided, UnicodeEncodeError):
        return {}
    return {"plan": plan}


def open_meetings(row: NewText) -> list[str]:
    """The keys of meetings of which somebody has to say what is to stand."""
    if row.choices.get(WHOLE) in (THERE, HERE):
        return []
    unsure = [WHOLE] if row.found.get("unlike") and WHOLE not in row.choices else []
    return unsure + [
        one["key"] for one in row.found["meetings"]
        if (row.choices.get(one["key"]) or one["proposal"]) not in one["options"]
    ]  # fmt: skip


def choose(row: NewText, key: str, choice: str) -> None:
    """Keep what is to stand at a meeting, or of the whole page; "" for nothing said. Raises
    Refusal where there is no such choice."""
    options = {one["key"]: one["options"] for one in row.found["meetings"]}
    options[WHOLE] = [THERE, HERE] if WHOLE in options else [BOTH, THERE, HERE]
    if key not in options or choice not in ("", *options[key]):
        raise Refusal("That is not to be chosen here any more. Load the page again.")
    row.choices = {name: value for name, value in row.choices.items() if name != key}
    if choice:
        row.choices[key] = choice
    row.save(update_fields=["choices"])


@dataclass(frozen=True)
class MovedPage:
    """A page that did not come, and one that did at another address with the same words."""

    page: Page
    to: Page


def is_worked_on(page: Page) -> bool:
    """Whether something was done to a page here since it came in."""
    return bool(of_pages([page])[0][1])


def moved(gone: Sequence[Page], new: Sequence[Page]) -> list[MovedPage]:
    """Pages that likely stand at other addresses by now: with the same title, or as many words,
    and the same words nearly (common practice, no source)."""
    found: list[MovedPage] = []
    left = [one for one in new if not is_worked_on(one)]
    for page, (came, _edits) in zip(gone, of_pages(gone), strict=True):
        alike = (one for one in left if one.title == page.title or one.words == page.words)
        words = " ".join(came.source.text_of(0).split())
        for to in alike:
            there = " ".join(current(to).source.text_of(0).split())
            if fuzz.ratio(words, there, score_cutoff=_SAME):
                found.append(MovedPage(page, to))
                left.remove(to)
                break
    return found


_SAME = 85  # of 100: two texts that are one page's


def leave(bring_in: BringIn, *, left: bool) -> None:
    """Let new texts stay out, or wait again."""
    NewText.objects.filter(bring_in=bring_in, change=None).update(left=left)
