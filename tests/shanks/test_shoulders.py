"""Small rounds in the shoulders: the trade's distances, geometry of the band, calls and drawing."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np
import pytest
from manifold3d import Manifold

from yarvel.drawing.primitives import Path
from yarvel.drawing.sheet import sheet
from yarvel.figures.figure import FigureKey
from yarvel.figures.rules import HouseRules
from yarvel.planning.bodies import bodies, judge, seating_of
from yarvel.planning.plan import Plan
from yarvel.planning.weighing import weighed
from yarvel.route.balance import balances, taken
from yarvel.route.running import route_of
from yarvel.shanks.shoulders import angles_deg
from yarvel.solids.bodies import FINE
from yarvel.solids.shank import finger_rod


def with_shoulders(planned: Callable[..., Plan], width: float = 3.4, **asked: Any) -> Plan:
    return planned(
        samples=0,
        fit={"method": "inset"},
        shank={"width_mm": width, "shoulder": {"diameter_mm": 1.6, "count": 3, **asked}},
    )


def test_about_one_millimetre_between_stones_and_to_the_head(planned: Callable[..., Plan]) -> None:
    """Common practice, no source."""
    made = with_shoulders(planned)
    assert made[FigureKey("shoulder.pitch")] == pytest.approx(1.6 + 1.0)
    radius = made[FigureKey("shank.inside_diameter")] / 2 + 2.0
    under_head = radius * np.arcsin(made[FigureKey("head.outer_over_claws")] / 2 / radius)
    assert made[FigureKey("shoulder.first")] - under_head == pytest.approx(1.0 + 0.8)


def test_a_little_bezel_is_wider_by_its_lips(planned: Callable[..., Plan]) -> None:
    flush, bezel = with_shoulders(planned), with_shoulders(planned, setting="bezel")
    assert bezel[FigureKey("shoulder.outer")] == pytest.approx(1.6 + 0.7)
    assert bezel[FigureKey("shoulder.pitch")] - flush[FigureKey("shoulder.pitch")] == pytest.approx(0.7)
    assert FigureKey("shoulder.outer") not in flush.figures


def test_stones_lie_the_same_on_both_sides() -> None:
    angles = angles_deg(5.0, 2.6, 3, 10.0)
    assert angles == pytest.approx([-angle for angle in reversed(angles)])
    assert np.diff(angles)[0] == pytest.approx(np.degrees(0.26))


def test_a_narrow_band_is_called_and_its_remedy_settles_it(planned: Callable[..., Plan]) -> None:
    made = with_shoulders(planned, width=2.2)
    call = next(call for call in made.diagnostics if call.code == "shoulder-thin")
    assert call.level == "caution" and call.remedy is not None
    wider = with_shoulders(planned, width=call.remedy["shank"]["width_mm"])
    assert next(call for call in wider.diagnostics if call.code == "shoulder-thin").level == "ok"


def test_a_hole_that_goes_through_is_noted(planned: Callable[..., Plan]) -> None:
    levels = {call.code: call.level for call in with_shoulders(planned, width=6.0, diameter_mm=3.9).diagnostics}
    assert levels["shoulder-through"] == "note" and levels["shoulder-too-far"] in ("ok", "caution")


def test_they_are_drawn_foreshortened_in_the_plan_view(planned: Callable[..., Plan]) -> None:
    made = with_shoulders(planned)
    drawing = sheet(made, 186, 168, grips=False)
    small = [
        np.ptp(item.points, axis=0) / drawing.scale
        for item in drawing.items
        if isinstance(item, Path)
        and item.fill == "stone"
        and item.closed
        and np.ptp(item.points[:, 1]) / drawing.scale == pytest.approx(1.6, rel=0.02)
    ]
    assert len(small) == 6
    assert all(size[0] < size[1] for size in small)


def is_metal(body: Manifold, made: Plan, angle_deg: float, across_mm: float, down_mm: float) -> bool:
    """Whether a grain this far from the middle of the band's width and under its outside is metal."""
    assert made.band is not None
    radius, turn = made.band.outside_radius - down_mm, np.radians(angle_deg)
    centre = -made[FigureKey("seat.plane_above_finger")] - made.band.inside_radius
    spot = (radius * float(np.sin(turn)), across_mm, centre + radius * float(np.cos(turn)))
    grain = Manifold.cube((0.02, 0.02, 0.02), True).translate(spot)
    return float((body ^ grain).volume()) > 0.5 * 0.02**3


def test_carved_bezels_stand_out_of_the_solid(planned: Callable[..., Plan]) -> None:
    """Common practice: a wall round every stone, the ground cut down round it from both sides, a neck from one to the
    next, a step to the head; by grains of the body."""
    made = with_shoulders(planned, setting="carved")
    built = bodies(made).parts["shank"]
    assert len(built.decompose()) == 1
    radius, pitch = made.band.outside_radius if made.band else 0.0, made[FigureKey("shoulder.pitch")]
    outer, down = made[FigureKey("shoulder.outer")], made[FigureKey("shoulder.cut_down")]
    assert outer == pytest.approx(1.6 + 0.7) and pitch == pytest.approx(outer + 1.0)
    assert made[FigureKey("shoulder.side_cut")] == pytest.approx((3.4 - 0.8) / 2)
    assert made[FigureKey("shoulder.left_under")] == pytest.approx(2.0 - down)
    first = made[FigureKey("shoulder.first")]
    at = {
        "wall": (first, outer / 2 - 0.1),
        "ground": (first + pitch / 2, 1.2),
        "neck": (first + pitch / 2, 0.2),
        "step": (first - outer / 2 - 0.5, 0.2),
        "beyond": (first + 2 * pitch + outer / 2 + 1.3, 0.2),
    }
    for way in (1.0, -1.0):
        stands = {
            name: is_metal(built, made, way * float(np.degrees(along / radius)), across, 0.5 * down)
            for name, (along, across) in at.items()
        }
        assert stands == {"wall": True, "ground": False, "neck": True, "step": False, "beyond": True}
        under = float(np.degrees(at["ground"][0] / radius)) * way
        assert is_metal(built, made, under, 1.2, down + 0.1), "cut down and no deeper"


