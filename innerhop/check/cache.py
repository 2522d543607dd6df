"""What was read of files before, so that only what has changed is read again: kept by the hash
of a file's bytes, for one place and one set of options. A cache that can't be used is no fault:
all is read anew."""

from __future__ import annotations

import gc
import hashlib
import os
import pickle
import time
from collections.abc import Mapping, Sequence
from contextlib import suppress
from dataclasses import dataclass, field
from importlib.metadata import version
from pathlib import Path
from typing import NamedTuple

import innerhop.core
from innerhop.check.files import File, put_whole
from innerhop.core.findings import installed
from innerhop.core.findings.found import Found
from innerhop.core.findings.whole_site import ReadPage

_DAYS = 30  # for which what nobody asks for is kept
_FORM = 1  # of what is kept


class LineAndColumn(NamedTuple):
    """Where something stands in a file, both from 1; column: in characters."""

    line: int
    column: int


@dataclass
class KeptFile:
    """What is known of a file. digest: of its bytes. places: where elements begin, by
    number, as far as somebody asked."""

    digest: bytes
    page: ReadPage
    places: dict[int, LineAndColumn] = field(default_factory=dict)


def usual_folder() -> Path:
    """Where caches of this user are (XDG Base Directory Specification, XDG_CACHE_HOME)."""
    told = os.environ.get("XDG_CACHE_HOME", "")
    root = Path(told) if told and Path(told).is_absolute() else Path.home() / ".cache"
    return root / "inner-hop"


Findings = Sequence[Sequence[Found]]  # of each page


@dataclass
class _Kept:
    """What stands in a cache's file. found: all findings of the site, as long as its pages
    have that digest."""

    entries: dict[str, KeptFile] = field(default_factory=dict)
    digest: bytes = b""
    found: Findings = ()


class Cache:
    """The entries of one site, by the files' names. folder: None to keep nothing. known_by:
    what has to be the same for them to be true: the place, and all options."""

    def __init__(self, folder: Path | None, known_by: str) -> None:
        self._path = None if folder is None else folder / _name(known_by)
        self._known = self._load()
        self._entries = self._known.entries
        self._count = len(self._entries)
        self._is_new = False

    def page(self, file: File) -> ReadPage | None:
        """What is known of a file, if its bytes are what they were."""
        entry = self._entries.get(file.name)
        if entry is None:
            return None
        with suppress(OSError):
            if entry.digest == digest_of(file.read()):
                return entry.page
        return None

    def put(self, file: File, digest: bytes, page: ReadPage) -> None:
        """Know what was read of a file."""
        self._entries[file.name] = KeptFile(digest, page)
        self._is_new = True

    def places(self, file: File, numbers: Sequence[int]) -> Mapping[int, LineAndColumn] | None:
        """Where these elements of a file begin; None where that isn't known of all."""
        entry = self._entries.get(file.name)
        if entry is None or any(one not in entry.places for one in numbers):
            return None
        return entry.places

    def put_places(self, file: File, places: Mapping[int, LineAndColumn]) -> None:
        """Know where elements of a file begin."""
        entry = self._entries.get(file.name)
        if entry is not None:
            entry.places |= places
            self._is_new = True

    def findings(self, names: Sequence[str]) -> Findings | None:
        """All findings of the site whose pages are these files; None where one of them is
        another than it was."""
        return self._known.found if self._known.digest == self._digest(names) else None

    def put_findings(self, names: Sequence[str], findings: Findings) -> None:
        """Know what is found on the site."""
        self._known.digest, self._known.found = self._digest(names), findings
        self._is_new = True

    def _digest(self, names: Sequence[str]) -> bytes:
        told = [name.encode("utf-8", "surrogateescape") for name in names]
        known = [self._entries.get(name) for name in names]
        digests = [one.digest if one else b"" for one in known]
        return digest_of(
            b"\0".join(part for pair in zip(told, digests, strict=True) for part in pair)
        )

    def save(self, names: Sequence[str]) -> None:
        """Keep what is known of these files, if it is more than before. What can't be kept
        is read again the next time."""
        left = set(names)
        entries = {name: one for name, one in self._entries.items() if name in left}
        if self._path is None or not (self._is_new or len(entries) < self._count):
            return
        kept = _Kept(entries, self._known.digest, self._known.found)
        with suppress(OSError):
            self._path.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
            put_whole(self._path, pickle.dumps(kept, pickle.HIGHEST_PROTOCOL), 0o600)
            _tidy(self._path.parent)

    def _load(self) -> _Kept:
        if self._path is None or not _is_own(self._path):
            return _Kept()
        try:
            found = _unpacked(self._path.read_bytes())
            os.utime(self._path)
        except Exception:  # whatever is wrong with it
            return _Kept()
        return found if isinstance(found, _Kept) else _Kept()


def _name(known_by: str) -> str:
    told = f"{_FORM} {_made_of()} {version('turbohtml')} {installed.told()} {known_by}"
    return f"{hashlib.sha256(told.encode()).hexdigest()[:40]}.cache"


def digest_of(data: bytes) -> bytes:
    """What tells a file's bytes from any other's."""
    return hashlib.blake2b(data, digest_size=16).digest()


def _unpacked(data: bytes) -> object:
    """What was kept: only ever the user's own (see `_is_own`)."""
    gc.disable()  # nothing of it is garbage, and looking for some takes a third of the time
    try:
        return pickle.loads(data)
    finally:
        gc.enable()


def _is_own(path: Path) -> bool:
    """Whether a file is there that nobody else could have written: what is kept is read as
    Python's objects, which could do anything."""
    try:
        told = [one.stat(follow_symlinks=False) for one in (path, path.parent)]
    except OSError:
        return False
    return all(one.st_uid == os.getuid() and not one.st_mode & 0o022 for one in told)


def _made_of() -> str:
    """What changes with the program that reads: its files' sizes and times."""
    roots = (Path(innerhop.core.__file__).parent, Path(__file__).parent)
    told = ((one, one.stat()) for root in roots for one in sorted(root.rglob("*.py")))
    return repr([(one.name, stat.st_size, stat.st_mtime_ns) for one, stat in told])


def _tidy(folder: Path) -> None:
    late = time.time() - _DAYS * 24 * 3600
    for one in folder.glob("*.cache"):
        with suppress(OSError):
            if one.stat().st_mtime < late:
                one.unlink()
