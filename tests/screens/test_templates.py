"""What templates ask of Alpine's build without eval: it knows no globals and only part of the
language (https://alpinejs.dev/advanced/csp)."""

from __future__ import annotations

import re
from pathlib import Path

import innerhop.screens

_EXPRESSION = re.compile(r"\sx-(?!data|cloak|ref|ignore|transition)[\w:.-]+=\"([^\"]*)\"")
_STRINGS = re.compile(r"'(?:\\.|[^'\\])*'|\{\{.*?\}\}|\{%.*?%\}")
_LACKING = re.compile(
    r"\b(?:[A-Z]\w*|window|document|globalThis|parseInt|parseFloat|isNaN|console|localStorage|"
    r"sessionStorage|fetch|setTimeout|new|typeof|await|async|function)\b|=>|`|\?\.|\.\.\.|\?\?"
)


def test_no_template_asks_for_what_is_not_there() -> None:
    found = []
    templates = sorted(Path(innerhop.screens.__file__).parent.glob("*/templates/**/*.html"))
    count = 0
    for path in templates:
        for expression in _EXPRESSION.findall(path.read_text("utf-8")):
            count += 1
            if lacking := _LACKING.search(_STRINGS.sub("''", expression)):
                found.append((path.name, lacking[0], expression))
    assert count > 500, "expressions are found at all"
    assert found == []
