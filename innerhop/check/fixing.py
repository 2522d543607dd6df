"""The fixes that need nobody's eye, as differences, and written into the files."""

from __future__ import annotations

import difflib
import re
from collections import defaultdict
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass

from innerhop.check.files import File
from innerhop.check.reading import FilePage, FileSite, Options, text_of
from innerhop.check.report import Line, Report
from innerhop.core import edits
from innerhop.core.addresses import address_forms, fragments, urls
from innerhop.core.addresses.address_forms import HASH, PATH, RELATIVE, Start, form_of
from innerhop.core.findings.requests import LeadThere, OpenHere, Request
from innerhop.core.plan import Plan, join_plans
from innerhop.core.planners import mending, renaming
from innerhop.core.proof import proved
from innerhop.core.refusals import Refusal
from innerhop.core.source import file_encoding
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.core.source.tree import Source


@dataclass(frozen=True)
class Fixed:
    """A file as it would be. lines: the findings that are mended."""

    file: File
    before: str
    after: str
    encoding: FileEncoding
    lines: Sequence[Line]

    @property
    def difference(self) -> str:
        """The change as a unified difference."""
        names = f"a/{self.file.name}", f"b/{self.file.name}"
        rows = difflib.unified_diff(_lines(self.before), _lines(self.after), *names)
        return "".join(one if one.endswith("\n") else f"{one}\n{_UNENDED}\n" for one in rows)

    def write(self) -> None:
        """Write the file. Raises OSError."""
        self.file.write(file_encoding.encode(self.after, self.encoding))


_UNENDED = "\\ No newline at end of file"  # POSIX, diff, "Diff Unified Output Format"


def _lines(text: str) -> list[str]:
    """Its lines with their ends, as tools for differences count them."""
    return re.findall(r"[^\n]*\n|[^\n]+", text)


def fixes(site: FileSite, report: Report, options: Options) -> Iterator[Fixed]:
    """What the safe fixes make of each file that they touch; the first of two that meet."""
    by_page: dict[int, list[Line]] = defaultdict(list)
    for line in report.lines:
        if line.rule.fix is not None and line.rule.fix.is_safe:
            by_page[line.page].append(line)
    for page, lines in by_page.items():
        file = site.files[page]
        text, encoding = text_of(file)
        reading = FilePage(file.name, text, options)
        plan, mended = _joined(
            reading.source, [(one, _plan(site, reading, one, encoding)) for one in lines]
        )
        if mended and _is_proved(reading.source, plan):
            yield Fixed(file, text, edits.apply(text, plan.edits), encoding, mended)


def _is_proved(source: Source, plan: Plan) -> bool:
    """Whether a file can be mended so; one that can't be doesn't keep the others waiting."""
    try:
        proved(source, plan)
    except Refusal:
        return False
    return True


def _joined(source: Source, planned: Sequence[tuple[Line, Plan | None]]) -> tuple[Plan, list[Line]]:
    """One plan of several; each element is touched once."""
    plans, mended = [], []
    seen: set[int] = set()
    for line, plan in planned:
        if plan is not None and line.found.number not in seen:
            seen.add(line.found.number)
            plans.append(plan)
            mended.append(line)
    return join_plans(plans), mended


def _plan(site: FileSite, page: FilePage, line: Line, encoding: FileEncoding) -> Plan | None:
    assert line.rule.fix is not None
    request = line.rule.fix.request(line.found)
    plan = PLANNED.get(type(request))
    if plan is None:  # a team's own rule may call safe what only the screens do
        return None
    try:
        return plan(site, line.page, page, request, encoding)
    except Refusal:  # it can't be done safely there
        return None


def _reopened(
    _site: FileSite, _on: int, page: FilePage, link: OpenHere, encoding: FileEncoding
) -> Plan:  # fmt: skip
    return mending.plan_reopened(page.source, link.number, False, False, encoding)


def _mended(
    site: FileSite, on: int, page: FilePage, wanted: LeadThere, encoding: FileEncoding
) -> Plan:  # fmt: skip
    link = site.whole.link(on, wanted.number)
    if mending.keeps_its_page(link.why, link.end_page == wanted.page, wanted.id):
        lead = mending.Lead(id=wanted.id)
    else:
        is_shared = site.whole.is_shared(on, wanted.number)
        path = site.whole.path(wanted.page)
        lead = mending.Lead(href=_href(page, path, wanted.id, wanted.number, is_shared))
    return mending.plan_leads(page.source, {wanted.number: lead}, encoding)


# What carries out the requests of safe fixes.
PLANNED: dict[type[Request | None], Callable[..., Plan]] = {LeadThere: _mended, OpenHere: _reopened}


def _href(page: FilePage, path: str, id_: str, number: int, is_shared: bool) -> str:
    """How the link is written: as it was as far as that works, and in a tree of files from
    the page's own place. Raises address_forms.CannotWrite."""
    base = urls.base_address(page.address, page.facts.base_href)
    start = Start(page.address, base, shared=is_shared)
    was = form_of(page.source.attr(number, "href") or "")
    fragment = fragments.encode(id_) if id_ else None
    in_files = RELATIVE if renaming.takes_relative_files(page.source) else PATH
    form = in_files if was in (HASH, address_forms.ABSOLUTE) else was
    target = page.options.address.rstrip("/") + path
    return address_forms.best(start, target, fragment, form).href
