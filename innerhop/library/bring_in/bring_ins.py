"""Bringing in: files, archives and pasted markup become pages and assets of a
site, all in one transaction, with an account of what came and what did not."""

from __future__ import annotations

import mimetypes
import re
from collections.abc import Generator, Iterable, Iterator
from dataclasses import dataclass, field
from typing import BinaryIO

from django.db import transaction

from innerhop.core.addresses import urls
from innerhop.core.source import file_encoding
from innerhop.library import sites
from innerhop.library.bring_in import packing
from innerhop.library.bring_in.packing import LARGEST_FILE, MEGABYTE, Refused
from innerhop.library.changes import changes
from innerhop.library.index import index
from innerhop.library.index.texts import PageText
from innerhop.library.models import Arrival, Asset, Change, Editor, Page, Revision, Site

LARGEST_PAGE = 4 * MEGABYTE
_BATCH = 50
_PAGE = re.compile(r"\.x?html?$", re.IGNORECASE)
_ASSET_KINDS = ("text/css", "image/", "font/", "audio/", "video/", "application/pdf", "text/plain")
# What Python's table of types may lack, by file ending.
_MORE_KINDS = {
    ".js": "text/javascript",
    ".mjs": "text/javascript",
    ".json": "application/json",
    ".webmanifest": "application/manifest+json",
    ".xml": "application/xml",
    ".woff": "font/woff",
    ".woff2": "font/woff2",
    ".ttf": "font/ttf",
    ".otf": "font/otf",
    ".webp": "image/webp",
    ".avif": "image/avif",
    ".svg": "image/svg+xml",
    ".ico": "image/x-icon",
    ".css": "text/css",
    ".map": "application/json",
}


@dataclass(frozen=True)
class Piece:
    """One thing to bring in. address: what the editor typed for it, or ""."""

    name: str
    data: bytes
    address: str = ""
    title: str = ""
    body_only: bool = False


@dataclass(frozen=True)
class Progress:
    """So many of the files are done."""

    done: int
    total: int


@dataclass
class _Account:
    """What has happened so far."""

    pages: list[Page] = field(default_factory=list)
    keys: set[str] = field(default_factory=set)
    waiting: list[PageText] = field(default_factory=list)
    assets: int = 0
    skipped: list[list[str]] = field(default_factory=list)
    notes: list[str] = field(default_factory=list)
    change: Change | None = None


def pieces_of_upload(files: Iterable[tuple[str, BinaryIO]]) -> tuple[int, Iterator[Piece]]:
    """What an upload holds: its files, and the files in its archives.

    Raises Refused when an archive can't be taken.
    """
    total = 0
    readers: list[Iterator[tuple[str, bytes]]] = []
    for name, file in files:
        start = file.read(4)
        file.seek(0)
        if packing.is_zip(name, start):
            names, contents = packing.unpack(file)
        else:
            names, contents = [name], _content(file)
        readers.append(zip(names, contents, strict=True))
        total += len(names)
    return total, (Piece(name, data) for reader in readers for name, data in reader)


def _content(file: BinaryIO) -> Iterator[bytes]:
    yield file.read(LARGEST_FILE + 1)


def bring_in(
    site: Site, author: Editor, pieces: Iterable[Piece], total: int, replace: bool = False
) -> Generator[Progress, None, Arrival]:
    """Bring the pieces in, telling how far it has come; returns the Arrival.

    replace: give a page whose address is taken its new text, as a change that
    can be undone; otherwise such a page gets a free address. Raises Refused
    when no page came in; then, and when the generator is closed early, nothing
    is kept.
    """
    with transaction.atomic():
        account = _Account()
        for done, piece in enumerate(pieces, start=1):
            _take(site, author, piece, account, replace)
            if done % _BATCH == 0:
                _flush(account)
                yield Progress(done, total)
        _flush(account)
        if not account.pages:
            raise Refused(_nothing_came(account))
        arrival = Arrival.objects.create(
            site=site,
            author=author,
            assets=account.assets,
            skipped=account.skipped,
            notes=account.notes,
        )
        arrival.pages.set(account.pages)
    yield Progress(total, total)
    return arrival


