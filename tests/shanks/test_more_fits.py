"""Fish-mouth, peg, basket point, split shoulders, tapering bands: geometry by other means, limits, bodies."""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.integrate import dblquad, quad

from yarvel.figures.errors import JobError
from yarvel.figures.figure import FigureKey
from yarvel.figures.rules import HouseRules
from yarvel.planning.bodies import bodies, judge
from yarvel.planning.plan import Plan
from yarvel.route.running import route_of
from yarvel.shanks.band import Band
from yarvel.shanks.basket_point import point_angle_deg, point_depth_mm
from yarvel.shanks.blanks import sagitta_mm
from yarvel.shanks.developments import saddle_on_cone, saddle_on_tube, sector

PlanMaker = Callable[..., Plan]
WALL = {"style": "tube", "claw_mm": None, "notch_ratio": None}
METHODS: list[tuple[str, dict[str, object]]] = [
    ("on-flat", {}),
    ("inset", {}),
    ("inset", WALL),
    ("inset", {**WALL, "style": "tapered-collet"}),
    ("let-in", WALL),
    ("let-in", {**WALL, "style": "tapered-collet"}),
    ("let-in", {**WALL, "style": "tapered-collet", "cut": "claws"}),
    ("let-in", {"style": "applied-collet"}),
    ("fish-mouth", WALL),
    ("fish-mouth", {**WALL, "style": "tapered-collet"}),
    ("peg", {"style": "bought", "made_for_mm": 6.5}),
    ("basket-point", {}),
    ("split-shoulder", WALL),
    ("split-shoulder", {**WALL, "style": "tapered-collet"}),
    ("split-shoulder", {"rings": 2}),
]


def test_claws_six_long_on_a_radius_of_two() -> None:
    """Geometry: a right triangle of 6 and 2; the angle by its sine."""
    assert float(point_depth_mm(6.0, 2.0)) == pytest.approx(math.sqrt(32))
    assert math.sin(math.radians(float(point_angle_deg(6.0, 2.0)) / 2)) == pytest.approx(2 / 6)


@pytest.mark.parametrize(("method", "head"), METHODS)
@pytest.mark.parametrize("height", [None, 7.5])
def test_heights_add_up_from_finger_to_seat(
    method: str, head: dict[str, object], height: float | None, planned: PlanMaker
) -> None:
    made = planned(
        samples=0,
        head=head,
        shank={"width_mm": 4.0},
        fit={"method": method, "height": "lowest" if height is None else height},
    )
    if method in ("inset", "split-shoulder"):
        assert made[FigureKey("seat.plane_above_finger")] == pytest.approx(
            made[FigureKey("head.height")] - made[FigureKey("seat.finger_sagitta")]
        )
    elif method == "basket-point":
        assert made[FigureKey("seat.plane_above_finger")] == pytest.approx(
            2.0
            - made[FigureKey("shank.hole_depth")]
            + made[FigureKey("shank.point_depth")]
            + made[FigureKey("head.height")]
        )
    else:
        keys = (FigureKey(f"shank.{name}") for name in ("flat_depth", "let_depth", "saddle_depth"))
        taken = next(made.figures[key] for key in keys if key in made.figures)
        assert made[FigureKey("seat.plane_above_finger")] == pytest.approx(
            2.0 - taken.value + made[FigureKey("head.height")]
        )
    if height is not None and method != "basket-point":
        assert made[FigureKey("seat.plane_above_finger")] == pytest.approx(height)


@pytest.mark.parametrize(("method", "head"), METHODS)
def test_lowest_is_decided_by_what_is_named(method: str, head: dict[str, object], planned: PlanMaker) -> None:
    """The greatest of the conditions is the height that is made, and the culet never comes nearer than the house's
    least."""
    made = planned(samples=0, head=head, shank={"width_mm": 4.0}, fit={"method": method})
    assert made[FigureKey("head.height")] == pytest.approx(max(made.conditions.values()))
    assert made[FigureKey("seat.culet_clearance")] >= 0.3 - 1e-6
    call = next(call for call in made.diagnostics if call.code == "height-decided")
    assert call.figure == pytest.approx(made[FigureKey("head.height")])


