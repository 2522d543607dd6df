"""What comes of a fetch, kept as it comes."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from innerhop.fetch import records
from innerhop.fetch.records import Record
from innerhop.library.index.rows import kept
from innerhop.library.models import Job, Staged

FROM, PAGE, FILE, SAME, OUT, NOTE = "from", "page", "file", "same", "out", "note"


class Staging:
    """The staged rows of a job. body: gives what came, by the name of its file. What is told
    again, after a fetch began once more, is kept once."""

    def __init__(self, job: Job, body: Callable[[str], bytes]) -> None:
        self.job = job
        self.body = body
        rows = list(job.staged.values_list("kind", "name", "number"))
        self.known = {(kind, name) for kind, name, _ in rows}
        self.next = max((number for *_, number in rows), default=0) + 1
        self.pages = sum(kind == PAGE for kind, *_ in rows)
        self.files = sum(kind == FILE for kind, *_ in rows)

    def take(self, record: Record) -> None:
        """Keep what was told, if it is something to be kept."""
        match record:
            case records.Begun():
                self._put(FROM, record.origin, record.path)
            case records.FetchedPage():
                found = {**record.sketch, "canonical": record.canonical, "drawn": record.drawn}
                found["title"] = kept(found.get("title", ""))
                self._put(PAGE, record.address, record.label, self.body(record.body), found)
            case records.FetchedFile():
                self._put(FILE, record.address, record.media_type, self.body(record.body))
            case records.Same():
                self._put(SAME, record.address, record.to)
            case records.Out():
                self._put(OUT, record.address, record.why, told={"gone": record.gone})
            case records.Note():
                self._put(NOTE, record.text)

    def _put(
        self,
        kind: str,
        name: str,
        more: str = "",
        content: bytes | None = None,
        told: dict[str, Any] | None = None,
    ) -> None:
        name = kept(name)
        if (kind, name) in self.known:
            return
        self.known.add((kind, name))
        self.pages += kind == PAGE
        self.files += kind == FILE
        Staged.objects.create(
            job=self.job, number=self.next, kind=kind, name=name,
            more=kept(more), content=content, found=told or {},
        )  # fmt: skip
        self.next += 1
