"""How a link opens: in the tab it is in, or in another.

HTML Standard #attr-hyperlink-target, #navigable-target-names and #linkTypes.
"""

from __future__ import annotations

from innerhop.core.source.tree import Source

_HERE = frozenset(("", "_self", "_parent", "_top"))

IN_PAGE = (
    "It leads to a place on the page it is on, and opens that page once more in a new tab. "
    "Let it open in the same tab."
)


def is_new_tab(target: str) -> bool:
    """Whether a link with that target opens in another tab. Capitals don't count."""
    return target.strip().lower() not in _HERE


def attributes(new_tab: bool, outside: bool, rel: str = "") -> dict[str, str | None]:
    """The `target` and `rel` that a link is to have; None for none.

    outside: whether it leads to another site, which must not reach back to the
    page it came from: `noopener` (HTML Standard #link-type-noopener). Browsers take it as
    said with `_blank` (#get-an-element's-noopener), older ones don't. rel: what the link
    has now, of which all other types are kept.
    """
    types = [one for one in rel.split() if one.lower() != "noopener"]
    if new_tab and outside:
        types.append("noopener")
    return {"target": "_blank" if new_tab else None, "rel": " ".join(types) or None}


def changed(source: Source, number: int, new_tab: bool, outside: bool) -> dict[str, str | None]:
    """What has to change of a link that is there for it to open so."""
    target, rel = source.attr(number, "target") or "", source.attr(number, "rel") or ""
    wanted = attributes(new_tab, outside, rel)
    if new_tab and is_new_tab(target):
        wanted["target"] = target  # a tab of its own name stays its own
    has = {"target": target or None, "rel": " ".join(rel.split()) or None}
    return {name: value for name, value in wanted.items() if has[name] != value}
