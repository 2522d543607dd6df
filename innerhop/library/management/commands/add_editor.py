"""Add an editor, and let them into sites. Asks for the password."""

from getpass import getpass
from typing import Any

from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.core.management.base import BaseCommand, CommandError, CommandParser

from innerhop.library.models import Editor, Membership, Site


class Command(BaseCommand):
    help = __doc__

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("name", help="what the editor signs in with")
        parser.add_argument(
            "--site",
            action="append",
            default=[],
            help="the short name of a site, as in its address",
        )

    def handle(self, *args: Any, **options: Any) -> None:
        sites = Site.objects.filter(slug__in=options["site"])
        missing = set(options["site"]) - {site.slug for site in sites}
        if missing:
            raise CommandError(f"No site has the short name {', '.join(sorted(missing))}.")
        editor = Editor.objects.filter(username=options["name"]).first()
        if editor is None:
            editor = Editor(username=options["name"])
            password = getpass("Password: ")
            try:
                validate_password(password, editor)
            except ValidationError as problem:
                raise CommandError(" ".join(problem.messages)) from None
            editor.set_password(password)
            editor.save()
        for site in sites:
            Membership.objects.get_or_create(site=site, editor=editor)
        self.stdout.write(f"{editor} can sign in, and is an editor of {len(sites)} more sites.")
