"""Three texts of a page become one (core.merge): what was done here, done to the text that comes
now. Against `git merge-file`, another implementation of merging three texts, and html5lib, another
parser; what an editor would expect is common practice, no source."""

from __future__ import annotations

import random
import re
import subprocess
from collections.abc import Mapping, Sequence
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from innerhop.core.edits import Edit, apply
from innerhop.core.merge import common
from innerhop.core.merge.carrying import KEPT, SAME, STUCK
from innerhop.core.merge.merging import BOTH, HERE, THERE, Merged, Undecided
from innerhop.core.proof import proved
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.core.source.tree import Source
from tests.core import trees

UTF8 = FileEncoding("utf-8", "utf-8", b"")
PAGE = """<!doctype html><html><body><main>
<h1>Ice</h1>
<p>On the frost and the thaw here.</p>
<h2>Frost bites</h2>
<p>Thin ice <em>in here</em>.</p>
<h2 id=thaw>Thaw comes</h2>
<p>Wet ground.</p>
<ul class=list><li><a href="#thaw">Thaw</a></li></ul>
</main></body></html>
"""
MARKED = ("<h2>Frost", 3, "", ' id="frost"')
HOP = (("the frost", 4, "", '<a href="#frost">'), ("the frost", 9, "", "</a>"))
WAY_BACK = ("<h2 id=thaw", 0, "", '<p><a href="#top">Back</a></p>\n')
DONE = (MARKED, *HOP, WAY_BACK)
Asked = tuple[str, int, str, str]  # words of the page, how far behind them, old, new


def edits_of(base: str, asked: Sequence[Asked]) -> list[Edit]:
    return sorted(Edit(base.index(words) + off, old, new) for words, off, old, new in asked)


def merged(
    theirs: str, asked: Sequence[Asked] = DONE, *, base: str = PAGE, led: Sequence[str] = ()
) -> Merged:
    edits = edits_of(base, asked)
    here = apply(base, edits)
    return Merged(Source(base), Source(here), edits, Source(theirs), encoding=UTF8, led=led)


def result(found: Merged, choices: Mapping[str, str] | None = None) -> str:
    return proved(found.new, found.plan(choices or {})).text


def tree(text: str) -> str:
    """A page as html5lib reads it, white space as one space."""
    return re.sub(r"\s+", " ", repr(trees.read(text)).replace("\\n", " "))


def fates(found: Merged) -> list[str]:
    return [one.fate for one in found.carried]


def test_nothing_new_there_gives_what_is_here() -> None:
    found = merged(PAGE)
    assert fates(found) == [KEPT] * 3
    assert result(found) == apply(PAGE, edits_of(PAGE, DONE))


def test_nothing_done_here_gives_what_is_there() -> None:
    theirs = PAGE.replace("Thin", "Thick")
    assert result(merged(theirs, ())) == theirs


def test_what_was_entered_there_is_done_once() -> None:
    entered = apply(PAGE, edits_of(PAGE, DONE))
    found = merged(entered)
    assert fates(found) == [SAME] * 3
    assert result(found) == entered


@pytest.mark.parametrize(
    ("as_here", "as_there"),
    [
        ('<h2 id="frost">', "<h2 class=wp-heading id='frost' >"),
        ('<a href="#frost">frost</a>', '<a rel="x" href="#frost">frost</a>'),
        ('<p><a href="#top">Back</a></p>', '<div><p> <a href="#top">Back</a></p></div>'),
    ],
)
def test_systems_write_what_was_entered_in_their_own_way(as_here: str, as_there: str) -> None:
    entered = apply(PAGE, edits_of(PAGE, DONE)).replace(as_here, as_there)
    found = merged(entered)
    assert fates(found) == [SAME] * 3
    assert result(found) == entered


@pytest.mark.parametrize("entered", [0, 1, 2])
def test_of_what_was_put_in_at_several_places_each_is_known_by_its_own(entered: int) -> None:
    """A way back before each heading, of which one was entered there."""
    places = ("<h2>Frost", "<h2 id=thaw", "<ul class")
    ways = [(words, 0, "", WAY_BACK[3]) for words in places]
    theirs = apply(PAGE, edits_of(PAGE, [ways[entered]]))
    found = merged(theirs, ways)
    assert fates(found) == [SAME if at == entered else KEPT for at in range(3)]
    assert result(found) == apply(PAGE, edits_of(PAGE, ways))


