"""Every cut: its outline against Shapely, its bodies against SciPy and trimesh, its weight against the handbooks."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable

import numpy as np
import pytest
import shapely
import trimesh
from hypothesis import example, given
from hypothesis import strategies as st
from scipy.spatial import ConvexHull

from tests.strategies import stones
from yarvel.figures.figure import FigureKey
from yarvel.planning.plan import Plan
from yarvel.stones.cut import Cut, Girth, shares
from yarvel.stones.cuts import CUTS
from yarvel.stones.facets import FacetSolid, Heights
from yarvel.stones.outline import Outline

LONG = [cut for cut in CUTS.values() if not cut.is_round]
EACH = pytest.mark.parametrize("cut", CUTS.values(), ids=list(CUTS))
TYPICAL = {"marquise": 2.0, "baguette": 2.2, "tapered-baguette": 2.2, "heart": 1.0, "trillion": 1.0}
"""Usual length over width where it is neither 1 (square cuts) nor 1.4; common practice, no source."""
PUBLISHED = {
    "pear": ((1.25, 0.00615), (1.50, 0.0060), (1.66, 0.0059), (2.00, 0.00575)),
    "marquise": ((1.5, 0.00565), (2.0, 0.0058), (2.5, 0.00585), (3.0, 0.00595)),
    "emerald": ((1.0, 0.0080), (1.5, 0.0092), (2.0, 0.0100), (2.5, 0.0106)),
    "princess": ((1.0, 0.0083),),
    "trillion": ((1.0, 0.0057),),
    "heart": ((1.0, 0.0059),),
}
"""Weight factors of the standard gemmological estimation formulas, by length over width."""


def girth(cut: Cut, aspect: float | None = None, width: float = 6.3) -> Girth:
    usual = 1.0 if cut.square or cut.is_round else TYPICAL.get(cut.key, 1.4)
    return Girth(width * (usual if aspect is None else aspect), width, cut.corner * width, cut.narrow * width)


def typical(cut: Cut, width: float = 6.3) -> Heights:
    return Heights(cut.crown * width, cut.girdle * width, cut.pavilion * width, cut.table)


def polygon(outline: Outline) -> shapely.Polygon:
    return shapely.Polygon(outline.points)


def solids(cut: Cut, at: Girth, heights: Heights) -> list[FacetSolid]:
    return [body.solid() for body in cut.bodies(cut.outline(at), heights)]


@EACH
def test_an_outline_is_as_long_and_wide_as_it_was_measured(cut: Cut) -> None:
    at = girth(cut)
    outline = cut.outline(at)
    assert np.ptp(outline.points, axis=0) == pytest.approx([at.width_mm, at.length_mm], rel=1e-6)
    shape = polygon(outline)
    assert shape.is_valid and shape.contains(shapely.Point(0, 0))
    assert outline.area == pytest.approx(shape.area)
    assert outline.perimeter == pytest.approx(shape.length)
    first, second = outline.perimeter_shares
    assert first * at.width_mm + second * at.length_mm == pytest.approx(shape.length)


@EACH
def test_an_outline_moved_inwards_is_shapelys(cut: Cut) -> None:
    """Shapely's mitred buffer is the independent reference; the perimeter falls by the turn's sum."""
    outline = cut.outline(girth(cut))
    moved = outline.inset(0.4)
    reference = polygon(outline).buffer(-0.4, join_style="mitre", mitre_limit=20)
    assert shapely.Polygon(moved).symmetric_difference(reference).area < 0.004 * reference.area
    assert outline.perimeter - 0.4 * outline.turn_sum == pytest.approx(reference.length, rel=0.004)


@pytest.mark.parametrize("cut", LONG, ids=[cut.key for cut in LONG])
@given(st.floats(0, 360))
@example(89.9999999)
@example(270.00000001)
def test_the_radius_at_an_azimuth_lies_on_the_outline(cut: Cut, azimuth: float) -> None:
    outline = cut.outline(girth(cut))
    reach = float(outline.radius(azimuth)[0])
    turn = np.radians(azimuth)
    spot = shapely.Point(reach * np.cos(turn), reach * np.sin(turn))
    assert polygon(outline).boundary.distance(spot) < 1e-6
    assert reach <= float(outline.support(azimuth)) + 1e-9


@EACH
def test_bodies_are_closed_convex_and_weigh_what_their_shares_say(cut: Cut) -> None:
    """Volume by SciPy's hull and by trimesh; Euler's formula; every edge between two facets."""
    at, heights = girth(cut), typical(cut)
    hulls = 0.0
    for solid in solids(cut, at, heights):
        edges = Counter(
            frozenset(pair) for _, loop in solid.facets for pair in zip(loop, loop[1:] + loop[:1], strict=True)
        )
        assert set(edges.values()) == {2}
        assert len(solid.points) - len(edges) + len(solid.facets) == 2
        hull = ConvexHull(solid.points)
        assert solid.volume == pytest.approx(hull.volume, rel=2e-3)
        assert abs(trimesh.convex.convex_hull(solid.points).volume) == pytest.approx(hull.volume, rel=1e-6)
        hulls += hull.volume
    if cut.key == "round":
        return
    part = shares(cut, at)
    box = at.length_mm * at.width_mm
    by_shares = box * (
        heights.crown * float(part.crown(heights.table)) + heights.pavilion * part.pavilion + heights.girdle * part.area
    )
    assert by_shares == pytest.approx(hulls, rel=0.02)


@EACH
def test_formula_and_model_agree_at_typical_proportions(cut: Cut, planned: Callable[..., Plan]) -> None:
    """Standard estimation formulas against the model's volume: within 6 % (radiant, cushion, baguette: from memory)."""
    at = girth(cut)
    measures = (
        {"diameters_mm": [at.width_mm]}
        if cut.is_round
        else {"diameters_mm": None, "length_mm": round(at.length_mm, 2), "width_mm": at.width_mm}
    )
    plan = planned(
        stone={"cut": cut.key, "depth_mm": None, **measures},
        head={"style": "tube", "claw_mm": None, "notch_ratio": None},
    )
    assert plan[FigureKey("stone.weight_model")] == pytest.approx(plan[FigureKey("stone.weight_formula")], rel=0.06)


