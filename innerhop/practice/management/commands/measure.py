"""Measure where the marks of a site's pages stand at three widths, in Chromium, so that
landings are known. Pages that were measured as they are now are left out. Several workers
share the pages, each with a browser of its own."""

import subprocess
import sys
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError, CommandParser

from innerhop.core.refusals import Refusal
from innerhop.library.models import Site
from innerhop.practice.chromium import visiting
from innerhop.practice.measuring import unmeasured


class Command(BaseCommand):
    help = __doc__

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("site", help="the site's name in addresses, such as my-site")
        parser.add_argument("--workers", type=int, default=1, help="browsers at the same time")
        parser.add_argument("--part", type=int, default=0, help="which worker this is, from 0 on")

    def handle(self, *args: Any, **options: Any) -> None:
        workers, part = max(1, options["workers"]), options["part"]
        others = []
        if part == 0:
            others = [_started(options["site"], workers, one) for one in range(1, workers)]
        try:
            self._measure(options["site"], workers, part)
        finally:
            codes = [one.wait() for one in others]  # all of them end before this does
        if any(codes):
            raise CommandError("A worker failed. Measure again to do what is left.")

    def _measure(self, slug: str, workers: int, part: int) -> None:
        site = Site.objects.filter(slug=slug).first()
        if site is None:
            raise CommandError(f"There is no site called {slug}.")
        own = unmeasured(site)[part::workers]
        done, total = 0, sum(len(lacking) for _, lacking in own)
        try:
            with visiting(site) as visitor:
                for page, lacking in own:
                    for one in visitor.measure(page, lacking):
                        done += 1
                        self.stdout.write(f"{done} of {total}: {page.path} at {one.width}")
        except Refusal as problem:
            raise CommandError(problem.message) from None
        self.stdout.write(f"{total} measured")


def _started(slug: str, workers: int, part: int) -> subprocess.Popen[bytes]:
    more = ["--workers", str(workers), "--part", str(part)]
    return subprocess.Popen(
        [sys.executable, settings.BASE_DIR / "manage.py", "measure", slug, *more]
    )
