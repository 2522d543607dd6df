"""The order of publishing, against networkx: a second implementation of strongly connected
components and of topological generations."""

from __future__ import annotations

import random

import networkx
import pytest

from innerhop.core.live.order import order


@pytest.mark.parametrize("seed", range(40))
def test_pages_go_out_after_what_they_wait_for(seed: int) -> None:
    some = random.Random(seed)
    count = some.randint(1, 30)
    graph = networkx.gnp_random_graph(count, some.choice([0, 0.03, 0.08, 0.2]), seed, directed=True)
    waits = {page: set(graph.successors(page)) for page in graph}
    groups = networkx.condensation(graph)
    wanted = [
        {frozenset(groups.nodes[one]["members"]) for one in generation}
        for generation in networkx.topological_generations(groups.reverse())
    ]
    found = order(waits)
    assert [{frozenset(group) for group in groups} for groups in found] == wanted
    assert sum(len(group) for groups in found for group in groups) == count


def test_a_thousand_pages_that_wait_in_a_row() -> None:
    found = order({page: {page + 1} for page in range(1_000)})
    assert [groups[0] for groups in found] == [{page} for page in range(1_000, -1, -1)]
