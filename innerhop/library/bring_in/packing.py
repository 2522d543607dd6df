"""Archives, read with care: one that swells, climbs out of its folder or holds
too many files is refused before anything of it is kept."""

from __future__ import annotations

import io
import lzma
import posixpath
import re
import stat
import struct
import zipfile
import zlib
from collections.abc import Iterator
from dataclasses import dataclass
from typing import BinaryIO

from innerhop.core.refusals import Refusal
from innerhop.fetch.asked import LARGEST_FILE, MEGABYTE

MOST_FILES = 3_000
LARGEST_TOTAL = 100 * MEGABYTE
# What systems put beside the files of a site, and what is no part of it.
_SYSTEM = re.compile(r"(^|/)(__MACOSX/|\._|\.DS_Store$|Thumbs\.db$|desktop\.ini$)", re.IGNORECASE)
_HISTORY = re.compile(r"(^|/)\.(git|svn|hg)/")
_DAMAGED = (
    zipfile.BadZipFile, NotImplementedError, RuntimeError, OSError, EOFError, ValueError,
    OverflowError, zlib.error, lzma.LZMAError, struct.error,
)  # fmt: skip


class Refused(Refusal):
    """What was sent can't be brought in; says why and what to do."""


def is_zip(name: str, start: bytes) -> bool:
    """Whether a file is a ZIP archive, by its first bytes or by its name."""
    return start.startswith((b"PK\x03\x04", b"PK\x05\x06")) or name.lower().endswith(".zip")


@dataclass(frozen=True)
class Archive:
    """An archive's files: their names, and their contents in the same order, read one at
    a time. left_out: names that are not among them, each with the reason."""

    names: list[str]
    contents: Iterator[bytes]
    left_out: list[tuple[str, str]]


def unpack(file: BinaryIO) -> Archive:
    """What an archive holds. A folder that holds all the rest is left out of the names.

    Raises Refused at once for what the list of contents shows, and while
    reading for what only the contents show.
    """
    try:
        archive = zipfile.ZipFile(file)
        entries = [entry for entry in archive.infolist() if not entry.is_dir()]
    except _DAMAGED:
        raise Refused("This is not a ZIP file, or it is damaged. Pack it again.") from None
    wanted = []
    left_out = []
    for entry in entries:
        if _HISTORY.search(entry.filename):
            left_out.append((entry.filename, "it is the history of the files, and no part of them"))
        elif _SYSTEM.search(entry.filename):
            left_out.append((entry.filename, "a computer put it there, and no site uses it"))
        else:
            wanted.append(entry)
    if len(wanted) > MOST_FILES:
        raise Refused(
            f"This ZIP holds {len(wanted):,} files; {MOST_FILES:,} is the limit. "
            "Pack only the pages and what they use."
        )
    names = _names(wanted)
    for name, entry in zip(names, wanted, strict=True):
        _check(name, entry)
    return Archive(names, _read_each(archive, wanted), left_out[:_MOST_LEFT_OUT])


_MOST_LEFT_OUT = 100  # names: more say nothing new


def _names(entries: list[zipfile.ZipInfo]) -> list[str]:
    names = [entry.filename.replace("\\", "/") for entry in entries]
    top = names[0].partition("/")[0] + "/" if names else ""
    all_inside = len(top) > 1 and all(name.startswith(top) for name in names)
    return [name.removeprefix(top) for name in names] if all_inside else names


def _check(name: str, entry: zipfile.ZipInfo) -> None:
    whole = entry.filename.replace("\\", "/")
    for one in (whole, name):
        climbs = posixpath.normpath(one).startswith("../") or ".." in one.split("/")
        if climbs or one.startswith("/") or re.match(r"[A-Za-z]:", one):
            raise Refused(f"The ZIP has a file outside its own folder ({whole}). Pack it again.")
    if stat.S_ISLNK(entry.external_attr >> 16):
        raise Refused(f"The ZIP holds a shortcut to another place ({whole}). Pack the file itself.")
    if entry.flag_bits & 1:
        raise Refused("The ZIP is locked with a password. Pack it again without one.")


def _read_each(archive: zipfile.ZipFile, entries: list[zipfile.ZipInfo]) -> Iterator[bytes]:
    total = 0
    for entry in entries:
        try:
            with archive.open(entry) as opened:
                # The size in the list may lie, so the reading itself is bounded.
                data = opened.read(LARGEST_FILE + 1)
        except _DAMAGED:
            raise Refused(f"The ZIP is damaged at {entry.filename}. Pack it again.") from None
        total += len(data)
        if total > LARGEST_TOTAL:
            raise Refused(
                f"Unpacked, this ZIP is over {LARGEST_TOTAL // MEGABYTE} MB. "
                "Bring the site in by parts."
            )
        yield data


def pack(files: Iterator[tuple[str, bytes]]) -> bytes:
    """A ZIP archive of the files, in the order given."""
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in files:
            # A fixed date: the same site always gives the same archive.
            info = zipfile.ZipInfo(name, (1980, 1, 1, 0, 0, 0))
            info.compress_type = zipfile.ZIP_DEFLATED
            info.external_attr = 0o644 << 16
            archive.writestr(info, data)
    return buffer.getvalue()
