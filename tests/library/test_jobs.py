"""Work that outlives a request: one works on it at a time, what it does and that it is done are
one, it can be stopped, and what was lost is taken up again."""

from __future__ import annotations

import threading
from collections.abc import Callable, Iterator
from datetime import timedelta

import pytest
from django.db import connection, transaction
from django.utils import timezone

from innerhop.core.refusals import Refusal
from innerhop.library import doing, tasks
from innerhop.library.acts.table import planned
from innerhop.library.bring_in import bring_ins, many
from innerhop.library.jobs import acting, jobs, kinds, running
from innerhop.library.jobs.kinds import JobKind, JobOutcome
from innerhop.library.jobs.running import Work
from innerhop.library.models import Change, Editor, Job, Membership, Page, Site, Staged
from innerhop.library.people.presence import say_here
from innerhop.library.removal import remove
from innerhop.library.steps import finished
from tests.library.test_bring_ins import zipped

pytestmark = pytest.mark.django_db(transaction=True)
State = Job.State


@pytest.fixture
def trial() -> Iterator[Callable[[Callable[[Work], JobOutcome]], None]]:
    """Say what jobs of a kind of the tests' own do."""

    def carry_out(run: Callable[[Work], JobOutcome]) -> None:
        kinds.register(JobKind("trial", lambda job: "A trial", run))

    carry_out(lambda work: JobOutcome("Tried."))
    yield carry_out
    kinds._KINDS.pop("trial")


def begun(site: Site, editor: Editor, kind: str = "trial", **asked: object) -> Job:
    return jobs.begin(site, editor, kind, asked)


def ended(job: Job) -> Job:
    running.run(job.pk)
    job.refresh_from_db()
    return job


@pytest.mark.usefixtures("trial")
def test_a_job_is_done_once(site: Site, editor: Editor) -> None:
    job = ended(begun(site, editor))
    assert (job.state, job.message) == (State.DONE, "Tried.")
    assert not running.run(job.pk)


def test_its_progress_is_seen_while_it_works_in_a_transaction(
    site: Site, editor: Editor, trial: Callable[..., None]
) -> None:
    seen: list[tuple[int, int, str]] = []

    def run(work: Work) -> JobOutcome:
        with transaction.atomic():
            work.tell(3, 7, "Frames")
            thread = threading.Thread(target=lambda: seen.append(_told(work.job.pk)))
            work.over.wait(2.5 * running.BEAT)
            thread.start()
            thread.join()
        return JobOutcome("Tried.")

    trial(run)
    ended(begun(site, editor))
    assert seen == [(3, 7, "Frames")]


def _told(pk: int) -> tuple[int, int, str]:
    job = Job.objects.get(pk=pk)
    connection.close()
    return job.done, job.total, job.said


def test_stopped_it_leaves_nothing_and_can_go_on(
    site: Site, editor: Editor, trial: Callable[..., None]
) -> None:
    def run(work: Work) -> JobOutcome:
        with transaction.atomic():
            work.job.site.name = "Half done"
            work.job.site.save()
            jobs_stop = threading.Thread(target=_stop, args=[work.job.pk])
            jobs_stop.start()
            jobs_stop.join()
            for at in range(100):
                work.over.wait(0.1)
                work.tell(at, 100)
        return JobOutcome("Not stopped.")

    trial(run)
    job = ended(begun(site, editor))
    assert (job.state, job.message) == (State.STOPPED, "Stopped. Nothing was changed.")
    site.refresh_from_db()
    assert site.name != "Half done"
    trial(lambda work: JobOutcome(f"Went on with {work.job.asked['more']}."))
    jobs.go_on(job, more="sails")
    assert ended(job).message == "Went on with sails."
    with pytest.raises(jobs.NotSo):
        jobs.go_on(job)


def _stop(pk: int) -> None:
    jobs.stop(Job.objects.get(pk=pk))
    connection.close()


@pytest.mark.usefixtures("trial")
def test_stopped_before_it_began_it_never_does(site: Site, editor: Editor) -> None:
    job = begun(site, editor)
    jobs.stop(job)
    assert ended(job).state == State.STOPPED
    jobs.throw_away(job)
    assert not Job.objects.filter(pk=job.pk).exists()


def test_what_is_refused_and_what_breaks_are_said(
    site: Site, editor: Editor, trial: Callable[..., None], caplog: pytest.LogCaptureFixture
) -> None:
    def refused(work: Work) -> JobOutcome:
        raise Refusal("The lock is shut.")

    trial(refused)
    job = ended(begun(site, editor))
    assert (job.state, job.message) == (State.FAILED, "The lock is shut.")
    trial(lambda work: JobOutcome(str(1 / 0)))
    job = ended(begun(site, editor))
    assert job.state == State.FAILED
    assert "Nothing of it was kept" in job.message
    assert "ZeroDivisionError" in caplog.text


@pytest.mark.usefixtures("trial")
def test_what_nobody_works_on_any_more_is_taken_up(site: Site, editor: Editor) -> None:
    job = begun(site, editor)
    assert running.claim(job.pk) is not None
    assert running.claim(job.pk) is None  # another one has it
    assert running.lost() == []
    Job.objects.filter(pk=job.pk).update(beat=timezone.now() - running.LOST - timedelta(seconds=1))
    assert running.lost() == [job.pk]
    assert ended(job).state == State.DONE


