"""What made parts are called where the editor gives no words of their own, by language
(common practice, no source; from memory)."""

from __future__ import annotations

from typing import NamedTuple


class Labels(NamedTuple):
    """on_this_page: of a contents list. sections: of points at the side. sign: of the sign at
    a heading, with its words in the place of {}."""

    on_this_page: str
    sections: str
    sign: str


ENGLISH = Labels("On this page", "Sections", "Link to “{}”")
_LABELS = {
    "en": ENGLISH,
    "de": Labels("Auf dieser Seite", "Abschnitte", "Link zu „{}“"),
    "fr": Labels("Sur cette page", "Sections", "Lien vers « {} »"),
    "nl": Labels("Op deze pagina", "Onderdelen", "Link naar “{}”"),
    "es": Labels("En esta página", "Secciones", "Enlace a «{}»"),
    "it": Labels("In questa pagina", "Sezioni", "Link a «{}»"),
    "pt": Labels("Nesta página", "Secções", "Ligação para “{}”"),
    "sv": Labels("På den här sidan", "Avsnitt", "Länk till ”{}”"),
    "da": Labels("På denne side", "Afsnit", "Link til »{}«"),
    "nb": Labels("På denne siden", "Avsnitt", "Lenke til «{}»"),
    "pl": Labels("Na tej stronie", "Sekcje", "Link do „{}”"),
    "cy": Labels("Ar y dudalen hon", "Adrannau", "Dolen i “{}”"),
}


def labels_in(language: str) -> Labels:
    """The labels in a language, by its BCP 47 tag; English ones where we know none."""
    return _LABELS.get(language.partition("-")[0].lower(), ENGLISH)
