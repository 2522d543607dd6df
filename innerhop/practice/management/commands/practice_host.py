"""Serve the demo site as if it were live, on loopback, with faults to order."""

from typing import Any

from django.core.management.base import BaseCommand, CommandParser

from innerhop.practice.host.serving import Host


class Command(BaseCommand):
    help = __doc__

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("port", type=int)

    def handle(self, *args: Any, **options: Any) -> None:
        Host(options["port"]).serve_forever()
