"""Rules that are a matter of taste: each site says which of them it wants looked for."""

from __future__ import annotations

from collections.abc import Iterator

from innerhop.core.findings.found import Rule
from innerhop.core.findings.table import RULES
from innerhop.core.refusals import Refusal
from innerhop.library.changes.prepare import PagesDone
from innerhop.library.index import findings
from innerhop.library.models import Finding, Site

CHOICES = [rule for rule in RULES.values() if rule.on_asking]


class NoSuchChoice(Refusal):
    """A rule is not one that can be asked for, or left."""


def ask_for(site: Site, name: str, on: bool) -> Iterator[PagesDone]:
    """Have a rule looked for on a site from now on, or no more. What it finds on the pages is
    there when the last step is done. Raises NoSuchChoice before the first."""
    rule = next((one for one in CHOICES if one.name == name), None)
    if rule is None:
        raise NoSuchChoice("That is no rule that can be chosen. Load the page again.")
    return _carried_out(site, rule, on)


def _carried_out(site: Site, rule: Rule, on: bool) -> Iterator[PagesDone]:
    asked = {*site.rules_asked} - {rule.name} | ({rule.name} if on else set())
    site.rules_asked = sorted(asked)
    site.save(update_fields=["rules_asked"])
    if not on:
        Finding.objects.filter(site=site, rule=rule.name).delete()
        return
    total = site.pages.count()
    for done in findings.renew_rule(site, rule):
        yield PagesDone(done, total)