def test_a_fish_mouth_spares_the_band_what_a_flat_takes(planned: PlanMaker) -> None:
    saddled, flat = (planned(samples=0, head=WALL, fit={"method": method}) for method in ("fish-mouth", "on-flat"))
    assert saddled[FigureKey("shank.saved_by_hollowing")] == pytest.approx(flat[FigureKey("shank.flat_depth")])
    assert FigureKey("shank.left_under_flat") not in saddled.figures
    assert saddled[FigureKey("shank.blank_length")] == flat[FigureKey("shank.blank_length")]


@given(st.floats(7, 14), st.floats(0.15, 0.85))
def test_the_unrolled_saddle_is_as_long_as_the_curve_in_space(outside: float, share: float) -> None:
    """A development keeps lengths: the flat curve against the integral along the cut in space (scipy.quad)."""
    radius = share * outside
    flat = saddle_on_tube(
        Band(inside_diameter_mm=2 * (outside - 1.5), width_mm=30.0, thickness_mm=1.5, profile="flat"), radius, 4001
    )
    drawn = float(np.hypot(*np.diff(flat, axis=0).T).sum())

    def speed(turn: float) -> float:
        along = radius * math.cos(turn)
        slope = along * (-radius * math.sin(turn)) / math.sqrt(outside**2 - along**2)
        return math.hypot(radius, slope)

    assert drawn == pytest.approx(quad(speed, 0, 2 * math.pi, limit=200)[0], rel=1e-5)
    assert flat[0, 1] == pytest.approx(float(sagitta_mm(outside, 2 * radius)))
    assert flat[1000, 1] == pytest.approx(0.0, abs=1e-9)


@given(st.floats(8, 14), st.floats(1.2, 4), st.floats(3, 20))
def test_the_collets_saddle_lies_on_band_and_cone(outside: float, foot: float, half: float) -> None:
    """Every point of the cut on both surfaces, by coordinates; developed lengths kept to the cone's apex."""
    curve = saddle_on_cone(
        Band(inside_diameter_mm=2 * (outside - 1.5), width_mm=30.0, thickness_mm=1.5, profile="flat"), foot, half, 73
    )
    sin, cos = math.sin(math.radians(half)), math.cos(math.radians(half))
    turn, slant = np.radians(curve[:, 0]), curve[:, 1]
    reach = foot + slant * sin
    crest = outside - math.sqrt(outside**2 - foot**2)
    height = slant * cos + (outside - crest)
    assert np.hypot(reach * np.cos(turn), height) == pytest.approx(np.full(73, outside), abs=1e-6)
    laid = sector(foot / sin, 360 * sin, curve[:, 0], slant)
    assert np.hypot(*laid.T) == pytest.approx(foot / sin + slant)


@given(st.floats(45, 66), st.floats(1.5, 5), st.floats(1.2, 3), st.floats(1.5, 5), st.floats(1.2, 3))
def test_a_tapering_band_by_integration(
    size: float, width: float, thick: float, back: float, back_thick: float
) -> None:
    """Mean section and mid-line by numerical integration along the arc (scipy.quad)."""
    band = Band(
        inside_diameter_mm=size / math.pi,
        width_mm=width,
        thickness_mm=thick,
        profile="flat",
        back_width_mm=back,
        back_thickness_mm=back_thick,
    )
    mean = quad(lambda turn: float(band.width_at(turn)) * float(band.thickness_at(turn)), 0, 180)[0] / 180
    assert band.section_mm2 == pytest.approx(mean)
    line = 2 * quad(lambda turn: band.inside_radius + float(band.thickness_at(turn)) / 2, 0, 180)[0] * math.pi / 180
    assert math.pi * (band.inside_diameter_mm + band.mean_thickness) == pytest.approx(line)


