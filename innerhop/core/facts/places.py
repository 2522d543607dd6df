"""What can be marked: any element that a reader sees, what it is called, what
stands around it, and where a reader would land."""

from __future__ import annotations

import colorsys
import re
from collections import Counter
from dataclasses import dataclass

from innerhop.core.counting import counted
from innerhop.core.facts.empty_markers import is_marker
from innerhop.core.facts.lines import is_line
from innerhop.core.facts.mark_words import beginning, title_of
from innerhop.core.facts.words import words
from innerhop.core.source.elements import Element
from innerhop.core.source.tree import Source, as_elements

_CLOSE = 40  # px below a heading in which a hop cuts off just that
_FEW = 7  # words that are enough to know a part by
# By tag, what people who edit pages call the parts of one (common practice, no source).
KINDS = {
    **dict.fromkeys(("h1", "h2", "h3", "h4", "h5", "h6"), "heading"),
    **dict.fromkeys(("img", "picture", "svg", "canvas", "image"), "picture"),
    **dict.fromkeys(("b", "strong"), "bold words"),
    **dict.fromkeys(("i", "em", "span", "small", "mark", "font", "u", "abbr", "cite"), "words"),
    **dict.fromkeys(("ul", "ol", "menu", "dl"), "list"),
    **dict.fromkeys(("thead", "tbody", "tfoot"), "rows of a table"),
    **dict.fromkeys(("td", "th"), "table cell"),
    **dict.fromkeys(("input", "select", "textarea", "label", "output"), "form field"),
    **dict.fromkeys(("pre", "code", "kbd", "samp"), "code"),
    "p": "paragraph", "figure": "figure", "figcaption": "caption", "button": "button",
    "a": "link", "li": "list entry", "dt": "term", "dd": "description", "table": "table",
    "tr": "table row", "caption": "table caption", "section": "section block",
    "article": "article", "aside": "aside", "nav": "navigation", "header": "header",
    "footer": "footer", "main": "main part", "form": "form", "details": "part that opens",
    "summary": "title of a part that opens", "blockquote": "quotation", "hr": "rule",
    "address": "address", "fieldset": "group of fields", "legend": "title of a group",
    "iframe": "embedded page", "video": "video", "audio": "sound", "time": "date",
}  # fmt: skip
HEADING_LINE = "line like a heading"  # serves as a heading
# What is known by the title that it begins with, and what it holds.
_BLOCKS = frozenset((
    "div", "section", "article", "aside", "main", "header", "footer", "td", "li", "details",
))  # fmt: skip
_COUNTED = frozenset((
    "p", "h1", "h2", "h3", "h4", "h5", "h6", "img", "figure", "table", "ul", "ol", "details",
    "div", "section", "article", "form", "button", "blockquote",
))  # fmt: skip
_SKIPPED = frozenset(("html", "head", "body", "br", "wbr", "source", "option", "colgroup", "col"))


@dataclass(frozen=True, slots=True)
class Place:
    """An element as the editor knows it. kind: in plain words. words: its first few, or its
    title's. id: the ID it has, or the name of an anchor, or "". empty: an empty marker.
    titled: whether it is a block that begins with a title, by which it is known. holds: what
    parts a block has."""

    number: int
    tag: str
    kind: str
    words: str
    id: str
    empty: bool
    titled: bool = False
    holds: str = ""


def place(source: Source, number: int) -> Place:
    """One element. Raises LookupError when there is none with that number."""
    element = source.element(number)
    id_ = element.attr("id") or (element.attr("name") if element.tag == "a" else "") or ""
    empty = bool(id_) and is_marker(source, number)
    kind = "marker" if empty else _kind(element)
    is_block = element.tag in _BLOCKS and not empty
    title = title_of(source, number) if is_block else ""
    text = [] if empty else (title or beginning(source, number) or _caption(element)).split()
    few = title or " ".join(text[:_FEW]) + ("…" if len(text) > _FEW else "")
    if element.tag in ("p", "div") and text and is_line(source, number):
        kind = HEADING_LINE
    holds = _holds(element) if is_block else ""
    return Place(number, element.tag, kind, few, id_, empty, bool(title), holds)


