"""Outlines of solid things against other ways to the same outline."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.spatial import ConvexHull

from yarvel.drawing.elements import head_from_side
from yarvel.drawing.model import sheet_model
from yarvel.drawing.outlines import (
    circle,
    claw_from_above,
    claw_silhouette,
    facet_normals,
    plane_section,
    reach_by_height,
    ring_silhouette,
    wall_silhouette,
)
from yarvel.drawing.primitives import Drawing, Path
from yarvel.drawing.stone_look import FRONT, SIDE, Direction
from yarvel.drawing.view import View
from yarvel.heads.places import ClawPosition
from yarvel.heads.shape import ClosedTip, WireRing, closed_profile
from yarvel.planning.bodies import bodies
from yarvel.planning.plan import Plan
from yarvel.stones import round_brilliant as cut
from yarvel.stones.cut import solids_of
from yarvel.stones.plane import outer_hull
from yarvel.stones.stone import Stone


def area(outline: np.ndarray) -> float:
    x, y = outline.T
    return 0.5 * abs(float(np.dot(x, np.roll(y, -1)) - np.dot(y, np.roll(x, -1))))


STONE = Stone(
    length_mm=6.0,
    width_mm=6.0,
    depth_mm=3.65,
    crown_height_mm=0.89,
    girdle_mm=0.18,
    pavilion_depth_mm=2.58,
    table_share=0.57,
)


@pytest.mark.parametrize("azimuth", [0.0, 11.25, 22.5, 37.0, 90.0])
def test_a_section_lies_on_the_solid(azimuth: float) -> None:
    """Every corner of the section lies on the hull of the solid, and within it: SciPy's hull equations."""
    solid = solids_of(cut.CUT, STONE)[0]
    section = plane_section(solid, azimuth)
    turn = np.radians(azimuth)
    points = np.column_stack([section[:, 0] * np.cos(turn), section[:, 0] * np.sin(turn), section[:, 1]])
    equations = ConvexHull(solid.points).equations
    off = points @ equations[:, :3].T + equations[:, 3]
    assert off.max() < 1e-7
    assert np.abs(off.max(axis=1)).max() < 1e-6


def test_normals_point_outwards_and_are_one_long() -> None:
    solid = solids_of(cut.CUT, STONE)[0]
    normals = facet_normals(solid)
    assert np.linalg.norm(normals, axis=1) == pytest.approx(1)
    for (_, loop), normal in zip(solid.facets, normals, strict=True):
        assert (solid.points @ normal <= solid.points[loop[0]] @ normal + 1e-6).all()


def test_a_hull_of_many_points_is_scipys() -> None:
    points = np.random.default_rng(4).normal(size=(300, 2))
    assert area(outer_hull(points)) == pytest.approx(ConvexHull(points).volume, rel=2e-3)


profiles = st.builds(
    lambda radius, seat, width, lean, foot: closed_profile(
        -seat * width,
        (1 - seat) * width,
        lean,
        foot,
        ClosedTip(0.03 * radius, 1.13, 0.69, min(width, 0.3 * radius), width / 2),
    ),
    st.floats(1.0, 7),
    st.floats(0.1, 0.6),
    st.floats(0.3, 0.6),
    st.floats(0, 0.4),
    st.floats(1.5, 6),
)


@given(profiles)
def test_a_profile_turned_edge_on_keeps_its_reach(profile: np.ndarray) -> None:
    least, most, heights = reach_by_height(profile)
    assert (most >= least - 1e-9).all()
    assert heights[0] == pytest.approx(profile[:, 1].min(), abs=1e-6)
    assert most.max() <= profile[:, 0].max() + 1e-9
    side = claw_silhouette((least, most, heights), 0.5, 3.0, 1.0)
    assert side[:, 0].min() == pytest.approx(3.0 + least.min())
    facing = claw_silhouette((least, most, heights), 0.5, 3.0, 0.0)
    assert np.ptp(facing[:, 0]) == pytest.approx(0.5)


@given(profiles)
def test_a_wall_looks_the_same_from_both_sides(profile: np.ndarray) -> None:
    outline = wall_silhouette(profile, -4.0, 4.0, (1.0, 1.0))
    assert sorted(outline[:, 0]) == pytest.approx(sorted(-outline[:, 0]))
    assert outline[:, 0].max() <= 4.0 + profile[:, 0].max() + 1e-9


