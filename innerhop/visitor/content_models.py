"""The content models that the sheet's script needs, as a script made from the core's:
run `python -m innerhop.visitor.content_models` after a change there."""

from __future__ import annotations

from pathlib import Path

from innerhop.core.source.content_models import AMONG_OWN_KIND, TEXT_LEVEL

SCRIPT = Path(__file__).parent / "script" / "content_models.js"
_SETS = {
    # Parts of a sentence; a link is a part of its own.
    "IN_LINE": (TEXT_LEVEL - {"a"}) | {"br", "wbr"},
    "AMONG_OWN_KIND": AMONG_OWN_KIND,
}


def as_script() -> str:
    """The script's text."""
    lines = ["// Made from innerhop/core/source/content_models.py: change that, then make this."]
    for name, tags in _SETS.items():
        listed = ", ".join(f'"{tag.upper()}"' for tag in sorted(tags))
        lines.append(f"export const {name} = new Set([{listed}]);")
    return "\n".join(lines) + "\n"


if __name__ == "__main__":
    SCRIPT.write_text(as_script(), encoding="utf-8")
