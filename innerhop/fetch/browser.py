"""The browser that is driven from here, where it is installed: Debian's Chromium, by Playwright."""

from __future__ import annotations

import importlib.util
from pathlib import Path

from innerhop.core.refusals import Refusal

CHROMIUM = "/usr/bin/chromium"


class NoBrowser(Refusal):
    """No browser can be driven from here."""


def is_there() -> bool:
    """Whether a browser can be driven from here."""
    return Path(CHROMIUM).exists() and importlib.util.find_spec("playwright") is not None


def require() -> None:
    """Raise NoBrowser where none can."""
    if not is_there():
        raise NoBrowser(
            "Chromium or Playwright is missing where Inner Hop runs. Whoever runs it installs "
            "them:  sudo apt-get install chromium; pip install playwright"
        )
