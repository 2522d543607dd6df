"""What the mends of links decide, and how they are written: asked by the acts of the screens and
by the command line alike."""

from __future__ import annotations

from collections.abc import Mapping
from typing import NamedTuple

from innerhop.core.addresses import link_target
from innerhop.core.formats import html
from innerhop.core.plan import Plan, join_plans
from innerhop.core.planners import renaming
from innerhop.core.site.hops import NO_ID, NO_PAGE
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.core.source.tree import Source


class Lead(NamedTuple):
    """What a link gets: another ID behind the hash, what stands before it staying as it is
    written; or another address as a whole."""

    id: str = ""
    href: str = ""


def keeps_its_page(why: str, is_its_page: bool, id_: str, is_shared: bool = False) -> bool:
    """Whether a broken link gets another ID alone. why: it leads nowhere; is_its_page: whether
    it is to end on the page that it leads to; is_shared: in parts that pages share what is
    written is the same on every page."""
    return why == NO_ID and is_its_page and bool(id_) and not is_shared


def keeps_its_id(why: str, is_there: bool) -> bool:
    """Whether a link to a page that isn't there asks the right one for the ID that it has.
    is_there: whether that page has it."""
    return why == NO_PAGE and is_there


def plan_leads(source: Source, leads: Mapping[int, Lead], encoding: FileEncoding) -> Plan:
    """Let links, by number, lead elsewhere."""
    follow = {number: one.id for number, one in leads.items() if one.id}
    anew = {number: one.href for number, one in leads.items() if not one.id}
    plans = []
    if follow:
        plans.append(renaming.plan_follow(source, follow, encoding))
    if anew:
        plans.append(renaming.plan_addresses(source, anew, encoding))
    return plans[0] if len(plans) == 1 else join_plans(plans)


def plan_reopened(
    source: Source, number: int, new_tab: bool, outside: bool, encoding: FileEncoding
) -> Plan:  # fmt: skip
    """Let a link open in a new tab, or in the same one. outside: whether it leaves the site."""
    values = link_target.changed(source, number, new_tab, outside)
    return html.give(source, {number: values}, encoding)
