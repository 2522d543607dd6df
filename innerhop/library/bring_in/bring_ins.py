"""Bringing in: files, archives and pasted markup become pages and assets of a
site, all in one transaction, with an account of what came and what did not."""

from __future__ import annotations

from collections.abc import Generator, Iterable, Iterator, Sequence
from dataclasses import dataclass, field
from typing import BinaryIO

from django.db import IntegrityError, transaction

from innerhop.core.addresses import urls
from innerhop.core.source import file_encoding
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.fetch.asked import LARGEST_FILE, LARGEST_PAGE, MEGABYTE
from innerhop.library import sites, usual_forms
from innerhop.library.bring_in import again, called_so, media_types, news, packing
from innerhop.library.bring_in.again import CameAgain
from innerhop.library.bring_in.packing import Refused
from innerhop.library.index import led_on, rows, store, texts, verdicts
from innerhop.library.index.rows import Row
from innerhop.library.index.texts import PageText
from innerhop.library.models import Asset, BringIn, Change, Editor, Link, Page, Revision, Site

_BATCH = 50  # pages, or
_BATCH_BYTES = MEGABYTE  # so much of them, are written at a time
_MOST_LINKS = 50_000  # of new pages that are held until the end
_LONGEST_NAME = 1_000  # bytes: what an index of PostgreSQL surely holds beside a site


@dataclass(frozen=True)
class NewFile:
    """One thing to bring in. address: what the editor typed for it, or where it was fetched
    from, or "". said: the encoding of a page that its server says; media_type: of a file, the
    same; "" for neither."""

    name: str
    data: bytes
    address: str = ""
    title: str = ""
    body_only: bool = False
    said: str = ""
    media_type: str = ""


@dataclass(frozen=True)
class PiecesDone:
    """So many of the files are done."""

    done: int
    total: int


@dataclass
class _Account:
    """What has happened so far. keys: of the pages the site has, with their primary
    keys, None for one that came in just now. waiting: what is not written yet. links: of what
    is: they are written once all marks are that they may lead to, as long as they are not
    too many to hold."""

    keys: dict[str, int | None]
    links: list[tuple[Page, Row]] = field(default_factory=list)
    are_judged: bool = True
    pages: list[Page] = field(default_factory=list)
    again: list[CameAgain] = field(default_factory=list)
    change: Change | None = None
    waiting: list[PageText] = field(default_factory=list)
    files: list[Asset] = field(default_factory=list)
    held: int = 0
    assets: int = 0
    skipped: list[list[str]] = field(default_factory=list)
    notes: list[str] = field(default_factory=list)


@dataclass(frozen=True)
class Upload:
    """What was sent: how many files, what they hold, what is left out of them with the reason,
    and how many are pages."""

    total: int
    pieces: Iterator[NewFile]
    left_out: list[tuple[str, str]]
    pages: int


def read_upload(files: Iterable[tuple[str, BinaryIO]]) -> Upload:
    """What an upload holds: its files, and the files in its archives.

    Raises Refused when an archive can't be taken.
    """
    total = pages = 0
    readers: list[Iterator[tuple[str, bytes]]] = []
    left_out: list[tuple[str, str]] = []
    for name, file in files:
        start = file.read(4)
        file.seek(0)
        if packing.is_zip(name, start):
            archive = packing.unpack(file)
            readers.append(zip(archive.names, archive.contents, strict=True))
            total += len(archive.names)
            pages += sum(map(media_types.is_page, archive.names))
            left_out += archive.left_out
        else:
            readers.append(iter([(name, file.read(LARGEST_FILE + 1))]))
            total += 1
            pages += media_types.is_page(name)
    pieces = (NewFile(name, data) for reader in readers for name, data in reader)
    return Upload(total, pieces, left_out, pages)


def bring_in(
    site: Site,
    author: Editor,
    pieces: Iterable[NewFile],
    total: int,
    *,
    replace: bool = False,
    left_out: Iterable[tuple[str, str]] = (),
    notes: Iterable[str] = (),
    gone: Sequence[int] | None = None,
) -> Generator[PiecesDone, None, BringIn]:
    """Bring the pieces in, telling how far it has come; returns the account of it.

    replace: give a page whose address is taken its new text, as a change that
    can be undone, or let that wait where something was done to it here (see `again`); otherwise
    such a page gets a free address. left_out: names that are not among the pieces, with the
    reason. notes: what the account says first. gone: as `BringIn` has it. Raises Refused when no
    page came in; then, and when the generator is closed early, nothing is kept.
    """
    yield PiecesDone(0, total)
    try:
        with transaction.atomic():
            account = _Account(dict(site.pages.values_list("key", "pk")))
            account.skipped += ([name, why] for name, why in left_out)
            account.notes += notes
            for done, piece in enumerate(pieces, start=1):
                _take(site, piece, account, replace)
                if account.held >= _BATCH_BYTES or len(account.waiting) >= _BATCH:
                    _flush(account)
                    yield PiecesDone(done, total)
            _flush(account)
            if not account.pages and not account.again:
                raise Refused(_nothing_came(account))
            if account.pages:
                ends = verdicts.insert_judged(site, account.links)
                account.notes += called_so.take(site, account.pages)
                keys = led_on.forget(site, [page.key for page in account.pages])
                verdicts.renew_all(
                    site, account.pages, keys, also=ends, are_judged=account.are_judged
                )
            taken = again.take(site, author, account.again)
            account.change, account.notes = taken.change, [*account.notes, *taken.notes]
            usual_forms.learn(site)
            found = _kept(site, author, account, gone)
            for at in news.wait(found, taken.waiting):
                yield PiecesDone(total - len(taken.waiting) + at, total)
    except IntegrityError:
        raise Refused(
            "Somebody brought in a page with one of these addresses at the same moment. Nothing "
            "was brought in; send the files once more."
        ) from None
    yield PiecesDone(total, total)
    return found