def test_a_part_and_one_inside_it_both_as_they_are_here() -> None:
    """The list was filled anew here, and an entry of it is marked; both were changed there."""
    done = [
        ("<ul class", 3, "", ' id="all"'),
        ("<li>", 3, "", ' id="one"'),
        ("<a href", 0, '<a href="#thaw">Thaw</a>', "<b>Thaw</b>"),
    ]
    theirs = PAGE.replace("<ul class=list>", "<ul id=x>").replace("<li><a", "<li id=y><a")
    found = merged(theirs, done)
    assert len(found.meetings) > 1
    text = result(found, {one.key: HERE for one in found.meetings})
    assert '<ul id="all" class=list><li id="one"><b>Thaw</b></li></ul>' in text


def test_both_are_kept_where_they_do_not_touch() -> None:
    theirs = PAGE.replace("Thin ice", "Thick ice").replace("<h2", "<h2 class='wp'")
    theirs = theirs.replace("<h1>Ice</h1>", "<h1>Ice</h1>\n<p>New this year.</p>")
    found = merged(theirs)
    assert fates(found) == [KEPT] * 3
    assert not found.meetings
    wanted = theirs.replace("<h2 class='wp'>", "<h2 id=\"frost\" class='wp'>")
    wanted = wanted.replace("the frost", 'the <a href="#frost">frost</a>')
    wanted = wanted.replace("<h2 class='wp' id=thaw", f"{WAY_BACK[3]}<h2 class='wp' id=thaw")
    assert result(found) == wanted


def test_what_was_done_goes_along_with_a_section_that_moved() -> None:
    """The text comes with its sections in another order."""
    frost = PAGE[PAGE.index("<h2>Frost") : PAGE.index("<h2 id=thaw")]
    theirs = PAGE.replace(frost, "").replace("</main>", f"{frost}</main>")
    assert '<h2 id="frost">Frost bites</h2>' in result(merged(theirs))


def test_a_heading_reworded_there_and_marked_here() -> None:
    found = merged(PAGE.replace("Frost bites", "What frost does"))
    (meeting,) = found.meetings
    assert (meeting.base, meeting.theirs) == ("<h2>Frost bites</h2>", "<h2>What frost does</h2>")
    assert meeting.ours == '<h2 id="frost">Frost bites</h2>'
    assert (meeting.both, meeting.proposal) == ('<h2 id="frost">What frost does</h2>', BOTH)
    assert meeting.lost == {BOTH: [], THERE: ["frost"], HERE: []}
    assert meeting.both in result(found)
    assert meeting.theirs in result(found, {meeting.key: THERE})
    assert meeting.ours in result(found, {meeting.key: HERE})


def test_a_section_gone_there_and_marked_here_waits_for_a_word() -> None:
    gone = "<h2>Frost bites</h2>\n<p>Thin ice <em>in here</em>.</p>\n"
    found = merged(PAGE.replace(gone, ""))
    (meeting,) = found.meetings
    assert (meeting.options, meeting.proposal, meeting.theirs) == ([THERE, HERE], "", "")
    with pytest.raises(Undecided):
        found.plan({})
    assert "Thin ice" not in result(found, {meeting.key: THERE})
    here = result(found, {meeting.key: HERE})
    assert tree(here) == tree(result(merged(PAGE)))  # the whole section, where it stood


def test_words_reworded_there_and_a_hop_here() -> None:
    found = merged(PAGE.replace("the frost and", "the hard cold and"))
    (meeting,) = found.meetings
    assert fates(found).count(STUCK) == 1
    assert meeting.options == [THERE, HERE]
    assert '<a href="#frost">' not in result(found, {meeting.key: THERE})
    assert '<p>On the <a href="#frost">frost</a> and' in result(found, {meeting.key: HERE})


def test_two_ids_for_one_part() -> None:
    found = merged(PAGE.replace("<h2>Frost", "<h2 id=cold>Frost"))
    (meeting,) = found.meetings
    assert "“cold” there" in meeting.why[0]
    assert "“frost” here" in meeting.why[0]
    assert meeting.lost == {THERE: ["frost"], HERE: ["cold"]}


def test_an_id_that_stands_elsewhere_there_is_not_given_twice() -> None:
    theirs = PAGE.replace("<p>Wet", "<p id=frost>Wet")
    found = merged(theirs)
    (meeting,) = found.meetings
    assert "#frost stands on another part" in meeting.why[0]
    assert BOTH not in meeting.options
    assert result(found, {meeting.key: THERE}).count("frost>") == 1


