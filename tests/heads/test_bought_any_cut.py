"""Bought heads for other outlines than a circle: each claw has its own notch, the metal stands where it was made."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import job_with
from yarvel.figures.errors import JobError
from yarvel.figures.rules import HouseRules
from yarvel.heads import basket, bought, notches, rings, style
from yarvel.planning.bodies import bodies
from yarvel.planning.checking import check
from yarvel.planning.plan import Plan
from yarvel.route.running import route_of

RULES = HouseRules()
LONG = {"oval": 8.4, "pear": 9.2, "princess": 6.5, "emerald": 8.6, "heart": 6.5, "marquise": 12.4, "oval-cabochon": 8.4}


def stone(cut: str) -> dict[str, Any]:
    return {"cut": cut, "diameters_mm": None, "depth_mm": 3.8, "length_mm": LONG[cut], "width_mm": 6.5}


def head(**more: Any) -> dict[str, Any]:
    return {"style": "bought", "claws": None, "claw_mm": 0.9, "notch_ratio": None, "height_mm": 5.2, **more}


@pytest.mark.parametrize("cut", LONG)
def test_a_head_of_the_stones_own_size_takes_the_same_of_every_claw(cut: str, planned: Callable[..., Plan]) -> None:
    made = planned(samples=0, stone=stone(cut), head=head(made_for_mm=LONG[cut], made_for_width_mm=6.5))
    for key in (bought.deepest_ratio, bought.shallowest_ratio):
        assert made[key] == pytest.approx(RULES.notch_target)


def test_a_stone_longer_than_its_head_lies_deeper_at_its_ends(planned: Callable[..., Plan]) -> None:
    """Geometry: of 0.3 mm more length a claw at the very end takes half, one at the side nothing."""
    made = planned(
        samples=0,
        stone=stone("oval"),
        head=head(made_for_mm=8.1, made_for_width_mm=6.5, claws=4, orientation="in-line"),
    )
    own = RULES.notch_target * 0.9
    assert made[bought.deepest_mm] == pytest.approx(own + 0.15)
    assert made[bought.shallowest_mm] == pytest.approx(own, abs=0.01)


@given(st.sampled_from(list(LONG)), st.floats(0.96, 1.04), st.floats(0.96, 1.04), st.floats(0.5, 0.9))
def test_the_metal_stands_as_the_head_was_made(
    planned: Callable[..., Plan], cut: str, longer: float, wider: float, foot: float
) -> None:
    """However this stone differs from the one that the head was made for, what the body takes of each claw is its seat
    depth, the foot is as wide as it was measured, and nothing comes loose."""
    foot = max(foot, 0.75) if cut == "heart" else foot  # narrower, its two lobes have no ring in common
    size = {"made_for_mm": round(LONG[cut] * longer, 2), "made_for_width_mm": round(6.5 * wider, 2)}
    made = planned(samples=0, stone=stone(cut), head=head(**size, foot_mm=round(6.5 * foot, 2)), shank=None, fit=None)
    metal = bodies(made).parts["head"]
    assert len(metal.decompose()) == 1
    low, _, high, _ = metal.slice(-made[style.height_mm] + 0.01).bounds()
    claws = made[style.WIDTH_AT_FOOT]
    over = 2 * max(-low, high)
    ring = made.shape.rings[-1].across_mm / 2
    assert over - 0.05 <= claws <= over + 2 * ring + 0.05, "over the claws, or over the base ring's middle"
    lean = math.tan(math.radians(made[basket.splay_deg]))
    across = made[style.INNER_OPENING] + 2 * 0.9 - 2 * made[style.height_mm] * lean
    assert across == pytest.approx(6.5 * foot, abs=0.011)


@pytest.mark.parametrize(
    ("cut", "axis"),
    [
        ("princess", "along-finger"),
        ("trillion", "along-finger"),
        ("marquise", "along-band"),
        ("pear", "along-band"),
        ("emerald", "along-band"),
    ],
)
def test_the_width_over_vs_is_that_of_the_metal(cut: str, axis: str, planned: Callable[..., Plan]) -> None:
    """A V's corner moves out by both of its sides: measured on the closed body, half a per cent either way."""
    long = {"princess": 6.5, "trillion": 6.6, "marquise": 12.4, "pear": 9.2, "emerald": 8.6}[cut]
    made = planned(
        samples=0,
        stone={**stone("oval"), "cut": cut, "length_mm": long},
        head={"style": "wire-basket", "claws": None, "rings": 1, "stone_axis": axis, "orientation": None},
    )
    low, _, high, _ = bodies(made).parts["head"].slice(-made[style.height_mm] + 0.01).bounds()
    assert made[style.WIDTH_AT_FOOT] == pytest.approx(2 * max(-low, high), rel=0.005)


