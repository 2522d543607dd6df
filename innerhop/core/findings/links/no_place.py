"""Links that lead to no place: a hash alone, nothing at all, a script."""

from __future__ import annotations

from collections.abc import Iterator

from innerhop.core.contents import ways_back
from innerhop.core.findings import traits
from innerhop.core.findings.found import (
    LINKS,
    MISLED,
    TRAITS,
    Found,
    PageRows,
    Rule,
    SiteView,
    Standard,
    link_words,
)
from innerhop.core.names.link_words import plain

_SPACE = " \t\n\r\f"  # Infra Standard, ASCII whitespace
_SCRIPT = "javascript:"


def _names(page: PageRows, text: str) -> bool:
    """Whether a link's words name the page it stands on: such a link leads to its own page,
    as it says, in the menus of many systems."""
    words, title = plain(text), plain(page.title)
    return bool(words) and (words == title or words.endswith(title) or title.endswith(words))


def _no_mistakes(page: PageRows) -> set[int]:
    return {one.number for one in page.of_kind(traits.BUTTON)}


def _hash_alone(page: PageRows, site: SiteView) -> Iterator[Found]:
    left = _no_mistakes(page)
    for link in page.links:
        is_alone = link.href.strip(_SPACE) == "#" and link.number not in left
        if is_alone and not ways_back.says_up(link.text) and not _names(page, link.text):
            yield HASH_ALONE.at(link.number, link_words(link))


def _empty(page: PageRows, site: SiteView) -> Iterator[Found]:
    left = _no_mistakes(page)
    for link in page.links:
        if not link.href.strip(_SPACE) and link.number not in left and not _names(page, link.text):
            yield EMPTY_ADDRESS.at(link.number, link_words(link))


def _scripts(page: PageRows, site: SiteView) -> Iterator[Found]:
    for link in page.links:
        if link.href.strip(_SPACE)[: len(_SCRIPT)].lower() == _SCRIPT:
            yield SCRIPT.at(link.number, link_words(link))


HASH_ALONE = Rule(
    name="hash-alone",
    level=MISLED,
    title="A hash alone",
    why="A link to # jumps to the top of the page, whatever its words promise.",
    source=Standard(
        "HTML Standard, “top of the document”",
        "https://html.spec.whatwg.org/multipage/browsing-the-web.html#top-of-the-document",
    ),
    avoid="A hash alone is often left where an end was to be put in later.",
    find=_hash_alone,
    reads=(LINKS, TRAITS),
    asks=(),
    about_link=True,
    no_fix="Choose where it should lead, on its page.",
)

EMPTY_ADDRESS = Rule(
    name="empty-address",
    level=MISLED,
    title="A link without an address",
    why="It loads the page that the reader is on anew.",
    source=Standard(
        "RFC 3986, “same-document reference”", "https://www.rfc-editor.org/rfc/rfc3986#section-4.4"
    ),
    avoid="A field for the address that was left empty makes a link all the same.",
    find=_empty,
    reads=(LINKS, TRAITS),
    asks=(),
    about_link=True,
    no_fix="Choose where it should lead, on its page.",
)

SCRIPT = Rule(
    name="script-link",
    level=MISLED,
    title="A script in place of an address",
    why="It can’t be opened in a tab, copied or sent, and without scripts nothing happens.",
    source=Standard(
        "HTML Standard, “javascript: URLs”",
        "https://html.spec.whatwg.org/multipage/browsing-the-web.html#the-javascript:-url-special-case",
    ),
    avoid="What leads somewhere is a link with an address; what does something is a button.",
    find=_scripts,
    reads=(LINKS,),
    asks=(),
    about_link=True,
    no_fix="What the script does, the address can’t tell. Choose where it should lead, on its "
    "page.",
)
