"""Words on paper against the figures beside them, for pieces of every kind."""

from __future__ import annotations

import math
import re
from collections.abc import Callable
from typing import Any

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from tests.strategies import jobs
from tests.told import said
from yarvel.figures.errors import JobError
from yarvel.figures.figure import FigureKey
from yarvel.figures.rules import HouseRules
from yarvel.operations.joint_groups import GROUPS
from yarvel.planning.job import Job, usual_claws_of
from yarvel.planning.plan import Plan, plan
from yarvel.planning.weighing import weighed
from yarvel.route.balance import taken
from yarvel.route.checks import checks
from yarvel.route.running import route_of
from yarvel.route.setting_words import bur_cuts
from yarvel.shanks.sizes import in_all_systems

RULES = HouseRules()
PlanMaker = Callable[..., Plan]


def stone(cut: str, length: float, width: float) -> dict[str, Any]:
    return {"cut": cut, "diameters_mm": None, "length_mm": length, "width_mm": width, "depth_mm": None}


@given(jobs())
def test_nothing_less_than_nothing_is_told(job: Job) -> None:
    """No step and no box has a length under nought in it; what cannot be is a call."""
    made = plan(job, RULES, samples=0)
    told = [*(check.text for check in checks(made)), *said(made).splitlines()]
    for line in told:
        assert not re.search(r"−\d+\.\d+ mm", line), line
    hidden = [check.text for check in checks(made) if check.key == "ring-hidden"]
    assert len(hidden) <= (FigureKey("head.ring_hidden_by") in made.figures)
    assert not hidden or hidden[0].startswith("Collet") == (not made.shape.rings), hidden
    assert not any(line.startswith("Anneal it") for line in told), "what is annealed is named"
    assert all(joint.group in GROUPS for joint in made.joints)


POINT = {"method": "basket-point"}
CABOCHON = {**stone("oval-cabochon", 14.6, 10.9), "species": "moonstone"}
BOUGHT = {"style": "bought", "made_for_mm": 6.5, "height_mm": 5.1, "notch_ratio": None}


@pytest.mark.parametrize(
    ("parts", "drawn", "single"),
    [
        ({}, True, False),
        ({"fit": POINT}, True, True),
        ({"stone": CABOCHON, "head": {"style": "cast-claw", "claw_mm": 1.4, "notch_ratio": None}}, False, False),
    ],
)
def test_the_words_and_the_cutting_list_speak_of_one_wire(
    parts: dict[str, Any], drawn: bool, single: bool, planned: PlanMaker
) -> None:
    """U's where U's are cut, single claws where a point takes them, no wire at all where the head is cast: common
    practice."""
    made = planned(samples=0, **parts)
    cut, told = said(made, "metal"), said(made, "stock", "head")
    assert ("U-pieces" in cut) == ("bend each to a U" in told) == (drawn and not single)
    assert ("Claws: 4 × wire" in cut) == ("Cut each claw" in told) == single
    assert (FigureKey("head.bridge") in made.figures) == ("U-pieces" in cut)
    assert ("wire" in cut) == drawn and ("Wire of" in told) == drawn
    if not drawn:
        heavy = weighed(made)
        melt = next(lot for lot in taken(route_of(heavy)) if lot.form == "melt")
        assert melt.volume_mm3 == pytest.approx(1.5 * heavy.volumes["bare"])


def test_a_bought_head_is_trimmed_only_where_it_is_trimmed(planned: PlanMaker) -> None:
    assert "Trim" not in said(planned(samples=0, head=BOUGHT))
    trimmed = said(planned(samples=0, head={**BOUGHT, "trim_mm": 0.9}))
    assert "Trim the base by 0.90 mm to a height of 4.20 mm" in trimmed


@pytest.mark.parametrize(("metal", "soft"), [("platinum-950", True), ("18k-yellow", False)])
def test_soft_metal_is_never_told_to_be_thinned(metal: str, soft: bool, planned: PlanMaker) -> None:
    """Platinum's tips stay thick and are burnished hard; common practice."""
    made = planned(samples=0, head={"metal": metal}, shank={"metal": metal})
    told = said(made, "seat", "set") + " ".join(call.message for call in made.diagnostics)
    assert ("thin the tips" in told.lower() or "Thin and round" in told) != soft
    assert ("Burnish them hard" in told) == soft


