"""Counts on the map: on their ribbon, in gaps between rulers, never over each other. What a
point of a curve is: SVG 2, “cubic Bézier curve commands”, by de Casteljau's steps."""

from __future__ import annotations

from itertools import combinations, pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from innerhop.screens.map.labels import Curve, MapLabels, Point, point_of

WIDE = 78.0
WHERE = st.floats(0, 1200)
CURVES = st.tuples(*[st.tuples(WHERE, WHERE)] * 4)


def halfway(one: Point, other: Point, at: float) -> Point:
    return one[0] + (other[0] - one[0]) * at, one[1] + (other[1] - one[1]) * at


@given(CURVES, st.floats(0, 1))
def test_a_point_is_where_de_casteljau_finds_it(curve: Curve, at: float) -> None:
    points = list(curve)
    while len(points) > 1:
        points = [halfway(one, other, at) for one, other in pairwise(points)]
    assert point_of(curve, at) == pytest.approx(points[0], abs=1e-6)


@given(st.lists(st.tuples(CURVES, st.integers(5, 9_999)), max_size=12),
       st.lists(WHERE, max_size=8))  # fmt: skip
def test_counts_meet_neither_rulers_nor_each_other(
    ribbons: list[tuple[Curve, int]], rulers: list[float]
) -> None:
    labels = MapLabels(rulers, WIDE)
    boxes = []
    for curve, count in ribbons:
        place = labels.place(curve, count)
        if place is not None:
            half = len(str(count)) * 3.5  # as wide as its digits at least
            boxes.append((place[0] - half, place[0] + half, place[1]))
    for left, right, _ in boxes:
        assert not any(left < one + WIDE and right > one for one in rulers)
    for (left, right, y), (other_left, other_right, other_y) in combinations(boxes, 2):
        assert right <= other_left or other_right <= left or abs(y - other_y) >= 12


def test_a_count_with_room_stands_in_the_middle_of_its_ribbon() -> None:
    curve = ((0.0, 50.0), (40.0, 50.0), (60.0, 90.0), (100.0, 90.0))
    assert MapLabels([-WIDE, 100.0], WIDE).place(curve, 12) == (50.0, 70.0)
    assert MapLabels([10.0], WIDE).place(curve, 12) is None
