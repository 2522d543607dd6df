"""Which elements may stand where: the HTML Standard's content categories, once for
all who ask, the sheet's script among them (see `visitor/script/content_models.js`,
which is made from these).

HTML Standard, "Kinds of content"
<https://html.spec.whatwg.org/multipage/dom.html#kinds-of-content>.
"""

from __future__ import annotations

# https://html.spec.whatwg.org/multipage/syntax.html#void-elements
VOID = frozenset((
    "area", "base", "br", "col", "embed", "hr", "img", "input", "link", "meta", "source", "track",
    "wbr",
))  # fmt: skip

# https://html.spec.whatwg.org/multipage/dom.html#phrasing-content, and what was
# phrasing before it was obsolete
# (https://html.spec.whatwg.org/multipage/obsolete.html#non-conforming-features).
PHRASING = frozenset((
    "a", "abbr", "area", "audio", "b", "bdi", "bdo", "br", "button", "canvas", "cite", "code",
    "data", "datalist", "del", "dfn", "em", "embed", "i", "iframe", "img", "input", "ins", "kbd",
    "label", "link", "map", "mark", "math", "meta", "meter", "noscript", "object", "output",
    "picture", "progress", "q", "ruby", "s", "samp", "script", "select", "slot", "small", "span",
    "strong", "sub", "sup", "svg", "template", "textarea", "time", "u", "var", "video", "wbr",
    "acronym", "big", "font", "nobr", "strike", "tt",
))  # fmt: skip

# https://html.spec.whatwg.org/multipage/dom.html#interactive-content; an `a`, `audio`,
# `img` or `video` only with the attribute that makes it so, which counts as given here.
INTERACTIVE = frozenset((
    "a", "audio", "button", "details", "embed", "iframe", "input", "label", "select", "textarea",
    "video",
))  # fmt: skip

# https://html.spec.whatwg.org/multipage/dom.html#embedded-content, and form fields: what
# readers see of these is no words of theirs to select.
EMBEDDED = frozenset((
    "audio", "canvas", "embed", "iframe", "img", "math", "object", "picture", "svg", "video",
))  # fmt: skip
_FIELDS = frozenset((
    "button", "datalist", "input", "meter", "output", "progress", "select", "textarea",
))  # fmt: skip
_UNSEEN = frozenset(("area", "link", "map", "meta", "noscript", "script", "slot", "template"))

# Phrasing elements that words of a sentence stand in.
TEXT_LEVEL = PHRASING - EMBEDDED - _FIELDS - _UNSEEN - {"br", "wbr"}

# https://html.spec.whatwg.org/multipage/sections.html#heading-content
LEVELS = {f"h{level}": level for level in range(1, 7)}

# Elements that a browser shows as blocks and that a page's flow is made of
# (https://html.spec.whatwg.org/multipage/rendering.html#flow-content-3).
BLOCKS = frozenset((
    "address", "article", "aside", "blockquote", "center", "dd", "details", "dialog", "dir", "div",
    "dl", "dt", "fieldset", "figcaption", "figure", "footer", "form", "header", "hgroup", "hr",
    "li", "main", "menu", "nav", "ol", "p", "pre", "search", "section", "summary", "table", "ul",
    *LEVELS,
))  # fmt: skip

# Whose content is flow content, so that a heading may stand among their children.
FLOW_PARENTS = frozenset((
    "address", "article", "aside", "blockquote", "body", "center", "dd", "details", "dialog", "div",
    "fieldset", "figcaption", "figure", "footer", "form", "header", "li", "main", "nav", "search",
    "section", "td", "th",
))  # fmt: skip

# Whose children are of their own kind only, and what those are called.
_OWN_KIND = (
    ("table thead tbody tfoot tr colgroup", "the parts of a table"),
    ("ul ol menu", "the entries of a list"),
    ("dl", "the terms of a list"),
    ("select optgroup option datalist", "the entries of a form's list"),
    ("picture video audio svg math object", "the parts of a picture"),
    ("html head", "the parts of the page"),
    ("ruby hgroup details", "these parts"),
)
OWN_KIND_ONLY = {tag: what for tags, what in _OWN_KIND for tag in tags.split()}

# The children of those: a marker goes beside what holds them.
AMONG_OWN_KIND = frozenset((
    "caption", "dd", "dt", "li", "tbody", "td", "tfoot", "th", "thead", "tr",
))  # fmt: skip

# https://html.spec.whatwg.org/multipage/syntax.html#raw-text-elements, and what holds
# nothing that a reader is shown.
TEXT_ONLY = frozenset(("iframe", "script", "style", "textarea", "title"))

# What is never shown, or is the whole page: nobody can be sent there
# (https://html.spec.whatwg.org/multipage/rendering.html#hidden-elements).
NOT_SHOWN = frozenset((
    "html", "head", "body", "title", "base", "link", "meta", "style", "script", "noscript",
    "template", "source", "track", "param", "br", "wbr", "col", "colgroup", "option", "optgroup",
))  # fmt: skip

# Whose text is not part of what a page says.
SILENT = frozenset(("script", "style", "title", "noscript", "template"))

# Lists of items (https://html.spec.whatwg.org/multipage/grouping-content.html).
LISTS = ("ul", "ol", "menu")
