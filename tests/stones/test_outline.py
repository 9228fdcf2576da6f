"""Outlines: offsets that close up, reach at corners, turning; Shapely is the reference."""

from __future__ import annotations

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from yarvel.stones.cut import Girth, shares
from yarvel.stones.cuts import CUTS
from yarvel.stones.outline import Outline, curve
from yarvel.stones.shapes import cut_corners, superellipse

SQUARE = Outline(np.array([(1.0, 1.0), (-1.0, 1.0), (-1.0, -1.0), (1.0, -1.0)]) * 3)


def polygon(points: np.ndarray) -> shapely.Polygon:
    return shapely.Polygon(points)


@given(st.floats(-1.5, 2.4))
def test_a_square_stays_a_square(distance: float) -> None:
    assert polygon(SQUARE.inset(distance)).area == pytest.approx((6 - 2 * distance) ** 2)


@given(st.floats(2.2, 6), st.floats(0.1, 2.2))
def test_corners_tighter_than_the_offset_close_up(power: float, distance: float) -> None:
    """Where an edge vanishes the outline is the intersection of its half-planes; Shapely's buffer agrees."""
    outline = superellipse(Girth(7.0, 5.6), power)
    reference = polygon(outline.points).buffer(-distance, join_style="mitre", mitre_limit=30)
    made = polygon(outline.inset(distance))
    assert made.is_valid
    assert made.symmetric_difference(reference).area < 0.01 * reference.area + 1e-3


def test_an_inset_never_eats_the_whole_outline() -> None:
    made = polygon(SQUARE.inset(50.0))
    assert made.area == pytest.approx((6 - 5.4) ** 2)


def test_reach_is_lost_faster_at_a_corner() -> None:
    """Along the bisector of a right angle an inset of 1 takes √2."""
    assert SQUARE.loss(0.0) == pytest.approx(1.0)
    assert SQUARE.loss(45.0) == pytest.approx(np.sqrt(2))


@given(st.floats(-360, 360))
def test_turning_keeps_area_and_turns_reach(angle: float) -> None:
    outline = CUTS["pear"].outline(Girth(9.0, 6.0))
    turned = outline.turned(angle)
    assert turned.area == pytest.approx(outline.area)
    assert float(turned.support(90.0 + angle)) == pytest.approx(float(outline.support(90.0)), abs=1e-6)


def test_the_turn_sum_of_a_curve_is_a_full_turn_and_of_a_square_eight() -> None:
    assert superellipse(Girth(6.0, 6.0), 2.0).turn_sum == pytest.approx(2 * np.pi, rel=1e-3)
    assert SQUARE.turn_sum == pytest.approx(8.0)


@given(st.floats(0.3, 2.0))
def test_a_cut_corner_is_as_long_as_it_was_measured(corner: float) -> None:
    outline = cut_corners(Girth(8.0, 6.0, corner))
    assert sorted(outline.lengths)[:4] == pytest.approx([corner] * 4)


def test_a_curve_drops_repeats_and_runs_counter_clockwise() -> None:
    made = curve([(0, 0), (0, 0), (0, 1), (1, 1), (1, 0)])
    assert len(made) == 4 and Outline(made).area == pytest.approx(1.0)


@given(st.sampled_from(["oval", "emerald", "princess", "trillion"]), st.floats(0.4, 0.85))
def test_volume_shares_follow_the_table(key: str, table: float) -> None:
    """A larger table leaves more crown, by at most all of the outline's area."""
    cut = CUTS[key]
    part = shares(cut, Girth(6.0 if cut.square else 7.2 if key != "trillion" else 6.0, 6.0, cut.corner * 6))
    assert float(part.crown(table)) < float(part.crown(table + 0.05)) < part.area
    many = part.crown(np.array([table, 0.6]))
    assert many == pytest.approx([float(part.crown(table)), float(part.crown(0.6))])
