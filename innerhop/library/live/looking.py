"""The job that looks at the site itself: at all of its pages that are known here."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator, Mapping, Sequence
from functools import cached_property

from django.conf import settings
from django.db import transaction

from innerhop.core.addresses import urls
from innerhop.core.counting import counted
from innerhop.core.live.station import DIFFERENTLY, NOT_YET, THERE, WAITS
from innerhop.core.merge.unlike import is_another, share
from innerhop.core.refusals import Refusal
from innerhop.core.site.page_rows import title_of
from innerhop.core.source import file_encoding
from innerhop.core.source.tree import Source
from innerhop.fetch.asked import Asked
from innerhop.fetch.records import Ended, FetchedPage, Out, Record, Same
from innerhop.library.fetching.fetching import drop, fetching, folder_of
from innerhop.library.index.texts import PageText, current
from innerhop.library.jobs import kinds
from innerhop.library.jobs.kinds import JobKind, JobOutcome
from innerhop.library.jobs.running import Stopped, TakenUp, Work
from innerhop.library.live import standing, telling, there
from innerhop.library.models import Job, Look, Page, Seen, Site

KIND = "look"


def run(work: Work) -> JobOutcome:
    """Look, and judge. What was seen before it was stopped, or broke off, stands."""
    job, site = work.job, work.job.site
    pages = _pages(job)
    if not pages:
        raise Refusal("There are no pages here yet, so there is nothing to look at.")
    drop(job)  # where it is tried again, what was there at the first try is of no use
    seeing = Seeing(site, job)
    is_cut = _fetched(work, pages, seeing)
    is_stopped = work.stop.is_set()
    missing = "the look was stopped before" if is_stopped else (
        "the look broke off before" if is_cut else "the site does not give it")  # fmt: skip
    with transaction.atomic():
        look = Look.objects.create(site=site, editor=job.editor)
        seen, replaced = _keep(look, pages, seeing, missing)
        if not seen:
            why = next(iter(seeing.whys), "nobody answered")
            raise Stopped if is_stopped else Refusal(
                f"None of the pages could be looked at: {why}.")  # fmt: skip
        _keep_figures(look, seen, replaced)
        outcome = JobOutcome(f"{counted(seen, 'page')} looked at.", {"look": look.pk})
        telling.tell(look)
        if not is_stopped:
            work.finish(outcome)
        elif not work.is_ours():
            raise TakenUp
    drop(job)
    if is_stopped:
        left = len(pages) - seen
        raise Stopped(f"Stopped. {outcome.message} {counted(left, 'page')} not looked at.")
    return outcome


def _pages(job: Job) -> list[Page]:
    """The pages that are looked at: those asked for, or all of the site."""
    pages = job.site.pages.select_related("site").order_by("path")
    only = job.asked.get("pages")
    return list(pages.filter(pk__in=only) if only else pages)


class Seeing:
    """What came for each address, by key; bodies stay in the job's folder until they are read.
    gone: the keys at which nothing is any more."""

    def __init__(self, site: Site, job: Job) -> None:
        self._site, self._job = site, job
        self._came: dict[str, tuple[str, str] | str] = {}
        self.gone: set[str] = set()

    def __len__(self) -> int:
        return len(self._came)

    @property
    def whys(self) -> Iterator[str]:
        """Why nothing came, where it didn't."""
        return (one for one in self._came.values() if isinstance(one, str))

    def take(self, record: Record) -> None:
        """What a fetch tells of an address."""
        match record:
            case FetchedPage():
                self._came[self._key(record.address)] = (record.body, record.label)
            case Out():
                self._came[self._key(record.address)] = record.why
                if record.gone:
                    self.gone.add(self._key(record.address))
            case Same() if self._key(record.address) != self._key(record.to):
                self._came[self._key(record.address)] = f"it leads readers on to {record.to}"

    def _key(self, address: str) -> str:
        found = urls.resolve(address, address)
        return self._site.key_of(found.path) if found else ""

    def of(self, page: Page, missing: str) -> Seen | str:
        """How a page is there, or why that isn't known. missing: why nothing was told of it."""
        came = self._came.get(page.key, missing)
        if isinstance(came, str):
            return came
        body, label = came
        content = (folder_of(self._job) / "bodies" / body).read_bytes()
        try:
            text, encoding = file_encoding.decode(content, label)
        except file_encoding.NotText as problem:
            return problem.message
        if is_another(current(page).source, Source(text)):
            return "what is there has hardly anything of this page, and may be an error's"
        seen = Seen(page=page, content=content, label=encoding.label, codec=encoding.codec,
                    mark=encoding.mark)  # fmt: skip
        other = self._other(page, there.text_of(page, seen))
        return seen if other is None else f"what is there is “{other.title}”"

    def _other(self, page: Page, text: PageText) -> Page | None:
        """The page whose text this is, where that is another than the one whose address it has:
        it has that one's title, and more of its words."""
        title = title_of(text.facts)
        if not title or title == page.title or len(self._titled.get(title, ())) != 1:
            return None
        (other,) = self._titled[title]
        own, others = (share(current(one).source, text.source) for one in (page, other))
        return other if others > own else None

    @cached_property
    def _titled(self) -> Mapping[str, list[Page]]:
        found: dict[str, list[Page]] = defaultdict(list)
        for page in self._site.pages.select_related("site"):
            found[page.title].append(page)
        return found