@pytest.mark.parametrize(("method", "head"), METHODS)
def test_bodies_of_every_method_are_whole(
    method: str, head: dict[str, object], planned: PlanMaker, rules: HouseRules
) -> None:
    """Head and shank closed, in one piece each, hardly in each other; masses near those of the figures."""
    made = planned(samples=0, head=head, shank={"width_mm": 4.0, "head_thickness_mm": 1.7}, fit={"method": method})
    built = bodies(made)
    for name in ("head", "shank"):
        assert built.parts[name].status().name == "NoError"
        assert len(built.parts[name].decompose()) == 1, name
    assert (built.parts["head"] ^ built.parts["shank"]).volume() < 1e-6
    report = {figure.key: figure.value for figure in judge(made, built, rules).figures}
    volume = built.parts["shank"].volume()
    assert report["shank.mass"] == pytest.approx(volume * 15.5 / 1000), "one mass: that of the body"


@pytest.mark.parametrize("width", [2.2, 4.0, 10.0])
@pytest.mark.parametrize("depth", [None, 1.4])
def test_a_recess_takes_what_stands_in_the_tubes_way(width: float, depth: float | None, planned: PlanMaker) -> None:
    """The metal taken by the recess: the band over its floor within the tube's circle, integrated by scipy.dblquad; the
    saw's marks lie on the circle at the band's edges."""
    shank = {"width_mm": width, "thickness_mm": 2.4, "profile": "flat"}
    fit = {"method": "let-in", "let_mm": depth}
    made = planned(samples=0, head=WALL, shank=shank, fit=fit)
    radius, let = made[FigureKey("head.tube_outer")] / 2, made[FigureKey("shank.let_depth")]
    assert let == pytest.approx(1.2 if depth is None else 1.4)
    band = made.band
    assert band is not None
    floor, half = band.outside_radius - let, min(width / 2, radius)
    taken = dblquad(
        lambda x, _y: math.sqrt(band.outside_radius**2 - x**2) - floor,
        -half,
        half,
        lambda y: -math.sqrt(radius**2 - y**2),
        lambda y: math.sqrt(radius**2 - y**2),
    )[0]
    built = bodies(made)
    whole = math.pi * (band.outside_radius**2 - band.inside_radius**2) * width
    assert built.raw_shank is not None
    assert whole - built.raw_shank.volume() == pytest.approx(taken, rel=0.01, abs=0.002 * whole)
    assert built.parts["shank"].bounding_box()[5] <= made[FigureKey("shank.let_depth")] - made.shape.height_mm + 1e-6
    if width < 2 * radius:
        assert made[FigureKey("shank.let_mark")] ** 2 + (width / 2) ** 2 == pytest.approx(radius**2)
        assert made[FigureKey("shank.let_limit")] == pytest.approx(radius)
    else:
        assert made[FigureKey("shank.beside_head")] == pytest.approx(width / 2 - radius, abs=2e-3)
    level = {call.code: call.level for call in made.diagnostics}
    assert level["band-thinned"] == ("ok" if made[FigureKey("shank.left_under_let")] >= 1.0 else "caution")


@pytest.mark.parametrize(("depth", "code"), [(0.3, "let-in-too-shallow"), (2.4, "band-thinned")])
def test_a_depth_that_no_foot_stands_at_is_a_stop(depth: float, code: str, planned: PlanMaker) -> None:
    """Too little: the chord of the foot on the band's circle is longer than the floor; too much: no band is left."""
    fit = {"method": "let-in", "let_mm": depth}
    made = planned(samples=0, head=WALL, shank={"thickness_mm": 2.4}, fit=fit)
    call = next(call for call in made.diagnostics if call.code == code)
    assert call.level == "stop" and call.remedy == {"fit": {"let_mm": None}}
    assert made.band is not None
    floor = made.band.outside_radius - depth
    chord = 2 * math.sqrt(made.band.outside_radius**2 - floor**2)
    assert (chord < made[FigureKey("head.tube_outer")]) == (code == "let-in-too-shallow")


