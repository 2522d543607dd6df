"""What is asked of a fetch, and its limits."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass, field
from pathlib import Path

from innerhop.core.addresses import public, urls
from innerhop.core.addresses.urls import NotAnAddress
from innerhop.core.site.scope import folder_of

MEGABYTE = 1024 * 1024
LARGEST_PAGE, LARGEST_FILE = 4 * MEGABYTE, 10 * MEGABYTE
LARGEST_LIST = 50 * MEGABYTE  # https://www.sitemaps.org/protocol.html, unpacked
LARGEST_TOTAL = 500 * MEGABYTE
MOST_PAGES, USUAL_PAGES = 10_000, 500
MOST_FILES = 10_000
SECONDS_AN_ANSWER = 30
SECONDS_IN_ALL = 4 * 60 * 60
DEEPEST = 200  # links from the first page
LONGEST_WAIT = 120  # seconds that a server may ask to be left alone for
AGENT = "InnerHop"


@dataclass(frozen=True)
class Asked:
    """What to fetch. address: of the page to begin with. below: the path that pages' addresses
    begin with. most: pages. contact: what the user agent says of who runs it, an address or a
    mail address, "" for nothing. let_through: by host and port, as the URL Standard writes them,
    the IP address to go to without asking whether it is public: for practice hosts alone. pause:
    the least seconds between two requests. parts: whether styles, pictures, fonts and scripts
    come along. also: addresses of pages that are known, and asked for whoever links to them.
    patience: seconds for a whole answer. is_guess: whether nobody typed `https`, so that `http` is
    tried where nobody answers. is_only: whether nothing is asked for but `address` and `also`."""

    address: str
    below: str = "/"
    most: int = USUAL_PAGES
    contact: str = ""
    let_through: Mapping[str, str] = field(default_factory=dict)
    pause: float = 0.25
    parts: bool = True
    also: Sequence[str] = ()
    patience: int = SECONDS_AN_ANSWER
    is_guess: bool = False
    is_only: bool = False

    @property
    def agent(self) -> str:
        """The user agent, as servers are told it (RFC 9110, 10.1.5)."""
        return f"{AGENT} (+{self.contact})" if self.contact else AGENT

    def keep(self, folder: Path) -> None:
        """Write it down for the process that fetches."""
        (folder / "asked.json").write_text(json.dumps(asdict(self)), encoding="utf-8")

    @classmethod
    def kept(cls, folder: Path) -> Asked:
        """What `keep` wrote."""
        return cls(**json.loads((folder / "asked.json").read_text(encoding="utf-8")))


def read_address(typed: str, let_through: Mapping[str, str]) -> str:
    """An address as someone types it, of a site, a page or a part of a site, whole and without
    its query and fragment.

    Raises NotAnAddress where it is none, and public.NotPublic where it isn't fetched.

    >>> read_address("marrowby.example.org/guides", {})
    'https://marrowby.example.org/guides'
    """
    typed = typed.strip()
    whole = typed if "://" in typed else f"https://{typed}"
    found = urls.resolve(whole, "https://x.invalid/")
    if not typed or found is None or "//" not in found.origin:
        raise NotAnAddress("Give an address as readers type it, such as marrowby.example/guides/.")
    # What stands before an @ is no part of the origin, and is refused by itself.
    public.require(whole, frozenset(let_through))
    return f"{found.origin}{found.path}"


def below_of(address: str) -> str:
    """The part of a site that an address is of."""
    found = urls.resolve(address, address)
    return folder_of(found.path) if found else "/"