def _fetched(work: Work, pages: Sequence[Page], seeing: Seeing) -> bool:
    """Fetch them. Returns whether the fetching broke off."""
    addresses = [page.address for page in pages]
    asked = Asked(
        addresses[0], most=len(addresses), contact=settings.FETCH_CONTACT,
        let_through=settings.FETCH_LETS_THROUGH, pause=settings.FETCH_PAUSE, parts=False,
        also=addresses[1:], is_only=True,
    )  # fmt: skip
    is_cut = True
    with fetching(work, asked) as fetch:
        for record in fetch.records():
            if isinstance(record, Ended):
                is_cut = record.cut
            seeing.take(record)
            work.done, work.total = len(seeing), len(pages)
            work.said = "Pages looked at"
    return is_cut


def _keep(
    look: Look, pages: Sequence[Page], seeing: Seeing, missing: str
) -> tuple[int, dict[str, Seen]]:
    """Keep how pages are there. Returns how many were seen; and of those that are other than they
    were, how they were, by key."""
    old = {one.page_id: one for one in Seen.objects.filter(page__in=pages).select_related("page")}
    nothing = {"content": b"", "label": "utf-8", "codec": "utf-8"}
    seen = 0
    replaced: dict[str, Seen] = {}
    for page in pages:
        came, before = seeing.of(page, missing), old.get(page.pk)
        if isinstance(came, str):
            told = {"look": look, "why": came[:300], "gone": page.key in seeing.gone}
            Seen.objects.update_or_create(page=page, defaults=told,
                                          create_defaults={**nothing, **told})  # fmt: skip
            continue
        seen += 1
        if before is None or bytes(before.content) != came.content:
            replaced[page.key] = before or Seen(page=page, **nothing)
        told = {name: getattr(came, name) for name in ("content", "label", "codec", "mark")}
        told |= {"look": look, "why": "", "gone": False}
        Seen.objects.update_or_create(page=page, defaults=told)
    return seen, replaced


def _keep_figures(look: Look, seen: int, replaced: Mapping[str, Seen]) -> None:
    found = standing.keep_steps(look.site)
    there.keep_found(look, replaced)
    look.pages = seen
    look.there, look.differently = found.count(THERE), found.count(DIFFERENTLY)
    look.not_yet, look.waits = found.count(NOT_YET), found.count(WAITS)
    look.save()


def called(job: Job) -> str:
    """What it is called."""
    return f"Looking at {job.site.address.partition('//')[2].rstrip('/')}"


kinds.register(JobKind(KIND, called, run, drop=drop, is_unasked=True))
