"""A section's address to pass on: as a code to scan, and all of a page on a sheet of paper."""

from __future__ import annotations

from collections.abc import Iterator
from io import BytesIO
from typing import NamedTuple

import segno
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import render
from django.utils.safestring import SafeString, mark_safe
from django.utils.text import slugify
from django.views.decorators.http import require_safe

from innerhop.core.addresses.fragments import encode
from innerhop.library.models import Page, Site
from innerhop.screens.access import for_editors, page_of
from innerhop.screens.hand_over.downloads import download

# A code is about 3 cm wide for an address of 50 characters, which phones read at arm's length
# (common practice, no source). Around it is the quiet zone of ISO/IEC 18004: 4 modules.
_MODULE = 0.85  # mm
_DPI, _PIXELS = 300, 10  # a module in a picture: 10 px at 300 to the inch are 0.85 mm
_BORDER = 4
_KINDS = {"svg": "image/svg+xml", "png": "image/png"}
_MOST = 100  # codes on a sheet
_LONGEST = 1_200  # bytes of an address: a code of more is too fine to be read


@require_safe
@for_editors
def qr(request: HttpRequest, site: Site, pk: int, kind: str) -> HttpResponse:
    """The code of a mark's address, as a file; to be seen on a screen with `show`."""
    page, id_ = page_of(site, pk), request.GET.get("id", "")
    if kind not in _KINDS or "\0" in id_ or not page.marks.filter(value=id_).exists():
        raise Http404
    address = address_of(page, id_)
    if len(address.encode()) > _LONGEST:
        raise Http404
    data = code(address, kind)
    if "show" in request.GET:
        return HttpResponse(data, content_type=_KINDS[kind])
    return download(data, f"{slugify(id_) or 'section'}.{kind}", _KINDS[kind])


def address_of(page: Page, id_: str) -> str:
    """The whole address of a mark."""
    return f"{page.address}#{encode(id_)}"


def code(address: str, kind: str) -> bytes:
    """A QR code as a file that prints at its size. kind: `svg` or `png`."""
    made, out = segno.make_qr(address, error="m"), BytesIO()
    if kind == "png":
        made.save(out, kind="png", scale=_PIXELS, border=_BORDER, dpi=_DPI)
    else:
        made.save(out, kind="svg", scale=_MODULE, unit="mm", border=_BORDER, title=address)
    return out.getvalue()


class SheetLine(NamedTuple):
    """A section on the sheet. picture: its code, "" for none."""

    title: str
    address: str
    picture: SafeString


@require_safe
@for_editors
def addresses(request: HttpRequest, site: Site, pk: int) -> HttpResponse:
    """The addresses of all sections of a page, to be printed."""
    page = page_of(site, pk)
    sections = list(page.sections.values_list("title", "mark"))
    marked = sum(bool(mark) for _, mark in sections)
    with_codes = "plain" not in request.GET and marked <= _MOST
    context = {
        "page": page,
        "lines": list(_lines(page, sections, with_codes)),
        "unmarked": len(sections) - marked,
        "with_codes": with_codes,
        "is_long": marked > _MOST,
    }
    return render(request, "passing_on/addresses.html", context)


def _lines(page: Page, sections: list[tuple[str, str]], with_codes: bool) -> Iterator[SheetLine]:
    for title, mark in sections:
        if mark:
            address = address_of(page, mark)
            has_code = with_codes and len(address.encode()) <= _LONGEST
            # Of our own making: modules drawn as paths, no words in it.
            picture = mark_safe(_inline(address)) if has_code else SafeString("")
            yield SheetLine(title, address, picture)


def _inline(address: str) -> str:
    made = segno.make_qr(address, error="m")
    return made.svg_inline(scale=_MODULE, unit="mm", border=_BORDER, omitsize=False)
