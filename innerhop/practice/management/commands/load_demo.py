"""Load the demo site, unless there is something in the database already."""

from typing import Any

from django.core.management.base import BaseCommand

from innerhop.library.models import Editor
from innerhop.practice import demo


class Command(BaseCommand):
    help = __doc__

    def handle(self, *args: Any, **options: Any) -> None:
        if not Editor.objects.exists():
            demo.load()
