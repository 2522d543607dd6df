"""Lines that serve as headings, and what marked parts are called. What people write in
bold instead of a heading is common practice, no source."""

import time

import pytest

from innerhop.core.facts import bold_lines, mark_words, page_facts
from innerhop.core.facts.sections import sections
from innerhop.core.source.tree import Source

LONG = "Water goes down, and boats with it. " * 6
AFTER = "<p>After that, £2 a day.</p>"


@pytest.mark.parametrize(
    ("markup", "title"),
    [
        ("<p><b>Question 7: What if I pay late?</b></p>", "Question 7: What if I pay late?"),
        ("<p> <strong>Paying by the <i>quarter</i></strong>\n</p>", "Paying by the quarter"),
        ("<p><span class=big><b>Large print</b></span></p>", "Large print"),
        ("<div><strong>Old editors</strong></div>", "Old editors"),
        ("<p><b>Note:</b> bring a windlass</p>", None),
        ("<p>Bring <b>a windlass</b></p>", None),
        ("<p><b>Never leave a paddle open.</b></p>", None),
        (f"<p><b>{'Water ' * 20}</b></p>", None),
        ("<p><b>***</b></p>", None),
        ("<p><b><a href=/buy>Buy a key</a></b></p>", None),
        ("<ul><li><div><b>Entry</b></div><p>more</p></ul>", None),
        ("<table><tr><td>7.<td><p><b>Is it late?</b></p><p>No</p></table>", "Is it late?"),
        (f"<table><tr><td>Menu of all the pages<td><p><b>Wide</b></p><p>{LONG}</table>", "Wide"),
        ("<table role=none><tr><td>Menu of the page<td><p><b>A</b></p><p>b</table>", "A"),
        ("<table><tr><td><p><b>Cell</b></p><p>more</p><td>Of which this is a word</table>", None),
        (
            "<table><tr><td>7.<td><p><b>Is it late?</b></p><p>No<table><tr><th>No</table></table>",
            "Is it late?",
        ),
        ("<table><tr><th>Fee<tr><td><p><b>Cell</b></p><p>more</p></table>", None),
        ("<table border=1><tr><td><p><b>Cell</b></p><p>more</p></table>", None),
        ("<table><caption>Fees</caption><tr><td><p><b>Cell</b></p><p>more</table>", None),
        ("<nav><p><b>Menu</b></p><p>more</p></nav>", None),
    ],
)
def test_a_bold_line_is_a_section_of_its_own(markup, title):
    source = Source(f"<body><h1>Fees</h1><h2>Late</h2>{markup}{AFTER}")
    found = [(one.title, one.depth) for one in sections(source, page_facts.gather(source))]
    assert found == [("Late", 0)] + ([(title, 1)] if title else [])


def test_nothing_after_it_means_no_heading():
    source = Source("<body><div><p><b>Yours, Maureen</b></p></div><p>more")
    assert bold_lines.bold_lines(source) == {}


@pytest.mark.parametrize(
    ("markup", "words"),
    [
        ("<p id=x><b>Question 7</b>: on what day is it due, and to whom?</p>", "Question 7"),
        ("<p id=x>On what <b>day</b> is it due?</p>", "On what day is it due?"),
        ("<section id=x><h3>Fees</h3><p>Long.</p></section>", "Fees"),
        ("<table id=x><caption>Prices</caption><tr><td>1</table>", "Prices"),
        ("<img id=x alt='The top lock'>", "The top lock"),
        ("<figure id=x><img alt='A bridge'></figure>", "A bridge"),
        ("<p>Before <a id=x></a>the weir</p>", "Before the weir"),
        ("<div><span id=x></span> <p>Next line</p></div>", "Next line"),
        ("<p id=x>One<br>two</p>", "One two"),
        ("<div id=x></div>", ""),
        (f"<p id=x>{'paddle ' * 40}</p>", "paddle " * 10 + "paddle…"),
    ],
)
def test_a_marked_part_is_called_by_its_words(markup, words):
    source = Source(f"<body>{markup}")
    (number,) = source.reading.matching("#x")
    assert mark_words.words_of(source, number) == words


def test_parts_in_parts_are_named_in_time_that_grows_with_the_page():
    def taken(deep: int) -> float:
        source = Source("<div id=a>" * deep + "<span id=b></span>" * deep)
        began = time.process_time()
        for number in range(len(source)):
            mark_words.words_of(source, number)
        return time.process_time() - began

    taken(200)
    assert taken(4_000) < 40 * max(taken(400), 0.002)
