"""Pages that come in again. One on which nothing was done here gets its new text at once, as one
change; where something was done to any of them, or a text seems to be of another page, all wait
until an editor has seen what becomes of it (see `news`)."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

from innerhop.core.merge.unlike import is_another
from innerhop.core.source import file_encoding
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.core.source.tree import Source
from innerhop.library.changes import prepare, write
from innerhop.library.changes.since_it_came import of_pages
from innerhop.library.index.texts import PageText, bytes_of, currents
from innerhop.library.models import Change, Editor, Page, Site
from innerhop.library.steps import finished

_SHOWN = 20  # pages; of more, the count tells


class CameAgain(NamedTuple):
    """A page that came in again, by its primary key, and its new text."""

    page: int
    data: bytes
    encoding: FileEncoding


class Sorted(NamedTuple):
    """What becomes of pages that came in again. change: what gave them their new texts. waiting:
    those that wait. notes: what is to be said of them."""

    change: Change | None
    waiting: Sequence[CameAgain]
    notes: Sequence[str]


def take(site: Site, author: Editor, again: Sequence[CameAgain]) -> Sorted:
    """Give pages their new texts, as one change, or let them wait. They are held from here on
    only: others may work on them until all the rest has been read. Within a transaction."""
    held = write.hold(site, [one.page for one in again])
    new: list[tuple[Page, CameAgain]] = []
    notes: list[str] = []
    same: list[Page] = []
    before: list[Page] = []
    pages = [held[one.page] for one in again]
    worked_on = False
    for one, text, (came, edits) in zip(again, currents(pages), of_pages(pages), strict=True):
        page = text.page
        if bytes_of(text.revision) == one.data:
            same.append(page)
        elif bytes_of(came.revision) == one.data:
            before.append(page)
        else:
            new.append((page, one))
            worked_on = worked_on or bool(edits) or _is_another(text, one)
    if same:
        notes.append(f"{_named(same)} came in as {_they(same)} here already.")
    if before:
        notes.append(f"{_named(before)} came in as before; what was done here stays.")
    if not new:
        return Sorted(None, [], notes)
    if worked_on:
        return Sorted(None, [one for _, one in new], notes)
    notes.append(_said([page for page, _ in new]))
    change = Change.objects.create(
        site=site, author=author, message="Brought pages in again", act="bring-in"
    )
    wanted = [(page, _whole(one.data, one.encoding)) for page, one in new]
    write.write(change, finished(prepare.prepared(wanted)), held, undone=False)
    return Sorted(change, [], notes)


def _is_another(here: PageText, again: CameAgain) -> bool:
    there = Source(file_encoding.decode_as(again.data, again.encoding))
    return is_another(here.source, there)


def _they(pages: Sequence[Page]) -> str:
    return "it is" if len(pages) == 1 else "they are"


def _named(pages: Sequence[Page]) -> str:
    names = ", ".join(f"“{page.title}”" for page in pages[:_SHOWN])
    return f"{names} and {len(pages) - _SHOWN} more" if len(pages) > _SHOWN else names


def _said(pages: Sequence[Page]) -> str:
    is_one = len(pages) == 1
    return (
        f"{_named(pages)} {'has its new text' if is_one else 'have their new texts'} now. "
        f"Undo brings the old {'one' if is_one else 'ones'} back."
    )


def _whole(data: bytes, encoding: FileEncoding) -> prepare.MakeNext:
    def make(_text: PageText, _locked: object) -> prepare.NextText:
        return prepare.NextText(data, encoding, None)

    return make