_MANY = {KINDS["details"]: "parts that open"}


def _holds(element: Element) -> str:
    """The parts that a block consists of, by the commonest kind of them: “3 paragraphs”."""
    kinds = Counter(_kind(one) for one in as_elements(element.children) if one.tag in _COUNTED)
    if not kinds:
        return ""
    kind, count = kinds.most_common(1)[0]
    many = _MANY.get(kind) or (f"{kind[:-1]}ies" if kind.endswith("y") else f"{kind}s")
    return counted(count, kind, many)


def _caption(element: Element) -> str:
    """What a picture without alternative text is called: its figure's caption."""
    figure = element.parent
    if figure is None or figure.tag != "figure":
        return ""
    caption = next((one for one in figure.inside if one.tag == "figcaption"), None)
    return words(caption.source, caption.number) if caption else ""


def _kind(element: Element) -> str:
    role = element.attr("role")
    if role in ("button", "heading"):
        return role
    if element.tag == "input" and element.attr("type") in ("button", "submit", "reset", "image"):
        return "button"
    return kind_of_tag(element.tag)


def kind_of_tag(tag: str) -> str:
    """What an element with that tag is called, as far as the tag tells."""
    return KINDS.get(tag, "block")


def line(source: Source, number: int) -> list[Place]:
    """The element and what stands around it, step by step outward, up to the body."""
    around = list(source.element(number).line)
    if any(one.tag == "svg" for one in around[1:]):  # a drawing is one thing to a reader
        around = around[next(i for i, one in enumerate(around) if one.tag == "svg") :]
    return [place(source, one.number) for one in around if one.tag not in _SKIPPED]


@dataclass(frozen=True, slots=True)
class Look:
    """How a browser shows an element, in CSS pixels.

    ground: its own background as `rgb(…)`, "" when what is behind shows through.
    wide: whether it runs across the whole page. beside: whether something stands
    beside it, as columns do. in_grid: whether what is around gives each of its
    children a place of its own (CSS Flexbox, CSS Grid). heading: the heading
    inside it, or the last before it; heading_top, heading_bottom: where that is.
    room: what its scroll-margin and the page's scroll-padding leave above it. cover: how
    much of the view's top is covered by what stays there, covered_by: which element.
    """

    top: float
    ground: str = ""
    wide: bool = False
    beside: bool = False
    in_grid: bool = False
    heading: int | None = None
    heading_top: float = 0
    heading_bottom: float = 0
    room: float = 0
    cover: float = 0
    covered_by: int | None = None


def looks_like(kind: str, look: Look) -> str:
    """The kind, more closely named by what a reader sees of it."""
    if kind == "link" and look.ground:
        return "button"
    if kind not in ("block", "section block", "aside", "article", "header", "footer"):
        return kind
    if look.ground:
        return f"{colour(look.ground)} {'band' if look.wide else 'box'}".strip()
    return "column" if look.beside else kind


# HTML Standard, "ancestor revealing algorithm": what is inside is shown, the title is already.
_SHUT = (
    "A hop lands on this closed title, which readers open themselves. For a mark on something "
    "inside it, the browser opens it."
)


def _is_shut(source: Source, spot: Place) -> bool:
    """Whether a part is a `details` that is closed as the page comes, or the title of one."""
    number = source.parent(spot.number) if spot.tag == "summary" else spot.number
    return source.tags[number] == "details" and source.attr(number, "open") is None


