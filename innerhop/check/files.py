"""The pages of a folder or a ZIP archive, as files. Nothing outside is read: links in folders
are not followed, and what an archive names outside of itself is left out."""

from __future__ import annotations

import os
import re
import zipfile
from collections.abc import Iterator
from dataclasses import dataclass, field
from pathlib import Path

_PAGE = re.compile(r"\.x?html?$", re.IGNORECASE)
MEGABYTE = 1024 * 1024
LARGEST_PAGE = 50 * MEGABYTE
_LARGEST_ZIP = 2_000 * MEGABYTE  # of an archive's pages, unpacked
_CLIMBS = re.compile(r"(?:^|/)\.\.(?:/|$)|^/|^[A-Za-z]:")


class CannotRead(Exception):
    """Why there is nothing to check, in one sentence."""


@dataclass(frozen=True, slots=True)
class File:
    """A page's file. name: its path from the folder that is checked, with slashes. path:
    where it is on disk, None in an archive, where `data` is what it holds."""

    name: str
    path: Path | None
    data: bytes | None = None

    def read(self) -> bytes:
        """What is in it. Raises OSError."""
        if self.data is not None:
            return self.data
        assert self.path is not None
        return self.path.read_bytes()


@dataclass
class Tree:
    """What was found. skipped: names that are left out, each with the reason."""

    files: list[File] = field(default_factory=list)
    skipped: list[tuple[str, str]] = field(default_factory=list)


def find(where: Path) -> Tree:
    """The pages there. Raises CannotRead."""
    if where.is_dir():
        return _in_folder(where)
    if not where.exists():
        raise CannotRead(f"{where} isn't there.")
    if _PAGE.search(where.name):
        return Tree([File(where.name, where)])
    if not zipfile.is_zipfile(where):
        raise CannotRead(f"{where} is neither a folder, a ZIP archive nor a page.")
    return _in_archive(where)


def _in_folder(root: Path) -> Tree:
    tree = Tree()

    def refused(problem: OSError) -> None:
        tree.skipped.append((_name(root, Path(problem.filename)), problem.strerror or "unreadable"))

    for folder, folders, names in os.walk(root, onerror=refused, followlinks=False):
        folders[:] = sorted(one for one in folders if not one.startswith("."))
        for name in sorted(names):
            path = Path(folder) / name
            if _PAGE.search(name) and path.is_file():
                if path.stat().st_size > LARGEST_PAGE:
                    tree.skipped.append((_name(root, path), "over 50 MB"))
                else:
                    tree.files.append(File(_name(root, path), path))
    return tree


def _name(root: Path, path: Path) -> str:
    return path.relative_to(root).as_posix() if path.is_relative_to(root) else path.as_posix()


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
            tree.skipped.append((name, "over 50 MB"))
        else:
            yield name, data
