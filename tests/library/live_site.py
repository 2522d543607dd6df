"""A site on loopback that is brought in as it is there, to be looked at again."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from innerhop.library import sites
from innerhop.library.bring_in import bring_ins
from innerhop.library.bring_in.bring_ins import NewFile
from innerhop.library.models import Editor, Site
from innerhop.library.steps import finished
from tests.fetch import hosts
from tests.fetch.hosts import Answer, Host


@contextmanager
def served(pages: Mapping[str, Answer], settings: Any, folder: Path) -> Iterator[Host]:
    """A host that gives these pages, and is let through."""
    settings.FETCH_FOLDER = folder / "fetches"
    settings.FETCH_PAUSE = 0
    with hosts.serving(dict(pages)) as host:
        settings.FETCH_LETS_THROUGH = host.let_through
        yield host


def brought(pages: Mapping[str, Answer], host: Host, editor: Editor) -> Site:
    """A site from there."""
    found = sites.create("Live", host.origin, "en", editor)
    pieces = [NewFile(path, answer.body, path) for path, answer in pages.items()]
    finished(bring_ins.bring_in(found, editor, pieces, len(pieces)))
    return found
