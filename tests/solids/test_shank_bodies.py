"""Bodies of the shank against closed forms and trimesh: rings, tapers, gaps, holes, flats, branches; head in band."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

import numpy as np
import pytest
import trimesh
from hypothesis import given
from hypothesis import strategies as st

from tests.strategies import BUILT
from yarvel.figures.figure import FigureKey
from yarvel.planning.bodies import bodies, seating_of
from yarvel.planning.plan import Plan
from yarvel.shanks.band import FILL, Band
from yarvel.shanks.joinery import Joinery
from yarvel.solids.bodies import COARSE, FINE
from yarvel.solids.measure import reach_up_mm
from yarvel.solids.shank import Seating, round_about, saddle

WALL: dict[str, Any] = {"style": "tube", "claw_mm": None, "notch_ratio": None}
PlanMaker = Callable[..., Plan]


def mesh(body: Any) -> trimesh.Trimesh:
    made = body.to_mesh64()
    return trimesh.Trimesh(np.asarray(made.vert_properties)[:, :3], np.asarray(made.tri_verts), process=False)


def seated(band: Band, joinery: Joinery | None = None) -> Seating:
    return Seating(band, -5.0, joinery or Joinery())


@given(st.floats(14, 21), st.floats(1.5, 6), st.floats(1.0, 3.0))
def test_a_flat_ring_by_pappus(inside: float, width: float, thick: float) -> None:
    """Area of the section times the way of its middle (Pappus); a polygon of 128 sides is a little smaller."""
    body = round_about(
        seated(Band(inside_diameter_mm=inside, width_mm=width, thickness_mm=thick, profile="flat")), FINE
    )
    whole = width * thick * math.pi * (inside + thick)
    assert body.volume() == pytest.approx(whole, rel=2e-3)
    assert mesh(body).is_watertight and mesh(body).volume == pytest.approx(body.volume())


@pytest.mark.parametrize("profile", list(FILL))
@given(st.floats(14, 21), st.floats(1.5, 5), st.floats(1.0, 2.5), st.floats(1.5, 5), st.floats(1.0, 2.5))
def test_a_tapering_ring_is_whole_and_near_its_figure(
    profile: str, inside: float, width: float, thick: float, back: float, back_thick: float
) -> None:
    """Mean section times mid-line: within 6 %, for the section's middle is not the band's on rounded profiles."""
    band = Band(
        inside_diameter_mm=inside,
        width_mm=width,
        thickness_mm=thick,
        profile=profile,
        back_width_mm=back,
        back_thickness_mm=back_thick,
    )
    body = round_about(seated(band), FINE)
    assert body.status().name == "NoError" and len(body.decompose()) == 1 and mesh(body).is_watertight
    line = math.pi * (inside + band.mean_thickness)
    slack = 0.12 if profile in ("half-round", "court") else 0.06
    assert body.volume() == pytest.approx(band.section_mm2 * line, rel=slack)


def test_a_taper_seen_from_the_front_and_the_side() -> None:
    band = Band(
        inside_diameter_mm=17.0,
        width_mm=3.6,
        thickness_mm=1.4,
        profile="flat",
        back_width_mm=2.2,
        back_thickness_mm=2.0,
    )
    low, high = np.array(round_about(seated(band), FINE).bounding_box()).reshape(2, 3)
    assert high[2] == pytest.approx(-5.0 + 1.4, abs=0.01) and low[2] == pytest.approx(-5.0 - 17.0 - 2.0, abs=0.01)
    assert high[1] == pytest.approx(1.8, abs=0.01)


@pytest.mark.parametrize(("through", "style"), [(False, "blind"), (True, "through")])
def test_a_pegs_hole_takes_its_cylinder(through: bool, style: str, planned: PlanMaker) -> None:
    made = planned(samples=0, head={"style": "bought", "peg_mm": 1.2}, fit={"method": "peg", "hole": style})
    built = bodies(made)
    assert built.raw_shank is not None
    seating = seating_of(made)
    assert seating is not None
    whole = round_about(seating, FINE).volume()
    depth = 2.0 if through else made[FigureKey("shank.hole_depth")]
    assert whole - built.raw_shank.volume() == pytest.approx(math.pi * 0.36 * depth, rel=0.04)
    filled = (built.parts["head"] ^ round_about(seating, FINE)).volume()
    assert filled == pytest.approx(math.pi * 0.36 * depth, rel=0.05), "the peg fills its hole"


def test_a_flat_takes_the_segment_of_a_circle(planned: PlanMaker) -> None:
    """Area of a circle's segment over the foot's chord, times the band's width."""
    made = planned(samples=0, fit={"method": "on-flat"})
    seating = seating_of(made)
    built = bodies(made)
    assert seating is not None and built.raw_shank is not None
    radius = made[FigureKey("shank.inside_diameter")] / 2 + 2.0
    half = math.asin(made[FigureKey("head.width_at_foot")] / 2 / radius)
    segment = radius**2 / 2 * (2 * half - math.sin(2 * half))
    assert round_about(seating, FINE).volume() - built.raw_shank.volume() == pytest.approx(segment * 2.8, rel=0.08)


