"""Walk every hop of a site at three widths, in Chromium, as visitors get it, and hold each
against what was computed. Exits with 1 when one is not as computed, or leads nowhere."""

import json
import sys
from pathlib import Path
from typing import Any
from xml.etree import ElementTree as Tree

from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError, CommandParser

from innerhop.core import widths
from innerhop.core.refusals import Refusal
from innerhop.library.models import Link, Site, Walk
from innerhop.library.seek import hops
from innerhop.library.seek import landings as seek
from innerhop.practice.chromium import in_words, visiting


class Command(BaseCommand):
    help = __doc__

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("site", help="the site's name in addresses, such as my-site")
        parser.add_argument("--json", metavar="FILE", help="write what was found there")
        parser.add_argument("--junit", metavar="FILE", help="the same as JUnit XML")

    def handle(self, *args: Any, **options: Any) -> None:
        site = Site.objects.filter(slug=options["site"]).first()
        if site is None:
            raise CommandError(f"There is no site called {options['site']}.")
        call_command("measure", options["site"], stdout=self.stdout)
        count = Link.objects.hops().filter(site=site).count()
        rows = seek.of_hops(hops.of_site(site, count), [one.width for one in widths.ALL])
        which = seek.nths(rows)
        walks: list[Walk] = []
        try:
            with visiting(site) as visitor:
                for at, row in enumerate(rows, 1):
                    link = row.hop.link
                    id_ = seek.id_of(row.hop) if row.hop.page else ""
                    for one in widths.ALL:
                        nth = which[link.page_id, link.number]
                        walks.append(visitor.walk(row, nth, id_, one.width, one.view))
                    self.stdout.write(f"{at} of {len(rows)}: {link.href} on {link.page.path}")
        except Refusal as problem:
            raise CommandError(problem.message) from None
        nowhere = sum(row.hop.kind == hops.BROKEN for row in rows)
        for walk in walks:
            if not walk.agrees:
                self.stdout.write(f"{walk.page.path} {walk.href} at {walk.width}: {walk.trouble}")
        broken = "1 hop leads" if nowhere == 1 else f"{nowhere} hops lead"
        self.stdout.write(f"{in_words(walks)}; {broken} nowhere")
        if options["json"]:
            Path(options["json"]).write_text(json.dumps([_row(one) for one in walks], indent=2))
        if options["junit"]:
            Tree.ElementTree(_junit(walks)).write(options["junit"], "utf-8", xml_declaration=True)
        sys.exit(int(nowhere > 0 or any(not one.agrees for one in walks)))


def _row(walk: Walk) -> dict[str, Any]:
    return {
        "page": walk.page.path, "href": walk.href, "width": walk.width, "agrees": walk.agrees,
        "trouble": walk.trouble, "found": walk.found,
    }  # fmt: skip


def _junit(walks: list[Walk]) -> Tree.Element:
    """JUnit's XML as CI systems read it (common practice, no source)."""
    failed = sum(not one.agrees for one in walks)
    suite = Tree.Element("testsuite", name="rehearsal", tests=str(len(walks)),
                         failures=str(failed))  # fmt: skip
    for one in walks:
        case = Tree.SubElement(suite, "testcase", classname=one.page.path,
                               name=f"{one.href} at {one.width}")  # fmt: skip
        if not one.agrees:
            Tree.SubElement(case, "failure", message=one.trouble)
    return suite
