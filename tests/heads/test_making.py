"""How heads are made: every style tells its steps with its own figures, and what to look at."""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import Any

import pytest

from tests.told import parts, said
from yarvel.figures.figure import FigureKey
from yarvel.heads.styles import STYLES
from yarvel.metals.alloys import ALLOYS
from yarvel.planning.in_words import masses_text
from yarvel.planning.plan import Plan
from yarvel.planning.weighing import weighed
from yarvel.route.checks import checks

CASES: dict[str, dict[str, Any]] = {
    "wire-basket": {},
    "tapered-collet": {},
    "applied-collet": {},
    "tube": {},
    "bought": {"head": {"height_mm": 5.2}},
    "v-claw": {"stone": {"cut": "princess", "diameters_mm": None, "depth_mm": None, "length_mm": 5.7, "width_mm": 5.6}},
    "paired-corner": {
        "stone": {"cut": "radiant", "diameters_mm": None, "depth_mm": None, "length_mm": 8.0, "width_mm": 6.2}
    },
    "cast-claw": {"stone": {"cut": "round-cabochon", "diameters_mm": [9.0], "depth_mm": 4.1}},
}


def made(planned: Callable[..., Plan], style: str, **head: Any) -> Plan:
    parts = CASES[style]
    return planned(
        samples=0,
        stone=parts.get("stone", {}),
        head={"style": style, "claws": None, "claw_mm": None, "notch_ratio": None, **parts.get("head", {}), **head},
    )


@pytest.mark.parametrize("style", STYLES)
def test_every_style_tells_how_it_is_made_and_what_to_look_at(style: str, planned: Callable[..., Plan]) -> None:
    """A style without offers of its own would have no line on its head before the seat."""
    plan = made(planned, style)
    own = [line for key in ("take-in", "stock", "head") if key in parts(plan) for line in parts(plan)[key].lines]
    own = [line for line in own if "shank" not in line.step.operation.on]
    assert own and any(line.step.operation.look for line in own)
    assert not re.search(r"[{}]", said(plan))
    assert "eyes covered" in " ".join(section.caution for section in parts(plan).values())


def test_the_schools_of_v_are_told_apart(planned: Callable[..., Plan]) -> None:
    fold, tabs = made(planned, "v-claw"), made(planned, "v-claw", school="tabs")
    assert "leave it whole" in said(fold, "seat") and "two tabs" not in said(fold)
    assert "two tabs" in said(tabs, "seat") and "two tabs" in said(tabs, "set")
    for plan in (fold, tabs):
        assert "never across two corners" in said(plan, "set")


def test_pairs_are_closed_sideways_first(planned: Callable[..., Plan]) -> None:
    """Common practice: cornered stones sideways, then the tips."""
    assert "sideways against its own side, then bring the tips over" in said(made(planned, "paired-corner"), "set")


def test_a_collet_is_told_from_sheet_and_from_tube(planned: Callable[..., Plan]) -> None:
    plan = made(planned, "tapered-collet", cut="claws")
    text = said(plan)
    assert plan.figures[FigureKey("collet.pattern_angle_deg")].text() in text
    assert "Overdriving cannot be undone" in text and "three-square file" in text
    # common practice: the block closes the foot, the punch opens the rim a little (5.0 from tube of 4.8)
    assert (
        plan[FigureKey("collet.foot_diameter")]
        < plan[FigureKey("collet.blank_outer")]
        < plan[FigureKey("collet.top_diameter")]
    )
    assert plan[FigureKey("collet.top_diameter")] / plan[FigureKey("collet.blank_outer")] == pytest.approx(
        5.0 / 4.8, abs=0.002
    )
    assert plan[FigureKey("collet.stretch_left")] == pytest.approx(0.38 - plan[FigureKey("collet.stretch")])


def test_a_long_stone_gets_no_round_bur(planned: Callable[..., Plan]) -> None:
    plan = made(planned, "paired-corner")
    assert plan.bur_steps_mm == ()
    assert "Hart bur of 1.3 mm" in said(plan, "seat")
    assert next(call for call in plan.diagnostics if call.code == "bur-between-sizes").level == "ok"


def test_shoulders_stand_with_the_seats(planned: Callable[..., Plan]) -> None:
    def cut(setting: str) -> str:
        return said(planned(samples=0, shank={"width_mm": 3.6, "shoulder": {"count": 2, "setting": setting}}))

    assert "teeth just hidden seen from the side" in cut("flush")
    assert "Little bezels of 2.20 mm" in cut("bezel")


def test_mass_is_told_in_every_other_metal(planned: Callable[..., Plan]) -> None:
    assert masses_text(made(planned, "wire-basket")) == "", "known once the body is"
    plan = weighed(made(planned, "wire-basket"))
    text = masses_text(plan)
    assert len(text.split(" · ")) >= len(ALLOYS) - 1
    platinum = plan[FigureKey("head.mass")] * 20.7 / 15.5
    assert f"Platinum 950 {platinum:.2f} g" in text


def test_checks_name_both_measures_of_a_long_stone(planned: Callable[..., Plan]) -> None:
    assert "8.00 mm by 6.20 mm" in checks(made(planned, "paired-corner"))[0].text
