"""Pages that people wrote, worked on here and brought in again: what was done stands in the new
text, is known again where it was entered there, or is told; the new text as html5lib, a second
parser, writes it."""

from __future__ import annotations

import random
import re
from collections.abc import Iterator
from functools import partial

import html5lib
import pytest

from innerhop.core.edits import Edit
from innerhop.core.merge.carrying import KEPT, SAME, STUCK
from innerhop.core.merge.merging import THERE, Merged
from innerhop.core.proof import proved
from innerhop.core.refusals import Refusal
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.core.source.tree import Source
from innerhop.library.acts.table import ACTS, planned
from innerhop.library.changes import write
from innerhop.library.changes.since_it_came import first_and_edits
from innerhop.library.index.texts import current
from innerhop.library.models import Editor, Page, Site
from judging.corpora import MANUALS, Corpus
from tests.core.test_merging import canonical
from tests.judging.test_acts import asked, site_of

pytestmark = pytest.mark.django_db
_PAGES, _DONE, _TRIED = 4, 4, 20
_LARGEST = 40_000  # characters
# What stands beside texts, or says nothing in them.
_NOT = {"correct-address", "move-page", "lock", "unlock", "keep-plan"}
SOME = [one for one in MANUALS if one.name in ("devref", "alsa", "aptitude")]


def worked_on(site: Site, editor: Editor, chance: random.Random) -> Iterator[Page]:
    """The site's pages after a few acts on each."""
    names = sorted(set(ACTS) - _NOT)
    for page in site.pages.select_related("site").order_by("pk"):
        done = 0
        for _ in range(_TRIED):
            page.refresh_from_db()
            name = chance.choice(names)
            try:
                act = planned(name, page, asked(chance, page, name))
                write.save(site, editor, act.message, act.plans, act.effects)
            except Refusal:
                continue
            done += 1
            if done == _DONE:
                break
        page.refresh_from_db()
        yield page


def rewritten(markup: str) -> str:
    """The same tree as a system might write it: other quotes, in another order."""
    walker = html5lib.getTreeWalker("etree")(html5lib.parse(markup))
    serializer = html5lib.serializer.HTMLSerializer(
        quote_attr_values="always", omit_optional_tags=False, alphabetical_attributes=True,
        quote_char="'",
    )  # fmt: skip
    text: str = serializer.render(walker)
    return text


def reworded(markup: str, chance: random.Random) -> str:
    """A word changed in some of the page's lines."""
    pieces = re.split(r"(<[^>]*>)", markup)
    texts = [at for at in range(2, len(pieces), 2)
             if re.search(r"[A-Za-z]{4,}.*[A-Za-z]{4,}", pieces[at])
             and not re.match(r"<(style|script|title)", pieces[at - 1])]  # fmt: skip
    for at in chance.sample(texts, min(10, len(texts))):
        pieces[at] = re.sub(r"[A-Za-z]{4,}", "rewritten", pieces[at], count=1)
    return "".join(pieces)


@pytest.mark.parametrize("corpus", SOME, ids=[one.name for one in SOME])
def test_what_was_done_stands_in_the_new_text(editor: Editor, corpus: Corpus) -> None:
    site = site_of(editor, corpus, _PAGES, _LARGEST)
    chance = random.Random(corpus.name)
    tried = known = 0
    for page in worked_on(site, editor, chance):
        first, edits = first_and_edits(page)
        here = current(page)

        before = (first.source, here.source, edits)
        merge = partial(merged, *before, encoding=here.revision.encoding)
        same = merge(first.text)
        assert [one for one in same.carried if one.fate != KEPT] == [], page.path
        assert canonical(result(same)) == canonical(here.text), page.path
        assert [one for one in merge(rewritten(first.text)).carried if one.fate != KEPT] == []
        other = merge(reworded(first.text, chance))
        result(other)
        told = {id(one) for meeting in other.meetings for one in meeting.carried}
        assert {id(one) for one in other.of(STUCK)} <= told
        wanted = rewritten(here.text)
        entered = merge(wanted)
        assert canonical(rewritten(result(entered))) == canonical(wanted), page.path
        tried += len(entered.carried)
        known += len(entered.of(SAME))
    assert tried
    assert known >= 0.8 * tried


def merged(
    base: Source, here: Source, edits: list[Edit], new: str, *, encoding: FileEncoding
) -> Merged:
    return Merged(base, here, edits, Source(new), encoding=encoding)


def result(found: Merged) -> str:
    """The page, as proposed; as it is there where nothing is."""
    choices = {one.key: one.proposal or THERE for one in found.meetings}
    return proved(found.new, found.plan(choices)).text