@pytest.mark.usefixtures("trial")
@pytest.mark.parametrize("hours", [-3, 3])
def test_a_machine_whose_clock_is_wrong_takes_no_job_of_another(
    site: Site, editor: Editor, hours: int, monkeypatch: pytest.MonkeyPatch
) -> None:
    job, other = begun(site, editor), begun(site, editor)
    assert running.claim(job.pk) is not None
    wrong = timezone.now() + timedelta(hours=hours)
    monkeypatch.setattr(timezone, "now", lambda: wrong)
    assert running.lost() == []
    assert not running.is_to_be_run(job.pk)
    assert [running.claim(one.pk) for one in (job, other)] == [None, None]
    here = Membership.objects.create(site=site, editor=Editor.objects.create_user("jo")).editor
    page = site.pages.first()
    assert page is not None
    say_here(page, here, "")
    assert [one.editor for one in say_here(page, editor, "")] == [here]


def test_who_lost_a_job_does_not_end_it_nor_what_it_did(
    site: Site, editor: Editor, trial: Callable[..., None]
) -> None:
    def run(work: Work) -> JobOutcome:
        with transaction.atomic():
            work.job.site.name = "Done twice"
            work.job.site.save(update_fields=["name"])
            Job.objects.filter(pk=work.job.pk).update(runner="another")
            work.finish(JobOutcome("Twice."))
        return JobOutcome("Twice.")

    trial(run)
    job = ended(begun(site, editor))
    assert (job.state, job.message) == (State.RUNS, "")
    site.refresh_from_db()
    assert site.name != "Done twice"


@pytest.mark.usefixtures("trial")
def test_one_at_a_time_on_a_site_and_the_next_is_looked_at_again(
    site: Site, editor: Editor, monkeypatch: pytest.MonkeyPatch
) -> None:
    first, second = begun(site, editor), begun(site, editor)
    assert running.claim(first.pk) is not None
    assert not running.run(second.pk)
    again: list[int] = []
    monkeypatch.setattr(tasks.work_on, "configure", lambda **_: _Deferring(again))
    tasks.work_on(pk=second.pk)
    assert again == [second.pk]


class _Deferring:
    def __init__(self, found: list[int]) -> None:
        self.found = found

    def defer(self, pk: int) -> None:
        self.found.append(pk)


def test_nobody_begins_one_on_a_site_of_others(site: Site) -> None:
    stranger = Editor.objects.create(username="stranger")
    with pytest.raises(doing.MayNot):
        jobs.begin(site, stranger, "fetch", {})


@pytest.mark.usefixtures("trial")
def test_who_may_no_more_has_nothing_done(site: Site, editor: Editor) -> None:
    job = begun(site, editor)
    site.membership_set.all().delete()
    assert "no editor of the site any more" in ended(job).message
    assert job.state == State.FAILED


@pytest.mark.usefixtures("trial")
def test_on_a_site_that_was_deleted_nothing_is_done(site: Site, editor: Editor) -> None:
    job = begun(site, editor)
    remove(site, editor)
    assert "The site was deleted" in ended(job).message


def test_an_act_is_done_as_it_was_planned_or_not_at_all(site: Site, editor: Editor) -> None:
    page = site.pages.get(path="/skippers-handbook/")
    number, other = page.sections.filter(mark="").values_list("number", flat=True)[:2]
    sent = {"marks": [{"number": number, "id": "first"}]}
    job = acting.begin(editor, "mark", page, sent, planned("mark", page, sent))
    change = Change.objects.get(pk=ended(job).result["change"])
    assert (change.act, change.asked) == ("mark", sent)
    assert page.marks.filter(value="first").exists()

    page.refresh_from_db()
    sent = {"marks": [{"number": other, "id": "off"}]}
    job = acting.begin(editor, "mark", page, sent, planned("mark", page, sent))
    doing.do(editor, "mark", page, sent)
    assert ended(job).state == State.FAILED
    assert Change.objects.count() == 2

    page.refresh_from_db()
    sent = {"number": other, "id": "cast-off"}
    job = acting.begin(editor, "rename", page, sent, planned("rename", page, sent))
    remove(page, editor)
    assert "was deleted" in ended(job).message


def _upload(count: int) -> bring_ins.Upload:
    made = {f"n/{at}.html": f"<h1>Note {at}</h1><h2 id=a>A</h2>".encode() for at in range(count)}
    return bring_ins.read_upload([("a.zip", zipped(made | {"n/a.css": b"p {}"}))])


def test_very_many_files_are_staged_and_brought_in(site: Site, editor: Editor) -> None:
    upload = _upload(many.MANY + 1)
    assert (upload.pages, upload.total) == (many.MANY + 1, many.MANY + 2)
    before = Page.objects.count()
    steps: list[bring_ins.PiecesDone] = []
    sent = many.staged(site, editor, upload, replace=False, notes=["Sent."])
    job = finished(sent, steps.append)
    assert steps[-1] == bring_ins.PiecesDone(100, upload.total)
    assert Page.objects.count() == before
    done = ended(job)
    assert done.message == f"{many.MANY + 1} pages came in."
    assert Page.objects.count() == before + many.MANY + 1
    assert (
        site.assets.filter(path="/n/a.css").exists() or site.assets.filter(path="/a.css").exists()
    )
    assert not Staged.objects.exists()


def test_a_sending_that_breaks_off_leaves_nothing(site: Site, editor: Editor) -> None:
    steps = many.staged(site, editor, _upload(many.MANY + 1), replace=False, notes=[])
    next(steps)
    steps.close()
    assert not Job.objects.exists()
    assert not Staged.objects.exists()


def test_what_is_at_hand_is_what_works_and_what_was_not_told(site: Site, editor: Editor) -> None:
    kinds.register(JobKind("trial", lambda job: "A trial", lambda work: JobOutcome("Tried.")))
    done, waiting = begun(site, editor), begun(site, editor)
    ended(done)
    assert list(jobs.at_hand(site, editor)) == [waiting, done]
    other = Editor.objects.create(username="other")
    assert list(jobs.at_hand(site, other)) == [waiting]
    jobs.see(editor, done)
    assert list(jobs.at_hand(site, editor)) == [waiting]