def test_a_little_bezel_bears_its_stone(planned: Callable[..., Plan]) -> None:
    """Geometry: the tube's bore is smaller than the stone by its ledge, or the stone would fall through."""
    made = with_shoulders(planned, setting="bezel")
    tube = next(lot for lot in taken(route_of(made)) if lot.part == "bezels")
    bore = tube.across_mm - 2 * tube.wall_mm
    assert bore == pytest.approx(1.6 - 2 * 0.12 * 1.6) and bore < 1.6 < tube.across_mm
    built = bodies(made)
    assert len(built.parts["shank"].decompose()) == 1, "let in and held by the band"


@pytest.mark.parametrize("setting", ["flush", "bezel", "carved"])
@pytest.mark.parametrize("method", ["inset", "on-flat"])
def test_metal_of_the_shoulders_adds_up(setting: str, method: str, planned: Callable[..., Plan]) -> None:
    """What is drilled, carved and cut for small rounds becomes filings; holes by the volume of their rods."""
    given = {"diameter_mm": 1.6, "count": 2, "setting": setting}
    shank = {"width_mm": 3.4, "profile": "flat", "shoulder": given}
    made = weighed(planned(samples=0, fit={"method": method}, shank=shank))
    bare = weighed(planned(samples=0, fit={"method": method}, shank={**shank, "shoulder": None}))
    route = route_of(made)
    held = balances(route)[made.job.head.metal]
    assert abs(held.open) < 0.01
    assert made.volumes["shank"] < bare.volumes["shank"]
    bore = made[FigureKey("shoulder.pilot")] / 2
    rods = 4 * np.pi * bore**2 * 2.0
    if setting == "bezel":
        rods += 4 * np.pi * ((made[FigureKey("shoulder.outer")] / 2) ** 2 - bore**2) * made[FigureKey("shoulder.let")]
    assert made.volumes["bored"] == pytest.approx(rods, rel=0.06)
    taken_mm3 = sum(made.volumes[name] for name in ("bored", "carved", "small seats"))
    assert bare.volumes["shank"] - made.volumes["shank"] == pytest.approx(taken_mm3, abs=1e-6)
    parts = {key: part.volume_mm3 for key, part in route.done.parts.items()}
    if setting == "bezel":
        assert parts["bezels"] == pytest.approx(made.volumes["bezels"], rel=0.15), "but for what the saw takes"
    mass = made[FigureKey("shank.mass")]
    assert mass == pytest.approx((made.volumes["shank"] + made.volumes["bezels"]) * 15.5 / 1000, abs=1e-3)


def test_a_thin_band_cut_down_is_called(planned: Callable[..., Plan]) -> None:
    given = {"diameter_mm": 2.4, "count": 1, "setting": "carved"}
    made = planned(samples=0, fit={"method": "inset"}, shank={"width_mm": 4.2, "thickness_mm": 1.6, "shoulder": given})
    call = next(call for call in made.diagnostics if call.code == "shoulder-cut-down")
    assert call.level == "caution" and call.remedy is not None
    thicker = {"width_mm": 4.2, "shoulder": given, **call.remedy["shank"]}
    after = planned(samples=0, fit={"method": "inset"}, shank=thicker)
    assert next(call.level for call in after.diagnostics if call.code == "shoulder-cut-down") == "ok"


def test_a_little_bezel_never_reaches_the_finger(planned: Callable[..., Plan]) -> None:
    """In a thin band it is let in less deep; nothing of ring or bezel stands in the finger's round."""
    given = {"diameter_mm": 1.6, "count": 2, "setting": "bezel"}
    made = planned(samples=0, fit={"method": "on-flat"}, shank={"width_mm": 4, "thickness_mm": 1.2, "shoulder": given})
    assert made[FigureKey("shoulder.let")] == pytest.approx(0.6 * 1.2)
    seating = seating_of(made)
    assert seating is not None
    inside = (bodies(made).parts["shank"] ^ finger_rod(seating, FINE)).volume()
    assert inside == pytest.approx(0, abs=2e-3 * made.volumes.get("shank", 100.0))


@pytest.mark.parametrize(("size", "level"), [(6.5, "ok"), (20.0, "stop")])
def test_little_bezels_under_a_great_head_are_called(size: float, level: str, planned: Callable[..., Plan]) -> None:
    """A head that hangs over the shoulders stands where the bezels stand out of the band; bodies never share metal."""
    given = {"diameter_mm": 2.0, "count": 4, "setting": "bezel"}
    tube = {"style": "tube", "claw_mm": None, "notch_ratio": None, "claws": None}
    stone = {"diameters_mm": [size], "depth_mm": 0.6 * size}
    shank = {"width_mm": 5.0, "thickness_mm": 2.4, "shoulder": given}
    made = planned(samples=0, stone=stone, head=tube, shank=shank, fit={"method": "inset", "height": "lowest"})
    built = bodies(made)
    call = next(call for call in judge(made, built, HouseRules()).diagnostics if call.code == "bezel-in-head")
    assert call.level == level and (built.parts["head"] ^ built.parts["shank"]).volume() < 1e-6
