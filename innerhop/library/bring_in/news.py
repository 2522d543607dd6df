"""New texts of pages that were worked on here: what becomes of what was done, seen before
anything is taken in."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any

from innerhop.core.edits import EditsClash
from innerhop.core.merge.carrying import KEPT, SAME
from innerhop.core.merge.deeds import Unclear
from innerhop.core.merge.drawn import Drawn
from innerhop.core.merge.lost import Lost, lost
from innerhop.core.merge.merging import HERE, THERE, Merged
from innerhop.core.plan import Plan
from innerhop.core.proof import proved
from innerhop.core.refusals import Refusal
from innerhop.core.source import file_encoding
from innerhop.library.bring_in.again import Again
from innerhop.library.changes.prepare import NextText
from innerhop.library.changes.since_it_came import first_and_edits
from innerhop.library.index.texts import PageText, current
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


def wait(bring_in: BringIn, again: Sequence[Again]) -> Iterator[int]:
    """Keep new texts until somebody says what becomes of them; what waited for the same pages
    before goes. Says after each how many are done."""
    NewText.objects.filter(page__in=[one.page for one in again], change=None).delete()
    for at, one in enumerate(again, start=1):
        row = NewText(
            page_id=one.page, bring_in=bring_in, content=one.data, label=one.encoding.label,
            codec=one.encoding.codec, mark=one.encoding.mark,
        )  # fmt: skip
        _find(row)
        row.save()
        yield at


def waiting(site: Site) -> int | None:
    """The bringing in, by its primary key, of which texts wait; None for none."""
    rows = NewText.objects.filter(bring_in__site=site, change=None, left=False, page__removed=None)
    return rows.order_by("-bring_in").values_list("bring_in", flat=True).first()


def of(bring_in: BringIn) -> list[NewText]:
    """The new texts of one bringing in, as they are with what the pages say now; those where
    an editor has something to say first."""
    rows = list(
        NewText.objects.filter(bring_in=bring_in, page__removed=None).select_related("page__site")
    )
    for row in rows:
        if row.change_id is None and row.number != row.page.revision:
            _find(row)
            row.save(update_fields=["number", "found"])
    return sorted(rows, key=lambda row: (not row.found["meetings"], row.page.path))


@dataclass
class News:
    """A new text, read beside what is here."""

    row: NewText

    @cached_property
    def here(self) -> PageText:
        """The page as it is."""
        return current(self.row.page)

    @cached_property
    def there(self) -> PageText:
        """The page as it comes."""
        row = self.row
        return PageText(row.page, Revision(
            content=row.content, label=row.label, codec=row.codec, mark=row.mark,
        ))  # fmt: skip

    @cached_property
    def merged(self) -> Merged | None:
        """What becomes of both; None where that can't be told."""
        first, edits = self._came
        try:
            return Merged(first.source, self.here.source, edits, self.there.source,
                          encoding=self.row.encoding, led=self.arriving.keys())  # fmt: skip
        except (Unclear, EditsClash):
            return None

    @cached_property
    def _came(self) -> Any:
        return first_and_edits(self.row.page)

    @cached_property
    def lost(self) -> Lost:
        """What was made here and would be gone with the whole as it is there."""
        return lost(self._came[0], self.here, self.there)

    @cached_property
    def arriving(self) -> Counter[str]:
        """How many hops of other pages lead to each ID of the page."""
        links = Link.objects.filter(end_page=self.row.page, end__gte=0)
        ends = links.exclude(page=self.row.page).values_list("end", flat=True)
        found: Counter[str] = Counter()
        for number, count in Counter(ends).items():
            id_ = self.here.source.attr(number, "id") if number < len(self.here.source) else None
            if id_:
                found[id_] += count
        return found

    def next_text(self, choices: Mapping[str, str]) -> NextText:
        """What the page becomes. Raises CannotSay where somebody has to choose first."""
        plan = Plan()
        if choices.get(WHOLE) != THERE:
            if self.merged is None:
                raise CannotSay([self.row.page])
            plan = self.merged.plan(choices)
        source = proved(self.there.source, plan)
        data = file_encoding.encode(source.text, self.row.encoding)
        came = bytes(self.row.content)
        return NextText(data, self.row.encoding, None, source, came=came, carried=plan.edits)


def _find(row: NewText) -> None:
    """Find out what becomes of a page, in short."""
    row.number = row.page.revision
    news = News(row)
    merged = news.merged
    if merged is None:
        row.found = {"there": [[0, 1]], "here": [], "kept": 0, "same": 0, "done": 0,
                     "meetings": [{"key": WHOLE, "at": 0, "options": [THERE, HERE],
                                   "proposal": ""}]}  # fmt: skip
        return
    drawn = Drawn(merged.match)
    deeds = [one.deed for one in merged.carried]
    row.found = {
        "length": len(merged.new.text),
        "sections": drawn.sections(),
        "there": [[*one] for one in drawn.there()],
        "here": [[*one] for one in drawn.here(deeds)],
        "kept": len(merged.of(KEPT)),
        "same": len(merged.of(SAME)),
        "done": len(deeds),
        "meetings": [
            {"key": one.key, "at": drawn.place(one.ground.first), "options": one.options,
             "proposal": one.proposal} for one in merged.meetings
        ],
    }  # fmt: skip


def open_meetings(row: NewText) -> list[str]:
    """The keys of meetings of which somebody has to say what is to stand."""
    if row.choices.get(WHOLE) in (THERE, HERE):
        return []
    return [
        one["key"] for one in row.found["meetings"]
        if (row.choices.get(one["key"]) or one["proposal"]) not in one["options"]
    ]  # fmt: skip


def choose(row: NewText, key: str, choice: str) -> None:
    """Keep what is to stand at a meeting, or of the whole page; "" for nothing said. Raises
    Refusal where there is no such choice."""
    options = {one["key"]: one["options"] for one in row.found["meetings"]}
    options[WHOLE] = [THERE, HERE]
    if key not in options or choice not in ("", *options[key]):
        raise Refusal("That is not to be chosen here any more. Load the page again.")
    row.choices = {name: value for name, value in row.choices.items() if name != key}
    if choice:
        row.choices[key] = choice
    row.save(update_fields=["choices"])


def leave(bring_in: BringIn, *, left: bool) -> None:
    """Let new texts stay out, or wait again."""
    NewText.objects.filter(bring_in=bring_in, change=None).update(left=left)
