"""IDs: HTML Standard #the-id-attribute for what is valid; the advice is common practice, no
source."""

import pytest
from hypothesis import given
from hypothesis import strategies as st
from slugify import slugify

from innerhop.core.names import ids


@pytest.mark.parametrize("id_", ["faq.7", "Überblick", "7", "_", "a:b", "日本", "😀", "%20", "a#b"])
def test_valid_is_all_but_space(id_: str) -> None:
    assert ids.read(id_).valid
    assert ids.read(id_).id == id_


@pytest.mark.parametrize("space", ids.ASCII_WHITESPACE)
def test_ascii_whitespace_is_not_valid(space: str) -> None:
    assert not ids.read(f"a{space}b").valid


@pytest.mark.parametrize(
    ("typed", "id_", "valid", "fix", "message"),
    [
        ("# Your First Lock ", "Your First Lock", False, "your-first-lock", "#"),
        ("#fees", "fees", True, "", "#"),
        ("##fees", "fees", True, "", "#"),
        ("Fees", "Fees", True, "fees", "Capitals"),
        ("7-locks", "7-locks", True, "part-7-locks", "letter"),
        ("section-3", "section-3", True, "", "nothing"),
        ("fees", "fees", True, "", ""),
        ("taken", "taken", False, "taken-2", "first"),
        ("", "", False, "", "at least one"),
        ("#", "", False, "", "at least one"),
        ("x" * 5000, "x" * 5000, False, "x" * 32, "5000"),
        ("a\ud800", "a\ud800", False, "a", "no page can carry"),
        ("a\x07b", "a\x07b", False, "a-b", "no page can carry"),
    ],
)
def test_what_is_typed_is_helped(typed: str, id_: str, valid: bool, fix: str, message: str) -> None:
    reading = ids.read(typed, taken={"taken"})
    assert (reading.id, reading.valid, reading.fix) == (id_, valid, fix)
    assert message in reading.message


def test_suggestions_follow_the_language_and_what_is_free() -> None:
    assert ids.suggest("Schleusen für Anfänger", ids.Naming("de")) == "schleusen-fuer-anfaenger"
    assert ids.suggest("Schleusen für Anfänger") == "schleusen-fur-anfanger"
    assert ids.suggest("Skipper’s handbook") == "skippers-handbook"
    assert ids.suggest("Fees", taken={"fees", "fees-2"}) == "fees-3"
    assert ids.suggest("—") == "part"
    assert ids.suggest("19 locks") == "part-19-locks"
    assert len(ids.suggest("a very long heading that goes on and on about locks")) <= 32


@given(st.text(max_size=80))
def test_any_heading_gives_an_id_that_passes_our_own_advice(text: str) -> None:
    suggestion = ids.suggest(text)
    reading = ids.read(suggestion)
    assert reading.valid
    assert reading.message == "" or ids.says_nothing(suggestion)


@given(st.text("αβγδεζηθικλμνξοπρστυφχψωабвгдежз ", min_size=1, max_size=20))
def test_transliteration_is_the_slug_library_s(text: str) -> None:
    """python-slugify (text-unidecode's tables) as the outside word on other scripts."""
    plain = slugify(text, max_length=32, word_boundary=True, save_order=True)
    assert ids.suggest(text) in (plain, f"part-{plain}", "part")


@pytest.mark.parametrize(
    "id_",
    [
        "block-7f3a9c21",
        "section-164839",
        "c0ffee12-0000-4000-8000-00155d012345",
        "w1x2y3z4",
        "content_block_12",
        "row-0-1",
        "paragraph-id--4711",
        "tab-1-content",
        "idTextAnchor004",
        "img_3x9f",
    ],
)
def test_made_up_by_a_system(id_: str) -> None:
    assert ids.looks_generated(id_)


@pytest.mark.parametrize(
    "id_",
    [
        "fees",
        "locks-4-7",
        "fees-2026",
        "faq7",
        "closed-20261224",
        "i18n",
        "covid19-rules",
        "step-3",
        "bridge-130",
        "title-of-1984",
        "text-size-2",
        "post-2026",
        "rule-4-2",
    ],
)
def test_made_up_by_people(id_: str) -> None:
    assert not ids.looks_generated(id_)


@pytest.mark.parametrize(
    ("typed", "valid", "message", "fix"),
    [
        ("top", True, "top of every page", "part-top"),
        ("a%20b", True, "%", "a-20b"),
        ("a#b", True, "#", "a-b"),
        ("fees\u200b", True, "nobody can see", "fees"),
        ("fees\u00a02026", True, "nobody can see", "fees-2026"),
        ("!!!", True, "letter", "part"),
        ("😀", True, "letter", "part"),
        ("\u202eseef", True, "nobody can see", "seef"),
        ("רציף", True, "codes", "rtsyp"),
        ("\ud83d", False, "no page can carry", "part"),
        ("a\x00b", False, "no page can carry", "a-b"),
    ],
)
def test_odd_ids_are_kept_with_advice_or_turned_into_good_ones(
    typed: str, valid: bool, message: str, fix: str
) -> None:
    reading = ids.read(typed)
    assert (reading.valid, reading.id) == (valid, typed)
    assert message in reading.message
    assert reading.fix == fix


@pytest.mark.parametrize(
    ("text", "language", "words"),
    [
        ("A hire boat from the side: windlasses", "en", "hire boat"),
        ("Less than you think. There is no room", "en", "Less than you think"),
        ("Die Schleuse im Winter", "de", "Schleuse im Winter"),
        ("The", "en", "The"),
        ("…", "en", "…"),
        ("Un pont sur le canal", "fr", "pont sur le canal"),
    ],
)
def test_running_text_is_named_by_its_first_words(text: str, language: str, words: str) -> None:
    assert ids.first_words(text, language) == words


def test_a_heading_called_top_does_not_take_the_way_to_the_top() -> None:
    """HTML Standard, “top of the document”: #top leads there where nothing has that ID."""
    assert ids.suggest("Top") == "part-top"
