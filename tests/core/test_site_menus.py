"""Lists of links of many pages, put together as the menus of a site (common practice, no source;
how often that is right is measured by `bin/judge`)."""

from __future__ import annotations

import pytest

from innerhop.core.menus import site_menus, variants
from innerhop.core.menus.item_rows import ItemRow
from innerhop.core.menus.menus import BY_CLASS, WORDS
from innerhop.core.menus.site_menus import Counted, SeenMenu


def _items(labels: str, depths: str = "") -> list[ItemRow]:
    """Items by their letters."""
    deep = depths or "0" * len(labels)
    return [ItemRow(at, at, one, f"/{one}/", f"/{one}/", int(deep[at]))
            for at, one in enumerate(labels)]  # fmt: skip


def _seen(labels: str, pages: int, region: str = "header", name: str = "Main") -> Counted:
    return Counted(SeenMenu(f"{region}{labels}", region, name, _items(labels)), pages)


def _told(lists: list[Counted], count: int) -> list[list[str]]:
    """Each menu as the letters of its lists."""
    shown = site_menus.grouped(lists, count)
    return [["".join(item.label for item in one.seen.items) for one in menu.lists]
            for menu in shown]  # fmt: skip


@pytest.mark.parametrize(
    ("lists", "count", "menus"),
    [
        # a little different here and there is one menu, as most pages have it first
        ([_seen("abcd", 8), _seen("abce", 2)], 10, [["abcd", "abce"]]),
        ([_seen("abcd", 8), _seen("wxyz", 2)], 10, [["abcd"], ["wxyz"]]),
        # in another place it is another
        ([_seen("abcd", 8), _seen("abcd", 8, "footer")], 10, [["abcd"], ["abcd"]]),
        # those in the header first, then by how many pages have them
        ([_seen("abcd", 9, "footer"), _seen("wxyz", 8, "nav"), _seen("klmn", 2)], 10,
         [["klmn"], ["wxyz"], ["abcd"]]),
        ([_seen("abcd", 4), _seen("klmn", 6)], 10, [["klmn"], ["abcd"]]),
        # of one page alone it is the site's where nothing else has its place
        ([_seen("abcd", 9), _seen("klmn", 1, "nav", "Steps")], 10, [["abcd"], ["klmn"]]),
        ([_seen("abcd", 9), _seen("klmn", 1)], 10, [["abcd"]]),
        # beside the content: on enough pages, or on half of few
        ([_seen("abcd", 3, "part")], 10, [["abcd"]]),
        ([_seen("abcd", 2, "part")], 10, []),
        ([_seen("abcd", 2, "part")], 4, [["abcd"]]),
        ([_seen("abcd", 2, "part")], 5, []),
        ([_seen("abcd", 2, "part"), _seen("abce", 2, "part")], 10, []),
        # a site of one page has what that has
        ([_seen("abcd", 1, "part"), _seen("klmn", 1, "part")], 1, [["abcd"], ["klmn"]]),
        ([], 0, []),
    ],
)  # fmt: skip
def test_which_lists_are_menus(lists: list[Counted], count: int, menus: list[list[str]]) -> None:
    assert _told(lists, count) == menus


def test_on_how_many_pages_a_menu_is() -> None:
    [menu] = site_menus.grouped([_seen("abcd", 8), _seen("abce", 2)], 10)
    assert menu.pages == 10


@pytest.mark.parametrize(
    ("one", "other", "is_alike"),
    [
        (_items("abcd"), _items("abcd"), True),
        (_items("abcd"), _items("ABCD"), True),
        (_items("abcd"), _items("abcx"), True),
        (_items("abcd"), _items("abxy"), False),
        (_items("abcd"), _items("wxyz"), False),
        # what is under items may be open or not
        (_items("abcd"), _items("awxbyzcd", "01101100"), True),
        # the open page's item may be called otherwise
        (_items("ab"), [*_items("a"), _items("xy")[1]._replace(current=BY_CLASS)], True),
        (_items("abc"), [*_items("ab"), _items("xyz")[2]._replace(kind=WORDS)], True),
        ([], [], False),
    ],
)
def test_a_menu_is_known_again_by_its_words(
    one: list[ItemRow], other: list[ItemRow], is_alike: bool
) -> None:
    assert variants.is_alike(one, other) is is_alike
    assert variants.is_alike(other, one) is is_alike
