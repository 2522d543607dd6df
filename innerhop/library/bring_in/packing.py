"""Archives, read with care: one that swells, climbs out of its folder or holds
too many files is refused before anything of it is kept."""

from __future__ import annotations

import io
import posixpath
import re
import stat
import zipfile
from collections.abc import Iterator
from typing import BinaryIO

MEGABYTE = 1024 * 1024
MOST_FILES = 3_000
LARGEST_FILE = 10 * MEGABYTE
LARGEST_TOTAL = 100 * MEGABYTE
_LEAVE_OUT = re.compile(r"(^|/)(__MACOSX/|\.|Thumbs\.db$|desktop\.ini$)", re.IGNORECASE)


class Refused(ValueError):
    """What was sent can't be brought in; says why and what to do."""


def is_zip(name: str, start: bytes) -> bool:
    """Whether a file is a ZIP archive, by its first bytes or by its name."""
    return start.startswith((b"PK\x03\x04", b"PK\x05\x06")) or name.lower().endswith(".zip")


def unpack(file: BinaryIO) -> tuple[list[str], Iterator[bytes]]:
    """The names of the files in an archive, and their contents in the same
    order, read one at a time. A folder that holds all the rest is left out of
    the names.

    Raises Refused at once for what the list of contents shows, and while
    reading for what only the contents show.
    """
    try:
        archive = zipfile.ZipFile(file)
        entries = [entry for entry in archive.infolist() if not entry.is_dir()]
    except (zipfile.BadZipFile, OSError, ValueError, EOFError):
        raise Refused("This is not a ZIP file, or it is damaged. Pack it again.") from None
    if len(entries) > MOST_FILES:
        raise Refused(
            f"This ZIP holds {len(entries):,} files; {MOST_FILES:,} is the limit. "
            "Pack only the pages and what they use."
        )
    for entry in entries:
        _check(entry)
    wanted = [entry for entry in entries if not _LEAVE_OUT.search(entry.filename)]
    return _names(wanted), _read_each(archive, wanted)


def _names(entries: list[zipfile.ZipInfo]) -> list[str]:
    names = [entry.filename.replace("\\", "/") for entry in entries]
    top = names[0].partition("/")[0] + "/" if names else ""
    all_inside = all(name.startswith(top) for name in names)
    return [name.removeprefix(top) for name in names] if all_inside else names


def _check(entry: zipfile.ZipInfo) -> None:
    name = entry.filename.replace("\\", "/")
    climbs = posixpath.normpath(name).startswith("../") or ".." in name.split("/")
    if climbs or name.startswith("/") or re.match(r"[A-Za-z]:", name):
        raise Refused(f"The ZIP has a file outside its own folder ({name}). Pack it again.")
    if stat.S_ISLNK(entry.external_attr >> 16):
        raise Refused(f"The ZIP holds a shortcut to another place ({name}). Pack the file itself.")
    if entry.flag_bits & 1:
        raise Refused("The ZIP is locked with a password. Pack it again without one.")


def _read_each(archive: zipfile.ZipFile, entries: list[zipfile.ZipInfo]) -> Iterator[bytes]:
    total = 0
    for entry in entries:
        try:
            with archive.open(entry) as opened:
                # The size in the list may lie, so the reading itself is bounded.
                data = opened.read(LARGEST_FILE + 1)
        except (
            zipfile.BadZipFile,
            NotImplementedError,
            RuntimeError,
            OSError,
            EOFError,
            ValueError,
        ):
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