def test_claws_of_long_stones_are_told_by_their_chords(planned: PlanMaker) -> None:
    """The chords, measured between the claws' middles at the seat by hand of the drawing's own places."""
    made = planned(samples=0, stone=stone("pear", 9.4, 6.3), head={"claws": 5, "claw_mm": None})
    line = next(check.text for check in checks(made) if check.key == "spacing")
    assert "evenly" not in line
    told = {(int(a), int(b)): float(c) for a, b, c in re.findall(r"(\d)–(\d) (\d+\.\d+)", line)}
    assert len(told) == 5 and set(told) == {(1, 2), (2, 3), (3, 4), (4, 5), (5, 1)}
    out = made[FigureKey("head.claw")] / 2 - made[FigureKey("seat.depth")]
    places = sorted(made.shape.places, key=lambda place: (90.0 - place.azimuth_deg) % 360.0)
    spots = [np.array([place.x_mm, place.y_mm]) + out * np.array(place.normal) for place in places]
    for (here, there), chord in told.items():
        assert math.dist(spots[here - 1], spots[there - 1]) == pytest.approx(chord, abs=0.006)
    six = checks(planned(samples=0, head={"claws": 6, "claw_mm": None}))
    assert "evenly spaced, 60° apart" in " ".join(check.text for check in six)


@pytest.mark.parametrize(
    ("shape", "turn"), [(("princess", 5.7, 5.7), 90.0), (("emerald", 9.2, 6.9), 45.0), (("marquise", 9.8, 4.9), None)]
)
def test_rings_with_corners_are_mitred_and_never_wound(
    shape: tuple[str, float, float], turn: float | None, planned: PlanMaker
) -> None:
    style = {"princess": "v-claw", "emerald": "paired-corner", "marquise": "v-claw"}[shape[0]]
    made = planned(samples=0, stone=stone(*shape), head={"style": style, "claws": None, "claw_mm": None})
    text = said(made, "head")
    assert (
        "Wind" not in text and "queeze" not in text and re.search(r"Score .* at \d corner", text) and "mitred" in text
    )
    if turn is not None:
        assert made[FigureKey("head.ring_turn")] == pytest.approx(turn, abs=0.5)
    assert made[FigureKey("head.ring_mitre")] == pytest.approx((180 - made[FigureKey("head.ring_turn")]) / 2)
    wound = planned(samples=0, stone=stone("oval", 8.3, 6.4), head={"claws": None, "claw_mm": None})
    assert (
        "Wind" in said(wound, "head")
        and "Squeeze it to" in said(wound, "head")
        and FigureKey("head.ring_mitre") not in wound.figures
    )


@pytest.mark.parametrize(
    "shape", [("emerald", 12.3, 9.1), ("emerald", 7.4, 5.8), ("radiant", 8.2, 6.9), ("oval", 9, 7)]
)
def test_ring_wire_is_that_of_the_inset_outline(shape: tuple[str, float, float], planned: PlanMaker) -> None:
    """By shapely's own offset, where an edge is lost to it too."""
    made = planned(samples=0, stone=stone(*shape), head={"claws": None, "claw_mm": None})
    outline = shapely.Polygon(made.shape.outline.points)
    for name, ring in zip(("upper", "lower"), made.shape.rings, strict=True):
        middle = outline.buffer(-ring.inset_mm, join_style="mitre", mitre_limit=30)
        assert made[FigureKey(f"head.{name}_ring_wire_length")] == pytest.approx(middle.length, rel=4e-3), name


def test_a_seated_tube_is_not_cut_again(planned: PlanMaker) -> None:
    made = planned(samples=0, head={"style": "tube", "claw_mm": None, "notch_ratio": None, "seated": True})
    text = said(made, "seat")
    assert "Open the seat" not in text and "Burs" not in text and "cut already" in text


