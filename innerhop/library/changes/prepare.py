"""Changes, prepared: planned on known revisions, proved, and with the rows of the index
made, without holding anything that others need. What is prepared waits as revisions
without a number; `write` makes them the pages' own in a moment."""

from __future__ import annotations

from collections.abc import Callable, Collection, Generator, Iterator, Sequence
from dataclasses import dataclass, field, replace
from typing import Any, TypeVar

from innerhop.core.edits import Edit
from innerhop.core.origins import origins_of, shifts_of
from innerhop.core.plan import Plan
from innerhop.core.proof import proved
from innerhop.core.refusals import Refusal
from innerhop.core.source import file_encoding
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.core.source.tree import Source
from innerhop.library.changes import locked_parts
from innerhop.library.index import foresight, partial, rows, store
from innerhop.library.index.foresight import Foreseen
from innerhop.library.index.store import Delta
from innerhop.library.index.texts import PageText, currents, keep, to_rows
from innerhop.library.models import LockedPart, Page, Revision

_BATCH = 40  # pages whose texts are held at once
_FEW_SHIFTS = 4  # more are no faster than writing the rows anew


@dataclass(frozen=True)
class PagesDone:
    """How far a change has come, in pages."""

    done: int
    total: int


MakeNext = Callable[[PageText, Sequence[LockedPart]], "NextText"]


@dataclass(frozen=True)
class PagePlan:
    """What is to be done to one page, planned on the revision with that number.

    make: the plan, for the text of that revision. It is made when it is shown or
    carried out, so that plans for thousands of pages hold no texts. is_alone: whether what it
    does is of its page alone, so that other pages don't wait for it where it can't be done.
    whole: what makes the page's next text, where that isn't the one before with edits.
    """

    page: Page
    revision: int
    make: Callable[[PageText], Plan]
    is_alone: bool = False
    whole: MakeNext | None = None


class LeftOut(Exception):
    """A page stays as it is, and the others of a change don't."""

    def __init__(self, page: Page, reason: str) -> None:
        super().__init__(reason)
        self.page = page
        self.reason = reason

    @property
    def sentence(self) -> str:
        """What is said of it."""
        return f"“{self.page.title}” stays as it is: {self.reason}"


@dataclass(frozen=True)
class NextText:
    """A page's next text. edits: None when the whole is new. source: it, read; None
    where it has not been. touched: the elements of which attributes change, where that is
    known to be all; names: these attributes, in that case. came, carried: the text that came
    in and the edits that were carried over to it, where that is how the whole is new. places:
    how far down the page some of the edits stand, from 0 to 1."""

    data: bytes
    encoding: FileEncoding
    edits: Sequence[Edit] | None
    source: Source | None = None
    touched: Collection[int] | None = None
    names: Collection[str] | None = None
    came: bytes | None = None
    carried: Sequence[Edit] | None = None
    places: Sequence[float] = ()


@dataclass(frozen=True)
class Prepared:
    """A page's part of a change, ready to be written.

    revision, path: what the page had when this was planned. staged: the primary key of
    its next revision; None where its text stays. delta: of its rows in the index.
    described: what its own row is to say of it, None where that stays. is_told: whether rules
    see some of that. locked: where its locked parts stand afterwards. foreseen: what will be
    found on it, where that could be told.
    """

    page: Page
    revision: int
    path: str
    staged: int | None
    delta: Delta
    described: list[Any] | None = None
    is_told: bool = False
    locked: Sequence[locked_parts.Place] = field(default_factory=list)
    foreseen: Foreseen | None = None


Wanted = tuple[Page, MakeNext | None]  # a page, and what makes its next text if that is new