@pytest.mark.parametrize("profile", ["half-round", "court", "flat"])
@pytest.mark.parametrize("width", [3.0, 9.0])
def test_a_fish_mouth_follows_the_bands_profile(profile: str, width: float, planned: PlanMaker) -> None:
    """On the template every point of the curve lies on the band's own section, an ellipse's top on upright sides; the
    body's foot lies on it too."""
    thick = 1.8
    shank = {"profile": profile, "width_mm": width, "thickness_mm": thick}
    made = planned(samples=0, head=WALL, shank=shank, fit={"method": "fish-mouth"})
    assert made.band is not None
    radius = made[FigureKey("head.tube_outer")] / 2
    curve = saddle_on_tube(made.band, radius, 3601)
    turn = curve[:, 0] / radius
    rounded = {"half-round": 0.8, "court": 0.35, "flat": 0.0}[profile] * thick
    across = np.minimum(np.abs(radius * np.sin(turn)), width / 2)
    outside = made.band.outside_radius - rounded * (1 - np.sqrt(1 - (across / (width / 2)) ** 2))
    height = made.band.outside_radius - curve[:, 1]
    assert np.hypot(height, radius * np.cos(turn)) == pytest.approx(outside, abs=1e-6)
    assert made[FigureKey("shank.saddle_depth")] == pytest.approx(curve[:, 1].max(), abs=0.01)
    built = bodies(made)
    assert (built.parts["head"] ^ built.parts["shank"]).volume() < 1e-6
    assert built.parts["head"].min_gap(built.parts["shank"], 0.5) < 0.02


def test_a_head_sinks_into_its_fish_mouth_without_a_gap(planned: PlanMaker) -> None:
    """The hollowed foot lies on the band: no point of the head is inside the band's rod, and it touches it."""
    made = planned(samples=0, head=WALL, shank={"width_mm": 9.0}, fit={"method": "fish-mouth"})
    head = bodies(made).parts["head"]
    points = np.asarray(head.to_mesh64().vert_properties)[:, :3]
    centre = -made[FigureKey("seat.plane_above_finger")] - made[FigureKey("shank.inside_diameter")] / 2
    away = np.hypot(points[:, 0], points[:, 2] - centre)
    outside = made[FigureKey("shank.inside_diameter")] / 2 + 2.0
    assert away.min() == pytest.approx(outside, abs=0.02)


@pytest.mark.parametrize(
    ("style", "method"),
    [("wire-basket", "fish-mouth"), ("tube", "peg"), ("tube", "basket-point"), ("bought", "basket-point")],
)
def test_a_method_that_the_head_cannot_have_is_refused(style: str, method: str, planned: PlanMaker) -> None:
    head = {"style": style, "notch_ratio": None, "claw_mm": None}
    with pytest.raises(JobError) as caught:
        planned(samples=0, head=head, fit={"method": method})
    assert caught.value.problems[0].path == "fit.method" and "one of" in str(caught.value)


CALLS = [
    ("band-beside-hole", {"head": {"style": "bought", "peg_mm": 1.4}, "fit": {"method": "peg"}}),
    ("branch-too-thin", {"head": WALL, "fit": {"method": "split-shoulder"}, "shank": {"width_mm": 3.0}}),
    ("point-too-flat", {"fit": {"method": "basket-point", "below_ring_mm": 3.0}, "shank": {"width_mm": 5.0}}),
    ("worn-by-neighbour", {"fit": {"method": "on-flat", "beside_mm": 2.3}}),
    (
        "base-cut-through",
        {
            "head": {"style": "bought", "claw_mm": 0.5},
            "fit": {"method": "peg"},
            "shank": {"size": {"value": "42"}, "width_mm": 4},
        },
    ),
]