@given(st.floats(0.5, 8), st.floats(0.2, 1.5))
def test_a_ring_edge_on_is_a_bar_with_round_ends(radius: float, wire: float) -> None:
    outline = ring_silhouette(
        -radius, radius, WireRing(name="ring", inset_mm=0.0, z_mm=-1.0, across_mm=wire, high_mm=wire)
    )
    assert np.ptp(outline[:, 0]) == pytest.approx(2 * radius + wire, rel=0.02)
    assert np.ptp(outline[:, 1]) == pytest.approx(wire)
    assert area(outline) == pytest.approx(2 * radius * wire + np.pi / 4 * wire**2, rel=0.03)
    square = ring_silhouette(
        -radius, radius, WireRing(name="ring", inset_mm=0.0, z_mm=-1.0, across_mm=wire, high_mm=wire, angular=True)
    )
    assert area(square) == pytest.approx((2 * radius + wire) * wire)
    strip = ring_silhouette(
        -radius, radius, WireRing(name="ring", inset_mm=0.0, z_mm=-1.0, across_mm=wire, high_mm=2 * wire, angular=True)
    )
    assert area(strip) == pytest.approx((2 * radius + wire) * 2 * wire)


@given(st.floats(0, 360), st.floats(0.3, 3))
def test_a_claw_from_above_reaches_from_tip_to_outside(azimuth: float, width: float) -> None:
    turn = np.radians(azimuth)
    place = ClawPosition(3.0 * float(np.cos(turn)), 3.0 * float(np.sin(turn)), azimuth)
    outline = claw_from_above(place, 1.0, 1.0, width)
    along = outline @ np.array([np.cos(turn), np.sin(turn)])
    across = outline @ np.array([-np.sin(turn), np.cos(turn)])
    assert along.max() == pytest.approx(4.0)
    assert along.min() == pytest.approx(2.0, abs=1e-6)
    assert np.ptp(across) == pytest.approx(width)


def test_circles() -> None:
    assert np.linalg.norm(circle(3.0), axis=1) == pytest.approx(3.0)
    assert area(circle(1.0, 400)) == pytest.approx(np.pi, rel=1e-3)


@pytest.mark.parametrize(("posts", "ring_in_front"), [("grooved", False), ("drilled", True)])
def test_posts_in_holes_go_into_their_ring(planned: Callable[..., Plan], posts: str, ring_in_front: bool) -> None:
    """Seen from the side a claw in a groove passes before its ring; a post in a hole is hidden by it."""
    head = {"rings": 1, "ring_section": "square", "posts": posts, "claw_mm": None}
    model = sheet_model(planned(samples=0, head=head, shank=None))
    drawing = Drawing(100.0, 100.0)
    head_from_side(View(drawing, (50.0, 50.0), 1.0), model, FRONT)
    metal = [item for item in drawing.items if isinstance(item, Path) and item.fill == "metal"]
    widths = [float(np.ptp(item.points[:, 0])) for item in metal]
    assert (int(np.argmax(widths)) == len(metal) - 1) == ring_in_front


@pytest.mark.parametrize(
    ("cut", "length", "width"), [("pear", 11.3, 7.2), ("marquise", 9.4, 4.4), ("princess", 5.2, 5.2)]
)
@pytest.mark.parametrize("direction", [FRONT, SIDE])
def test_a_ring_that_is_slotted_for_a_v_ends_at_the_v(
    planned: Callable[..., Plan], cut: str, length: float, width: float, direction: Direction
) -> None:
    """Seen from the side the drawn ring does not reach past the closed bodies as they are cut at its height."""
    stone = {"cut": cut, "diameters_mm": None, "depth_mm": None, "length_mm": length, "width_mm": width}
    head = {"rings": 1, "ring_section": "square", "posts": "drilled", "claw_mm": None}
    made = planned(samples=0, stone=stone, head=head, shank=None)
    drawing = Drawing(100.0, 100.0)
    head_from_side(View(drawing, (50.0, 50.0), 1.0), sheet_model(made), direction)
    (bar,) = [item.points[:, 0] - 50.0 for item in drawing.items if isinstance(item, Path) and len(item.points) == 4]
    level = np.vstack(bodies(made).bare.slice(made.shape.rings[0].z_mm).to_polygons()) @ np.array(direction.right[:2])
    assert level.min() - 0.03 < bar.min() < bar.max() < level.max() + 0.03
