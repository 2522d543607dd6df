"""Making a hop: putting an `a` around chosen words, with the address as it is
to be written."""

from __future__ import annotations

from innerhop.core import markup
from innerhop.core.edits import Edit, apply
from innerhop.core.encoding import Spelling
from innerhop.core.sameness import same_but_for_link
from innerhop.core.selection import Words
from innerhop.core.source import Source
from innerhop.core.wrapping import CannotLink, span_of


def plan_hop(source: Source, words: Words, href: str, spelling: Spelling) -> list[Edit]:
    """The edits that make the words a link to `href`.

    Raises CannotLink with the reason, and the nearest words that can be linked.
    """
    span = span_of(source, words)
    edits = [
        Edit(span.start, "", f"<a {markup.attribute('href', href, spelling)}>"),
        Edit(span.end, "", "</a>"),
    ]
    grown = Source(apply(source.text, edits))
    number = new_link(grown, span.start)
    if number is None or not same_but_for_link(source, grown, number):
        raise CannotLink(
            "The markup around these words is broken in a way that a link here would change "
            "more of the page than these words. Choose words in another paragraph."
        )
    return edits


def new_link(source: Source, start: int) -> int | None:
    """The number of the `a` whose tag stands at that place in the text."""
    for number, node in enumerate(source.nodes):
        if node.tag == "a":
            tag = source.start_tag(number)
            if tag is not None and tag.start == start:
                return number
    return None
