"""A live site, fetched to be checked. The fetching is an extra:  pip install 'inner-hop[fetch]'"""

from __future__ import annotations

import importlib.util
import re
from collections.abc import Callable, Mapping
from pathlib import Path
from typing import NamedTuple

from innerhop.check.files import CannotRead, File, Tree
from innerhop.core.addresses import urls
from innerhop.core.refusals import Refusal
from innerhop.fetch import records
from innerhop.fetch.asked import MOST_PAGES, Asked, read_address
from innerhop.fetch.running import Fetch

_HOST = re.compile(r"[a-z0-9-]+(?:\.[a-z0-9-]+)+(?::\d+)?(?:/.*)?", re.IGNORECASE)


def is_address(typed: str) -> bool:
    """Whether that is an address, and no file or folder that is there."""
    if Path(typed).exists():
        return False
    is_file = typed.lower().endswith((".zip", ".html", ".htm", ".xhtml")) and "://" not in typed
    return "://" in typed or (not is_file and _HOST.fullmatch(typed) is not None)


class SiteWanted(NamedTuple):
    """What to fetch. let_through: as `Asked` has it."""

    typed: str
    most: int
    contact: str
    let_through: Mapping[str, str]


def fetched(
    wanted: SiteWanted, folder: Path, progress: Callable[[int, int], None]
) -> tuple[Tree, str]:
    """The pages of a live site, kept in a folder, and the site's address. Raises CannotRead."""
    if importlib.util.find_spec("scrapy") is None:
        raise CannotRead("Fetching is not installed. Install it:  pip install 'inner-hop[fetch]'")
    if not 1 <= wanted.most <= MOST_PAGES:
        raise CannotRead(f"Ask for 1 to {MOST_PAGES} pages.")
    try:
        address = read_address(wanted.typed, wanted.let_through)
    except Refusal as problem:
        raise CannotRead(f"{wanted.typed}: {problem.message}.".replace("..", ".")) from None
    asked = Asked(address, most=wanted.most, contact=wanted.contact,
                  let_through=wanted.let_through, parts=False)  # fmt: skip
    fetch = Fetch(asked, folder)
    try:
        return _gathered(fetch, address, progress)
    finally:
        fetch.close()


def _gathered(fetch: Fetch, address: str, progress: Callable[[int, int], None]) -> tuple[Tree, str]:
    tree, origin = Tree(), urls.origin_of(address)
    for record in fetch.records():
        match record:
            case records.Begun():
                origin = record.origin
            case records.FetchedPage():
                body = fetch.folder / "bodies" / record.body
                tree.files.append(File(_path(record.address), body, None, True, record.label))
                progress(len(tree.files), record.of)
            case records.Same() if urls.origin_of(record.to) == origin:
                tree.led_on[_path(record.address)] = _path(record.to)
            case records.Out() if not record.gone:
                tree.skipped.append((record.address, record.why))
            case records.Ended() if record.cut:
                raise CannotRead(f"The fetching of {address} broke off.")
    return tree, f"{origin}/"


def _path(address: str) -> str:
    found = urls.resolve(address, address)
    return found.path if found else address
