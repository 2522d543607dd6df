"""Editors who save over each other, and machines that fail meanwhile: what was answered
as saved is there, all of it; what was not is not there by half."""

from __future__ import annotations

import contextlib
import itertools
import json
import random
import threading
import time
from collections import Counter
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from http.client import HTTPConnection, HTTPException

from django.db import connection, transaction

from innerhop.library import sites
from innerhop.library.bring_in import bring_ins
from innerhop.library.index import index
from innerhop.library.index.texts import current
from innerhop.library.models import Change, Editor, Mark, Page, Revision, Site
from innerhop.practice.serving import serve_process
from tests.endurance.machines import PostgreSQL, kill_worker
from tests.sessions import cookie_of

SECONDS = 300  # longer than any trial may take
CSRF = "endure" * 5 + "xx"


@dataclass
class Target:
    """A part that can be marked: its page, its number there, whether pages share it."""

    page: int
    number: int
    shared: bool


@dataclass
class Trial:
    """One running of the traffic. answers: how many of each status; "gone" for none.
    saved: the IDs that were answered as saved, with what they were put on."""

    address: str
    cookie: str
    slug: str
    targets: list[Target]
    wanted: int
    answers: Counter[int | str] = field(default_factory=Counter)
    saved: dict[str, Target] = field(default_factory=dict)
    lock: threading.Lock = field(default_factory=threading.Lock)
    turns: Iterator[int] = field(default_factory=itertools.count)

    def run(self, threads: int, disturb: Callable[[], None] | None = None, kills: int = 0) -> None:
        """Save from so many threads until as many saves were answered as are wanted;
        meanwhile disturb so many times, at moments drawn at random."""
        workers = [threading.Thread(target=self._save_on, args=(n,)) for n in range(threads)]
        for worker in workers:
            worker.start()
        try:
            for _ in range(kills):
                self._wait_for_a_save()
                time.sleep(random.uniform(0.1, 1.0))
                assert disturb is not None
                disturb()
        finally:
            if kills:
                self.wanted = 0
        for worker in workers:
            worker.join(SECONDS)

    def _wait_for_a_save(self) -> None:
        """Until something was saved anew, so that each end comes in the middle of work."""
        before, until = len(self.saved), time.monotonic() + 30
        while len(self.saved) == before and time.monotonic() < until:
            time.sleep(0.02)

    def _save_on(self, seed: int) -> None:
        chance = random.Random(seed)
        until = time.monotonic() + SECONDS
        while len(self.saved) < self.wanted and time.monotonic() < until:
            target = chance.choice(self.targets)
            name = f"e-{next(self.turns)}"
            try:
                status = self._mark(target, name)
            except (OSError, HTTPException, ValueError):  # cut off, or half an answer
                status = "gone"
                time.sleep(0.1)
            with self.lock:
                self.answers[status] += 1
                if status == 200:
                    self.saved[name] = target

    def _mark(self, target: Target, name: str) -> int | str:
        path = f"/{self.slug}/{target.page}"
        status, answer = self._ask("POST", f"{path}/catch-up/", json.dumps({"revision": 1}))
        if status != 200:
            return status
        page = json.loads(answer)["state"]
        sent: dict[str, object] = {"revision": page["revision"]}
        if target.number in {mark["number"] for mark in page["marks"]}:
            act, sent = "rename", sent | {"number": target.number, "id": name}
        else:
            act, sent = "mark", sent | {"marks": [{"number": target.number, "id": name}]}
        status, answer = self._ask("POST", f"{path}/act/{act}/", json.dumps(sent))
        if status == 200:
            json.loads(answer)
        return status

    def _ask(self, method: str, path: str, body: str | None = None) -> tuple[int, bytes]:
        host, _, port = self.address.removeprefix("http://").partition(":")
        connection = HTTPConnection(host, int(port), timeout=60)
        headers = {"Cookie": f"{self.cookie}; csrftoken={CSRF}", "X-CSRFToken": CSRF}
        with contextlib.closing(connection):
            connection.request(method, path, body, headers)
            answer = connection.getresponse()
            return answer.status, answer.read()