def of_plan(plan: PagePlan) -> MakeNext:
    """The next text as a plan has it: proved, and outside of what is locked."""
    if plan.whole is not None:
        return plan.whole

    def make(text: PageText, locked: Sequence[LockedPart]) -> NextText:
        try:
            return carried_out(text, locked)
        except Refusal as problem:
            if plan.is_alone:
                raise LeftOut(plan.page, problem.message) from None
            raise

    def carried_out(text: PageText, locked: Sequence[LockedPart]) -> NextText:
        planned = plan.make(text)
        locked_parts.refuse(text.source, [one for one in locked if not one.lifted], planned.edits)
        source = proved(text.source, planned)
        encoding = text.revision.encoding
        data = file_encoding.encode(source.text, encoding)
        claim = planned.claim
        if not claim.keeps_elements:
            return NextText(data, encoding, planned.edits, source)
        names = {name for values in claim.attributes.values() for name in values}
        return NextText(data, encoding, planned.edits, source, claim.attributes.keys(), names)

    return make


Steps = Generator[PagesDone, None, list[Prepared]]


def prepared(
    wanted: Sequence[Wanted],
    paths: dict[int, str] | None = None,
    left_out: list[LeftOut] | None = None,
) -> Steps:
    """Prepare the next texts of these pages; None for one whose text stays. paths: by
    primary key, the path that a page is to have. left_out: takes up the pages that stay as
    they are.

    Raises what making them raises; then, and when it is ended early, nothing is kept.
    """
    refused = [] if left_out is None else left_out
    found: list[Prepared] = []
    left = foresight.MOST if len(wanted) >= foresight.FROM else 0
    try:
        for at, batch in _batches(wanted):
            yield PagesDone(at, len(wanted))
            made = _batch(batch, paths or {}, refused, looks_ahead=left > 0)
            left -= sum(len(one.foreseen.found) for one in made if one.foreseen)
            found += made
    except BaseException:
        throw_away(found)
        raise
    return found


def throw_away(ready: Sequence[Prepared]) -> None:
    """Forget what was prepared and will not be written."""
    staged = [one.staged for one in ready if one.staged is not None]
    Revision.objects.filter(pk__in=staged, number=None).delete()


T = TypeVar("T")


def _batches(items: Sequence[T]) -> Iterator[tuple[int, Sequence[T]]]:
    for at in range(0, len(items), _BATCH):
        yield at, items[at : at + _BATCH]


def _batch(
    batch: Sequence[Wanted], paths: dict[int, str], left_out: list[LeftOut], *, looks_ahead: bool
) -> list[Prepared]:
    pages = [page for page, _ in batch]
    locked = locked_parts.of(pages, lifted=True)
    made = []
    for text, (page, make) in zip(currents(pages), batch, strict=True):
        try:
            made.append(_next_of(text, make, locked[page.pk], paths.get(page.pk, page.path)))
        except LeftOut as one:
            left_out.append(one)
    # In the order in which pages are held: each row looks at its page, and might wait there.
    staged = [one.revision for one in made if one.revision is not None]
    keep(sorted(staged, key=lambda one: one.page_id))
    whole = [one for one in made if one.touch is None]
    deltas = store.deltas(
        [one.page for one in whole], [one.rows for one in whole], [one.shifts for one in whole]
    )
    found = {delta.page.pk: delta for delta in deltas}
    touches = [one.touch for one in made if one.touch is not None]
    marked: dict[int, int] = {}
    for delta, more in partial.deltas(touches):
        found[delta.page.pk] = delta
        marked[delta.page.pk] = more
    ahead = _foreseen(made, found) if looks_ahead else {}
    return [
        one.ready(found[one.page.pk], marked.get(one.page.pk, 0), ahead.get(one.page.pk))
        for one in made
    ]


def _foreseen(made: Sequence[_Made], deltas: dict[int, Delta]) -> dict[int, Foreseen]:
    """What will be found on the pages that stay at their addresses and say something new."""
    subjects = [foresight.Subject(one.later, deltas[one.page.pk], one.rows)
                for one in made if one.page.path == one.later.path]  # fmt: skip
    news = {one.page.pk for one in made if one.described} | {
        pk for pk, delta in deltas.items() if not delta.is_empty
    }
    return foresight.foresee([one for one in subjects if one.page.pk in news])