@pytest.mark.parametrize(("key", "aspect", "factor"), [(key, *row) for key, rows in PUBLISHED.items() for row in rows])
def test_published_factors_are_met_by_formula_and_by_model(key: str, aspect: float, factor: float) -> None:
    cut = CUTS[key]
    at, heights = girth(cut, aspect), typical(cut)
    depth = heights.crown + heights.girdle + heights.pavilion
    by_formula = at.length_mm * at.width_mm * depth * factor
    assert float(cut.weight_factor(aspect)) == pytest.approx(factor)
    volume = sum(solid.volume for solid in solids(cut, at, heights))
    assert volume * 3.52 / 200 == pytest.approx(by_formula, rel=0.06)


def test_a_cabochon_is_half_an_ellipsoid() -> None:
    """Published: L·W·depth × SG × 0.0026 carats; half an ellipsoid is π/6 of its box."""
    cut = CUTS["oval-cabochon"]
    at = Girth(14.0, 10.0)
    body = solids(cut, at, Heights(5.0, 1e-6, 0.0, 0.0))[0]
    assert body.volume == pytest.approx(np.pi / 6 * 14 * 10 * 5, rel=0.02)
    assert pytest.approx(np.pi / 6, rel=0.01) == 0.0026 * 200


def test_a_plain_pyramid_is_a_fifth_too_light_for_a_princess() -> None:
    """Common practice: its chevrons start steep at the girdle."""
    cut = CUTS["princess"]
    part = shares(cut, girth(cut))
    assert 1 / 3 / part.pavilion == pytest.approx(0.8, abs=0.05)


def test_step_cuts_have_three_tiers_a_side_and_keep_their_corners() -> None:
    cut = CUTS["emerald"]
    names = Counter(name for name, _ in solids(cut, girth(cut), typical(cut))[0].facets)
    assert names == {"table": 1, "step": 48, "girdle": 8}
    assert len(CUTS["princess"].outline(girth(CUTS["princess"])).corners) == 4
    assert [len(CUTS[key].outline(girth(CUTS[key])).corners) for key in ("pear", "marquise", "heart", "trillion")] == [
        1,
        2,
        1,
        3,
    ]


def test_a_heart_is_two_convex_halves_that_mirror_each_other() -> None:
    cut = CUTS["heart"]
    right, left = solids(cut, girth(cut), typical(cut))
    assert right.points[:, 0].min() == pytest.approx(0, abs=1e-6)
    assert right.volume == pytest.approx(left.volume)
    assert cut.outline(girth(cut)).cleft


@given(st.data())
def test_every_measured_proportion_is_kept(planned: Callable[..., Plan], data: st.DataObject) -> None:
    """Of any cut and any measures that it accepts."""
    cut = data.draw(st.sampled_from(LONG))
    stone = data.draw(stones(cut))
    stone["depth_mm"] = None
    plan = planned(
        samples=50,
        stone={"diameters_mm": None, "depth_mm": None, **stone},
        head={"style": "tube", "claw_mm": None, "notch_ratio": None},
    )
    assert plan[FigureKey("stone.length")] == stone["length_mm"] and plan[FigureKey("stone.width")] == stone["width_mm"]
    if stone["girdle_mm"] is not None:
        assert plan[FigureKey("stone.girdle")] == stone["girdle_mm"]
    assert plan[FigureKey("stone.weight_model")] > 0
    assert plan.figures[FigureKey("stone.weight_model")].plus_minus > 0


def test_a_square_stone_that_is_not_square_is_to_be_marked(planned: Callable[..., Plan]) -> None:
    """Common practice: 4.2 × 4.1 is the usual case."""
    plan = planned(
        stone={"cut": "princess", "diameters_mm": None, "depth_mm": None, "length_mm": 4.2, "width_mm": 4.1},
        head={"style": "v-claw", "claw_mm": 0.8},
    )
    call = next(call for call in plan.diagnostics if call.code == "mark-orientation")
    assert call.level == "note" and "4.20 by 4.10" in call.message
    assert plan[FigureKey("stone.out_of_square")] == pytest.approx(0.1 / 4.15)
