"""Write a site, or all of them, into a file that any Inner Hop can read in again: pages, what was
done to them and by whom, and what is said of them. No passwords stand in it."""

from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from innerhop.library.backup import saving
from innerhop.library.models import Site


class Command(BaseCommand):
    help = __doc__

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", type=Path, help="the file to write; one that is there goes")
        which = parser.add_mutually_exclusive_group()
        which.add_argument("--site", help="its short name, as in its address")
        which.add_argument("--all", action="store_true", help="all sites, in one file")

    def handle(self, *args: Any, **options: Any) -> None:
        path: Path = options["file"]
        if not path.parent.is_dir():
            raise CommandError(f"There is no folder {path.parent}.")
        try:
            if options["all"]:
                self.stdout.write(f"{saving.save_all(path)} sites are in {path}.")
                return
            site = self._site(options["site"])
            saving.save(site, path)
        except OSError as problem:
            raise CommandError(f"{path} can't be written: {problem.strerror}.") from None
        self.stdout.write(f"“{site.name}” is in {path}.")

    def _site(self, slug: str | None) -> Site:
        rows = Site.objects.filter(slug=slug) if slug else Site.objects.all()
        sites: list[Site] = list(rows[:2])
        if len(sites) == 1:
            return sites[0]
        if slug:
            raise CommandError(f"No site has the short name {slug}.")
        raise CommandError(
            "Say which site with --site, or --all." if sites else "There is no site."
        )