def wrong_after(trial: Trial) -> list[str]:
    """What is not as it was answered, what is there by half, and where the index is not
    that of a fresh reading."""
    site = Site.objects.get(slug=trial.slug)
    found = [f"{one.page.path}: {one.what}" for one in index.differences(site)]
    pages = set(site.pages.values_list("pk", flat=True))
    on: dict[str, set[int]] = {}
    # Without a number it was prepared by one that ended, and never was a page's.
    rows = Revision.objects.filter(page__site=site, number__isnull=False)
    texts = {(row.page_id, row.number): bytes(row.content) for row in rows}
    for mark in Mark.objects.filter(site=site, value__startswith="e-"):
        on.setdefault(mark.value, set()).add(mark.page_id)
    ever = b"\n".join(texts.values())
    for name, target in trial.saved.items():
        if f'id="{name}"'.encode() not in ever:
            found.append(f"{name} was answered as saved, and no text ever had it")
        if target.shared and name in on and on[name] != pages:
            found.append(f"{name} is on {len(on[name])} of {len(pages)} pages that share it")
    for page in site.pages.all():
        numbers = sorted(number for key, number in texts if key == page.pk)
        if numbers != list(range(1, page.revision + 1)):
            found.append(f"{page.path}: its texts are {numbers}, its newest {page.revision}")
    return found


def prepared() -> tuple[str, str, list[Target]]:
    """A site to save on: its short name, a signed-in editor's cookie, parts to mark."""
    editor = Editor.objects.create_user("endure")
    site = sites.create("Endure", "endure.example", "en", editor)
    lines = "".join(f"<p>Line {n} of the foot</p>" for n in range(8))
    texts = [
        f"<!DOCTYPE html><title>P{n}</title><main><h1>Page {n}</h1>"
        + "".join(f"<p>Words {at} of page {n}</p>" for at in range(60))
        + f"</main><footer>{lines}</footer>"
        for n in range(3)
    ]
    pieces = [bring_ins.NewFile(f"p{n}/index.html", one.encode()) for n, one in enumerate(texts)]
    for _ in bring_ins.bring_in(site, editor, iter(pieces), len(pieces)):
        pass
    targets = []
    for page in site.pages.all():
        source = current(page).source
        foot = next(one.number for one in source.of_tags("footer"))
        targets += [Target(page.pk, one.number, one.number > foot) for one in source.of_tags("p")]
    return site.slug, cookie_of(editor), targets


def collide(saves: int) -> Trial:
    """Eight threads, so many saves, on three pages that share a footer."""
    return _trial(saves, 0, lambda master: None)


def lose_workers(kills: int) -> Trial:
    """The same while workers of the server are killed."""
    return _trial(10**9, kills, kill_worker)


def lose_database(server: PostgreSQL, kills: int) -> Trial:
    """The same while the database server is killed and started again."""
    return _trial(10**9, kills, lambda master: server.kill())


def fill_disk(server: PostgreSQL, times: int) -> Trial:
    """The same while there is no room on the database's disk, now and then."""
    return _trial(10**9, times, lambda master: server.fill(1.5))


def migrate(times: int) -> Trial:
    """The same while a new version's migrations add what it needs to the busiest tables."""
    turns = itertools.count()

    def add() -> None:
        nth = next(turns)
        with transaction.atomic(), connection.cursor() as cursor:
            for model in (Page, Change, Revision, Mark):
                table = model._meta.db_table
                cursor.execute(f"alter table {table} add column trial{nth} integer default 0")
                cursor.execute(f"create index on {table} (trial{nth})")

    return _trial(10**9, times, lambda master: add())


def _trial(saves: int, kills: int, disturb: Callable[[int], None]) -> Trial:
    slug, cookie, targets = prepared()
    with serve_process(workers=2) as (address, master):
        trial = Trial(address, cookie, slug, targets, saves)
        trial.run(8, lambda: disturb(master), kills)
    return trial
