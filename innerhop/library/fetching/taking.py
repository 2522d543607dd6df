"""What came of a fetch, as what is to be brought in: which addresses are one page, what is left
out, and what is to be said."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from typing import Any
from urllib.parse import unquote

from innerhop.core.addresses import urls
from innerhop.core.addresses.elsewhere import elsewhere_name
from innerhop.core.site.scope import same_host
from innerhop.library.bring_in.bring_ins import NewFile
from innerhop.library.fetching.staging import FILE, FROM, NOTE, OUT, PAGE, SAME
from innerhop.library.models import Elsewhere, Job, Site, Staged

_SAID = 20  # of a kind, that are named


@dataclass
class Came:
    """What came. origin: the site's own. pages: of the staged rows, by number, the path that each
    comes in at. led: addresses, as paths, that lead on to others. gone: the pages of the site, by
    primary key, that are not there any more. drawn: the paths of pages that only scripts draw.
    nothing: why there are no pages."""

    origin: str
    pages: dict[int, str] = field(default_factory=dict)
    files: int = 0
    led: dict[str, str] = field(default_factory=dict)
    notes: list[str] = field(default_factory=list)
    left_out: list[tuple[str, str]] = field(default_factory=list)
    gone: list[int] = field(default_factory=list)
    drawn: list[str] = field(default_factory=list)
    nothing: str = ""

    @property
    def total(self) -> int:
        """How many pieces there are."""
        return len(self.pages) + self.files


Row = dict[str, Any]
_COLUMNS = ("number", "kind", "name", "more", "found")


def found(job: Job) -> Came:
    """What came for a job."""
    rows: list[Row] = [dict(row) for row in job.staged.values(*_COLUMNS)]
    by_kind: dict[str, list[Row]] = defaultdict(list)
    for row in rows:
        by_kind[row["kind"]].append(row)
    origin = next((row["name"] for row in by_kind[FROM]), urls.origin_of(job.asked["address"]))
    own = [row for row in by_kind[FILE] if _is_own(origin, row["name"])]
    told = Came(origin, files=len(own))
    for row in by_kind[SAME]:
        _lead(told, row["name"], row["more"])
    _sort(job.site, told, by_kind[PAGE])
    told.notes += [row["name"] for row in by_kind[NOTE]]
    told.notes += _led_notes(told)
    # What failed at first may have come when it went on.
    came = {row["name"] for row in (*by_kind[PAGE], *by_kind[FILE])}
    by_kind[OUT] = [row for row in by_kind[OUT] if row["name"] not in came]
    out = [(row["name"], row["more"]) for row in by_kind[OUT]]
    told.left_out += sorted(out)
    told.gone = _gone(job.site, told, by_kind[OUT])
    told.drawn = _drawn(told, by_kind[PAGE])
    told.notes += _drawn_note(told.drawn)
    if not told.pages:
        why = next((why for name, why in out), "it has no page that could be fetched")
        address = job.asked["address"]
        told.nothing = f"Nothing came in of {address}: {why}. Nothing here was changed."
    return told


def _lead(told: Came, address: str, to: str) -> None:
    """An address leads on to another one of the site."""
    one, other = urls.resolve(address, address), urls.resolve(to, to)
    if one and other and other.origin == told.origin and one.path != other.path:
        told.led[one.path] = other.path


def _sort(site: Site, told: Came, pages: Sequence[Row]) -> None:
    """Which pages come in, and where. Of those that show the same, one does: at the address that
    they name as their own, else at the first that came (RFC 6596; practice)."""
    alike: dict[str, list[Row]] = defaultdict(list)
    for row in pages:
        alike[row["found"].get("digest") or row["name"]].append(row)
    keys: dict[str, str] = {}
    for group in alike.values():
        named = {row["found"].get("canonical") for row in group}
        own = next((row for row in group if row["name"] in named), group[0])
        path = _path(own["name"])
        key = site.key_of(path)
        if key in keys:
            why = f"its address is that of {keys[key]} but for its end"
            told.left_out.append((own["name"], why))
            continue
        keys[key] = path
        told.pages[own["number"]] = path
        for row in group:
            _lead(told, row["name"], own["name"])


def _path(address: str) -> str:
    at = urls.resolve(address, address)
    assert at is not None  # it was fetched
    return at.path


def _led_notes(told: Came) -> list[str]:
    """Which addresses lead on to which; not where only a slash or an ending differs."""
    led = [(old, new) for old, new in told.led.items() if urls.page_key(old) != urls.page_key(new)]
    lines = [f"{old} leads readers to {new}." for old, new in led[:_SAID]]
    more = len(led) - _SAID
    return [*lines, f"{more} more addresses lead on to others."] if more > 0 else lines


def _gone(site: Site, told: Came, out: Sequence[Row]) -> list[int]:
    """The pages of the site that aren't there any more, or lead to others."""
    paths = {_path(row["name"]) for row in out if row["found"].get("gone")} | {*told.led}
    came = {site.key_of(path) for path in told.pages.values()}
    keys = {site.key_of(path) for path in paths} - came
    return list(site.pages.filter(key__in=keys).values_list("pk", flat=True))


