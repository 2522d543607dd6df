"""What comes of a fetch, kept as it comes."""

from __future__ import annotations

import hashlib
from collections.abc import Callable
from typing import Any, NamedTuple

from innerhop.core.addresses import urls
from innerhop.core.facts.page_facts import gather
from innerhop.core.facts.sections import sections_and_words
from innerhop.core.site.page_rows import title_of
from innerhop.core.source import file_encoding
from innerhop.core.source.tree import Source
from innerhop.fetch import records
from innerhop.fetch.records import Record
from innerhop.library.models import Job, Staged

FROM, PAGE, FILE, SAME, OUT, NOTE = "from", "page", "file", "same", "out", "note"


class Counts(NamedTuple):
    """How much has come."""

    pages: int
    files: int


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
            case records.Page():
                data = self.body(record.body)
                found = as_drawn(data, record.label, record.address)
                more = {"canonical": record.canonical, "drawn": record.drawn}
                self._put(PAGE, record.address, record.label, data, {**found, **more})
            case records.File():
                self._put(FILE, record.address, record.media_type, self.body(record.body))
            case records.Same():
                self._put(SAME, record.address, record.to)
            case records.Out():
                self._put(OUT, record.address, record.why, found={"gone": record.gone})
            case records.Note():
                self._put(NOTE, record.text)

    def _put(
        self,
        kind: str,
        name: str,
        more: str = "",
        content: bytes | None = None,
        found: dict[str, Any] | None = None,
    ) -> None:
        name = name.replace("\0", "\ufffd")
        if (kind, name) in self.known:
            return
        self.known.add((kind, name))
        self.pages += kind == PAGE
        self.files += kind == FILE
        Staged.objects.create(
            job=self.job, number=self.next, kind=kind, name=name,
            more=more.replace("\0", "\ufffd"), content=content, found=found or {},
        )  # fmt: skip
        self.next += 1


def as_drawn(data: bytes, label: str, address: str) -> dict[str, Any]:
    """A page as it is drawn before it is taken in: its sections, each with its level, its words
    and whether it has a mark. Nothing where it can't be read, which is said when it is taken."""
    try:
        text, _ = file_encoding.decode(data, label)
    except file_encoding.NotText:
        return {}
    source = Source(text)
    facts = gather(source)
    sections, words = sections_and_words(source, facts)
    at = urls.resolve(address, address)
    return {
        "title": title_of(facts, at.path if at else "")[:300],
        "words": words,
        "sections": [[one.level, one.words, bool(one.mark)] for one in sections],
        "digest": _digest(source),
    }


def _digest(source: Source) -> str:
    """The same for two texts that show the same: their words and their elements, the same
    pictures, and links and IDs that are the same."""
    told = [" ".join(source.text_of(0).split()), " ".join(source.tags)]
    for name in ("href", "src", "srcset", "id"):
        told += (f"{name} {one.attr(name)}" for one in source.having(name) if one.tag not in _HEAD)
    return hashlib.sha256("\0".join(told).encode("utf-8", "surrogatepass")).hexdigest()[:32]


_HEAD = ("link", "script", "base")  # which name the page's own address, and versions
