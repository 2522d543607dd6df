"""New links are written as the site writes its own (common practice, no source), so that a folder
of files still opens without a server (RFC 3986 5.2 for what each is read as)."""

from __future__ import annotations

import pytest

from innerhop.core.planners.visitor_parts import Parts
from innerhop.library.acts import hop_acts, visitor_acts
from innerhop.library.acts.ends import End
from innerhop.library.changes import write
from innerhop.library.index.texts import current
from innerhop.library.models import Editor
from tests.library.test_changes import page_at
from tests.library.test_findings import site_with

pytestmark = pytest.mark.django_db
HEAD = "<!doctype html><html lang=en><head><title>T</title></head><body><p>All <b>fees</b>."
RELATIVE = "<a href=../index.html#a>a</a> <a href=../faq.html>f</a><h2 id=c>C</h2>"


@pytest.mark.parametrize(
    ("links", "form", "href"),
    [
        (RELATIVE, "relative", "../index.html#a"),
        ("<a href=../#a>a</a> <a href=../faq.html>f</a>", "relative", "../#a"),
        ("<a href=/index.html>a</a> <a href=/faq.html>f</a>", "path", "/#a"),
        ("<a href=../faq.html>a</a> <a href=/faq.html>f</a>", "path", "/#a"),
        ("<a href=https://canal.example/faq.html>f</a>", "path", "/#a"),
        ("<a href=https://other.example/>o</a> <a href=#c>c</a><p id=c>x", "path", "/#a"),
    ],
)
def test_a_new_hop_has_the_form_of_those_that_are_there(
    editor: Editor, links: str, form: str, href: str
) -> None:
    site = site_with(editor, {
        "index.html": f"{HEAD}<h2 id=a>A</h2>", "faq.html": f"{HEAD}",
        "boats/hire.html": f"{HEAD}{links}",
    })  # fmt: skip
    page, end = page_at(site, "/boats/hire.html"), page_at(site, "/")
    (bold,) = current(page).source.reading.of_tags(["b"])
    assert (page.site.form, hop_acts.element(page, bold, End(end, "a")).href) == (form, href)


def test_our_files_are_linked_so_too_and_known_again(editor: Editor) -> None:
    site = site_with(editor, {
        "index.html": f"{HEAD}<h2 id=a>A</h2>", "boats/hire.html": f"{HEAD}{RELATIVE}",
    })  # fmt: skip
    for path, there in (("/boats/hire.html", "../hops/hops"), ("/", "hops/hops")):
        act = visitor_acts.give(page_at(site, path), Parts(lit=True))
        write.save(site, editor, act.message, act.plans, act.effects)
        markup = current(page_at(site, path)).text
        assert f'href="{there}.css"' in markup
        assert f'src="{there}.js"' in markup
        with pytest.raises(visitor_acts.NothingLacks):
            visitor_acts.give(page_at(site, path), Parts(lit=True))
