"""The line that says where a part is now, for readers who come by its old address."""

from __future__ import annotations

from innerhop.core.contents.labels import labels_in, moved_in, said_in
from innerhop.core.contents.moved import MOVED
from innerhop.core.formats import html, pieces
from innerhop.core.formats.pieces import Piece
from innerhop.core.plan import Plan
from innerhop.core.planners.markers import BEFORE, place_of
from innerhop.core.source.content_models import FLOW_PARENTS, PHRASING
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.core.source.tree import Source


def plan_line(
    source: Source, number: int, id_: str, link: tuple[str, str], *,
    language: str, encoding: FileEncoding,
) -> Plan:  # fmt: skip
    """Put it before an element, or before the block that the element stands in. id_: the old one,
    which the element has no more. link: the address of the new place, and its name. language: of
    the page. Raises markers.CannotMark where no line can stand."""
    at = _block(source, number)
    place = place_of(source, at, BEFORE)
    own = said_in(labels_in(language).language, language)
    href, name = link
    inside = (f"{moved_in(language)} ", Piece("a", {"href": href}, (name,)))
    piece = Piece("p", {"id": id_, MOVED: "", **own}, inside)
    line = pieces.indent(source, at)
    return html.put(place, piece, encoding, space=line, is_before=True)


def _block(source: Source, number: int) -> int:
    """An element, or what is around it, beside which a paragraph may stand."""
    found = at = number
    while (parent := source.parent(at)) >= 0:
        if source.tags[parent] in _OF_WORDS:
            found = parent
        at = parent
    while (parent := source.parent(found)) >= 0:
        if source.tags[parent] in FLOW_PARENTS and source.tags[found] not in _COMES_FIRST:
            break
        found = parent
    return found


# What nothing may stand before in what is around it: a `details` has its title first, and so have
# a `fieldset` and a `figure` (https://html.spec.whatwg.org/multipage/dom.html#content-models).
_COMES_FIRST = ("summary", "legend", "figcaption")
# In these only words can stand.
_OF_WORDS = PHRASING | {"p", "h1", "h2", "h3", "h4", "h5", "h6", "summary", "dt", "pre", "legend"}