def test_a_foot_that_nobody_measured_is_assumed_and_open(planned: Callable[..., Plan]) -> None:
    guessed = planned(head=head(made_for_mm=6.5, claws=4)).figures
    read = planned(head=head(made_for_mm=6.5, claws=4, foot_mm=4.6)).figures
    assert guessed[basket.splay_deg].source == "assumed" and read[basket.splay_deg].source == "geometry"
    assert guessed[style.WIDTH_AT_FOOT].plus_minus > 0.2 > read[style.WIDTH_AT_FOOT].plus_minus


def test_the_rail_is_judged_as_a_ring_and_stays_when_the_base_is_trimmed(planned: Callable[..., Plan]) -> None:
    made = planned(head=head(made_for_mm=6.5, claws=4, height_mm=7.0, rail_mm=5.6), shank={"width_mm": 3.0})
    assert made[rings.RING_DROP] == pytest.approx(7.0 - 5.6)
    codes = {call.code: call for call in made.diagnostics}
    assert {"ring-shows-from-above", "pavilion-touches-gallery"} <= set(codes)
    assert codes["trim-base"].remedy is not None
    trim = codes["trim-base"].remedy["head"]["trim_mm"]
    assert trim < 5.6 - 2 * made.shape.rings[0].across_mm + 1e-9
    after = planned(head=head(made_for_mm=6.5, claws=4, height_mm=7.0, rail_mm=5.6, trim_mm=trim))
    assert after[rings.RING_DROP] == pytest.approx(7.0 - 5.6), "the rail stays where it is under the stone"


def test_a_label_by_the_carat_means_a_usual_diamond(planned: Callable[..., Plan]) -> None:
    """Published with the handbook's estimation formulas: an ideal round of one carat is about 6.5 mm across."""
    made = planned(samples=0, head=head(label_ct=1.0, claws=4))
    assert made[bought.MADE_FOR] == pytest.approx(6.45, abs=0.08)
    assert 0.28 < made[notches.notch_ratio] < 0.40


def test_a_soft_stone_in_a_ready_mount(planned: Callable[..., Plan]) -> None:
    """Check piece, common practice: notched claws in a ready silver mount; no bur, no blank; the mount level first."""
    made = planned(
        stone={**stone("oval"), "species": "opal"},
        head=head(
            made_for_mm=8.4, notched=True, exists=True, metal="sterling-silver", height_mm=None, height_tip_mm=6.4
        ),
        shank={"exists": True, "metal": "sterling-silver"},
        setting={"closing": "pliers-pusher"},
    )
    steps = route_of(made).steps
    assert not [step.unmet for step in steps if step.unmet]
    kinds = [step.operation.kind.key for step in steps]
    assert kinds.index("clamp-level") < kinds.index("offer-stone") < kinds.index("seat-stone")
    assert not {"cut-seat", "guide-cut", "cut-length", "solder", "trim-base"} & set(kinds)
    assert kinds.count("press-claws") or "burnish" in " ".join(kinds)
    trim = (
        next(call for call in made.diagnostics if call.code == "trim-base") if "trim-base" in made.diagnostics else None
    )
    assert trim is None, "nothing is sawn off a ring that is there"


@pytest.mark.parametrize(
    ("more", "told"),
    [
        ({"made_for_mm": 6.5, "label_ct": 1.0}, "head.label_ct: its size is given twice"),
        ({"made_for_mm": 6.5, "made_for_width_mm": 6.4}, "head.made_for_width_mm: a round head has one size"),
        ({"made_for_mm": 6.5, "rail_mm": 5.5}, "head.rail_mm: 5.5 mm does not lie on a head of 5.2 mm"),
        ({"made_for_mm": 6.5, "foot_mm": 9.0}, "head.foot_mm: 9 mm is wider than its claws"),
        ({"made_for_mm": 6.5, "height_mm": None, "rail_mm": 3.0}, "head.rail_mm: lies on a head of unknown height"),
    ],
)
def test_what_cannot_be_on_one_head_is_refused(more: dict[str, Any], told: str) -> None:
    with pytest.raises(JobError) as caught:
        check(job_with(head=head(claws=4, **more)), RULES)
    assert told in str(caught.value)
