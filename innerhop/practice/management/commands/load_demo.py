"""Load the demo site, unless there is something in the database already; say how
to sign in."""

from typing import Any

from django.core.management.base import BaseCommand

from innerhop.library.models import Editor
from innerhop.practice import colleagues, demo


class Command(BaseCommand):
    help = __doc__

    def handle(self, *args: Any, **options: Any) -> None:
        if not Editor.objects.exists():
            colleagues.join(demo.load())
            demo.load_live()
        if Editor.objects.filter(username=demo.EDITOR).exists():
            said = f"with one click there, or as  {demo.EDITOR}  with the password  {demo.PASSWORD}"
        else:
            said = "with an account of this database; bin/manage add_editor NAME makes one"
        self.stdout.write(f"Sign in {said}")
