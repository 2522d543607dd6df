"""Making a hop: putting an `a` around chosen words, with the address as it is
to be written."""

from __future__ import annotations

from innerhop.core import markup
from innerhop.core.edits import Edit, apply
from innerhop.core.encoding import Spelling
from innerhop.core.sameness import same_but
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
    number = grown.element_at(span.start)
    if number is None or not same_but(source, grown, added=[number]):
        raise CannotLink(
            "The markup around these words is broken in a way that a link here would change "
            "more of the page than these words. Choose words in another paragraph."
        )
    return edits
