"""The demo site as somebody else has changed it meanwhile, where it lives: for trying what becomes
of pages that come in again."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence

from innerhop.library.bring_in.bring_ins import NewFile
from innerhop.practice import demo

# By the name of its file, what each page has instead.
_CHANGED = {
    "skippers-handbook/index.html": (
        ("<h2>Lifting bridges</h2>", "<h2>Bridges that lift</h2>"),
        ("Bollards on the lock side belong", "Bollards beside a lock belong"),
    ),
    "lock-guide/index.html": (("start with a full kettle", "start with a full kettle and a map"),),
    "moorings/index.html": (
        (
            "      <h2>The waiting list</h2>",
            "      <h2>Winter rates</h2>\n      <p>From November to March a night costs half.</p>\n"
            "      <h2>The waiting list</h2>",
        ),
    ),
    "stoppages/index.html": (("Shut to all between", "Shut to everybody between"),),
}
_NEW = {
    "open-day/index.html": "<!doctype html>\n<html lang=en>\n<title>Open day</title>\n"
    "<h1>Open day</h1>\n<p>The last Sunday of January: walk the empty chambers.</p>\n"
}
# What breaks hops: an ID renamed, one taken off, an address mistyped.
_BREAKS = {
    "stoppages/index.html": (('id="winter-works"', 'id="winter-stoppages"'),),
    "moorings/index.html": (('<h2 id="hardship-fund">', "<h2>"),),
    "index.html": (("/volunteer-days/#what-to-wear", "/volunteer-days/#wear"),),
}


def files() -> list[tuple[str, bytes]]:
    """The demo site's files as they are by now, and one more."""
    found = _with(demo.files(), _CHANGED)
    return [*found, *((name, text.encode()) for name, text in _NEW.items())]


def broken(files: Iterable[tuple[str, bytes]]) -> list[tuple[str, bytes]]:
    """The demo site's files after somebody broke hops of theirs."""
    return _with(files, _BREAKS)


Changed = Mapping[str, Sequence[tuple[str, str]]]


def _with(files: Iterable[tuple[str, bytes]], changed: Changed) -> list[tuple[str, bytes]]:
    found = []
    for name, data in files:
        text = data
        for old, new in changed.get(name, ()):
            if old.encode() not in text:
                raise LookupError(f"{name} does not say: {old}")
            text = text.replace(old.encode(), new.encode())
        found.append((name, text))
    return found


def pieces() -> list[NewFile]:
    """The pages among them, as an upload would bring them."""
    return [NewFile(name, data) for name, data in files() if name.endswith(".html")]