def _kept(site: Site, author: Editor, account: _Account, gone: Sequence[int] | None) -> BringIn:
    found = BringIn.objects.create(
        site=site,
        author=author,
        assets=account.assets,
        skipped=account.skipped,
        notes=account.notes,
        change=account.change,
        gone=gone if gone is None else list(gone),
    )
    found.pages.set([*account.pages, *(one.page for one in account.again)])
    return found


def _nothing_came(account: _Account) -> str:
    if not account.skipped:
        return "Nothing was brought in: there was no page in it. Choose HTML files, or a ZIP."
    name, why = account.skipped[0]
    more = f" (and {len(account.skipped) - 1} more)" if len(account.skipped) > 1 else ""
    return f"Nothing was brought in: {name} was left out because {why}{more}."


def _take(site: Site, piece: NewFile, account: _Account, replace: bool) -> None:
    is_page = media_types.is_page(piece.name) or piece.body_only or bool(piece.address)
    limit = LARGEST_PAGE if is_page else LARGEST_FILE
    if len(piece.name.encode("utf-8", "replace")) > _LONGEST_NAME:
        account.skipped.append([f"{piece.name[:80]}…", "its name is too long"])
    elif len(piece.data) > limit:
        what = "a page" if is_page else "a file"
        reason = f"it is over {limit // MEGABYTE} MB, the limit for {what}"
        account.skipped.append([piece.name, reason])
    elif is_page:
        _take_page(site, piece, account, replace)
    else:
        _take_asset(site, piece, account)


def _take_page(site: Site, piece: NewFile, account: _Account, replace: bool) -> None:
    if not piece.data.strip():
        account.skipped.append([piece.name, "it is empty"])
        return
    try:
        _text, encoding = file_encoding.decode(piece.data, piece.said)
    except file_encoding.NotText as problem:
        account.skipped.append([piece.name, problem.message])
        return
    path = piece.address or urls.address_of_file(piece.name)
    if len(path) > urls.LONGEST_PATH:
        account.skipped.append([f"{piece.name[:80]}…", "the address it would have is too long"])
        return
    key = site.key_of(path)
    there = account.keys.get(key)
    if there is not None and replace:
        account.again.append(CameAgain(there, piece.data, encoding))
        account.keys[key] = None
        return
    if key in account.keys:
        path = _other_path(site, piece, path, account)
    account.waiting.append(_new_page(site, piece, path, encoding))
    account.keys[site.key_of(path)] = None
    account.held += len(piece.data)


def _other_path(site: Site, piece: NewFile, path: str, account: _Account) -> str:
    """A free path for a page whose own is taken."""
    free = sites.free_path(site, path, account.keys)
    there = site.pages.filter(pk=account.keys[site.key_of(path)] or 0).first()
    owner = f"“{there.title}”" if there else "another page of these"
    account.notes.append(
        f"{piece.name} would have the address {path}, which {owner} has. It came in at {free}."
    )
    return free


def _new_page(site: Site, piece: NewFile, path: str, encoding: FileEncoding) -> PageText:
    page = Page(
        site=site,
        path=path,
        key=site.key_of(path),
        file="" if piece.address else piece.name,
        title=piece.title,
        body_only=piece.body_only,
        revision=1,
    )
    revision = Revision(
        number=1,
        content=piece.data,
        label=encoding.label,
        codec=encoding.codec,
        mark=encoding.mark,
    )
    text = PageText(page, revision)
    rows.describe(page, text)
    return text


def _take_asset(site: Site, piece: NewFile, account: _Account) -> None:
    asset = Asset(
        site=site,
        path="/" + piece.name.lstrip("/"),
        content=piece.data,
        media_type=piece.media_type or media_types.of(piece.name),
        size=len(piece.data),
    )
    account.files = [one for one in account.files if one.path != asset.path]
    account.files.append(asset)
    account.assets += 1
    account.held += len(piece.data)


def _flush(account: _Account) -> None:
    """Write what waits, so that memory holds no more than a batch of pages."""
    waiting, files = account.waiting, account.files
    pages = Page.objects.bulk_create([text.page for text in waiting])
    for page, text in zip(pages, waiting, strict=True):
        text.revision.page = page
    texts.keep([text.revision for text in waiting])
    found = [(text.page, rows.rows_of(text)) for text in waiting]
    if len(account.links) < _MOST_LINKS:
        account.links += ((page, row) for page, own in found for row in own.pop(Link))
    else:
        account.are_judged = False
    store.insert(found)
    Asset.objects.bulk_create(
        files,
        update_conflicts=True,
        unique_fields=["site", "path"],
        update_fields=["content", "media_type", "size", "removed", "remover"],
    )
    account.pages += pages
    account.waiting, account.files, account.held = [], [], 0