@given(st.floats(3.1, 9.8), st.floats(0.25, 0.45), st.sampled_from([4, 6]))
def test_burs_say_what_each_cuts(planned: PlanMaker, diameter: float, ratio: float, claws: int) -> None:
    """By radii: a bur in the middle of the claws cuts half of what it is wider than they are apart."""
    made = planned(
        samples=0,
        stone={"diameters_mm": [round(diameter, 2)], "depth_mm": None},
        head={"claws": claws, "claw_mm": None, "notch_ratio": round(ratio, 2)},
    )
    cuts = bur_cuts(made)
    inner = made[FigureKey("stone.mean_diameter")] / 2 - made[FigureKey("seat.depth")]
    for size, cut in cuts:
        assert cut == pytest.approx(max(size / 2 - inner, 0.0), abs=1e-9)
    text = said(made, "seat")
    first = next(((size, cut) for size, cut in cuts if cut > 0), None)
    if first is not None:
        assert f"bur of {first[0]:.1f}, the first that touches: it takes {first[1]:.2f} mm a side" in text
    push = re.search(r"push the last (\d+\.\d+)", text)
    assert push is None or float(push.group(1)) >= 0.015, "nobody pushes a bur by a hundredth"


def test_the_dividers_are_set_from_tops_and_foot(planned: PlanMaker) -> None:
    """Along a claw: from its levelled top down to the line, and from its foot up to it, is the whole claw."""
    made = planned(samples=0)
    assert made[FigureKey("seat.line_from_top")] + made[FigureKey("seat.line_from_foot")] == pytest.approx(
        made[FigureKey("head.claw_length")]
    )
    lean = math.radians(made[FigureKey("head.splay")])
    assert made[FigureKey("seat.line_from_foot")] * math.cos(lean) == pytest.approx(made[FigureKey("head.height")])
    assert "Dividers to" in said(made, "seat")
    tube = planned(samples=0, head={"style": "tube", "claw_mm": None, "notch_ratio": None})
    assert tube[FigureKey("seat.line_from_top")] + tube[FigureKey("seat.line_from_foot")] == pytest.approx(
        tube[FigureKey("head.tube_length")]
    )


def test_large_round_and_oval_stones_get_six_claws() -> None:
    """Common practice: above 10 mm, by the mean of length and width."""
    from tests.conftest import job_with

    def claws(**given: Any) -> int:
        return usual_claws_of(job_with(stone={"depth_mm": None, **given}, head={"claws": None, "claw_mm": None}))

    assert (claws(diameters_mm=[9.9]), claws(diameters_mm=[10.2])) == (4, 6)
    long = {"cut": "oval", "diameters_mm": None}
    assert (claws(**long, length_mm=11.0, width_mm=8.8), claws(**long, length_mm=12.2, width_mm=9.1)) == (4, 6)


def test_a_collet_cut_to_claws_is_judged_between_them(planned: PlanMaker) -> None:
    """Seen straight down the body's wall, below the claws, against the stone's circle."""
    from yarvel.planning.bodies import bodies

    head = {"style": "tapered-collet", "cut": "claws", "claw_mm": None, "notch_ratio": None, "claws": 4}
    made = planned(samples=0, head=head, fit={"method": "on-flat"}, shank={"width_mm": 6.0})
    call = next(call for call in made.diagnostics if call.code == "ring-shows-from-above")
    wall = bodies(made).walls[0].bounding_box()
    assert call.figure == pytest.approx(made[FigureKey("stone.mean_diameter")] / 2 - wall[4], abs=0.01)
    assert call.level == "caution" and call.remedy is not None
    bezel = planned(samples=0, head={**head, "cut": "bezel", "claws": None})
    assert "ring-shows-from-above" not in {call.code for call in bezel.diagnostics}, "a bezel is meant to be seen"


def test_a_tube_wider_than_its_band_is_let_in(planned: PlanMaker) -> None:
    head = {"style": "tube", "claw_mm": None, "notch_ratio": None}
    made = planned(samples=0, head=head, shank={"width_mm": 2.4}, fit={"method": "on-flat"})
    call = next(call for call in made.diagnostics if call.code == "wider-than-band")
    assert call.level == "caution" and call.remedy == {"fit": {"method": "let-in", "height": "lowest"}}
    let = planned(samples=0, head=head, shank={"width_mm": 2.4}, fit={"method": "let-in"})
    lower = [one[FigureKey("seat.plane_above_finger")] for one in (let, made)]
    assert lower[0] < lower[1] and {call.level for call in let.diagnostics if call.code == "band-thinned"} == {"ok"}
    wide = planned(samples=0, head=head, shank={"width_mm": 8.4}, fit={"method": "on-flat"})
    assert next(call.level for call in wide.diagnostics if call.code == "wider-than-band") == "ok"


