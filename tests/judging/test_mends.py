"""Mends on manuals that people wrote: each makes its finding go and brings no other, and
readers keep their words and links, as a second parser reads them (lexbor, by selectolax)."""

from __future__ import annotations

from collections import Counter

import pytest
from selectolax.lexbor import LexborHTMLParser

from innerhop.core.refusals import Refusal
from innerhop.library.acts.table import planned
from innerhop.library.changes import undo, write
from innerhop.library.index.texts import current
from innerhop.library.models import Editor, Site
from innerhop.library.seek import findings
from judging.corpora import MANUALS, Corpus
from tests.library.test_findings import THEN, open_on, site_with

pytestmark = pytest.mark.django_db
_PAGES = 25
_GROUPS = 12
# What was there before and is seen now: a list of one level lacks what has that level now,
# and entries have the words of their sections, two of which may be called the same.
LAID_OPEN = {
    **THEN,
    "level-skipped": {*THEN["level-skipped"], "list-off"},
    "no-list": {"same-words"},
}


def words_of(markup: str) -> Counter[str]:
    """The words that readers see, each as often as it stands there."""
    body = LexborHTMLParser(markup).body
    assert body is not None
    for unseen in body.css("script, style, template"):
        unseen.decompose()
    return Counter(body.text(separator=" ").split())


def links_of(markup: str) -> int:
    return len(LexborHTMLParser(markup).css("a[href], area[href]"))


def texts(site: Site) -> dict[str, str]:
    return {page.path: current(page).text for page in site.pages.select_related("site")}


def mend(site: Site, editor: Editor, group: findings.FindingGroup) -> list[str]:
    """What goes wrong when all places of a group are mended, undone again."""
    name = f"{group.rule.name} ({group.cause})"
    sent = {"rule": group.rule.name, "cause": group.cause, "all": True}
    try:
        act = planned("fix", group.first.page, sent)
        told = act.told()
    except Refusal:
        return []  # said to the editor, and nothing happens
    seen, before = open_on(site), texts(site)
    try:
        change = write.save(site, editor, act.message, act.plans, act.effects)
    except Refusal:
        return []
    left, after = open_on(site), texts(site)
    wrong = []
    rows = findings.open_on(site).filter(rule=group.rule.name, cause=group.cause)
    # A page that can't be mended is left out, and named.
    stay = [
        path for path in rows.values_list("page__path", flat=True) if before[path] != after[path]
    ]
    if stay:
        wrong.append(f"{name}: {len(stay)} of {group.count} stay, on {stay[0]}")
    come = {rule for rule, *_ in left - seen} - {group.rule.name}
    come -= LAID_OPEN.get(group.rule.name, set())
    if come:
        wrong.append(f"{name}: brings {sorted(come)}")
    if not any(one.startswith("Readers lose") for one in told):
        for path, text in before.items():
            gone = words_of(text) - words_of(after[path])
            if gone or links_of(after[path]) < links_of(text):
                wrong.append(f"{name}: {path} loses {sorted(gone)[:5]} or a link")
    undo.undo(change)
    assert texts(site) == before
    assert open_on(site) == seen
    return wrong


@pytest.mark.parametrize("corpus", MANUALS, ids=[one.name for one in MANUALS])
def test_mends_on_real_pages_keep_what_is_the_sites_own(editor: Editor, corpus: Corpus) -> None:
    if not corpus.is_here:
        pytest.skip(f"{corpus.package} is not installed")
    files = corpus.files[:: max(1, len(corpus.files) // _PAGES)][:_PAGES]
    pages = {one.name: one.read().decode("utf-8", "surrogateescape") for one in files}
    pages = {name: text for name, text in pages.items() if len(text) < 400_000}
    site = site_with(editor, pages)
    wrong: list[str] = []
    levels = ["stuck", "misled", "better"]
    groups = findings.groups(findings.open_on(site), levels, 0, 200).shown
    for group in [one for one in groups if one.fix][:_GROUPS]:
        wrong += mend(site, editor, group)
    assert not wrong
