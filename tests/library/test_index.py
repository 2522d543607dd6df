"""The index says what the text says: after every act, each page's rows are those
that reading its current text anew would give."""

from __future__ import annotations

from unittest.mock import patch

import pytest

from innerhop.core.addresses import urls
from innerhop.core.facts.page_facts import gather
from innerhop.core.facts.sections import sections, sections_and_words
from innerhop.core.findings.table import BROKEN_HOPS
from innerhop.core.source.tree import Source
from innerhop.library import sites
from innerhop.library.acts import hop_acts, mark_acts, page_acts
from innerhop.library.acts.ends import End
from innerhop.library.bring_in import bring_ins
from innerhop.library.changes import undo
from innerhop.library.index import findings, index
from innerhop.library.index.texts import current
from innerhop.library.models import Editor, Finding, Page, Site
from tests.core.test_findings import MUST
from tests.library.test_changes import correct, page_at, save, section, words_in
from tests.library.test_hops import bring as bring_one

BROKEN = {rule.name for rule in BROKEN_HOPS}


def check(site: Site) -> None:
    """Compare every page's rows with a fresh reading."""
    assert [one.what for one in index.differences(site)] == []
    for page in site.pages.select_related("site"):
        source = Source(current(page).text)
        facts = gather(source)
        rows = page.sections.values_list("number", "level", "depth", "title", "mark", "words")
        assert list(rows) == [
            (one.number, one.level, one.depth, one.title, one.mark, one.words)
            for one in sections(source, facts)
        ]
        marks = page.marks.values_list("number", "attribute", "value", "tag", "empty")
        assert sorted(marks) == sorted(facts.marks)
        links = page.links.values_list("number", "href", "text", "region", "new_tab")
        assert list(links) == [(*one[:4], one.target == "_blank") for one in facts.links]
        assert page.words == sections_and_words(source, facts)[1]
        base = urls.base_address(page.address, facts.base_href)
        for link in page.links.all():
            found = urls.resolve(link.href, base)
            assert link.fragment == (found.fragment if found else None)
            inside = found is not None and f"{found.origin}/" == site.address
            assert link.key == (site.key_of(found.path) if found and inside else "")


def test_after_every_act(site: Site, editor: Editor) -> None:
    check(site)
    page, guide = page_at(site, "/moorings/"), page_at(site, "/lock-guide/")
    heading = section(guide, "A note on paddle gear")
    end = End(guide, "gear", heading.number)
    hop = save(page, editor, hop_acts.hop(page, words_in(page, "honesty box"), end))
    check(site)
    page.refresh_from_db()
    save(page, editor, page_acts.smooth(page))
    check(site)
    undo.undo(hop)
    check(site)
    undo.redo(hop)
    check(site)
    page.refresh_from_db()
    correct(page, editor, "/deep/er/moorings.html")
    check(site)
    piece = bring_ins.NewFile("about/index.html", b"<base href=/x/><h2 id=a>b</h2><a href=#a>c</a>")
    for _ in bring_ins.bring_in(site, editor, [piece], 1, replace=True):
        pass
    check(site)


@pytest.mark.parametrize(
    ("markup", "title"),
    [
        ("<title>From the title</title><h2>Other</h2>", "From the title"),
        ("<title>Site</title><h1>From the h1</h1>", "From the h1"),
        ("<h1>One</h1><h1>Two</h1>", "One"),
        ("<h3>Only a heading</h3>", "Only a heading"),
        ("<p>Nothing", "/untitled/"),
        (f"<h1>{'long ' * 300}</h1>", ("long " * 300).strip()[:500]),
        ("<h1>&#0;&#xD800;x</h1>", "\ufffd\ufffdx"),
    ],
)
def test_what_a_page_is_called(site: Site, editor: Editor, markup: str, title: str) -> None:
    piece = bring_ins.NewFile("pasted", markup.encode(), address="/untitled/")
    for _ in bring_ins.bring_in(site, editor, [piece], 1):
        pass
    assert Page.objects.get(site=site, path="/untitled/").title == title


@pytest.mark.parametrize(
    ("title", "id_", "is_other", "is_whole"),
    [
        ("Quiet", "quiet-days", False, False),
        ("Quiet", "day-ticket", True, False),  # a letter off
        ("Quiet", "Moorings", True, False),  # a capital off
        ("Winter", "in-winter", True, False),  # that its heading has no ID is no answer any more
        ("Winter", "winter", True, True),  # a hop arrives
    ],
)
def test_hops_that_an_id_concerns_say_something_else(
    editor: Editor, title: str, id_: str, is_other: bool, is_whole: bool
) -> None:
    """Where IDs alone come or go, the other hops are not looked at again; what is said is that
    of a fresh look, on the page and on others."""
    hops = "".join(f'<p><a href="{{}}{href}">{href}</a>' for href in (
        "##fares", "#Fares", "#far3s", "#day-tickets", "#winter", "#moorings", "#no",
    ))  # fmt: skip
    own = hops.replace("{}", "")
    text = f"<title>t</title><h1>t</h1><p>some</p><h2>Winter</h2><p>w<h2>Quiet</h2><p>q{own}"
    site = sites.create("Ids", "ids.example", "en", editor)
    page = bring_one(site, editor, "/a/", text)
    bring_one(site, editor, "/b/", f"<title>b</title><h1>b</h1>{hops.replace('{}', '/a/')}")
    number = page.sections.get(title=title).number
    before = set(Finding.objects.values_list("page__path", "number", "rule"))
    with patch.object(findings, "renew", wraps=findings.renew) as renew:
        save(page, editor, mark_acts.mark(page, [(number, id_)]))
    check(site)
    now = set(Finding.objects.values_list("page__path", "number", "rule"))
    hops_said = [{one for one in some if one[2] in BROKEN} for some in (before, now)]
    assert (hops_said[0] != hops_said[1]) == is_other
    assert any(call.args[1] for call in renew.call_args_list) == is_whole


@pytest.mark.parametrize("rule", [rule for rule in MUST if isinstance(MUST[rule][0], str)])
def test_a_mark_leaves_what_else_is_said_of_its_page(editor: Editor, rule: str) -> None:
    site = sites.create("Ids", "ids.example", "en", editor)
    page = bring_one(site, editor, "/a/", f"{MUST[rule][0]}<h2>One more</h2><p>Words.")
    heading = page.sections.filter(title="One more").first()
    if heading is not None:
        save(page, editor, mark_acts.mark(page, [(heading.number, "one-more")]))
    check(site)
