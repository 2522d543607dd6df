"""What made parts are called where the editor gives no words of their own, by language
(common practice, no source; from memory)."""

from __future__ import annotations

from typing import NamedTuple


class EntryLabels(NamedTuple):
    """on_this_page: of a contents list. sections: of points at the side. sign: of the sign in
    a heading, whose words are heard with it and need not be said again. language: of them."""

    on_this_page: str
    sections: str
    sign: str
    language: str = "en"


ENGLISH = EntryLabels("On this page", "Sections", "Link to this section")
_LABELS = {
    "en": ENGLISH,
    "de": EntryLabels("Auf dieser Seite", "Abschnitte", "Link zu diesem Abschnitt", "de"),
    "fr": EntryLabels("Sur cette page", "Sections", "Lien vers cette section", "fr"),
    "nl": EntryLabels("Op deze pagina", "Onderdelen", "Link naar dit onderdeel", "nl"),
    "es": EntryLabels("En esta página", "Secciones", "Enlace a esta sección", "es"),
    "it": EntryLabels("In questa pagina", "Sezioni", "Link a questa sezione", "it"),
    "pt": EntryLabels("Nesta página", "Secções", "Ligação para esta secção", "pt"),
    "sv": EntryLabels("På den här sidan", "Avsnitt", "Länk till det här avsnittet", "sv"),
    "da": EntryLabels("På denne side", "Afsnit", "Link til dette afsnit", "da"),
    "nb": EntryLabels("På denne siden", "Avsnitt", "Lenke til dette avsnittet", "nb"),
    "pl": EntryLabels("Na tej stronie", "Sekcje", "Link do tej sekcji", "pl"),
    "cy": EntryLabels("Ar y dudalen hon", "Adrannau", "Dolen i’r adran hon", "cy"),
}


def labels_in(language: str) -> EntryLabels:
    """The labels in a language, by its BCP 47 tag; English ones where we know none."""
    return _LABELS.get(language.partition("-")[0].lower(), ENGLISH)


def said_in(own: str, page: str) -> dict[str, str]:
    """The attribute that words of a language need on a page of another, by their BCP 47 tags
    (WCAG 2.2, 3.1.2)."""
    is_same = own.partition("-")[0].lower() == page.partition("-")[0].lower()
    return {} if is_same else {"lang": own}


# Before the name of the place where a part is now.
_MOVED = {
    "en": "This moved to", "de": "Das steht jetzt hier:", "fr": "Ce passage se trouve ici :",
    "nl": "Dit staat nu hier:", "es": "Esto está ahora aquí:", "it": "Questo si trova ora qui:",
    "pt": "Isto está agora aqui:", "sv": "Detta finns nu här:", "da": "Dette står nu her:",
    "nb": "Dette står nå her:", "pl": "To jest teraz tutaj:", "cy": "Mae hwn nawr yma:",
}  # fmt: skip


def moved_in(language: str) -> str:
    """What stands before the name of the place where a part is now, in the language of
    `labels_in`."""
    return _MOVED[labels_in(language).language]
