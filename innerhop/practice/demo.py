"""The Marrowby Canal Trust: a made-up charity whose site has a long handbook and
its share of the mistakes that editors make. Text and pictures are our own."""

from __future__ import annotations

from functools import lru_cache
from pathlib import Path

from django.conf import settings
from django.contrib.auth.hashers import make_password
from django.db import transaction

from innerhop.fetch.asked import USUAL_PAGES
from innerhop.library import access, sites, taste
from innerhop.library.bring_in import bring_ins
from innerhop.library.fetching import fetching
from innerhop.library.jobs import jobs
from innerhop.library.models import Editor, Job, Site

FOLDER = Path(__file__).parent / "demo"
EDITOR = settings.DEMO_EDITOR
PASSWORD = access.PUBLISHED


def files() -> list[tuple[str, bytes]]:
    """The demo site's files, as an upload would bring them."""
    paths = sorted(path for path in FOLDER.rglob("*") if path.is_file())
    return [(path.relative_to(FOLDER).as_posix(), path.read_bytes()) for path in paths]


@lru_cache
def _hashed() -> str:
    """The password as it is kept: made once, since that is slow on purpose."""
    return make_password(PASSWORD)


@transaction.atomic
def load_live() -> Job | None:
    """Make a second site of the demo editor's, and have it fetched from the practice host; None
    where there is no such host."""
    if not settings.PRACTICE_HOST:
        return None
    editor = Editor.objects.get(username=EDITOR)
    address = f"http://{settings.PRACTICE_HOST}/"
    site = sites.create("Marrowby, live", address, "en", editor)
    asked = fetching.read_asked(site, address, USUAL_PAGES, is_whole=True)
    return jobs.begin(site, editor, fetching.KIND, asked)


@transaction.atomic
def load() -> Site:
    """Make the demo editor and the demo site, and bring its pages in."""
    editor = Editor.objects.create(username=EDITOR, password=_hashed(), first_name="Demo")
    site = sites.create(
        "Marrowby Canal Trust", "https://marrowby.example", "en", editor, host="localhost"
    )
    site.rules_asked = [rule.name for rule in taste.CHOICES]  # so that all there is is seen
    site.save(update_fields=["rules_asked"])
    pieces = [bring_ins.NewFile(name, data) for name, data in files()]
    for _step in bring_ins.bring_in(site, editor, pieces, len(pieces)):
        pass
    return site
