"""The frame of a site: what stands around the content of its pages, on all of them.

`header`, `footer` and `nav` outside the content, and parts with the landmark roles
banner, contentinfo, navigation and complementary
(https://www.w3.org/TR/wai-aria-1.2/#landmark_roles; HTML Accessibility API Mappings,
https://www.w3.org/TR/html-aam-1.0/#html-element-role-mappings). Inside `main` or
`article` they belong to the content.
"""

from __future__ import annotations

from innerhop.core.source.tree import Source

HEADER, FOOTER, NAV, ASIDE = "header", "footer", "nav", "aside"
TAGS = frozenset((HEADER, FOOTER, NAV))
ROLES = {"banner": HEADER, "contentinfo": FOOTER, "navigation": NAV, "complementary": ASIDE}
_CONTENT = "main, article, [role=main]"


def roles(source: Source) -> dict[int, str]:
    """The elements that a role makes part of the frame, with what part of it."""
    found = {one.number: (one.attr("role") or "").strip().lower() for one in source.having("role")}
    return {number: ROLES[role] for number, role in found.items() if role in ROLES}


def is_content(source: Source, number: int) -> bool:
    """Whether a part belongs to the page's content."""
    return source.reading.is_within(number, _CONTENT)
