"""The built style sheet, script and fonts, by the names that they have now."""

from __future__ import annotations

import json
from functools import lru_cache
from pathlib import Path

from django.conf import settings
from django.templatetags.static import static

# The fonts of what is seen first: asked for before the style sheet names them.
_FIRST = ("atkinson-hyperlegible-next-latin-wght-normal", "bricolage-grotesque-latin-wght-normal")


@lru_cache(maxsize=1)
def built() -> dict[str, str | list[str]]:
    """Addresses: css, js, that of the window that walks, and the fonts to preload."""
    manifest = Path(settings.STATIC_ROOT) / "dist" / "manifest.json"
    names = json.loads(manifest.read_text("utf-8"))
    return {
        "css": static(f"dist/{names['app.css']}"),
        "js": static(f"dist/{names['app.js']}"),
        "walker": static(f"dist/{names['walker.js']}"),
        "fonts": [static(f"dist/{names[f'fonts/{font}.woff2']}") for font in _FIRST],
    }
