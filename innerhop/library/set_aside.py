"""Findings that an editor says are none: at one place, or of a rule on the whole site; and
that word taken back."""

from __future__ import annotations

from collections.abc import Collection

from django.db import transaction

from innerhop.core.findings.table import RULES
from innerhop.core.refusals import CONFLICT, Refusal
from innerhop.library.index import findings
from innerhop.library.models import Editor, Finding, SetAside, Site

_LONGEST = 300


class CannotSetAside(Refusal):
    """What was to be set aside is not there."""


class NotListed(CannotSetAside):
    """It was there when the list was read."""

    status = CONFLICT


@transaction.atomic
def places(site: Site, editor: Editor, keys: Collection[int], reason: str) -> int:
    """Set findings aside, by primary key; they stay so through edits. Returns how many.
    Raises CannotSetAside."""
    rows = list(Finding.objects.filter(site=site, pk__in=keys, aside=None))
    if not rows:
        raise NotListed("Nothing of this is there any more. Load the list again.")
    for row in rows:
        SetAside.objects.get_or_create(
            site=site, page_id=row.page_id, rule=row.rule, key=row.key,
            defaults={"reason": _plain(reason), "editor": editor},
        )  # fmt: skip
    for rule in {row.rule for row in rows}:
        findings.set_aside_again(site, rule)
    return len(rows)


@transaction.atomic
def rule_on_site(site: Site, editor: Editor, rule: str, reason: str) -> None:
    """Set all findings of a rule aside, those that are yet to come too. Raises
    CannotSetAside."""
    if rule not in RULES:
        raise CannotSetAside("There is no such rule. Load the list again.")
    SetAside.objects.get_or_create(
        site=site, page=None, rule=rule, key="",
        defaults={"reason": _plain(reason), "editor": editor},
    )  # fmt: skip
    findings.set_aside_again(site, rule)


@transaction.atomic
def take_back(site: Site, key: int) -> None:
    """Let what was set aside count again. Raises CannotSetAside."""
    row = site.set_aside.filter(pk=key).first()
    if row is None:
        raise CannotSetAside("It counts already. Load the list again.")
    row.delete()
    findings.set_aside_again(site, row.rule)


def _plain(reason: str) -> str:
    return " ".join(reason.replace("\0", "").split())[:_LONGEST]
