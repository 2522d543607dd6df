"""The table of rules: to add one is to add its file and a line here. Rules of other packages
stand behind ours (see `installed`)."""

from __future__ import annotations

from innerhop.core.findings import installed
from innerhop.core.findings.broken import (
    hidden_end,
    id_in_class,
    menu_hash,
    moved_page,
    near_id,
    near_page,
    no_hash,
    no_id,
    no_page,
    space_or_capital,
    two_hashes,
    unmarked_section,
    words_gone,
)
from innerhop.core.findings.found import Rule
from innerhop.core.findings.links import addresses, base_leaves, new_tab, no_place, words
from innerhop.core.findings.marks import ids
from innerhop.core.findings.pages import contents, headings, menus, places

# Kinds of broken hop, in this order: a hop is of the first kind that knows it.
_BROKEN_HOPS = (
    no_hash.RULE,
    hidden_end.RULE,
    words_gone.RULE,
    base_leaves.RULE,
    menu_hash.RULE,
    two_hashes.RULE,
    id_in_class.RULE,
    space_or_capital.RULE,
    space_or_capital.RULE_OF_ID,
    unmarked_section.RULE,
    near_id.RULE,
    unmarked_section.RULE_OF_WORDS,
    no_id.RULE,
    moved_page.RULE,
    near_page.RULE,
    no_page.RULE,
)
# What is found by looking at a page as a whole.
_OTHERS = (
    base_leaves.RULE,
    no_place.EMPTY_ADDRESS,
    ids.SPACED,
    ids.HASHED,
    places.LANDINGS["shut"],
    ids.TWICE,
    ids.TWICE_SHARED,
    new_tab.WITHIN,
    no_place.HASH_ALONE,
    no_place.SCRIPT,
    words_gone.RULE_OF_TWO,
    addresses.PREVIEW,
    contents.OFF,
    contents.ELSEWHERE,
    menus.RULE,
    words.VAGUE,
    words.NO_WORDS,
    places.BELOW,
    places.LANDINGS["covered"],
    places.LANDINGS["cut"],
    places.LANDINGS["gap"],
    headings.NO_LANGUAGE,
    words.SAME,
    new_tab.UNSAID,
    addresses.WHOLE,
    addresses.HTTP,
    ids.EMPTY,
    ids.GENERATED,
    headings.UNMARKED,
    headings.SKIPPED,
    headings.LINE,
    contents.NO_LIST,
    contents.NO_WAY_BACK,
    places.SPACERS,
    ids.UNUSED,
)
_INSTALLED = installed.rules({rule.name for rule in (*_BROKEN_HOPS, *_OTHERS)})
BROKEN_HOPS = (*(rule for rule in _INSTALLED if rule.recognise), *_BROKEN_HOPS)
OTHERS = (*_OTHERS, *(rule for rule in _INSTALLED if rule.find))
# What these tell depends on which IDs a page has that no hop leads to: the address means it.
OF_MEANT_PAGES = tuple(
    rule for rule in OTHERS if rule.asks is None or {"page", "ids"} <= {*rule.asks}
)
# What is asked of the site for broken hops; None for whatever there is to ask.
_ASKED = [rule.asks for rule in BROKEN_HOPS]
ASKED_FOR_HOPS = None if None in _ASKED else frozenset(one for some in _ASKED for one in some or ())
RULES: dict[str, Rule] = {rule.name: rule for rule in (*BROKEN_HOPS, *OTHERS)}
