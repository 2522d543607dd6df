"""Names in a to z, as readers of a language write it."""

from __future__ import annotations

import pytest
from anyascii import anyascii
from hypothesis import given
from hypothesis import strategies as st

from innerhop.core.names import ids, transliteration
from innerhop.core.names.ids import Naming

# From memory, each from its table: ELOT 743 (el); resolution 55 of 2010 (uk);
# the Transliteration Act of 2009 (bg); Hepburn (ja); common practice (de, da).
TABLE = [
    ("de", "Größe der Schleusen", "groesse-der-schleusen"),
    ("de-AT", "Übergänge", "uebergaenge"),
    ("da", "Æblegrød på åen", "aeblegroed-paa-aaen"),
    ("el", "Χειμώνας", "cheimonas"),
    ("el", "ουρανός", "ouranos"),
    ("el", "αυτοκίνητο", "aftokinito"),
    ("el", "αύριο", "avrio"),
    ("el", "Ευάγγελος", "evangelos"),
    ("el", "Ψυχή", "psychi"),
    ("el", "Ξύλο", "xylo"),
    ("uk", "Згорани", "zghorany"),
    ("uk", "Щербухи", "shcherbukhy"),
    ("uk", "Гадяч", "hadiach"),
    ("uk", "Єнакієве", "yenakiieve"),
    ("uk", "Їжакевич", "yizhakevych"),
    ("uk", "Юрій", "yurii"),
    ("bg", "Щастие", "shtastie"),
    ("bg", "Ъгъл", "agal"),
    ("bg", "София", "sofia"),
    ("ja", "運河", "unga"),
    ("ja", "はじめて", "hajimete"),
    ("ja", "ロック", "rokku"),
]


@pytest.mark.parametrize(("language", "text", "name"), TABLE)
def test_published_tables(language: str, text: str, name: str) -> None:
    assert ids.suggest(text, Naming(language)) == name


LATIN = "ąćęłńóśźż áčďéěíňóřšťúůýž ãâçêíõôü ăâîșț àèìòù ëïöü ğışçö ñ ŵŷ"


@given(st.text(LATIN, min_size=1, max_size=24))
def test_latin_letters_as_another_library_writes_them(text: str) -> None:
    """anyascii, whose tables are its own, as the second opinion."""
    words = "-".join(anyascii(text).lower().split())
    if 0 < len(words) <= 32:
        assert ids.suggest(text, Naming("pl")) == words


OWN = [
    ("de", "Größe & Länge", "größe-länge"),
    ("ja", "冬の 運河", "冬の-運河"),
    ("el", "Χειμώνας 2026", "χειμώνας-2026"),
    ("he", "מעגן החורף", "מעגן-החורף"),
    ("hi", "सर्दी में नहर", "सर्दी-में-नहर"),
    ("ja", "長" * 50, "長" * 32),
]


@pytest.mark.parametrize(("language", "text", "name"), OWN)
def test_a_site_may_keep_its_own_letters(language: str, text: str, name: str) -> None:
    naming = Naming(language, own_letters=True)
    assert ids.suggest(text, naming) == name
    assert ids.read(name, naming).message == ""
    assert "codes" in ids.read(name, Naming(language)).message


@given(st.text(max_size=60), st.sampled_from(["en", "ja", "el", "uk", "bg", "de"]), st.booleans())
def test_any_text_in_any_way_gives_a_valid_id(text: str, language: str, own: bool) -> None:
    naming = Naming(language, own)
    reading = ids.read(ids.suggest(text, naming), naming)
    assert reading.valid
    assert len(reading.id) <= 40


def test_japanese_without_its_reader_keeps_its_letters(monkeypatch: pytest.MonkeyPatch) -> None:
    """Better the heading's own letters than those of another language's reading."""
    monkeypatch.setattr(transliteration, "_japanese", lambda: None)
    assert ids.suggest("冬の 運河", Naming("ja")) == "冬の-運河"
