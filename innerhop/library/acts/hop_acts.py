"""Acts on hops: making one of words or of a part of a page, putting a new link
beside a part, leading a link elsewhere, and how it opens and is written."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Iterable
from dataclasses import dataclass, replace

from innerhop.core.addresses import address_forms, link_target
from innerhop.core.facts import hidden_parts, places
from innerhop.core.formats import html
from innerhop.core.names import link_words
from innerhop.core.plan import Plan
from innerhop.core.planners import (
    hopping,
    link_texts,
    links_beside,
    mending,
    own_button,
    selection,
    tiles,
)
from innerhop.core.planners.looks import Look
from innerhop.core.planners.wrapping import CannotLink
from innerhop.library.acts import button_looks
from innerhop.library.acts.base import Act, in_copies, joined, marked_anyhow, on_pages, title_of
from innerhop.library.acts.ends import Goal, Outside, check_end, fragment_of, link_to, start_of
from innerhop.library.changes.prepare import PagePlan
from innerhop.library.index import shared_parts
from innerhop.library.index.shared_parts import Copy
from innerhop.library.index.texts import PageText, current
from innerhop.library.models import Link, Mark, Page


@dataclass(frozen=True)
class Manner:
    """How a hop is written and opens. form: one of address_forms.FORMS, or "" for the
    site's way. new_tab: None to leave a link that is there as it is."""

    form: str = ""
    new_tab: bool | None = None


AS_USUAL = Manner()
NO_LOOK: Look = {}
Values = dict[str, str | None]


def hop(page: Page, words: selection.Words, end: Goal, manner: Manner = AS_USUAL) -> Act:
    """Make a link of the words, and mark the section it ends at if it must be.

    Raises wrapping.CannotLink, marking.CannotMark, address_forms.CannotWrite or NoSuchEnd.
    """
    text = current(page)
    message = selection.text_of(text.source, words)

    def make(copy: PageText, number: int, values: Values) -> Plan:
        chosen = _shifted(words, number)
        return hopping.plan_hop(copy.source, chosen, values, copy.revision.encoding)

    return _started(
        page, words.start.number, end, manner, _New(make, f"Linked “{message}”", message)
    )


def element(
    page: Page, number: int, end: Goal, manner: Manner = AS_USUAL, look: Look = NO_LOOK
) -> Act:
    """Make a link of a part of the page: a picture, a button, a block. look: what a button
    would lose of its look (see `looks`). Raises the same."""
    spot = places.place(current(page).source, number)
    look = look if spot.tag == button_looks.BUTTON else NO_LOOK

    def make(copy: PageText, at: int, values: Values) -> Plan:
        style = button_looks.style(copy.source, at, look)
        return hopping.plan_element(copy.source, at, {**values, **style}, copy.revision.encoding)

    what = f"Linked the {spot.kind}" + (f" “{spot.words}”" if spot.words else "")
    act = _started(page, number, end, manner, _New(make, what, spot.words))
    return replace(act, notes=[*act.notes, *button_looks.notes(page, spot.tag, look)])


