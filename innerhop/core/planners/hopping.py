"""Making a hop: putting an `a` around chosen words, or around a part of the page
or its content, with the attributes that the hop is to have.

HTML Standard #the-a-element: an `a` may stand around whatever its own place allows, so
around whole blocks too, as long as nothing inside can be clicked by itself.
"""

from __future__ import annotations

from innerhop.core.facts.empty_markers import is_marker
from innerhop.core.formats import html
from innerhop.core.plan import Claim, Plan, Values
from innerhop.core.planners.selection import Words, text_of
from innerhop.core.planners.wrapping import CannotLink, link_around, span_of
from innerhop.core.source import attributes
from innerhop.core.source.content_models import INTERACTIVE, LEVELS
from innerhop.core.source.elements import Child, Element
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.core.source.tree import Source, Span

# Where the link goes inside: nothing but these can stand between others of their
# kind (HTML Standard, content models), and of a heading or a paragraph it is the
# words that are clicked (common practice, no source).
_INSIDE = frozenset((
    "li", "dt", "dd", "td", "th", "caption", "figcaption", "p", *LEVELS,
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


def plan_hop(source: Source, words: Words, values: Values, encoding: FileEncoding) -> Plan:
    """Make the words a link with these attributes.

    Raises CannotLink with the reason, and the nearest words that can be linked.
    """
    # Broken markup may let a link's end tag go by ("foster parenting" out of a table).
    span, text = span_of(source, words), text_of(source, words)
    return html.put_around(span, "a", values, encoding, text)


def plan_element(source: Source, number: int, values: Values, encoding: FileEncoding) -> Plan:
    """Make a part of the page a link: an anchor without an address gets one, a button
    becomes a link that looks the same, and anything else is put into an `a`, or its
    content is. Raises CannotLink with the reason."""
    element = source.element(number)
    require_start(source, number)
    if element.tag == "a":
        return html.give(source, {number: values}, encoding)
    if element.tag == "button":
        return _button(source, number, values, encoding)
    if element.tag in _INSIDE:
        return html.put_around(_content(source, number), "a", values, encoding)
    tag, end = source.start_tag(number), source.end_of(number)
    if tag is None or end is None:
        raise CannotLink("Where this part ends is not written in the markup. Choose its words.")
    return html.put_around(Span(tag.start, end), "a", values, encoding)


def require_start(source: Source, number: int) -> None:
    """Raise CannotLink, with the reason, when a part can't be where a hop starts."""
    element = source.element(number)
    if element.tag in _NO_START or element.in_template:
        raise CannotLink(_NO_START.get(element.tag, "Readers don't see this part of the page."))
    if element.tag == "a" and element.attr("href") is not None:
        raise CannotLink("This is a link already. Change where it leads instead.")
    above = element.parent
    if above is not None and link_around(above) is not None:
        raise CannotLink("This stands inside a link or a button already. Choose that.")
    if element.tag != "a" and is_marker(source, number):
        raise CannotLink("Nobody sees an empty marker, so nobody could click it.")
    if any(one.tag in INTERACTIVE for one in element.inside):
        raise CannotLink("Something in here can be clicked by itself. Choose a smaller part.")


def _button(source: Source, number: int, values: Values, encoding: FileEncoding) -> Plan:
    """A `button` can't lead anywhere, a link can look like one.

    https://html.spec.whatwg.org/multipage/form-elements.html#the-button-element
    """
    edits = html.retagged(source, number, "a")
    if edits is None:
        raise CannotLink("Where this button ends is not written in the markup.")
    lost = [one for one in source.attributes(number) if one in _BUTTON_ONLY]
    for one in lost:
        edits += attributes.removal(source, number, one)
    edits += attributes.plan(source, number, values, encoding)
    wanted = {**dict.fromkeys(lost), **values}
    return Plan(edits, Claim({number: wanted}, tags={number: "a"}))


def _content(source: Source, number: int) -> Span:
    """All that stands in an element, less the white space at its ends."""
    children = source.element(number).shown
    if not children:
        raise CannotLink("There is nothing in this part that a reader could click.")
    start, end = _edge(source, number, children[0], 0), _edge(source, number, children[-1], 1)
    if start is None or end is None:
        raise CannotLink("Where this part ends is not written in the markup. Choose its words.")
    return Span(start, end)


def _edge(source: Source, number: int, child: Child, side: int) -> int | None:
    if isinstance(child, Element):
        tag = source.start_tag(child.number)
        return source.end_of(child.number) if side else (tag.start if tag else None)
    run = source.text_run(number, child.child)
    if run is None:
        return None
    lead = len(run.data) - len(run.data.lstrip())
    return run.end_place(len(run.data.rstrip())) if side else run.start_place(lead)
