"""Whether a text that comes for a page is the page's at all (practice)."""

from __future__ import annotations

import pytest

from innerhop.core.merge import unlike
from innerhop.core.source.tree import Source

PAGE = "<title>Ice</title><p>one two three four five</p><p>six <b>seven</b></p>"


@pytest.mark.parametrize(
    ("there", "share"),
    [
        (PAGE, 1),
        ("<title>Ice</title><p>one two three", 4 / 8),
        ("<title>Not found</title><p>Sorry", 0),
        ("<p>one one one one", 1 / 8),
        ("<p>one<script>two three four</script><style>five</style>", 1 / 8),
        ("", 0),
    ],
)
def test_how_much_of_what_a_page_says_is_there(there: str, share: float) -> None:
    assert unlike.share(Source(PAGE), Source(there)) == share
    assert unlike.is_another(Source(PAGE), Source(there)) is (share < 0.1)


def test_a_page_of_few_words_tells_nothing() -> None:
    assert not unlike.is_another(Source("<p>Just a few words"), Source("<p>Not found"))
    assert unlike.is_another(Source("<p>Just a few words more"), Source("<p>Not found"))
