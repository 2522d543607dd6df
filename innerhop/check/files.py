"""The pages of a folder or a ZIP archive, as files. Nothing outside is read or written:
shortcuts that lead out of a folder, and what an archive names outside of itself, are left out."""

from __future__ import annotations

import os
import re
import stat
import tempfile
import zipfile
from collections.abc import Iterator
from dataclasses import dataclass, field
from pathlib import Path

from innerhop.core.addresses import urls

_PAGE = re.compile(r"\.x?html?$", re.IGNORECASE)
MEGABYTE = 1024 * 1024
LARGEST_PAGE = 20 * MEGABYTE  # reading one takes some 70 times as much memory
_TOO_LARGE = "over 20 MB, the limit for a page"
_OUT = "a shortcut that leads out of the folder"
_LARGEST_ZIP = 2_000 * MEGABYTE  # of an archive's pages, unpacked
_CLIMBS = re.compile(r"(?:^|/)\.\.(?:/|$)|^/|^[A-Za-z]:")


class CannotRead(Exception):
    """Why there is nothing to check, in one sentence."""


@dataclass(frozen=True, slots=True)
class File:
    """A page's file. name: its path from the folder that is checked, with slashes; or the path
    of the address that it was fetched from, where `is_fetched`. path: where it is on disk, None
    in an archive, where `data` is what it holds. said: the encoding that its server says."""

    name: str
    path: Path | None
    data: bytes | None = None
    is_fetched: bool = False
    said: str = ""

    @property
    def address(self) -> str:
        """The path of its address."""
        return self.name if self.is_fetched else urls.address_of_file(self.name)

    def read(self) -> bytes:
        """What is in it. Raises OSError."""
        if self.data is not None:
            return self.data
        assert self.path is not None
        return self.path.read_bytes()

    def write(self, data: bytes) -> None:
        """Have it hold something else: written beside it and put in its place when that is
        whole, with its mode, so that a full disk leaves it as it was. Raises OSError."""
        assert self.path is not None
        mode = self.path.stat(follow_symlinks=False).st_mode
        if not stat.S_ISREG(mode):
            raise OSError("It is no file of its own any more.")
        put_whole(self.path, data, stat.S_IMODE(mode))


def put_whole(path: Path, data: bytes, mode: int) -> None:
    """Write a file beside its place and put it there when it is whole. Raises OSError."""
    handle, beside = tempfile.mkstemp(dir=path.parent, prefix=".inner-hop-")
    try:
        with os.fdopen(handle, "wb") as new:
            new.write(data)
            new.flush()
            os.fsync(new.fileno())
        os.chmod(beside, mode)
        os.replace(beside, path)
    except BaseException:
        os.unlink(beside)
        raise


@dataclass
class Tree:
    """What was found. skipped: names that are left out, each with the reason. led_on: of a site
    that was fetched, by path, where its server sends readers on to."""

    files: list[File] = field(default_factory=list)
    skipped: list[tuple[str, str]] = field(default_factory=list)
    led_on: dict[str, str] = field(default_factory=dict)


def find(where: Path) -> Tree:
    """The pages there. Raises CannotRead."""
    if where.is_dir():
        return _in_folder(where)
    if not where.exists():
        raise CannotRead(f"{where} isn't there.")
    if _PAGE.search(where.name):
        why = _why_not(where, where.resolve().parent)
        return Tree([], [(where.name, why)]) if why else Tree([File(where.name, where.resolve())])
    if not zipfile.is_zipfile(where):
        raise CannotRead(f"{where} is neither a folder, a ZIP archive nor a page.")
    return _in_archive(where)


def _in_folder(root: Path) -> Tree:
    tree, inside = Tree(), root.resolve()

    def refused(problem: OSError) -> None:
        tree.skipped.append((_name(root, Path(problem.filename)), problem.strerror or "unreadable"))

    for folder, folders, names in os.walk(root, onerror=refused, followlinks=False):
        folders[:] = sorted(one for one in folders if not one.startswith("."))
        for name in folders:
            if _leads_out(Path(folder) / name, inside):
                tree.skipped.append((_name(root, Path(folder) / name), _OUT))
        for name in sorted(one for one in names if _PAGE.search(one)):
            path = Path(folder) / name
            if why := _why_not(path, inside):
                tree.skipped.append((_name(root, path), why))
            else:
                tree.files.append(File(_name(root, path), path.resolve()))
    return tree


def _leads_out(path: Path, inside: Path) -> bool:
    return path.is_symlink() and not path.resolve().is_relative_to(inside)


def _why_not(path: Path, inside: Path) -> str:
    """Why a page is left out; "" where it is not."""
    if _leads_out(path, inside):
        return _OUT
    try:
        found = path.stat()
    except OSError as problem:
        return problem.strerror or "unreadable"
    if not stat.S_ISREG(found.st_mode):
        return "it is no file"
    return _TOO_LARGE if found.st_size > LARGEST_PAGE else ""


def _name(root: Path, path: Path) -> str:
    name = path.relative_to(root).as_posix() if path.is_relative_to(root) else path.as_posix()
    # A name in another encoding: what can't be read in it, as links in codes are read, too.
    return os.fsencode(name).decode("utf-8", "replace")


def _in_archive(where: Path) -> Tree:
    tree = Tree()
    try:
        with zipfile.ZipFile(where) as archive:
            for name, data in _read_each(archive, tree):
                tree.files.append(File(name, None, data))
    except (zipfile.BadZipFile, NotImplementedError, OSError, EOFError, RuntimeError) as problem:
        raise CannotRead(f"{where} is damaged or locked: {problem}") from None
    return tree


def _read_each(archive: zipfile.ZipFile, tree: Tree) -> Iterator[tuple[str, bytes]]:
    left = _LARGEST_ZIP
    for entry in sorted(archive.infolist(), key=lambda one: one.filename):
        name = entry.filename.replace("\\", "/")
        if entry.is_dir() or not _PAGE.search(name):
            continue
        if _CLIMBS.search(name):
            tree.skipped.append((name, "outside of the archive"))
            continue
        with archive.open(entry) as opened:
            data = opened.read(LARGEST_PAGE + 1)  # its own word for its size may not be so
        left -= len(data)
        if left < 0:
            raise CannotRead("Unpacked, the pages of this archive are over 2,000 MB.")
        if len(data) > LARGEST_PAGE:
            tree.skipped.append((name, _TOO_LARGE))
        else:
            yield name, data