def new_link(
    page: Page,
    number: int,
    end: Goal,
    manner: Manner = AS_USUAL,
    *,
    side: str,
    words: str,
    like: int | None = None,
    look: Look = NO_LOOK,
    ground: own_button.Colour | None = None,
) -> Act:
    """Put a new link before or after a part of the page. like: the number of a
    link or button that it is to be a copy of, or of the tile that the part is in, beside which
    the copy then stands. look: as for `element`. ground: the colour of a button of our own
    look. Raises the same."""

    region = shared_parts.around(page, number)
    if like is not None and region and not region.number <= like <= region.last:
        raise CannotLink(
            "This part is on several pages, and the button to copy stands outside it. Choose a "
            "look that is in this part, or a plain link."
        )

    tag = "" if like is None else current(page).source.element(like).tag
    look = look if tag == button_looks.BUTTON else NO_LOOK

    def make(copy: PageText, at: int, values: Values) -> Plan:
        model = None if like is None else like + at - number
        style = {} if model is None else button_looks.style(copy.source, model, look)
        if ground is not None:
            style = own_button.attributes(copy.source, ground)
        tile = None if model is None else tiles.tile_at(copy.source, model)
        if tile is not None and tile.number == model and tile.holds(copy.source, at):
            encoding = copy.revision.encoding
            return tiles.plan_copy(copy.source, tile, side, words, values=values, encoding=encoding)
        link = links_beside.NewLink(words, {**values, **style}, model)
        plan = links_beside.plan_beside(copy.source, at, side, link, copy.revision.encoding)
        return plan if ground is None else own_button.with_style(copy.source, plan, ground)

    message = " ".join(words.split())
    act = _started(page, number, end, manner, _New(make, f"Put in a link “{message}”", message))
    return replace(act, notes=[*act.notes, *button_looks.notes(page, tag, look)])


@dataclass(frozen=True)
class _New:
    """A hop that is to be: how it is put into a text, at an element's number there;
    the beginning of the line that says so; the words that readers click. link: the
    one that is there and is led elsewhere."""

    make: Callable[[PageText, int, Values], Plan]
    message: str
    words: str
    link: Link | None = None


def _started(page: Page, number: int, end: Goal, manner: Manner, new: _New) -> Act:
    """A hop, on every page that shares the part where it starts."""
    check_end(end)
    copies = shared_parts.copies(page, number)
    is_shared = len(copies) > 1
    plans = [
        PagePlan(copy.page, copy.page.revision, _filled(new, copy, end, manner, is_shared))
        for copy in copies
    ]
    href = link_to(page, end, is_shared, manner.form)
    now = " now" if new.link else ""
    message = f"{new.message} to {href}{now}{on_pages(plans)}"
    notes = _notes(page, end, manner, new)
    return with_mark(Act(message, plans, href, notes, forms=forms_of(page, end, is_shared)), end)


def forms_of(page: Page, end: Goal, is_shared: bool) -> list[address_forms.Written]:
    """How a hop from the page to that end could be written; one to another site is
    written in one way."""
    if isinstance(end, Outside):
        return []
    return address_forms.all_forms(
        start_of(page, is_shared), end.page.address, fragment_of(page, end)
    )


def _filled(
    new: _New, copy: Copy, end: Goal, manner: Manner, is_shared: bool
) -> Callable[[PageText], Plan]:
    values = attributes_of(copy.page, end, manner, is_shared)
    return lambda text: new.make(text, copy.number, values)


def attributes_of(page: Page, end: Goal, manner: Manner, is_shared: bool = False) -> Values:
    """What a link on a page has that leads to an end. is_shared: whether it stands in a part
    that several pages have. Raises address_forms.CannotWrite."""
    more = link_target.attributes(bool(manner.new_tab), isinstance(end, Outside))
    return {"href": link_to(page, end, is_shared, manner.form), **more}


def _shifted(words: selection.Words, number: int) -> selection.Words:
    """The words in another copy of the region they are in."""
    by = number - words.start.number
    start, end = words.start, words.end
    return selection.Words(
        replace(start, number=start.number + by), replace(end, number=end.number + by), words.text
    )


def with_mark(act: Act, end: Goal) -> Act:
    """The same act, with the part that it ends at marked, if it is to be."""
    if isinstance(end, Outside) or end.number is None:
        return act
    message = f"{act.message} and marked “{title_of(current(end.page), end.number)}”"
    marks = in_copies(end.page, end.number, marked_anyhow(end.id))
    return replace(act, message=message, plans=joined([*act.plans, *marks]))


