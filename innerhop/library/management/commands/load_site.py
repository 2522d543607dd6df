"""Read a file that save_site wrote in: its sites stand beside those that are there."""

from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from innerhop.library.backup import loading


class Command(BaseCommand):
    help = __doc__

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", type=Path, help="a file that save_site wrote")

    def handle(self, *args: Any, **options: Any) -> None:
        try:
            found = loading.load(options["file"])
        except loading.CannotLoad as problem:
            raise CommandError(f"{problem.message} Nothing was read in.") from None
        for site in found:
            self.stdout.write(f"“{site.name}” is at /{site.slug}/.")
