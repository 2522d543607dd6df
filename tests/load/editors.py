"""What editors do, for Locust, which runs this file in a process of its own: they look at the
screens of the demo site, with ten seconds of reading between two, and now and then mark a
section and take it back. Each of them asks for what its screen asks for by itself, too."""

from __future__ import annotations

import itertools
import json
import os
import random
from pathlib import Path
from typing import Any

from locust import FastHttpUser, between, task

WHO: list[dict[str, Any]] = json.loads(Path(os.environ["INNERHOP_LOAD"]).read_text("utf-8"))
_turns = itertools.count()
SCREENS = ("", "findings/", "menus/", "rehearsal/", "map/", "hand-over/", "hand-over/copy-sheet/",
           "history/", "live/", "settings/", "jobs/")  # fmt: skip


class Editing(FastHttpUser):
    """One editor. They differ in the site that they are at."""

    wait_time = between(4, 16)

    def on_start(self) -> None:
        """Who they are: a session that is open."""
        self.who = WHO[next(_turns) % len(WHO)]
        self.base = f"{self.who['host']}/{self.who['slug']}/"
        self.headers = {"Cookie": self.who["cookie"], "X-CSRFToken": self.who["csrf"],
                        "Origin": self.who["host"], "Accept-Encoding": "gzip"}  # fmt: skip

    def look(self, path: str, name: str, **more: Any) -> Any:
        """Ask for a screen, or for a part of it."""
        return self.client.get(self.base + path, name=name, headers=self.headers, **more)

    def send(self, path: str, name: str, data: Any) -> Any:
        """Say something as a screen does."""
        said = {**self.headers, "Accept": "application/json"}
        return self.client.post(self.base + path, name=name, json=data, headers=said)

    @task(6)
    def screen(self) -> None:
        """One of the site's screens, and what the bar asks for."""
        one = random.choice(SCREENS)
        self.look(one, one or "pages")
        self.look("jobs/now/", "jobs/now/")

    @task(3)
    def page(self) -> None:
        """A page's screen, and that somebody is there."""
        pk = random.choice(self.who["pages"])
        self.look(f"{pk}/", "a page")
        self.send(f"{pk}/here/", "a page: here", {"revision": 1, "number": None})

    @task(2)
    def find(self) -> None:
        """Anything by a few letters."""
        self.look(f"find/?q={random.choice(('fee', 'lock', 'win', 'diesel'))}", "find")

    @task(1)
    def mark(self) -> None:
        """Mark a section of their own page, and take that back."""
        pk, number = self.who["own"]
        there = self.send(f"{pk}/catch-up/", "a page: catch up", {"revision": 1, "numbers": []})
        revision = there.json()["state"]["revision"]
        sent = {"revision": revision, "marks": [{"number": number, "id": f"n{next(_turns)}"}]}
        made = self.send(f"{pk}/act/mark/", "a mark saved", sent).json()
        if "change" in made:
            self.send(f"{pk}/undo/", "a mark taken back", {"change": made["change"]})