@dataclass(frozen=True)
class _Made:
    """A page's part of a change before it is compared with what the index has. later: the
    page as it is to be."""

    page: Page
    later: Page
    revision: Revision | None
    rows: rows.Rows
    shifts: Sequence[tuple[int, int]]
    described: list[Any] | None
    locked: Sequence[locked_parts.Place]
    touch: partial.Touch | None = None
    names: Collection[str] | None = None

    def ready(self, delta: Delta, marked: int, ahead: Foreseen | None) -> Prepared:
        page, staged = self.page, self.revision
        described = self.described
        if marked:
            described = rows.described(page)
            described[_MARKED] += marked
        ids_alone = self.names is not None and _IDS.issuperset(self.names)
        return Prepared(
            page=page,
            revision=page.revision,
            path=page.path,
            staged=None if staged is None else staged.pk,
            delta=replace(delta, ids_alone=ids_alone),
            described=described,
            is_told=described is not None and _seen(described) != _seen(rows.described(page)),
            locked=self.locked,
            foreseen=ahead,
        )


_IDS = frozenset(("id", "name"))
_MARKED = list(rows.DESCRIBED).index("marked_count")


def _seen(described: Sequence[Any]) -> list[Any]:
    """What rules see of it."""
    return [one for at, one in enumerate(described) if at != _MARKED]


def _next_of(
    text: PageText, make: MakeNext | None, locked: Sequence[LockedPart], path: str
) -> _Made:
    page = text.page
    # The page as it is to be: what is read from its text depends on its address too.
    later = Page(pk=page.pk, site=page.site, path=path, key=page.site.key_of(path))
    for name in ("title", "body_only", *rows.DESCRIBED):
        setattr(later, name, getattr(page, name))
    if make is None:
        now = PageText(later, text.revision)
        rows.describe(later, now)
        return _Made(page, later, None, rows.rows_of(now), (), _described(page, later), [])
    following = make(text, locked)
    revision = Revision(
        page=page,
        number=None,
        content=following.data,
        label=following.encoding.label,
        codec=following.encoding.codec,
        mark=following.encoding.mark,
        edits=None if following.edits is None else to_rows(following.edits),
        came=following.came,
        carried=None if following.carried is None else to_rows(following.carried),
        places=list(following.places),
    )
    now = PageText(later, revision)
    if following.source is not None:
        now.__dict__["source"] = following.source  # read already, to be proved
    places = locked_parts.carried(text.source, now.source, locked, following.edits)
    if path == page.path:
        touch = _touch(later, text, now.source, following)
        if touch is not None:
            return _Made(page, later, revision, {}, (), None, places, touch, following.names)
    rows.describe(later, now)
    shifts = _shifts(text.source, now.source, following.edits)
    told = _described(page, later)
    made = rows.rows_of(now)
    return _Made(page, later, revision, made, shifts, told, places, names=following.names)


def _touch(page: Page, text: PageText, new: Source, following: NextText) -> partial.Touch | None:
    """The change as one of attributes alone, where it is one."""
    if following.edits is None:
        return None
    touched = following.touched
    if touched is None:
        touched = partial.from_edits(text.source, following.edits)
    return partial.touch(page, text, new, touched) if touched else None


def _described(page: Page, later: Page) -> list[object] | None:
    now = rows.described(later)
    return None if now == rows.described(page) else now


def _shifts(old: Source, new: Source, edits: Sequence[Edit] | None) -> Sequence[tuple[int, int]]:
    """How the numbers of a page's elements move."""
    if edits is None or not any("<" in edit.new or "<" in edit.old for edit in edits):
        return ()
    found = shifts_of(origins_of(old, new, edits))
    return found if len(found) <= _FEW_SHIFTS else ()