def unlink(page: Page, number: int) -> Act:
    """Take a link off, on every page that shares its part; its words stay. Raises CannotLink."""
    link = _link_row(page, number)
    plans = in_copies(
        page, number,
        lambda text, at: link_texts.plan_unlinked(text.source, at, text.revision.encoding),
    )  # fmt: skip
    message = f"Took the link off “{link.text or 'a picture'}”, which led to {link.href}"
    return Act(f"{message}{on_pages(plans)}", plans)


def reword(page: Page, number: int, words: str) -> Act:
    """Give a link other words, on every page that shares its part. Raises CannotLink, and
    pieces.NotWhole."""
    link = _link_row(page, number)
    plans = in_copies(
        page, number,
        lambda text, at: link_texts.plan_reworded(text.source, at, words, text.revision.encoding),
    )  # fmt: skip
    said = " ".join(words.split())
    trouble = link_words.trouble(said)
    message = f"The link “{link.text}” says “{said}” now{on_pages(plans)}"
    return Act(message, plans, notes=[trouble] if trouble else [])


def _link_row(page: Page, number: int) -> Link:
    found: Link | None = Link.objects.filter(page=page, number=number).first()
    if found is None:
        raise CannotLink("This is no link any more. Load the page again to see it as it is.")
    return found


def retarget(page: Page, link: Link, end: Goal, manner: Manner = AS_USUAL) -> Act:
    """Let a link that is there lead to another end, or be written or open in
    another way, and mark its end if it must be. Raises as above."""
    outside = isinstance(end, Outside)

    def make(copy: PageText, number: int, values: Values) -> Plan:
        wanted: Values = {}
        if copy.source.attr(number, "href") != values["href"]:
            wanted["href"] = values["href"]
        if manner.new_tab is not None:
            wanted |= link_target.changed(copy.source, number, manner.new_tab, outside)
        return html.give(copy.source, {number: wanted}, copy.revision.encoding)

    new = _New(make, f"“{link.text or 'A picture'}” leads", link.text, link)
    return _started(page, link.number, end, manner, new)


def reopen(page: Page, link: Link, new_tab: bool) -> Act:
    """Let a link open in a new tab, or in the same one."""
    outside = not link.key

    def make(text: PageText, number: int) -> Plan:
        encoding = text.revision.encoding
        return mending.plan_reopened(text.source, number, new_tab, outside, encoding)

    plans = in_copies(page, link.number, make)
    where = "in a new tab" if new_tab else "in the same tab"
    notes = [link_target.IN_PAGE] if new_tab and link.key == page.key else []
    message = f"“{link.text or 'A picture'}” opens {where} now{on_pages(plans)}"
    return Act(message, plans, link.href, notes)


def _notes(page: Page, end: Goal, manner: Manner, new: _New) -> list[str]:
    """What the editor should know of a hop before it is made."""
    found = [link_words.trouble(new.words)]
    others = Link.objects.filter(page=page).exclude(pk=new.link.pk if new.link else 0)
    opens_anew = new.link.new_tab if new.link and manner.new_tab is None else manner.new_tab
    place: Hashable
    if isinstance(end, Outside):
        place = end.href
    else:
        place = (end.page.key, fragment_of(page, end) or "")
        found.append(_closed(end.page, end.id, end.number))
        if opens_anew and end.page.pk == page.pk:
            found.append(link_target.IN_PAGE)
    found.append(same_words(others).trouble(new.words, place))
    return [one for one in found if one]


def same_words(links: Iterable[Link]) -> link_words.SameWords:
    """Which words of these links, all of one page, lead to several places."""
    return link_words.SameWords(
        (one.text, (one.key, one.fragment or "") if one.key else one.href) for one in links
    )


def _closed(page: Page, id_: str, number: int | None) -> str:
    """What is to be said of an end that stands in a closed part."""
    if number is not None:
        state = hidden_parts.state_of(current(page).source, number)
    else:
        row = (
            Mark.objects.with_value(page.site_id, id_).filter(page=page).order_by("number").first()
        )
        state = row.closed if row else ""
    return hidden_parts.MESSAGES.get(state, "")
