"""Measure where the marks of a site's pages stand at three widths, in Chromium, so that
landings are known. Pages that were measured as they are now are left out."""

from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from innerhop.core import widths
from innerhop.core.refusals import Refusal
from innerhop.library import rehearsal
from innerhop.library.models import Site
from innerhop.practice.chromium import visiting


class Command(BaseCommand):
    help = __doc__

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("site", help="the site's name in addresses, such as my-site")

    def handle(self, *args: Any, **options: Any) -> None:
        site = Site.objects.filter(slug=options["site"]).first()
        if site is None:
            raise CommandError(f"There is no site called {options['site']}.")
        all_widths = [one.width for one in widths.ALL]
        left = [(page, rehearsal.unmeasured(page, all_widths))
                for page in site.pages.select_related("site").order_by("path")]  # fmt: skip
        jobs = [(page, one) for page, lacking in left for one in widths.ALL if one.width in lacking]
        try:
            with visiting(site) as visitor:
                for at, (page, one) in enumerate(jobs, 1):
                    visitor.measure(page, one.width, one.view)
                    self.stdout.write(f"{at} of {len(jobs)}: {page.path} at {one.width}")
        except Refusal as problem:
            raise CommandError(problem.message) from None
        self.stdout.write(f"{len(jobs)} measured")