def test_sizes_below_a_table_say_so() -> None:
    """Published: UK A is 37.5 mm round the inside, US 0 is 11.63 mm across."""
    told = in_all_systems(11.3)
    assert "UK below A" in told and "US below 0" in told and "−" not in told and "-" not in told
    assert "UK M½" in in_all_systems((37.5 + 1.25 * 12.5) / math.pi)


def test_a_height_asked_of_a_made_head_trims_it(planned: PlanMaker) -> None:
    head = {"style": "bought", "made_for_mm": 6.5, "height_mm": 5.4, "notch_ratio": None, "claw_mm": 1.0}
    made = planned(samples=0, head=head, fit={"method": "on-flat", "height": 5.0})
    assert made[FigureKey("seat.plane_above_finger")] == pytest.approx(5.0, abs=1e-6)
    assert (
        made[FigureKey("head.height")] == pytest.approx(made[FigureKey("head.fixed_height")])
        and made[FigureKey("head.height")] < 5.4
    )
    tall = planned(samples=0, head=head, fit={"method": "on-flat", "height": 9.0})
    assert tall[FigureKey("head.height")] == pytest.approx(5.4), "nobody makes a made head taller"


@pytest.mark.parametrize(
    ("parts", "path"),
    [
        ({"joints": {"order": ["head-to-shank", "nonsense"]}}, "joints.order.1"),
        (
            {
                "head": {"style": "tube", "height_mm": 4.0, "claw_mm": None, "notch_ratio": None},
                "fit": {"method": "on-flat", "height": 5.0},
            },
            "fit.height",
        ),
    ],
)
def test_what_would_do_nothing_is_refused(parts: dict[str, Any], path: str, planned: PlanMaker) -> None:
    with pytest.raises(JobError) as caught:
        planned(samples=0, **parts)
    assert caught.value.problems[0].path == path


def test_pliers_at_corners_keep_off_the_diagonal(planned: PlanMaker) -> None:
    made = planned(
        samples=0,
        stone=stone("princess", 5.4, 5.4),
        head={"style": "v-claw", "claws": None, "claw_mm": None},
        setting={"closing": "pliers"},
    )
    assert "one jaw low at the foot" in said(made, "set")
    assert "never squeezed across a diagonal" in said(made, "set")


def test_a_school_that_does_not_suit_is_said_aloud(planned: PlanMaker) -> None:
    """A store of before may hold pliers for a rim: a note says that a pusher is told, and settles it."""
    head = {"style": "tube", "claw_mm": None, "notch_ratio": None}
    made = planned(samples=0, head=head, setting={"closing": "pliers"})
    call = next(call for call in made.diagnostics if call.code == "closing-school")
    assert call.level == "note" and call.remedy == {"setting": {"closing": None}}
    assert "A pusher with a smooth face" in said(made, "set") and "Pliers" not in said(made, "set")
    rocked = planned(samples=0, head=head, setting={"closing": "rocker"})
    assert next(call.level for call in rocked.diagnostics if call.code == "closing-school") == "ok"
    assert "north, south, east and west" in said(rocked, "set")


@pytest.mark.parametrize(
    ("setting", "told"),
    [
        ({"closing": "pliers", "jaws": "brass"}, "Pliers with brass jaws across each pair"),
        ({"closing": "pliers", "jaws": "leather"}, "Pliers faced with leather across each pair"),
        ({"closing": "pliers-pusher", "jaws": "nylon"}, "Pliers with nylon jaws to contact"),
        ({"closing": "pliers"}, "Pliers across each pair, smooth parallel jaws"),
        ({"closing": "block"}, "A block of hard wood clamped upright"),
    ],
)
def test_jaws_and_the_wood_block_are_told(setting: dict[str, str], told: str, planned: PlanMaker) -> None:
    """Common practice: softer jaws mark neither metal nor dome; cast claws are laid over by rocking on wood."""
    dome = {"cut": "round-cabochon", "diameters_mm": [11.2], "depth_mm": None}
    head = {"style": "cast-claw", "claw_mm": None, "notch_ratio": 0}
    made = planned(samples=0, stone=dome, head=head, setting=setting)
    route = route_of(made)
    assert any(told in step.operation.text for step in route.steps)
    assert not [call for call in made.diagnostics if call.code == "closing-school" and call.level != "ok"]