@pytest.mark.parametrize(("code", "parts"), CALLS)
def test_calls_press_and_their_remedies_settle_them(
    code: str, parts: dict[str, dict[str, object]], planned: PlanMaker
) -> None:
    from tests.conftest import BASE
    from yarvel.planning.job import from_document, merge_patch
    from yarvel.planning.plan import plan

    pressing = next(call for call in planned(samples=0, **parts).diagnostics if call.code == code)
    assert pressing.level in ("caution", "stop") and pressing.remedy is not None
    document = merge_patch(merge_patch(BASE, parts), pressing.remedy)
    after = [call for call in plan(from_document(document), HouseRules(), 0).diagnostics if call.code == code]
    assert all(call.level == "ok" for call in after), after


def test_cut_square_where_the_collet_tapers(planned: PlanMaker) -> None:
    """Handbook check value: a collet of 17° widens by 0.60 over two millimetres."""
    made = planned(
        samples=0,
        head={"style": "tapered-collet", "notch_ratio": None, "included_angle_deg": 17},
        fit={"method": "inset"},
    )
    call = next(call for call in made.diagnostics if call.code == "cut-square")
    assert call.level == "ok" and call.figure == pytest.approx(4 * math.tan(math.radians(8.5)), abs=1e-6)


def test_a_wide_band_is_bored_and_not_sawn_through(planned: PlanMaker) -> None:
    made = planned(samples=0, head=WALL, fit={"method": "inset"}, shank={"width_mm": 11.0})
    assert made[FigureKey("shank.beside_head")] == pytest.approx(
        (11.0 - made[FigureKey("shank.gap_outside")]) / 2, abs=0.01
    )
    assert made[FigureKey("shank.blank_length")] == pytest.approx(made[FigureKey("shank.full_length")])
    assert FigureKey("shank.size_if_sprung") not in made.figures
    assert {call.code for call in made.diagnostics} & {"size-changes-if-sprung", "anneal-before-sawing"} == set()


def test_an_old_slot_is_fitted_and_the_worn_side_named(planned: PlanMaker) -> None:
    collet = {"style": "tapered-collet", "notch_ratio": None}
    foot = planned(samples=0, head=collet, fit={"method": "inset"})[FigureKey("shank.gap_inside")]
    slot = {"inside_mm": round(foot + 0.3, 3), "left_mm": 1.2, "right_mm": 1.45}
    made = planned(samples=0, head=collet, fit={"method": "inset", "slot": slot})
    slope = (made[FigureKey("shank.gap_outside")] - made[FigureKey("shank.gap_inside")]) / 2.0
    assert made[FigureKey("slot.trim")] == pytest.approx(0.3 / slope, abs=0.01)
    assert made[FigureKey("slot.open_each")] == 0
    levels = {call.code: call for call in made.diagnostics}
    assert levels["slot-worn"].level == "caution" and "left" in levels["slot-worn"].message
    wide = planned(samples=0, head=collet, fit={"method": "inset", "slot": {"inside_mm": round(foot - 0.4, 3)}})
    assert wide[FigureKey("slot.open_each")] == pytest.approx(0.2, abs=1e-3) and wide[FigureKey("slot.trim")] == 0


def test_resizing_by_pi_times_the_diameter(planned: PlanMaker) -> None:
    """Metal in or out = π·Δd: one ISO size is one millimetre of circumference."""
    made = planned(samples=0, shank={"resized_from": {"system": "ISO", "value": "52"}})
    assert made[FigureKey("resize.change")] == pytest.approx(2.0)
    assert (
        made[FigureKey("resize.foot_gap")]
        > 0
        > planned(samples=0, shank={"resized_from": {"system": "ISO", "value": "57"}})[FigureKey("resize.foot_gap")]
    )
    far = planned(samples=0, shank={"resized_from": {"system": "ISO", "value": "44"}})
    assert next(call.level for call in far.diagnostics if call.code == "resize-too-far") == "caution"