def _nothing_came(account: _Account) -> str:
    if not account.skipped:
        return "Nothing was brought in: there was no page in it. Choose HTML files, or a ZIP."
    name, why = account.skipped[0]
    more = f" (and {len(account.skipped) - 1} more)" if len(account.skipped) > 1 else ""
    return f"Nothing was brought in: {name} was left out because {why}{more}."


def _take(site: Site, author: Editor, piece: Piece, account: _Account, replace: bool) -> None:
    is_page = bool(_PAGE.search(piece.name)) or piece.body_only or bool(piece.address)
    limit = LARGEST_PAGE if is_page else LARGEST_FILE
    if len(piece.data) > limit:
        what = "a page" if is_page else "a file"
        reason = f"it is over {limit // MEGABYTE} MB, the limit for {what}"
        account.skipped.append([piece.name, reason])
    elif is_page:
        _take_page(site, author, piece, account, replace)
    else:
        _take_asset(site, piece, account)


def _take_page(site: Site, author: Editor, piece: Piece, account: _Account, replace: bool) -> None:
    if not piece.data.strip():
        account.skipped.append([piece.name, "it is empty"])
        return
    try:
        _text, encoding = file_encoding.decode(piece.data)
    except file_encoding.NotText as problem:
        account.skipped.append([piece.name, str(problem)])
        return
    path = piece.address or urls.address_of_file(piece.name)
    key = site.key_of(path)
    there = site.pages.filter(key=key).first()
    if there is not None and replace and key not in account.keys:
        _replace(there, author, piece.data, encoding, account)
        return
    if there is not None:
        free = sites.free_path(site, path)
        account.notes.append(
            f"{piece.name} would have the address {path}, which “{there.title}” has. "
            f"It came in at {free}."
        )
        path = free
    page = Page(
        site=site,
        path=path,
        key=site.key_of(path),
        file="" if piece.address else piece.name,
        title=piece.title,
        body_only=piece.body_only,
        revision=1,
    )
    revision = Revision(page=page, number=1, content=piece.data, label=encoding.label,
                        codec=encoding.codec, mark=encoding.mark)  # fmt: skip
    text = PageText(page, revision)
    index.describe(page, text)
    page.save()
    account.keys.add(page.key)
    account.pages.append(page)
    account.waiting.append(text)


def _replace(
    page: Page, author: Editor, data: bytes, encoding: file_encoding.FileEncoding, account: _Account
) -> None:
    account.keys.add(page.key)
    account.pages.append(page)
    if bytes(page.revisions.get(number=page.revision).content) == data:
        account.notes.append(f"“{page.title}” came in as it is here already.")
        return
    if account.change is None:
        account.change = Change.objects.create(
            site=page.site, author=author, said="Brought pages in again"
        )
    changes.replace(page, data, encoding, account.change)
    account.notes.append(f"“{page.title}” has its new text now. Undo brings the old one back.")


def _take_asset(site: Site, piece: Piece, account: _Account) -> None:
    kind = media_type(piece.name)
    if kind is None:
        reason = "it is no page, style, picture, font or script"
        account.skipped.append([piece.name, reason])
        return
    Asset.objects.update_or_create(
        site=site,
        path="/" + piece.name.lstrip("/"),
        defaults={"content": piece.data, "media_type": kind, "size": len(piece.data)},
    )
    account.assets += 1


def media_type(name: str) -> str | None:
    """The media type of a file that pages use; None for files of other kinds."""
    ending = name[name.rfind(".") :].lower() if "." in name else ""
    kind = _MORE_KINDS.get(ending) or mimetypes.guess_type(name)[0] or ""
    known = ending in _MORE_KINDS or kind.startswith(_ASSET_KINDS)
    return kind if known else None


def _flush(account: _Account) -> None:
    """Write what waits, so that memory holds no more than a batch of pages."""
    Revision.objects.bulk_create([text.revision for text in account.waiting])
    index.write(account.waiting)
    account.waiting = []
