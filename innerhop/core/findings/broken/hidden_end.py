"""A hop into a part that readers don't see, and that nothing opens for them."""

from __future__ import annotations

from innerhop.core.findings.found import STUCK, JudgedLink, PageRows, Rule, SiteView, Standard, Told
from innerhop.core.site.hops import HIDDEN


def _recognise(link: JudgedLink, page: PageRows, site: SiteView) -> Told | None:
    if link.why != HIDDEN or link.end_page is None:
        return None
    return {"href": link.href, "on": link.end_page}


RULE = Rule(
    name="hidden-end",
    level=STUCK,
    title="It ends in a hidden part",
    why="What {href} asks for on “{on}” is hidden, and no browser opens it: nothing happens.",
    source=Standard(
        "HTML Standard, “ancestor revealing algorithm”",
        "https://html.spec.whatwg.org/multipage/interaction.html#ancestor-revealing-algorithm",
    ),
    avoid="Browsers open a details element, and what is hidden until found, for a hop. Of tabs and "
    "accordions that a script opens, give the always visible title the ID.",
    recognise=_recognise,
    asks=(),
    no_fix="What opens this part is the page’s own. Lead the hop to its title, which is always "
    "seen, or show the part.",
)
