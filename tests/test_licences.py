"""What is always installed binds nobody who passes Inner Hop on: the licences of all that
is pinned are of known kinds, and a new kind is looked at before it is let in."""

from __future__ import annotations

import re
from importlib import metadata
from pathlib import Path

import pytest

PINNED = Path(__file__).parents[1] / "requirements" / "app.txt"
NAMES = re.findall(r"^([a-z0-9_.-]+)==", PINNED.read_text(encoding="utf-8"), re.M | re.I)
# As their packages name them, in small letters: an SPDX expression or, from older ones,
# a classifier or a free text.
KNOWN = {
    "mit", "mit license", "bsd", "bsd license", "bsd-3-clause", "bsd-2-clause", "apache-2.0",
    "apache software license", "apache license 2.0", "apache-2.0 or mit", "apache 2.0",
    "isc", "psf-2.0", "cc0-1.0", "mit or apache-2.0", "the mit license (mit)",
    "python software foundation license", "apache-2.0 and mit", "apache-2.0 or bsd-3-clause",
    "mit and psf-2.0",
    "apache-2.0 and bsd-2-clause",
    "zpl-2.1", "zope public license",  # as BSD, and the names of its makers are not used
    "0bsd", "mit-cmu", "mit-0", "apache-2.0 or bsd-2-clause", "bsd-3-clause or apache-2.0",
    # Used as a library and not changed (LGPL 3, section 4); PostgreSQL's own client.
    "lgpl-3.0-only", "gnu lesser general public license v3 (lgplv3)",
    # The lists of public suffixes and of certificates, not changed (MPL 2.0, section 3.1 asks it
    # of its own files).
    "mpl-2.0", "mozilla public license 2.0 (mpl 2.0)",
    # Either of two; the Artistic one is taken.
    "artistic license",
}  # fmt: skip


@pytest.mark.parametrize("name", sorted(set(NAMES)))
def test_licences_are_of_known_kinds(name: str) -> None:
    about = metadata.metadata(name)
    said = [about.get("License-Expression", "")]
    if not said[0]:
        classifiers = about.get_all("Classifier") or []
        said = [one.rsplit(" :: ", 1)[1] for one in classifiers if one.startswith("License ::")]
        said = [one for one in said if one != "OSI Approved"] or [about.get("License") or "none"]
    assert {one.strip().lower() for one in said} & KNOWN, said
