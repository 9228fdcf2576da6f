"""The round brilliant against an intersection of half-spaces, Euler's formula and the handbooks' weights."""

from __future__ import annotations

from collections import Counter

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.spatial import ConvexHull, HalfspaceIntersection

from yarvel.stones import round_brilliant as cut
from yarvel.stones.cut import solids_of
from yarvel.stones.facets import FacetSolid
from yarvel.stones.stone import Stone
from yarvel.stones.weight import by_diameter, weight_model_ct


def ideal(
    diameter: float, table: float = cut.TABLE, crown: float = 1.0, pavilion: float = 1.0, girdle: float = cut.GIRDLE
) -> Stone:
    heights = cut.TYPICAL_CROWN * crown * diameter, girdle * diameter, cut.TYPICAL_PAVILION * pavilion * diameter
    return Stone(
        length_mm=diameter,
        width_mm=diameter,
        depth_mm=sum(heights),
        crown_height_mm=heights[0],
        girdle_mm=heights[1],
        pavilion_depth_mm=heights[2],
        table_share=table,
    )


def solid_of(stone: Stone) -> FacetSolid:
    return solids_of(cut.CUT, stone)[0]


def volume(stone: Stone) -> float:
    return float(
        cut.volume_mm3(
            stone.diameter,
            stone.crown_height_mm,
            cut.crown_share(stone.table_share),
            stone.pavilion_depth_mm,
            cut.pavilion_share(),
            stone.girdle_mm,
        )
    )


def half_space_volume(stone: Stone, sides: int = 720) -> float:
    """Volume of the intersection of the facets' half-spaces, with a girdle of many planes, by SciPy."""
    solid = solid_of(stone)
    rows = []
    for name, loop in solid.facets:
        if name == "girdle":
            continue
        a, b, c = solid.points[list(loop[:3])]
        normal = np.cross(b - a, c - a)
        normal /= np.linalg.norm(normal)
        if normal @ (a - [0, 0, 0.01]) < 0:
            normal = -normal
        rows.append([*normal, -normal @ a])
    turn = np.arange(sides) * 2 * np.pi / sides
    rows += np.column_stack([np.cos(turn), np.sin(turn), 0 * turn, 0 * turn - stone.diameter / 2]).tolist()
    corners = HalfspaceIntersection(np.array(rows), np.array([0, 0, float(stone.girdle_mm) / 2])).intersections
    return float(ConvexHull(corners).volume)


def test_fifty_seven_facets() -> None:
    """33 on the crown, 24 on the pavilion (the standard round brilliant without culet facet)."""
    count = Counter(name for name, _ in solid_of(ideal(6.5)).facets)
    del count["girdle"]
    assert count == {"table": 1, "star": 8, "crown main": 8, "upper half": 16, "lower half": 16, "pavilion main": 8}
    assert sum(count.values()) == 57


@given(st.floats(0.9, 20), st.floats(0.5, 0.68), st.floats(0.8, 1.15), st.floats(0.9, 1.08))
def test_closed_form_volume_is_that_of_the_half_spaces(
    diameter: float, table: float, crown: float, pavilion: float
) -> None:
    stone = ideal(diameter, table, crown, pavilion, girdle=0.04)
    assert volume(stone) == pytest.approx(half_space_volume(stone), rel=5e-4)


@given(st.floats(0.45, 0.75), st.floats(0.7, 1.2), st.floats(0.85, 1.1), st.floats(0.02, 0.1))
def test_the_solid_is_closed_convex_and_weighs_the_same(
    table: float, crown: float, pavilion: float, girdle: float
) -> None:
    solid = solid_of(ideal(6.0, table, crown, pavilion, girdle))
    edges = Counter(frozenset(pair) for _, loop in solid.facets for pair in zip(loop, loop[1:] + loop[:1], strict=True))
    assert set(edges.values()) == {2}
    assert len(solid.points) - len(edges) + len(solid.facets) == 2
    enclosed = sum(
        float(np.dot(a, np.cross(b, c))) / 6
        for _, loop in solid.facets
        for a, b, c in (
            (solid.points[loop[0]], solid.points[p], solid.points[q]) for p, q in zip(loop[1:], loop[2:], strict=False)
        )
    )
    assert enclosed == pytest.approx(ConvexHull(solid.points).volume, rel=2e-3)
    # under a table of over two thirds the halves' scallops run past a thin girdle, which the closed form leaves out:
    # 0.55 % at the most over this range (a grid of 13 × 6 × 4 × 3 stones)
    near = 2e-3 if table <= 0.68 else 6e-3
    assert enclosed == pytest.approx(volume(ideal(6.0, table, crown, pavilion, girdle)), rel=near)


def test_a_stone_of_six_and_a_half_weighs_just_over_a_carat_both_ways() -> None:
    """Published estimation formula; 1.01 to 1.02 ct both ways is the handbook's check."""
    depth = float(ideal(6.5).depth_mm)
    assert 1.01 <= float(by_diameter(6.5, 6.5, depth, 0.0061, 3.52)) <= 1.025
    assert 1.01 <= float(weight_model_ct(volume(ideal(6.5)), 3.52)) <= 1.025


@pytest.mark.parametrize(("diameter", "carats"), [(8.3, 2.1), (5.9, 0.76)])
def test_common_weights(diameter: float, carats: float) -> None:
    """Common practice, no source."""
    stone = ideal(diameter)
    assert float(by_diameter(diameter, diameter, stone.depth_mm, 0.0061, 3.52)) == pytest.approx(carats, rel=0.03)
    assert float(weight_model_ct(volume(stone), 3.52)) == pytest.approx(carats, rel=0.03)


def test_ideal_proportions_give_the_published_depth() -> None:
    """Handbook ideals: table 57 %, crown 34.5°, pavilion 40.75°, girdle 3 % make a depth of about 61 %."""
    assert pytest.approx(0.61, abs=0.005) == cut.TYPICAL_CROWN + cut.GIRDLE + cut.TYPICAL_PAVILION


def test_arrays_and_scalars_agree() -> None:
    tables = np.array([0.5, 0.57, 0.64])
    many = cut.volume_mm3(6.0, 0.9, cut.crown_share(tables), 2.6, cut.pavilion_share(), 0.18)
    assert many == pytest.approx(
        [cut.volume_mm3(6.0, 0.9, cut.crown_share(float(table)), 2.6, cut.pavilion_share(), 0.18) for table in tables]
    )
