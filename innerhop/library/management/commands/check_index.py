"""Compare the index of every site with a fresh reading of its pages."""

from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from innerhop.library.index import index
from innerhop.library.models import Site


class Command(BaseCommand):
    help = "Compare the index of every site with a fresh reading of its pages."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--site", help="the short name of one site, as in its address")
        parser.add_argument("--repair", action="store_true", help="write what is wrong anew")

    def _progress(self, done: int, total: int) -> None:
        """Every hundredth page is said, and the last; the findings are looked at after it."""
        if done % 100 == 0 or done == total:
            self.stderr.write(f"{done:,} of {total:,} pages read", self.style.HTTP_INFO)

    def handle(self, *args: Any, **options: Any) -> None:
        sites = Site.objects.all()
        if options["site"]:
            sites = sites.filter(slug=options["site"])
            if not sites:
                raise CommandError(f"No site has the short name {options['site']}.")
        wrong = 0
        for site in sites:
            for found in index.differences(site, self._progress):
                wrong += 1
                self.stdout.write(f"{site.slug} {found.page.path}: {found.what}")
            if wrong and options["repair"]:
                index.repair(site)
        if wrong and not options["repair"]:
            raise CommandError(f"{wrong} differences. --repair writes the index anew.")
        self.stdout.write(f"{wrong} differences, repaired." if wrong else "The index is right.")