def test_an_id_that_hops_lead_to_and_that_is_gone_there() -> None:
    """The system made it anew: it is offered to stay."""
    theirs = PAGE.replace("<h2 id=thaw>", "<h2 id=sec-2>")
    assert not merged(theirs, ()).meetings  # nobody leads there
    (meeting,) = merged(theirs, (), led=["thaw"]).meetings
    assert meeting.both == "<h2 id=thaw>Thaw comes</h2>"
    assert meeting.lost[THERE] == ["thaw"]


def test_a_list_changed_on_both_sides() -> None:
    entry = ("<a href", 0, '<a href="#thaw">Thaw</a>', '<a href="#thaw">The thaw</a>')
    theirs = PAGE.replace("</li></ul>", "</li><li>More</li></ul>")
    found = merged(theirs, [entry])  # another entry: both stand
    assert "The thaw</a></li><li>More</li>" in result(found)
    found = merged(PAGE.replace(">Thaw</a>", ">Thawing</a>"), [entry])
    assert [one.options for one in found.meetings] == [[THERE, HERE]]


def test_what_was_taken_out_here_and_changed_there() -> None:
    taken = [("<p>Wet", 0, "<p>Wet ground.</p>", "")]
    assert "Wet" not in result(merged(PAGE, taken))
    found = merged(PAGE.replace("Wet ground", "Very wet ground"), taken)
    assert [one.fate for one in found.carried] == [STUCK]
    assert len(found.meetings) == 1


@pytest.mark.parametrize("line_end", ["\n", "\r\n", "\r"])
def test_line_ends_stay_those_of_the_new_text(line_end: str) -> None:
    theirs = PAGE.replace("Thin", "Thick").replace("\n", line_end)
    found = result(merged(theirs))
    assert found.replace(line_end, "\n").count("\n") == theirs.count(line_end) + 1
    assert 'id="frost"' in found


# Random pages and changes.

WORDS = st.sampled_from("ice frost thaw lock canal boat winter bridge mooring tunnel".split())
BLOCKS = st.lists(
    st.tuples(st.sampled_from(["h2", "p", "p", "li"]), st.lists(WORDS, min_size=2, max_size=6)),
    min_size=3, max_size=12,
)  # fmt: skip


def written(blocks: Sequence[tuple[str, Sequence[str]]]) -> str:
    lines = [f"<{tag}>{' '.join(words)} {at}.</{tag}>" for at, (tag, words) in enumerate(blocks)]
    return "<!doctype html><title>x</title><body>\n" + "\n".join(lines) + "\n</body>"


def changed_here(base: str, chance: random.Random) -> list[Edit]:
    source, edits = Source(base), []
    numbers = [one.number for one in source.of_tags("h2", "p", "li")]
    for number in chance.sample(numbers, chance.randint(1, min(4, len(numbers)))):
        start, end = source.start_tag(number), source.end_tag(number)
        assert start
        assert end
        kind = chance.choice(["id", "hop", "put", "take"])
        if kind == "id":
            edits.append(Edit(source.after_tag_name(number) or 0, "", f' id="here-{number}"'))
        elif kind == "hop":
            word = re.match(r"\w+ \w+", base[start.end :])
            if word:
                edits.append(Edit(start.end, "", '<a href="#x">'))
                edits.append(Edit(start.end + word.end(), "", "</a>"))
        elif kind == "put":
            edits.append(Edit(start.start, "", f"<p>Put before {number}</p>\n"))
        else:
            edits.append(Edit(start.start, base[start.start : end.end], ""))
    return sorted(edits)


def changed_there(
    base: str, chance: random.Random, lines_left: Sequence[int] = (), share: float = 0.4
) -> str:
    """Lines of the page become others; those left stay as they are."""
    lines = base.split("\n")
    for at in range(len(lines) - 1, 0, -1):
        if at in lines_left or not lines[at].startswith("<") or chance.random() > share:
            continue
        kind = chance.choice(["word", "new", "gone"])
        if kind == "word":
            lines[at] = re.sub(r"\b[a-z]{3,}\b(?![^<]*>)", "rewritten", lines[at], count=1)
        elif kind == "new":
            lines.insert(at, f"<p>Quite new, line {at}.</p>")
        elif re.fullmatch(r"<(p|li)>[^<]*</\1>", lines[at]):
            del lines[at]
    return "\n".join(lines)


