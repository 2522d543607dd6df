"""Links that were, or are to look like, a button: what is written into them and what is to
be said of it."""

from __future__ import annotations

from innerhop.core.planners import looks
from innerhop.core.source.tree import Source
from innerhop.library.index.texts import current
from innerhop.library.models import Page

BUTTON = "button"


def style(source: Source, number: int, look: looks.Look) -> dict[str, str | None]:
    """The style that keeps a button's look in a link, where there is any to keep."""
    return {"style": looks.style_with(source, number, look)} if look else {}


def notes(page: Page, tag: str, look: looks.Look) -> list[str]:
    """What to say of the look of a link that was, or is like, a button."""
    if tag != BUTTON:
        return []
    if not look:
        return [
            "A link lacks what styles say of buttons alone. If it looks another way than you want, "
            "put a link beside it that looks like another one."
        ]
    found = ["A style is written at the link, so that it looks as the button did."]
    files = page.site.assets.filter(media_type="text/css")
    css = [bytes(one.content).decode("utf-8", "replace") for one in files]
    if any(map(looks.has_states, [*css, looks.styles_of(current(page).source)])):
        found.append(
            "Pointed at, it stays as it is: the site’s styles for that are for buttons alone. A "
            "link beside it that looks like another link has that link’s."
        )
    return found
