"""What the process that fetches tells, a line of JSON each, and where it puts what came."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import asdict, dataclass, field
from pathlib import Path
from typing import Any, TextIO


@dataclass(frozen=True)
class Begun:
    """The site's own address, to which the one that was asked for may have led."""

    origin: str
    path: str


@dataclass(frozen=True)
class FetchedPage:
    """A page that came. address: its whole one. body: the file of what it holds. label: the
    encoding that its server says, "" for none. canonical: the address that it names as its own.
    drawn: whether only its scripts draw it. of: how many pages were asked for by then. sketch: it,
    sketched (`core.site.sketch`)."""

    address: str
    body: str
    label: str = ""
    canonical: str = ""
    drawn: bool = False
    of: int = 0
    sketch: Mapping[str, Any] = field(default_factory=dict)


@dataclass(frozen=True)
class FetchedFile:
    """A file that pages use. media_type: what its server says of it."""

    address: str
    body: str
    media_type: str = ""


@dataclass(frozen=True)
class Same:
    """An address that leads on to another."""

    address: str
    to: str


@dataclass(frozen=True)
class Out:
    """What did not come, and why: a sentence without its beginning and its stop. gone: whether
    the site says that there is nothing."""

    address: str
    why: str
    gone: bool = False


@dataclass(frozen=True)
class Note:
    """Something to be said of the whole."""

    text: str


@dataclass(frozen=True)
class Waits:
    """The server asked to be left alone for so many seconds."""

    seconds: int


@dataclass(frozen=True)
class Ended:
    """All that was to be fetched was, or not: `cut` says that it was stopped before."""

    cut: bool


Record = Begun | FetchedPage | FetchedFile | Same | Out | Note | Waits | Ended
_KINDS: Mapping[str, type[Any]] = {
    kind.__name__: kind for kind in (Begun, FetchedPage, FetchedFile, Same, Out, Note, Waits, Ended)
}


class Teller:
    """Where the process that fetches tells what came."""

    def __init__(self, folder: Path, stream: TextIO) -> None:
        self.bodies = folder / "bodies"
        self.bodies.mkdir(exist_ok=True)
        self.stream = stream
        self.count = 0

    def tell(self, record: Record) -> None:
        """Say something."""
        line = json.dumps({"kind": type(record).__name__, **asdict(record)})
        self.stream.write(line + "\n")
        self.stream.flush()

    def put(self, data: bytes) -> str:
        """Keep what came; returns the name of its file."""
        self.count += 1
        name = str(self.count)
        (self.bodies / name).write_bytes(data)
        return name


def read(line: str) -> Record:
    """A line that `Teller.tell` wrote."""
    told = json.loads(line)
    found: Record = _KINDS[told.pop("kind")](**told)
    return found
