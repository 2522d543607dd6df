"""A button for pages that have none to copy: a handful of lines in the page's style, in the
colour of its links, with words that stand out from it (WCAG 2.2, 1.4.3 and 2.5.8)."""

from __future__ import annotations

import re

from innerhop.core.plan import Plan, join_plans
from innerhop.core.planners.page_styles import end_of_head, plan_style
from innerhop.core.source.tree import Source

CLASS = "hop-button"
_LINK = (0, 0, 238)  # HTML Standard, Rendering, #phrasing-content-3: `:link`
_ENOUGH = 4.5  # WCAG 2.2, 1.4.3
_BLACK, _WHITE = (0, 0, 0), (255, 255, 255)
_RGB = re.compile(r"rgb\((\d{1,3}),? (\d{1,3}),? (\d{1,3})\)")
_SHAPE = "display: inline-block; padding: 0.6em 1.2em; border-radius: 0.4em; text-decoration: none"

Colour = tuple[int, int, int]


def colour(computed: str) -> Colour:
    """A computed colour (CSSOM, resolved values); that of links in browsers where it isn't
    opaque sRGB."""
    found = _RGB.fullmatch(computed.strip())
    if found is None:
        return _LINK
    red, green, blue = (min(255, int(one)) for one in found.groups())
    return red, green, blue


def contrast(one: Colour, other: Colour) -> float:
    """WCAG 2.2, #dfn-contrast-ratio."""
    light, dark = sorted((_luminance(one), _luminance(other)), reverse=True)
    return (light + 0.05) / (dark + 0.05)


def _luminance(colour: Colour) -> float:
    """WCAG 2.2, #dfn-relative-luminance."""
    red, green, blue = (_linear(one / 255) for one in colour)
    return 0.2126 * red + 0.7152 * green + 0.0722 * blue


def _linear(part: float) -> float:
    return part / 12.92 if part <= 0.04045 else ((part + 0.055) / 1.055) ** 2.4


def words_on(ground: Colour) -> Colour:
    """White, or black where white would be hard to read."""
    return _WHITE if contrast(_WHITE, ground) >= _ENOUGH else _BLACK


def _written(colour: Colour) -> str:
    return "#" + "".join(f"{one:02x}" for one in colour)


def declarations(ground: Colour) -> str:
    """The look itself, for a link's own style."""
    words = _written(words_on(ground))
    return f"{_SHAPE}; background-color: {_written(ground)}; color: {words}"


def css(ground: Colour) -> str:
    """The rules for links of our class. They name the link's attribute, since a page's own
    rules for links often name an element and a class around it."""
    own = f"a[href].{CLASS}"
    states = ", ".join((own, f"{own}:visited", f"{own}:hover", f"{own}:focus"))
    return (
        f"{states} {{ {declarations(ground)} }} "
        f"{own}:hover {{ text-decoration: underline }} "
        f"{own}:focus-visible {{ outline: 2px solid {_written(ground)}; outline-offset: 2px }}"
    )


def attributes(source: Source, ground: Colour) -> dict[str, str | None]:
    """What a link has to look so: our class, or where the page has no head for its rules, a
    style of its own."""
    if end_of_head(source) is None:
        return {"style": declarations(ground)}
    return {"class": CLASS}


def with_style(source: Source, plan: Plan, ground: Colour) -> Plan:
    """A plan that puts such a link in, with the rules for it where the page has none yet."""
    has_rules = any(f".{CLASS}" in source.text_of(one.number) for one in source.of_tags("style"))
    if has_rules or end_of_head(source) is None:
        return plan
    return join_plans([plan, plan_style(source, css(ground))])