def _drawn(told: Came, pages: Sequence[Row]) -> list[str]:
    drawn = {row["number"] for row in pages if row["found"].get("drawn")}
    return [path for number, path in told.pages.items() if number in drawn]


def _drawn_note(drawn: Sequence[str]) -> list[str]:
    if not drawn:
        return []
    named = ", ".join(drawn[:_SAID])
    return [
        f"Next to nothing stands in the text of {named}: scripts draw what readers see there. "
        "What they draw was not read."
    ]


def pieces(job: Job, told: Came) -> Iterator[NewFile]:
    """What is to be brought in, a few at a time."""
    rows = Staged.objects.filter(job=job, kind__in=(PAGE, FILE)).order_by("number")
    for row in rows.iterator(chunk_size=20):
        data = bytes(row.content or b"")
        path = _path(row.name)
        if row.kind == FILE and _is_own(told.origin, row.name):
            # Files are known by their names, as those that come in as files are.
            name = unquote(path).replace("\0", "\ufffd").lstrip("/")
            yield NewFile(name, data, media_type=row.more[:_LONGEST_TYPE])
        elif row.number in told.pages:
            yield NewFile(row.name, data, told.pages[row.number], said=row.more)


def _is_own(origin: str, address: str) -> bool:
    return same_host(urls.origin_of(address), origin)


_LONGEST_NAME, _LONGEST_TYPE = 1_000, 120
_LOOKS = ("text/css", "image/", "font/", "application/font", "application/x-font")


def keep_elsewhere(job: Job, told: Came) -> None:
    """Keep the files of other hosts that make pages look as they do."""
    rows = Staged.objects.filter(job=job, kind=FILE)
    others = {elsewhere_name(row.name): row for row in rows.defer("content")
              if not _is_own(told.origin, row.name)}  # fmt: skip
    for name, row in others.items():
        is_font = name.partition("?")[0].endswith((".woff", ".woff2", ".ttf", ".otf"))
        if len(name) <= _LONGEST_NAME and (row.more.startswith(_LOOKS) or is_font):
            found = {"content": row.content, "media_type": row.more[:_LONGEST_TYPE]}
            Elsewhere.objects.update_or_create(site=job.site, name=name, defaults=found)


def set_address(site: Site, told: Came) -> list[str]:
    """Have a site that has no pages yet know the address that it was fetched from. Returns what
    is to be said."""
    own = urls.origin_of(site.address)
    if own == told.origin:
        return []
    if not site.pages.exists():
        site.address = f"{told.origin}/"
        site.save(update_fields=["address"])
        return [f"The site's own address is {site.address}, so it is kept under that."]
    return [f"The site answers at {told.origin}, and is kept here under {own}."]