def test_ends_follow_a_round_head_and_the_outline_of_claws(planned: PlanMaker) -> None:
    """Beside a tube the band's ends are its own cylinder, beside claws the outline of claws and ring: volumes by
    shapely's polygons."""
    from shapely.geometry import Point, box

    tube = planned(samples=0, head=WALL, fit={"method": "inset"})
    raw = bodies(tube).raw_shank
    seating = seating_of(tube)
    assert raw is not None and seating is not None
    taken = round_about(seating, FINE).volume() - raw.volume()
    footprint = Point(0, 0).buffer(tube[FigureKey("head.tube_outer")] / 2, 64).intersection(box(-9, -1.4, 9, 1.4))
    assert taken == pytest.approx(footprint.area * 2.0, rel=0.12)
    clawed = planned(samples=0, fit={"method": "inset"})
    raw, seating = bodies(clawed).raw_shank, seating_of(clawed)
    assert raw is not None and seating is not None
    sawn = clawed[FigureKey("shank.mark_half")] + clawed[FigureKey("shank.mark_half_outside")]
    limit = (clawed[FigureKey("shank.gap_inside")] + clawed[FigureKey("shank.gap_outside")]) / 2
    taken = round_about(seating, FINE).volume() - raw.volume()
    assert 0.9 * sawn * 2.8 * 2.0 < taken < 1.1 * limit * 2.8 * 2.0
    for name, body in bodies(clawed).parts.items():
        assert name == "stone" or len(body.decompose()) == 1, name


@given(st.floats(3.4, 6.0), st.floats(4.0, 8.0))
def test_split_shoulders_are_one_body_that_bears_the_bezel(planned: PlanMaker, width: float, stone: float) -> None:
    made = planned(
        samples=0,
        stone={"diameters_mm": [round(stone, 2)], "depth_mm": None},
        head=WALL,
        shank={"width_mm": round(width, 2)},
        fit={"method": "split-shoulder"},
    )
    built = bodies(made)
    shank = built.parts["shank"]
    assert shank.status().name == "NoError" and len(shank.decompose()) == 1
    near = shank.min_gap(built.parts["head"], 1.0)
    assert near < 0.05, "the branches reach the bezel"


@BUILT
@given(st.floats(2.5, 12.0), st.integers(3, 8))
def test_claws_meet_under_the_middle(planned: PlanMaker, stone: float, claws: int) -> None:
    """The lowest points of the head lie on the axis, at the depth of the figure."""
    made = planned(
        samples=0,
        stone={"diameters_mm": [round(stone, 2)], "depth_mm": None},
        head={"claws": claws, "claw_mm": None},
        shank={"width_mm": 5.0},
        fit={"method": "basket-point", "below_ring_mm": 12.0},
    )
    head = mesh(bodies(made).parts["head"])
    low = head.vertices[head.vertices[:, 2] < head.vertices[:, 2].min() + 0.02]
    assert np.abs((low[:, :2].min(axis=0) + low[:, :2].max(axis=0)) / 2).max() < 0.05
    assert -head.vertices[:, 2].min() == pytest.approx(
        made[FigureKey("head.height")] + made[FigureKey("shank.point_depth")], abs=1e-6
    )


def test_coarse_and_fine_tell_the_same(planned: PlanMaker) -> None:
    made = planned(samples=0, head=WALL, fit={"method": "fish-mouth"}, shank={"head_width_mm": 3.4, "width_mm": 2.4})
    fine, coarse = bodies(made, True), bodies(made, False)
    for name in ("head", "shank", "stone"):
        assert coarse.parts[name].volume() == pytest.approx(fine.parts[name].volume(), rel=0.06), name


def test_a_saddle_is_the_bands_outside() -> None:
    band = Band(inside_diameter_mm=17.0, width_mm=3.0, thickness_mm=2.0, profile="flat")
    rod = saddle(seated(band), COARSE)
    high = rod.bounding_box()[3:]
    assert high[2] == pytest.approx(-3.0, abs=0.02) and high[0] == pytest.approx(10.5, abs=0.05)


def test_metal_at_twelve_is_found_or_not(planned: PlanMaker) -> None:
    in_line = bodies(planned(samples=0, shank=None, fit=None)).parts["head"]
    assert reach_up_mm(in_line, -1.2, 0.3) == pytest.approx(3.6, abs=0.3)
    square = bodies(planned(samples=0, head={"orientation": "square"}, shank=None, fit=None)).parts["head"]
    assert reach_up_mm(square, -0.2, 0.2) is None
