"""Pages read and looked at in several processes, and joined to a site."""

from __future__ import annotations

import os
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from concurrent.futures import Executor, ProcessPoolExecutor
from contextlib import contextmanager
from dataclasses import dataclass
from typing import NamedTuple, TypeVar

from innerhop.check.cache import Cache, LineAndColumn, digest_of
from innerhop.check.files import File
from innerhop.core.addresses import urls
from innerhop.core.findings.whole_site import ReadPage, WholeSite, read
from innerhop.core.refusals import Refusal
from innerhop.core.site.page_reading import PageReading
from innerhop.core.source import file_encoding
from innerhop.core.source.tree import Source

_FEW = 24  # pages: for fewer, starting processes takes longer than reading them
_AT_ONCE = 8  # pages that a process takes at a time


class Options(NamedTuple):
    """How pages are read. address: of the site, with a slash. is_loose: whether addresses
    with and without a slash or `.html` are one page. asked: the rules, by name, that are looked
    for beside the usual ones. led_on: as `PageReading` has it."""

    address: str
    language: str = "en"
    is_loose: bool = True
    asked: frozenset[str] = frozenset()
    led_on: Mapping[str, str] = {}


class FilePage(PageReading):
    """A page as its file has it. name: the file's. path: of its address, where that is known
    otherwise than by the name."""

    def __init__(self, name: str, text: str, options: Options, path: str = "") -> None:
        self.text = text
        self.path = path or urls.address_of_file(name)
        self.options = options

    @property
    def address(self) -> str:
        """The page's whole address."""
        return self.options.address.rstrip("/") + self.path

    @property
    def key(self) -> str:
        """What all its addresses have in common."""
        return urls.page_key(self.path, self.options.is_loose)

    @property
    def is_loose(self) -> bool:
        """As it was asked for."""
        return self.options.is_loose

    @property
    def led_on(self) -> Mapping[str, str]:
        """As it was fetched."""
        return self.options.led_on

    @property
    def is_body_only(self) -> bool:
        """A file without a frame shows none, and is read as it is."""
        return False


def text_of(file: File) -> tuple[str, file_encoding.FileEncoding]:
    """What a file says, and how it is written down. Raises OSError, file_encoding.NotText."""
    return file_encoding.decode(file.read(), file.said)


class FileAsked(NamedTuple):
    """What a process is to do with one file."""

    file: File
    options: Options


class Answer(NamedTuple):
    """A page, or why it can't be read; and what tells its bytes from others."""

    page: ReadPage | str
    digest: bytes = b""


def _read(asked: FileAsked) -> Answer:
    """What a file says."""
    try:
        data = asked.file.read()
        text, _ = file_encoding.decode(data, asked.file.said)
    except Refusal as problem:
        return Answer(problem.message)
    except OSError as problem:
        return Answer(problem.strerror or "it can't be read")
    page = FilePage(asked.file.name, text, asked.options, asked.file.address)
    return Answer(read(page, page.path), digest_of(data))


@dataclass(frozen=True)
class FileSite:
    """The pages that could be read, with their files; and why others could not. cache: what
    was known of them, and is now."""

    whole: WholeSite
    files: Sequence[File]
    skipped: Sequence[tuple[str, str]]
    cache: Cache


T = TypeVar("T")
R = TypeVar("R")
Progress = Callable[[int, int], None]


@contextmanager
def workers(count: int, jobs: int = 0) -> Iterator[Executor | None]:
    """Processes for so many pages; None where this one does it alone. jobs: how many; 0 for
    one a core."""
    cores = jobs or os.cpu_count() or 1
    if count < _FEW or cores < 2:
        yield None
    else:
        with ProcessPoolExecutor(cores) as pool:
            yield pool


def each(pool: Executor | None, do: Callable[[T], R], items: Sequence[T]) -> Iterable[R]:
    """What `do` gives for each, in order."""
    return map(do, items) if pool is None else pool.map(do, items, chunksize=_AT_ONCE)


def _pages(
    files: Sequence[File], options: Options, pool: Executor | None, cache: Cache
) -> Iterator[ReadPage | str]:
    """What each file says, in order; or why it can't be read. What is known isn't read."""
    known = {file.name: page for file in files if (page := cache.page(file)) is not None}
    asked = [FileAsked(file, options) for file in files if file.name not in known]
    answers = iter(each(pool, _read, asked))
    for file in files:
        if file.name in known:
            yield known[file.name]
            continue
        answer = next(answers)
        if isinstance(answer.page, ReadPage):
            cache.put(file, answer.digest, answer.page)
        yield answer.page


def site_of(
    files: Sequence[File],
    options: Options,
    pool: Executor | None,
    progress: Progress,
    cache: Cache | None = None,
) -> FileSite:
    """The pages of these files as one site. Of two with one address, the first counts. cache:
    what is known of them from before."""
    cache = cache or Cache(None, "")
    pages: list[ReadPage] = []
    kept: list[File] = []
    skipped: list[tuple[str, str]] = []
    there: dict[str, str] = {}
    read_pages = _pages(files, options, pool, cache)
    for at, (file, found) in enumerate(zip(files, read_pages, strict=True), 1):
        if isinstance(found, str):
            skipped.append((file.name, found))
        elif found.key in there:
            skipped.append((file.name, f"it has the same address as {there[found.key]}"))
        else:
            there[found.key] = file.name
            pages.append(found)
            kept.append(file)
        progress(at, len(files))
    whole = WholeSite(
        options.address,
        options.language,
        pages,
        lambda at: Source(text_of(kept[at])[0]),
        options.asked,
    )
    return FileSite(whole, kept, skipped, cache)


def places(asked: tuple[File, Sequence[int]]) -> Mapping[int, LineAndColumn]:
    """Where elements, by number, begin in a file."""
    file, numbers = asked
    source = Source(text_of(file)[0])
    return {number: place_of(source, number) for number in numbers}


def place_of(source: Source, number: int) -> LineAndColumn:
    """Where an element begins."""
    tag = source.start_tag(number) if number < len(source) else None
    start = tag.start if tag else 0
    line_begins = source.text.rfind("\n", 0, start) + 1
    return LineAndColumn(source.text.count("\n", 0, start) + 1, start - line_begins + 1)
