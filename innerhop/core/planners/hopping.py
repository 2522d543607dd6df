"""Making a hop: putting an `a` around chosen words, or around a part of the page
or its content, with the attributes that the hop is to have.

HTML Standard 4.5.1: an `a` may stand around whatever its own place allows, so
around whole blocks too, as long as nothing inside can be clicked by itself.
"""

from __future__ import annotations

from innerhop.core.edits import Edit, apply
from innerhop.core.planners import markers
from innerhop.core.planners.selection import Words
from innerhop.core.planners.wrapping import INTERACTIVE, CannotLink, link_around, span_of
from innerhop.core.proof import Values, same_but
from innerhop.core.source import attributes
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.core.source.tree import AnyNode, Node, Source, Span, in_template, is_blank

# Where the link goes inside: nothing but these can stand between others of their
# kind (HTML Standard, content models), and of a heading or a paragraph it is the
# words that are clicked (common practice, no source).
_INSIDE = frozenset((
    "li", "dt", "dd", "td", "th", "caption", "figcaption", "h1", "h2", "h3", "h4", "h5", "h6", "p",
))  # fmt: skip
_NO_START = {
    **dict.fromkeys(("html", "head", "body", "main"), "This is the whole page."),
    **dict.fromkeys(("table", "thead", "tbody", "tfoot", "tr", "ul", "ol", "dl", "menu"),
                    "A whole table or list is too much to click. Choose one of its entries."),
    **dict.fromkeys(("summary", "legend", "option", "textarea", "input", "select", "label"),
                    "A click on this has a meaning of its own already."),
    **dict.fromkeys(("iframe", "video", "audio", "object", "embed", "canvas"),
                    "What is in here is for clicking itself. Put a link beside it."),
}  # fmt: skip
_BUTTON_ONLY = frozenset(("type", "name", "value", "disabled", "form", "formaction", "formmethod",
                          "formtarget", "formnovalidate", "formenctype", "popovertarget",
                          "popovertargetaction", "onclick", "autofocus"))  # fmt: skip


def plan_hop(source: Source, words: Words, values: Values, encoding: FileEncoding) -> list[Edit]:
    """The edits that make the words a link with these attributes.

    Raises CannotLink with the reason, and the nearest words that can be linked.
    """
    span = span_of(source, words)
    return _around(source, span, values, encoding)


def _around(source: Source, span: Span, values: Values, encoding: FileEncoding) -> list[Edit]:
    edits = [
        Edit(span.start, "", f"<a{attributes.written(values, encoding)}>"),
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


def plan_element(source: Source, number: int, values: Values, encoding: FileEncoding) -> list[Edit]:
    """The edits that make a part of the page a link: an anchor without an address
    gets one, a button becomes a link that looks the same, and anything else is put
    into an `a`, or its content is. Raises CannotLink with the reason."""
    node = source.node(number)
    require_start(source, number)
    if node.tag == "a":
        return _with_attributes(source, number, values, encoding)
    if node.tag == "button":
        return _button(source, number, values, encoding)
    if node.tag in _INSIDE:
        return _around(source, _content(source, number), values, encoding)
    tag, end = source.start_tag(number), source.end_of(number)
    if tag is None or end is None:
        raise CannotLink("Where this part ends is not written in the markup. Choose its words.")
    return _around(source, Span(tag.start, end), values, encoding)


def require_start(source: Source, number: int) -> None:
    """Raise CannotLink, with the reason, when a part can't be where a hop starts."""
    node = source.node(number)
    if node.tag in _NO_START or in_template(node):
        raise CannotLink(_NO_START.get(node.tag, "Readers don't see this part of the page."))
    if node.tag == "a" and node.attr("href") is not None:
        raise CannotLink("This is a link already. Lead it elsewhere instead.")
    above = node.parent
    around = link_around(source, source.number(above)) if isinstance(above, Node) else None
    if around is not None:
        raise CannotLink("This stands inside a link or a button already. Choose that.")
    if markers.is_marker(node) and node.tag != "a":
        raise CannotLink("Nobody sees an empty marker, so nobody could click it.")
    inside = next((one for one in node.iter_elements() if one.tag in INTERACTIVE), None)
    if inside is not None:
        raise CannotLink("Something in here can be clicked by itself. Choose a smaller part.")


def _with_attributes(
    source: Source, number: int, values: Values, encoding: FileEncoding
) -> list[Edit]:
    edits = attributes.plan(source, number, values, encoding)
    if not same_but(source, Source(apply(source.text, edits)), attributes={number: values}):
        raise CannotLink("The markup of this anchor is too broken to change it safely.")
    return edits


def _button(source: Source, number: int, values: Values, encoding: FileEncoding) -> list[Edit]:
    """A `button` can't lead anywhere (HTML Standard 4.10.6), a link can look like one."""
    tag, end, name = source.start_tag(number), source.end_tag(number), source.after_tag_name(number)
    if tag is None or end is None or name is None:
        raise CannotLink("Where this button ends is not written in the markup.")
    lost = [one for one in dict(source.node(number).attrs) if one in _BUTTON_ONLY]
    edits = [Edit(tag.start + 1, source.text[tag.start + 1 : name], "a")]
    for one in lost:
        edits += attributes.removal(source, number, one)
    edits += attributes.plan(source, number, values, encoding)
    edits.append(Edit(end.start + 2, source.text[end.start + 2 : end.start + 8], "a"))
    wanted = {**dict.fromkeys(lost), **values}
    grown = Source(apply(source.text, edits))
    if not same_but(source, grown, tags={number: "a"}, attributes={number: wanted}):
        raise CannotLink("The markup of this button is too broken to change it safely.")
    return edits


def _content(source: Source, number: int) -> Span:
    """All that stands in an element, less the white space at its ends."""
    children = [one for one in source.node(number).children if not is_blank(one)]
    if not children:
        raise CannotLink("There is nothing in this part that a reader could click.")
    start, end = _edge(source, number, children[0], 0), _edge(source, number, children[-1], 1)
    if start is None or end is None:
        raise CannotLink("Where this part ends is not written in the markup. Choose its words.")
    return Span(start, end)


def _edge(source: Source, number: int, child: AnyNode, side: int) -> int | None:
    if isinstance(child, Node):
        tag = source.start_tag(source.number(child))
        return source.end_of(source.number(child)) if side else (tag.start if tag else None)
    run = source.text_run(number, list(source.node(number).children).index(child))
    if run is None:
        return None
    lead = len(run.data) - len(run.data.lstrip())
    return run.end_place(len(run.data.rstrip())) if side else run.start_place(lead)
