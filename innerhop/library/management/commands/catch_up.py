"""Bring the index of pages up to date that an older version of Inner Hop wrote, and throw
away what is of no use any more."""

from typing import Any

from django.core.management.base import BaseCommand

from innerhop.library import removal, tidying
from innerhop.library.index import index


class Command(BaseCommand):
    help = "Write the index of pages anew that an older version wrote."

    def handle(self, *args: Any, **options: Any) -> None:
        removal.throw_away()
        tidying.tidy()
        count = index.catch_up()
        if count:
            self.stdout.write(f"Read {count} pages anew for this version.")
