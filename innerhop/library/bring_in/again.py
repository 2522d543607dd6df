"""Pages that come in again: their new texts, as one change, and what was made here and is not
in them, told before."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import NamedTuple

from innerhop.core.merge.lost import Lost, lost
from innerhop.core.refusals import Refusal
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.library.changes import prepare, write
from innerhop.library.index.texts import PageText, current
from innerhop.library.models import Change, Editor, Page, Revision, Site

_SHOWN = 20  # pages; of more, the count tells


class Again(NamedTuple):
    """A page that came in again, by its primary key, and its new text."""

    page: int
    data: bytes
    encoding: FileEncoding


class WouldLose(Refusal):
    """What was made here is not in the new texts. pages: each with what it would lose. lines:
    the same in words."""

    def __init__(self, pages: Sequence[tuple[Page, Lost]]) -> None:
        count = len(pages)
        super().__init__(
            f"Nothing was brought in yet. What was made here is not in the new text of "
            f"{f'{count} pages' if count > 1 else 'one page'}, and would be lost."
        )
        more = len(pages) - _SHOWN
        self.lines = [
            f"{page.title} ({page.path}): {'; '.join(one.sentences)}." for page, one in
            pages[:_SHOWN]
        ] + ([f"And {more} more pages."] if more > 0 else [])  # fmt: skip


def replace(
    site: Site, author: Editor, again: Sequence[Again], *, lose: bool
) -> tuple[Change | None, list[str]]:
    """Give pages their new texts, as one change; with what is to be said of it. They are held
    from here on only: others may work on them until all the rest has been read. lose: whether
    what was made here may go. Within a transaction. Raises WouldLose."""
    held = write.hold(site, [one.page for one in again])
    new: list[tuple[Page, Again]] = []
    notes = []
    for one in again:
        page = held[one.page]
        if bytes(page.revisions.get(number=page.revision).content) == one.data:
            notes.append(f"“{page.title}” came in as it is here already.")
        else:
            new.append((page, one))
    if not lose and (gone := list(_lost(new))):
        raise WouldLose(gone)
    if not new:
        return None, notes
    names = ", ".join(f"“{page.title}”" for page, _ in new[:_SHOWN])
    is_one = len(new) == 1
    more = f" and {len(new) - _SHOWN} more" if len(new) > _SHOWN else ""
    notes.append(
        f"{names}{more} {'has its new text' if is_one else 'have their new texts'} now. "
        f"Undo brings the old {'one' if is_one else 'ones'} back."
    )
    change = Change.objects.create(
        site=site, author=author, message="Brought pages in again", act="bring-in"
    )
    wanted = [(page, _whole(one.data, one.encoding)) for page, one in new]
    write.write(change, prepare.finished(prepare.prepared(wanted)), held, undone=False)
    return change, notes


def _lost(new: Sequence[tuple[Page, Again]]) -> Iterator[tuple[Page, Lost]]:
    for page, one in new:
        came = _as_it_came(page)
        if came is None:
            continue
        wanted = PageText(page, Revision(
            content=one.data, label=one.encoding.label, codec=one.encoding.codec,
            mark=one.encoding.mark,
        ))  # fmt: skip
        gone = lost(came, current(page), wanted)
        if gone.is_any:
            yield page, gone


def _as_it_came(page: Page) -> PageText | None:
    """The page as it came in last; None where nothing was done to it since."""
    rows = page.revisions.filter(number__lte=page.revision, edits__isnull=True).order_by("-number")
    row = rows.first()
    return None if row is None or row.number == page.revision else PageText(page, row)


def _whole(data: bytes, encoding: FileEncoding) -> prepare.MakeNext:
    def make(_text: PageText, _locked: object) -> prepare.NextText:
        return prepare.NextText(data, encoding, None)

    return make
