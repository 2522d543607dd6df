"""The job that brings in very many files: they are staged while they are sent, and brought in
afterwards."""

from __future__ import annotations

from collections.abc import Generator, Iterator, Sequence

from django.db import transaction

from innerhop.core.counting import counted
from innerhop.library.bring_in import bring_ins
from innerhop.library.bring_in.bring_ins import NewFile, PiecesDone, Upload
from innerhop.library.jobs import jobs, kinds
from innerhop.library.jobs.kinds import JobKind, JobOutcome
from innerhop.library.jobs.running import Work
from innerhop.library.models import Editor, Job, Site, Staged
from innerhop.library.steps import finished

KIND = "bring-in"
MANY = 100  # pages: bringing in more is a job
_BATCH = 50  # files that are written at a time


def staged(
    site: Site, editor: Editor, upload: Upload, *, replace: bool, notes: Sequence[str]
) -> Generator[PiecesDone, None, Job]:
    """Keep what was sent, and have a worker bring it in. Tells how far it has come; returns
    the job. Within a transaction of its own: closed early, nothing is kept."""
    with transaction.atomic():
        asked = {"replace": replace, "notes": list(notes), "left_out": upload.left_out,
                 "total": upload.total}  # fmt: skip
        job = jobs.begin(site, editor, KIND, asked)
        batch: list[Staged] = []
        for number, piece in enumerate(upload.pieces, 1):
            kept = {"address": piece.address, "title": piece.title, "body_only": piece.body_only}
            batch.append(Staged(job=job, number=number, kind="file", name=piece.name,
                                content=piece.data, asked=kept))  # fmt: skip
            if len(batch) == _BATCH:
                Staged.objects.bulk_create(batch)
                batch = []
                yield PiecesDone(number, upload.total)
        Staged.objects.bulk_create(batch)
    return job


def run(work: Work) -> JobOutcome:
    """Bring in what was staged."""
    job, editor = work.job, work.author
    asked = job.asked
    with transaction.atomic():
        steps = bring_ins.bring_in(
            job.site, editor, _pieces(job), asked["total"], replace=asked["replace"],
            left_out=[(name, why) for name, why in asked["left_out"]], notes=asked["notes"],
        )  # fmt: skip
        brought = finished(steps, lambda step: work.tell(step.done, step.total, "Files"))
        job.staged.all().delete()
        came = counted(brought.pages.count(), "page")
        outcome = JobOutcome(f"{came} came in.", {"bring_in": brought.pk})
        work.finish(outcome)
    return outcome


def _pieces(job: Job) -> Iterator[NewFile]:
    for row in Staged.objects.filter(job=job).order_by("number").iterator(chunk_size=20):
        yield NewFile(row.name, bytes(row.content or b""), **row.asked)


kinds.register(JobKind(KIND, lambda job: f"Bringing in {counted(job.asked['total'], 'file')}", run))