def test_a_stretched_ring_keeps_its_metal(planned: PlanMaker) -> None:
    """Nothing goes in: section times middle line is what it was; drawn and built with what is left of it."""
    was, now = {"system": "ISO", "value": "54"}, {"system": "ISO", "value": "55"}
    band = {"width_mm": 2.6, "thickness_mm": 1.7, "size": now}
    made = planned(samples=0, shank={**band, "resized_from": was, "resize_by": "stretch"})
    plain = planned(samples=0, shank={**band, "size": was})
    assert made[FigureKey("resize.strain")] == pytest.approx(100 * 1.0 / (54 + math.pi * 1.7), rel=1e-3)
    thick, wide = made[FigureKey("shank.thickness")], made[FigureKey("shank.width")]
    assert thick == pytest.approx(1.7 - made[FigureKey("resize.thinner")], abs=1e-6) and wide < 2.6
    assert thick * wide * (55 / math.pi + thick) == pytest.approx(1.7 * 2.6 * (54 / math.pi + 1.7), rel=0.002)
    assert made.band is not None and made.band.thickness_mm == pytest.approx(thick)
    assert made[FigureKey("seat.plane_above_finger")] < plain[FigureKey("seat.plane_above_finger")] + 0.2
    assert FigureKey("resize.change") not in made.figures
    keys = [step.operation.key for step in route_of(made).steps]
    assert "stretch-shank" in keys and "saw-gap-back" not in keys and "solder-back-seam" not in keys


def test_stretching_has_an_end(planned: PlanMaker) -> None:
    """Too far is a caution, past what hard metal bears a stop; a piece at the back is the way out of both."""
    levels = []
    for was in ("55", "54", "47"):
        shank = {"size": {"system": "ISO", "value": "56"}, "resized_from": {"system": "ISO", "value": was}}
        made = planned(samples=0, shank={**shank, "resize_by": "stretch"})
        call = next(call for call in made.diagnostics if call.code == "stretched-too-far")
        levels.append(call.level)
        assert (call.remedy == {"shank": {"resize_by": "piece"}}) == (call.level != "ok")
    assert levels == ["ok", "caution", "stop"]
    with pytest.raises(JobError, match="larger only"):
        planned(samples=0, shank={"resized_from": {"system": "ISO", "value": "70"}, "resize_by": "stretch"})
    with pytest.raises(JobError, match="no size to stretch it from"):
        planned(samples=0, shank={"resize_by": "stretch"})


@pytest.mark.parametrize("size", [2.4, 3.0, 3.6, 5.0, 7.5])
@pytest.mark.parametrize("width", [3.4, 4.6, 6.4, 7.0])
def test_branches_of_both_sides_never_meet_in_the_middle(size: float, width: float, planned: PlanMaker) -> None:
    """However small the stone and wide the band: the notch takes at most half the way to the middle, and branches that
    lie in each other's way are told to be filed."""
    stone = {"diameters_mm": [size], "depth_mm": round(0.61 * size, 2)}
    fit = {"method": "split-shoulder"}
    made = planned(samples=0, stone=stone, head={"claw_mm": 0.7}, fit=fit, shank={"width_mm": width})
    meets, notch = made[FigureKey("shank.meets_at")], made[FigureKey("shank.bezel_notch")]
    branch, side = made[FigureKey("shank.branch")], made[FigureKey("shank.tip_side")]
    assert notch == pytest.approx(min(0.3 * branch, meets / 2))
    assert made[FigureKey("shank.tip_out")] >= meets / 2 * math.cos(math.radians(42)) - 1e-9
    call = next(call for call in made.diagnostics if call.code == "branches-crowded")
    assert (call.level == "note") == (side < branch / 2 - 1e-6)
    if call.level == "note":
        assert f"{branch / 2 - side:.2f} mm" in call.message
