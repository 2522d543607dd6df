"""All that the page screen shows of a page, as one JSON object."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from dataclasses import asdict
from typing import Any
from urllib.parse import quote

from django.http import HttpRequest

from innerhop.core import widths
from innerhop.core.addresses import address_forms, fragments, link_target
from innerhop.core.facts import hidden_parts, lengths, places
from innerhop.core.facts.sections import SERVING
from innerhop.core.findings.broken import id_in_class
from innerhop.core.findings.found import BETTER, MISLED, STUCK
from innerhop.core.names import ids, link_words
from innerhop.core.names.link_words import SameWords
from innerhop.library.acts import convert_and_move, hop_acts, moved_acts
from innerhop.library.changes import undo
from innerhop.library.index import shared_parts
from innerhop.library.index.texts import current
from innerhop.library.models import Change, Editor, Finding, Mark, Page
from innerhop.library.seek import ends, findings, hops, page_heights
from innerhop.library.seek.guesses import Guess, Guesser
from innerhop.screens.access import editor_of
from innerhop.screens.page_state import contents
from innerhop.visitor import passes
from innerhop.visitor.hosts import visitor_origin

_CHANGES_SHOWN = 12
_FINDINGS_SHOWN = 12
_MEASURE = ("width", "height", "tops", "revision", "header", "padding", "smooth")
_HOPS_SENT = 1_200  # more are sent when they are asked for: none are seen at once
_GUESSED = 20  # broken hops of a page whose likely meaning is looked for at once


def page_state(request: HttpRequest, page: Page) -> dict[str, Any]:
    """The page as it is now: its sections, marks, hops, changes and addresses."""
    editor: Editor = request.user  # type: ignore[assignment]
    rows = page.sections.values("number", "level", "depth", "title", "mark", "words")
    return {
        "revision": page.revision,
        "page": page.pk,
        "title": page.title,
        "words": page.words,
        "sections": [{**row, "fragment": fragments.encode(row["mark"])} for row in rows],
        "marks": list(_marks(page)),
        "shared": [asdict(part) for part in shared_parts.of_page(page)],
        "locked": list(page.locked_parts.filter(lifted=False).values("number", "last")),
        **hop_rows(page),
        **_made_parts(page),
        "led": [one._asdict() for one in moved_acts.of_page(page)],
        "findings": _findings(page),
        "formNames": convert_and_move.FORM_NAMES,
        "sheet": sheet_url(request, page),
        "sitePages": page.site.pages.count(),
        "site": page.site.address.rstrip("/"),
        "kinds": places.KINDS,
        "bareHash": page.keeps_hashes,
        "serving": SERVING,
        "canBeSmooth": not page.body_only,
        "undo": _change(undo.next_to_undo(page.site, editor)),
        "redo": _change(undo.next_to_redo(page.site, editor)),
        "changes": [_change(change) for change in undo.changes_of(page)[:_CHANGES_SHOWN]],
        "measures": list(page.measures.values(*_MEASURE)),
        "listHelps": {"sections": lengths.LIST_SECTIONS, "screens": lengths.LIST_SCREENS},
        "guess": {"height": page_heights.guessed_height(page), "words": page.words},
        "widths": [width._asdict() for width in widths.ALL],
    }


def _findings(page: Page) -> dict[str, Any]:
    """What is found on the page, worst first, and how much on the whole site."""
    rows = findings.open_on(page.site).filter(page=page)
    levels = [STUCK, MISLED, BETTER]
    counts = findings.by_level(rows)
    groups = findings.groups(rows, levels, 0, _FINDINGS_SHOWN)
    return {
        "site": findings.counted(page.site),
        "count": sum(counts[level] for level in levels),
        "groups": [
            {
                "rule": one.rule.name, "cause": one.cause, "level": one.rule.level,
                "title": one.title, "count": one.count,
                "number": one.first.number if one.first.number else None,
                "isLink": one.rule.is_on_link,
            }
            for one in groups.shown
        ],
        "more": groups.total - len(groups.shown),
    }  # fmt: skip


def _made_parts(page: Page) -> dict[str, Any]:
    """The contents lists of a page and its ways back, by their links."""
    if not (page.lists or page.ways_back):
        return {"lists": [], "ways": []}
    text = current(page)
    return {
        "lists": [
            {
                "number": one.number,
                "last": one.last,
                "id": one.id,
                "title": one.title,
                "kind": one.settings.kind,
                "made": one.made,
                "links": [entry.number for entry in one.entries],
                "says": contents.says(off),
            }
            for one, off in zip(text.lists, text.differences, strict=True)
        ],
        "ways": [one.number for one in text.ways_back],
    }


def hop_rows(page: Page, whole: bool = False) -> dict[str, Any]:
    """The hops of a page, out and in, with the pages they touch. whole: all of them;
    else no more than a screen needs at once, and how many there are in all."""
    links = hops.links_of(page)
    out_of = hops.out_of(page, links)
    into_count = hops.count_into(page)
    leading, into = out_of, hops.into(page, None if whole else _HOPS_SENT)
    if not whole and len(out_of) > _HOPS_SENT:
        # The broken ones are what needs doing, so they are all there.
        kept = [hop for hop in out_of if hop.kind == hops.BROKEN][:_HOPS_SENT]
        leading = sorted(
            {hop.link.pk: hop for hop in (*kept, *out_of[:_HOPS_SENT])}.values(),
            key=lambda hop: hop.link.number,
        )
    touched = [one for hop in (*leading, *into) for one in (hop.link.page, hop.page) if one]
    sent = list(_with_meant(page, leading, hop_acts.same_words(links)))
    return {
        "pages": {one.pk: _page(one) for one in {one.pk: one for one in (page, *touched)}.values()},
        "hops": sent,
        "into": [_hop(hop) for hop in into],
        "counts": {**Counter(hop.kind for hop in out_of), "all": len(out_of), "into": into_count},
        "left": len(out_of) - len(leading) + into_count - len(into),
        # Those that are no hops: they lead to a page as a whole, or elsewhere.
        "links": [one.number for one in links if one.kind == hops.NO_HOP],
        "newTabs": [one.number for one in links if one.new_tab],
        "forms": Counter(address_forms.form_of(hop.link.href) for hop in out_of),
    }


def _change(change: Change | None) -> dict[str, Any] | None:
    if change is None:
        return None
    return {
        "id": change.pk,
        "message": change.message,
        "who": str(change.author or "someone"),
        "undone": change.undone is not None,
    }


def _page(page: Page) -> dict[str, Any]:
    return {
        "id": page.pk,
        "title": page.title,
        "path": page.path,
        "url": page.get_absolute_url(),
    }


def _notes(hop: hops.Hop, words: SameWords) -> list[str]:
    """What is to be said of a hop besides whether it arrives."""
    link = hop.link
    found = [link_words.trouble(link.text), words.trouble(link.text)]
    if link.new_tab and hop.page is not None and hop.page.pk == link.page_id:
        found.append(link_target.IN_PAGE)
    if hop.opens:
        found.append(hidden_parts.MESSAGES[hidden_parts.OPENS])
    return [one for one in found if one]


def _in_class(hop: hops.Hop) -> list[str]:
    """Where the ID that a broken hop looks for was typed into the class field, as its finding
    says."""
    row = Finding.objects.filter(page=hop.link.page_id, number=hop.link.number)
    found = row.filter(rule=id_in_class.RULE.name).first()
    if found is None:
        return []
    spot = places.place(current(hop.link.page).source, found.told["element"])
    return [f"The {spot.kind} “{spot.words}” has this ID in its class. Choose the hop to move it."]


def _with_meant(page: Page, out_of: list[hops.Hop], words: SameWords) -> Iterator[dict[str, Any]]:
    """The hops, the first few broken ones with what they likely mean. What is empty
    is left out: a page may have thousands."""
    left = _GUESSED
    titles = ends.titles_of(out_of)
    guesser = Guesser(page.site)
    guesser.look_ahead([hop for hop in out_of if hop.kind == hops.BROKEN][:_GUESSED])
    for hop in out_of:
        row = _hop(hop)
        notes = _notes(hop, words)
        if hop.page is not None and hop.page.pk != page.pk:
            row["endTitle"] = titles.get((hop.page.pk, fragments.id_of(hop.link.fragment)), "")
        if hop.kind == hops.BROKEN and left:
            left -= 1
            row["meant"] = [_meant(one) for one in guesser.guesses(hop)]
            if not row["meant"] and hop.page == page:
                notes += _in_class(hop)
        yield {**row, "notes": notes} if notes else row


def _meant(guess: Guess) -> dict[str, Any]:
    row = {"page": guess.page.pk, "path": guess.page.path, "id": guess.id, "why": guess.why}
    if guess.marks is not None:
        row["marks"] = {
            "number": guess.marks,
            "revision": guess.page.revision,
            "url": guess.page.get_absolute_url(),
        }
    if guess.mends_id:
        mark = Mark.objects.with_value(guess.page.site_id, guess.id).filter(page=guess.page).first()
        row["mends"] = {
            "number": mark.number if mark else None,
            "revision": guess.page.revision,
            "url": guess.page.get_absolute_url(),
        }
    return row


def _hop(hop: hops.Hop) -> dict[str, Any]:
    row = {
        "number": hop.link.number,
        "link": hop.link.pk,
        "text": hop.link.text or "a picture or nothing",
        "href": hop.link.href,
        "form": address_forms.form_of(hop.link.href),
        "kind": hop.kind,
        "from": hop.link.page_id,
        "to": hop.page.pk if hop.page else None,
        "end": hop.end,
    }
    if hop.why:
        row["why"] = hop.why
    if hop.link.new_tab:
        row["newTab"] = True
    return row


def _marks(page: Page) -> Iterator[dict[str, Any]]:
    """The marks of a page. twice: whether an earlier part has the ID already, so that
    nobody arrives at this one. made: whether nobody chose the ID."""
    seen: set[str] = set()
    for row in page.marks.values("number", "attribute", "value", "tag", "empty", "words"):
        value = row["value"]
        more = {"fragment": fragments.encode(value), "generated": ids.looks_generated(value)}
        more["made"] = ids.is_a_systems(value)
        is_id = row["attribute"] == "id"
        what = "marker" if row["empty"] else places.kind_of_tag(row["tag"])
        yield {**row, **more, "what": what, "twice": is_id and value in seen}
        if is_id:
            seen.add(value)


def sheet_url(request: HttpRequest, page: Page) -> str:
    """Where the page's sheet is loaded from."""
    holder = editor_of(request).pk
    origin = visitor_origin(request, page.site.visitor_host)
    return f"{origin}/-/sheet/{passes.for_sheet(page.pk, page.revision, holder)}{page.path}"


def visit_url(request: HttpRequest, page: Page, fragment: str) -> str:
    """The way in for a visitor, leading to the page and a place on it."""
    origin = visitor_origin(request, page.site.visitor_host)
    to = quote(page.path + (f"#{fragment}" if fragment else ""), safe="")
    return f"{origin}/-/enter?pass={passes.to_enter(page.site_id, editor_of(request).pk)}&to={to}"