@given(BLOCKS, st.integers(0, 10_000))
def test_any_changes(blocks: Sequence[tuple[str, Sequence[str]]], seed: int) -> None:
    """What came and comes alike leaves what is here; what is the same on both sides is there
    once; what is done here is in the result, or told."""
    chance = random.Random(seed)
    base = written(blocks)
    edits = changed_here(base, chance)
    here = apply(base, edits)
    theirs = changed_there(base, chance)
    old, ours = Source(base), Source(here)

    def merge(new: str) -> Merged:
        return Merged(old, ours, edits, Source(new), encoding=UTF8)

    assert tree(result(merge(base))) == tree(here)
    assert Merged(old, old, [], Source(theirs), encoding=UTF8).plan({}).edits == []
    same = merge(here)
    assert tree(result(same, {one.key: THERE for one in same.meetings})) == tree(here)
    both = merge(theirs)
    text = result(both, {one.key: one.proposal or THERE for one in both.meetings})
    told = " ".join(one.ours for one in both.meetings)
    for id_ in re.findall(r'id="(here-\d+)"', here):
        assert id_ in text or id_ in told
    for choice in (THERE, HERE):  # each choice that is offered can be carried out
        for one in both.meetings:
            if choice in one.options:
                proved(both.new, one.plans[choice])


@given(st.lists(st.integers(0, 30), max_size=60), st.integers(0, 10_000))
def test_very_long_rows_are_told_apart_by_what_stands_once(old: list[int], seed: int) -> None:
    """Cut to pieces where rows are too long for one table: what is said to be the same is, in
    order, and most of it is found."""
    chance = random.Random(seed)
    new = [one for one in old if chance.random() > 0.2]
    for _ in range(5):
        new.insert(chance.randint(0, len(new)), 99)
    at, there, found = 0, 0, 0
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(common, "_AT_ONCE", 40)
        for run in common.runs(old, new):
            assert at <= run.old
            assert there <= run.new
            assert old[run.old : run.old + run.size] == new[run.new : run.new + run.size]
            at, there, found = run.old + run.size, run.new + run.size, found + run.size
    once = [one for one in new if old.count(one) == new.count(one) == 1]
    assert found >= len(once)


# Against another implementation.

MANUAL = Path("/usr/share/doc/git/html")


def merge_file(folder: Path, ours: str, base: str, theirs: str) -> str | None:
    """https://git-scm.com/docs/git-merge-file: the three joined line by line; None where they
    conflict."""
    for name, text in (("ours", ours), ("base", base), ("theirs", theirs)):
        (folder / name).write_text(text, newline="")
    command = [
        "git",
        "merge-file",
        "-p",
        *(str(folder / one) for one in ("ours", "base", "theirs")),
    ]
    done = subprocess.run(command, capture_output=True, check=False)
    return done.stdout.decode() if done.returncode == 0 else None


@pytest.mark.skipif(not MANUAL.exists(), reason="git-doc is not installed")
def test_where_git_finds_no_conflict_the_trees_agree(tmp_path: Path) -> None:
    pages = [one for one in sorted(MANUAL.glob("*.html")) if 5_000 < one.stat().st_size < 40_000]
    compared = 0
    for seed in range(200):
        chance = random.Random(seed)
        base = chance.choice(pages).read_text()
        edits = changed_here(base, chance) if seed % 2 else marks_here(base, chance)
        here, theirs = apply(base, edits), changed_there(base, chance, range(60), 0.08)
        wanted = merge_file(tmp_path, here, base, theirs)
        if wanted is None:
            continue
        found = Merged(Source(base), Source(here), edits, Source(theirs), encoding=UTF8)
        assert all(one.proposal == BOTH for one in found.meetings), seed
        assert canonical(result(found)) == canonical(wanted), seed
        compared += 1
    assert compared > 100


def marks_here(base: str, chance: random.Random) -> list[Edit]:
    source = Source(base)
    numbers = [one.number for one in source.of_tags("p", "dt", "li") if not one.attr("id")]
    some = chance.sample(numbers, min(5, len(numbers)))
    return sorted(Edit(source.after_tag_name(one) or 0, "", f' id="k{one}"') for one in some)


def canonical(text: str) -> str:
    """Blank text between tags says nothing of where something was put in or taken out."""
    found = re.sub(r"\s+", " ", Source(text).reading.markup(0))
    return found.replace("> <", "><")
