"""The sites that judgements are held on: manuals that Debian packages, and sites made for it."""

from __future__ import annotations

import subprocess
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property
from pathlib import Path

from innerhop.check import files
from innerhop.check.files import File
from innerhop.check.reading import FilePage, FileSite, Options, site_of, text_of, workers
from innerhop.core.findings.table import RULES

_DOC = Path("/usr/share/doc")
_MADE = Path(__file__).parent / "made"
_ADDRESS = "https://site.invalid/"  # RFC 2606: no site has this address


@dataclass(frozen=True)
class Corpus:
    """A site. package: of Debian, "" for a made one. folder: where its pages are."""

    name: str
    package: str
    folder: Path

    @property
    def is_here(self) -> bool:
        """Whether its pages are on this machine."""
        return next(self.folder.rglob("*.html"), None) is not None

    @cached_property
    def version(self) -> str:
        """The package's version, as Debian writes it."""
        if not self.package:
            return "made"
        asked = ["dpkg-query", "--show", "--showformat=${Version}", self.package]
        return subprocess.run(asked, capture_output=True, text=True, check=False).stdout

    @cached_property
    def files(self) -> list[File]:
        """Its pages."""
        return files.find(self.folder).files

    @cached_property
    def options(self) -> Options:
        """How its pages are read."""
        asked = frozenset(name for name, rule in RULES.items() if rule.on_asking)
        return Options(_ADDRESS, asked=asked)

    @cached_property
    def site(self) -> FileSite:
        """Its pages, read and joined."""
        with workers(len(self.files)) as pool:
            return site_of(self.files, self.options, pool, lambda done, total: None)

    def page(self, at: int) -> FilePage:
        """A page of the site, read whole."""
        file = self.site.files[at]
        return FilePage(file.name, text_of(file)[0], self.options)


MANUALS = (
    Corpus("git", "git-doc", _DOC / "git/html"),
    Corpus("devref", "developers-reference", Path("/usr/share/developers-reference")),
    Corpus("apache", "apache2-doc", _DOC / "apache2-doc/manual/en"),
    Corpus("apache-fr", "apache2-doc", _DOC / "apache2-doc/manual/fr"),
    Corpus("django", "python-django-doc", _DOC / "python-django-doc/html"),
    Corpus("bash", "bash-doc", _DOC / "bash"),
    Corpus("alsa", "libasound2-doc", _DOC / "libasound2/html"),
    Corpus("aptitude", "aptitude-doc-fr", _DOC / "aptitude/html/fr"),
)


def made() -> Iterator[Corpus]:
    """The made sites, by name."""
    for folder in sorted(one for one in _MADE.glob("*") if one.is_dir()):
        yield Corpus(folder.name, "", folder)


def here() -> list[Corpus]:
    """All whose pages are on this machine."""
    return [one for one in (*MANUALS, *made()) if one.is_here]
