"""The addresses of pages that came as files, as the site's own links call them: `/about` where
they say so, and not `/about.html`. Which of the two a server answers is known to whoever wrote
the links (common practice, no source)."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Mapping, Sequence

from django.db.models import Count

from innerhop.core.addresses import address_forms, urls
from innerhop.library.models import Link, Page, Site

_MOSTLY = 2 / 3  # of the links that lead to a page
_SAID = 4  # pages that are named
Calls = Counter[str]


def take(site: Site, pages: Sequence[Page]) -> list[str]:
    """Give pages that were just brought in the addresses that links call them by, where most
    agree on one. Returns lines that say so. Within the transaction in which they came."""
    calls = _calls(site, pages)
    agreed = [(page, *_agreed(calls.get(page.key, Counter()))) for page in pages if page.file]
    wanted = [one for one in agreed if _is_another(one[0], one[1])]
    stay = _would_lead_elsewhere([(page, path) for page, path, _ in wanted])
    renamed: list[tuple[Page, str, int]] = []
    for page, path, count in wanted:
        if page.pk not in stay:
            renamed.append((page, page.path, count))
            page.path = path
    Page.objects.bulk_update([page for page, _, _ in renamed], ["path"])
    return _lines(renamed)


def _calls(site: Site, pages: Sequence[Page]) -> Mapping[str, Calls]:
    """How often each path is written for a page, by the page's key. Relative addresses are
    read against pages whose own address isn't sure yet, and count for nothing."""
    keys = [page.key for page in pages if page.file]
    links = Link.objects.on_site().filter(site=site, key__in=keys, permalink=False)
    rows = links.values_list("key", "href").annotate(Count("pk")).order_by()
    found: dict[str, Calls] = defaultdict(Counter)
    for key, href, count in rows:
        read = urls.resolve(href, site.address)
        if read and address_forms.form_of(href) in (address_forms.PATH, address_forms.ABSOLUTE):
            found[key][read.path] += count
    return found


def _agreed(calls: Calls) -> tuple[str, int]:
    """The path that most links write, and how many; "" where there is none."""
    if not calls:
        return "", 0
    path, count = calls.most_common(1)[0]
    is_sure = count >= _MOSTLY * calls.total() and len(path) <= urls.LONGEST_PATH
    return (path, count) if is_sure else ("", 0)


def _is_another(page: Page, path: str) -> bool:
    """Whether that is another address than the page's own, and not the file that stands for
    its folder: readers know the folder."""
    return path not in ("", page.path) and page.path != urls.address_of_file(path)


def _would_lead_elsewhere(wanted: Sequence[tuple[Page, str]]) -> set[int]:
    """The pages, by primary key, whose relative links would lead elsewhere from there, since
    it is in another folder."""
    moving = [page for page, path in wanted
              if page.path.rpartition("/")[0] != path.rpartition("/")[0]]  # fmt: skip
    rows = Link.objects.filter(page__in=moving).values_list("page_id", "href")
    return {pk for pk, href in rows if address_forms.form_of(href) == address_forms.RELATIVE}


def _lines(renamed: Sequence[tuple[Page, str, int]]) -> list[str]:
    found = [
        f"{page.file} came in at {page.path}, not {old}: {count} "
        f"{'link calls' if count == 1 else 'links call'} it so."
        for page, old, count in renamed[:_SAID]
    ]
    left = len(renamed) - len(found)
    more = f"{left} more {'page' if left == 1 else 'pages'} came in as links call them."
    return [*found, more] if left else found