def landing(source: Source, spot: Place, look: Look) -> tuple[str, bool]:
    """Where a reader lands who is sent to the element, in one sentence, and
    whether that is a good place. CSSOM View, "scroll an element into view": its
    top edge comes to the top of the view, or as far below it as room is left."""
    hidden = covered(source, look)
    if hidden:
        return hidden, False
    name = looks_like(spot.kind, look)
    if spot.kind == HEADING_LINE:
        return f"A hop lands with this line at the top of the view{_below(look)}.", True
    if _is_shut(source, spot):
        return _SHUT, True
    if look.heading is None:
        return f"A hop lands at the top of this {name}.", True
    title = words(source, look.heading) or "without words"
    if look.heading == spot.number:
        return f"A hop lands with this heading at the top of the view{_below(look)}.", True
    air = round(look.heading_top - look.top)
    inside = spot.number < look.heading <= source.last_inside(spot.number)
    if inside or (spot.empty and air >= 0):
        if air <= 4:
            return f"A hop lands at the top of this {name}, right at its heading “{title}”.", True
        message = f"A hop lands at the top of this {name}, {air} px above the heading “{title}”."
        return (message, True) if air <= 200 else (f"{message} That is a lot to look past.", False)
    under = round(look.top - look.heading_bottom)
    if under < _CLOSE:
        return (
            f"A hop lands right below the heading “{title}”, which readers would not see: it is "
            "cut off above the view.",
            False,
        )
    return (
        f"A hop lands at this {name}. Its heading “{title}” stands {under} px above, out of view.",
        spot.kind in _SEEN_ALONE,
    )


def _below(look: Look) -> str:
    return f", {round(look.room)} px below its edge" if look.room >= 1 else ""


def covered(source: Source, look: Look) -> str:
    """What a reader would not see of an element, or of the heading in it, since something
    stays at the top of the view; "" when all of it is seen."""
    is_at = look.heading is not None and look.heading_top >= look.top - 1
    if look.heading is not None and not is_at and look.top - look.heading_bottom < _CLOSE:
        return ""  # the heading is cut off, whatever is above
    air = max(0, look.heading_top - look.top) if is_at else 0
    hidden = round(look.cover - look.room - air)
    if hidden <= 0 or look.covered_by is None:
        return ""
    bar = _kind(source.element(look.covered_by))
    bar = "bar" if bar in ("block", "section block") else bar
    tall = look.heading_bottom - look.heading_top if is_at else 0
    all_of_it = "all" if tall and hidden >= tall else f"the upper {hidden} px"
    of = "the heading" if is_at else "it"
    return (
        f"A hop lands here, but readers don’t see {all_of_it} of {of}: the page’s {bar}, "
        f"{round(look.cover)} px tall, stays at the top of the view."
    )


# What makes sense to a reader without the heading above it.
_SEEN_ALONE = ("picture", "figure", "button", "table", "table row", "list entry", "form", "video",
               "form field", "part that opens", "term", "embedded page")  # fmt: skip

# Hues in degrees up to which a colour has that name (common practice, no source).
_HUES = (
    (14, "red"), (44, "orange"), (68, "yellow"), (165, "green"), (195, "turquoise"),
    (258, "blue"), (320, "purple"), (345, "pink"), (360, "red"),
)  # fmt: skip


def colour(css: str) -> str:
    """A computed colour (CSS Color 4, `rgb()`) as people name it; "" for no `rgb()`."""
    parts = re.findall(r"[\d.]+", css) if css.startswith("rgb") else []
    if len(parts) < 3:
        return ""
    red, green, blue = (float(part) / 255 for part in parts[:3])
    hue, light, strong = colorsys.rgb_to_hls(red, green, blue)
    if light > 0.96:
        return "white"
    if light < 0.08:
        return "black"
    tone = "light " if light > 0.72 else "dark " if light < 0.3 else ""
    # HLS makes much of little colour near white and black; the spread is what is seen.
    grey = strong < 0.1 or max(red, green, blue) - min(red, green, blue) < 0.05
    if grey:
        return f"{tone}grey"
    name = next(name for top, name in _HUES if hue * 360 <= top)
    return "pink" if tone + name == "light red" else tone + name
