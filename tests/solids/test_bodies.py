"""Bodies: closed at every setting, of the right volume, drawn as the sheet draws them; trimesh is the other library."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

import numpy as np
import pytest
import shapely
import trimesh
from hypothesis import given, settings
from manifold3d import Error, Manifold

from tests.strategies import jobs
from yarvel.drawing.primitives import Drawing, Path
from yarvel.drawing.sheet import sheet
from yarvel.exchange.solid_file import parted
from yarvel.figures.figure import FigureKey
from yarvel.figures.rules import HouseRules
from yarvel.planning.bodies import bodies, judge
from yarvel.planning.job import Job
from yarvel.planning.plan import Plan, plan
from yarvel.planning.weighing import weighed
from yarvel.solids.bodies import FINE, ring, thinned
from yarvel.solids.measure import clash, silhouette, volume_mm3

RULES = HouseRules()
STONES: dict[str, dict[str, Any]] = {
    "round": {},
    "oval": {"cut": "oval", "length_mm": 8.8},
    "pear": {"cut": "pear", "length_mm": 9.1},
    "princess": {"cut": "princess", "length_mm": 6.5},
    "emerald": {"cut": "emerald", "length_mm": 9.0},
    "heart": {"cut": "heart", "length_mm": 6.4},
    "oval-cabochon": {"cut": "oval-cabochon", "length_mm": 9.0},
}


def made_with(planned: Callable[..., Plan], cut: str, **head: Any) -> Plan:
    stone = STONES[cut] and {"diameters_mm": None, "depth_mm": None, "width_mm": 6.5, **STONES[cut]}
    return planned(samples=0, stone=stone, head={"claws": None, **head}, fit={"method": "inset"})


def mesh(body: Manifold) -> trimesh.Trimesh:
    made = body.to_mesh()
    return trimesh.Trimesh(parted(np.asarray(made.vert_properties)[:, :3]), np.asarray(made.tri_verts))


@settings(max_examples=30)
@given(jobs())
def test_bodies_are_closed_at_every_setting(job: Job) -> None:
    """By manifold3d's own word and by trimesh's, once points are written as readers join them."""
    for name, body in bodies(plan(job, RULES, samples=0), fine=False).parts.items():
        assert body.status() == Error.NoError, name
        assert body.volume() > 0, name
        other = mesh(body)
        assert other.is_watertight and other.is_winding_consistent, name
        assert other.volume == pytest.approx(body.volume(), rel=2e-3, abs=2e-3), name


@pytest.mark.parametrize("cut", STONES)
def test_the_stones_body_weighs_what_the_plan_says(cut: str, planned: Callable[..., Plan]) -> None:
    made = made_with(planned, cut)
    assert volume_mm3(bodies(made).parts["stone"]) == pytest.approx(made[FigureKey("stone.volume")], rel=0.015)


@pytest.mark.parametrize("cut", STONES)
def test_no_metal_is_left_where_the_stone_lies(cut: str, planned: Callable[..., Plan]) -> None:
    made = made_with(planned, cut)
    found = clash(bodies(made), made.facts)
    assert abs(found.left_mm3) < 1e-6
    assert found.contact_mm2 > 0.5
    pieces = sorted(piece.volume() for piece in bodies(made).parts["head"].decompose())
    assert pieces[-1] > 0.99 * sum(pieces), "the head hangs together"


def test_a_tubes_body_is_that_of_two_cylinders(planned: Callable[..., Plan]) -> None:
    """Below its ledge a tube is π·(R² − r²); the closed form of every textbook."""
    made = made_with(planned, "round", style="tube", claw_mm=None, notch_ratio=None)
    level = -0.6 * made[FigureKey("head.height")]
    outer, bore = made[FigureKey("head.tube_outer")] / 2, made[FigureKey("head.inner_opening")] / 2
    area = float(bodies(made).parts["head"].slice(level).area())
    assert area == pytest.approx(np.pi * (outer**2 - bore**2), rel=0.005)


def test_a_collets_wall_is_a_frustum(planned: Callable[..., Plan]) -> None:
    made = made_with(planned, "round", style="tapered-collet", claw_mm=None, notch_ratio=None)
    made = planned(
        samples=0, head={"style": "tapered-collet", "claw_mm": None, "notch_ratio": None}, fit=None, shank=None
    )
    head = bodies(made).parts["head"]
    foot, lean = made[FigureKey("collet.foot_diameter")] / 2, np.tan(np.radians(made[FigureKey("head.half_angle")]))
    for deep in (0.3, 0.8):
        outer = foot + lean * deep
        inner = outer - made[FigureKey("head.wall_across")]
        area = float(head.slice(-made[FigureKey("head.height")] + deep).area())
        assert area == pytest.approx(np.pi * (outer**2 - inner**2), rel=0.01)


def test_rings_are_tori(planned: Callable[..., Plan]) -> None:
    """Pappus: section times the way of its middle."""
    made = made_with(planned, "oval")
    for made_ring, key in zip(bodies(made).rings, ("upper", "lower"), strict=True):
        wire = made[FigureKey("head.ring_wire")]
        assert volume_mm3(made_ring) == pytest.approx(
            np.pi / 4 * wire**2 * made[FigureKey(f"head.{key}_ring_wire_length")], rel=0.03
        )


@pytest.mark.parametrize("cut", ["round", "oval", "emerald", "pear"])
def test_there_is_one_mass_and_it_is_the_bodys(cut: str, planned: Callable[..., Plan]) -> None:
    """The mesh weighed by trimesh, another library: within 1 %, its ± as open as what drives it."""
    made = weighed(made_with(planned, cut))
    other = mesh(bodies(made).parts["head"])
    assert made[FigureKey("head.mass")] == pytest.approx(other.volume * 15.5 / 1000, rel=0.01)
    open_one = weighed(planned(samples=400, stone={"depth_mm": None, "resolution_mm": 0.1}, fit={"method": "inset"}))
    assert open_one.figures[FigureKey("head.mass")].plus_minus > 0.005


def areas(drawing: Drawing, roles: tuple[str, ...]) -> list[shapely.Polygon]:
    return [
        shapely.Polygon(item.points)
        for item in drawing.items
        if isinstance(item, Path) and item.closed and item.fill in roles and len(item.points) > 3
    ]


@pytest.mark.parametrize("cut", ["round", "oval", "emerald", "pear", "heart"])
@pytest.mark.parametrize("style", ["wire-basket", "tube"])
def test_the_sheet_draws_the_silhouette_of_the_bodies(cut: str, style: str, planned: Callable[..., Plan]) -> None:
    """What the plan view covers is what head and stone cover seen straight down."""
    head = {"style": style, "claw_mm": None, "notch_ratio": None} if style == "tube" else {"style": style}
    stone = STONES[cut] and {"diameters_mm": None, "depth_mm": None, "width_mm": 6.5, **STONES[cut]}
    made = planned(samples=0, stone=stone, head={"claws": None, **head}, shank=None, fit=None)
    drawing = sheet(made, 186, 168, grips=False)
    middle = next(text.at[1] for text in drawing.texts() if text.text.startswith("Plan"))
    right = next(text.at[0] for text in drawing.texts() if text.text.startswith("Section"))
    drawn = shapely.union_all(
        [
            area.buffer(0)
            for area in areas(drawing, ("metal", "stone"))
            if area.bounds[1] > middle and area.bounds[2] < right
        ]
    )
    parts = bodies(made).parts
    seen = shapely.union_all(
        [shapely.Polygon(loop).buffer(0) for loop in silhouette(parts["head"] + parts["stone"], (0, 0, 1))]
    )
    assert drawn.area / drawing.scale**2 == pytest.approx(seen.area, rel=0.04)


@pytest.mark.parametrize("cut", ["round", "oval", "emerald", "princess"])
def test_the_front_view_is_as_high_and_wide_as_the_bodies(cut: str, planned: Callable[..., Plan]) -> None:
    stone = STONES[cut] and {"diameters_mm": None, "depth_mm": None, "width_mm": 6.5, **STONES[cut]}
    made = planned(samples=0, stone=stone, head={"claws": None}, shank=None, fit=None)
    drawing = sheet(made, 186, 168, grips=False)
    side = next(text.at for text in drawing.texts() if text.text.startswith("Side"))
    below = next(text.at[1] for text in drawing.texts() if text.text.startswith("Plan"))
    drawn = shapely.union_all(
        [
            area.buffer(0)
            for area in areas(drawing, ("metal", "stone"))
            if area.bounds[3] < below and area.bounds[2] < side[0] + 5
        ]
    )
    parts = bodies(made).parts
    seen = shapely.union_all(
        [shapely.Polygon(loop).buffer(0) for loop in silhouette(parts["head"] + parts["stone"], (0, -1, 0))]
    )
    for place in (0, 1):
        drawn_span = (drawn.bounds[place + 2] - drawn.bounds[place]) / drawing.scale
        assert drawn_span == pytest.approx(seen.bounds[place + 2] - seen.bounds[place], rel=0.03)
    assert drawn.area / drawing.scale**2 == pytest.approx(seen.area, rel=0.09)


def test_corners_in_their_relief_lie_free(planned: Callable[..., Plan]) -> None:
    made = made_with(planned, "princess", style="v-claw")
    call = next(call for call in judge(made, bodies(made), RULES).diagnostics if call.code == "corner-room")
    assert call.level == "ok" and call.figure is not None
    assert call.figure == pytest.approx(0.15, abs=0.03)


def test_a_ring_over_the_stone_is_seen_by_the_calls(planned: Callable[..., Plan]) -> None:
    low = made_with(planned, "emerald", ring_drop_mm=0.2)
    calls = {call.code: call for call in judge(low, bodies(low), RULES).diagnostics}
    usual = made_with(planned, "emerald")
    held = {call.code: call for call in judge(usual, bodies(usual), RULES).diagnostics}
    assert calls["gallery-cut-away"].figure > held["gallery-cut-away"].figure
    assert held["pavilion-in-lower-ring"].level == "ok"
    assert held["stone-in-band"].level == "ok"
    assert {call.code for call in usual.judged([], list(held.values())).diagnostics} >= set(held)


def test_a_hearts_ring_is_its_section_along_its_path(planned: Callable[..., Plan]) -> None:
    """Pappus: mitred wire has the volume of its section times the length of its middle line."""
    made = made_with(planned, "heart")
    part = made.shape.rings[0]
    body = ring(part, made.shape.outline, FINE, round_stone=False)
    path = thinned(made.shape.outline.inset(part.inset_mm), FINE.run)
    length = float(np.linalg.norm(np.roll(path, -1, axis=0) - path, axis=1).sum())
    sides = FINE.wire
    section = sides / 2 * (part.across_mm / 2) ** 2 * math.sin(2 * math.pi / sides)
    assert len(body.decompose()) == 1
    assert volume_mm3(body) == pytest.approx(section * length, rel=1e-3)


@pytest.mark.parametrize(
    ("parts", "what"),
    [
        (
            {
                "stone": {
                    "cut": "baguette",
                    "diameters_mm": None,
                    "depth_mm": None,
                    "width_mm": 7.6,
                    "length_mm": 12.5,
                },
                "head": {"style": "bought", "stone_axis": "along-band", "height_tip_mm": 9.5, "claw_mm": None},
                "fit": {"method": "peg"},
            },
            "head",
        ),
        (
            {
                "stone": {"cut": "tapered-baguette", "diameters_mm": None, "depth_mm": None, "length_mm": 20.0},
                "head": {"style": "tube", "claw_mm": None, "stone_axis": "along-band"},
                "fit": {"method": "split-shoulder"},
            },
            "shank",
        ),
    ],
)
def test_what_falls_apart_is_a_stop(parts: dict[str, Any], what: str, planned: Callable[..., Plan]) -> None:
    """A head that the band's curve cuts through, a band whose branches end in the air: counted on the bodies."""
    wide = {"width_mm": 14.7 if what == "shank" else 7.6}
    stone = {**parts["stone"], **wide}
    head = {"claws": None, "notch_ratio": None, "orientation": None, **parts["head"]}
    made = weighed(planned(samples=0, stone=stone, head=head, fit=parts["fit"], shank={"width_mm": 3.3}))
    call = next(call for call in made.diagnostics if call.code == "falls-apart")
    assert call.level == "stop" and call.figure is not None and call.figure > 1
    assert f"the {what} falls into" in call.message
    sound = weighed(planned(samples=0))
    assert next(call.level for call in sound.diagnostics if call.code == "falls-apart") == "ok"
