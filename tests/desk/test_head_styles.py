"""Every head style in the window: its own fields, its own figures, its remedies."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import pypdf
import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QFileDialog

from tests.desk.conftest import Hand
from yarvel.desk.widgets.figure_list import FigureRow
from yarvel.heads.claws import CLAW
from yarvel.heads.styles import STYLES
from yarvel.heads.vees import V_FOOT
from yarvel.planning.diagnostics.diagnostic import STOP
from yarvel.stones.cuts import CUTS

TYPED = {
    "wire-basket": ("head.ring_mm", "0.85", "head.ring_wire", 0.85),
    "tapered-collet": ("head.included_angle_deg", "28", "head.included_angle", 28.0),
    "applied-collet": ("head.wall_mm", "0.9", "head.wall", 0.9),
    "tube": ("head.height_mm", "5.2", "head.tube_length", 5.2),
    "bought": ("head.made_for_mm", "7", "head.made_for", 7.0),
    "v-claw": ("head.claw_mm", "1.2", "head.claw", 1.2),
    "paired-corner": ("head.claw_mm", "0.8", "head.claw", 0.8),
    "cast-claw": ("head.splay_deg", "6", "head.splay", 6.0),
}
LISTED = {
    "wire-basket": {"head.upper_ring_wire_length", "head.u_piece_length"},
    "tapered-collet": {"collet.pattern_inner_radius", "collet.pattern_outer_radius", "collet.pattern_angle_deg"},
    "applied-collet": {"collet.top_diameter", "collet.height", "head.claw_down", "collet.countersink"},
    "tube": {"head.tube_outer", "head.tube_length"},
    "bought": {"head.inner_opening", "head.outer_over_claws"},
    "v-claw": {"head.v_angle", "head.relief_hole", "head.left_behind_relief", "head.keel_cut"},
    "paired-corner": {"head.corner_free", "head.gallery_skim", "head.upper_ring_long"},
    "cast-claw": {"head.dome_radius", "head.least_bend_radius"},
}
CUT_FOR = {"v-claw": "princess", "paired-corner": "emerald", "cast-claw": "oval-cabochon"}
"""Cuts for the styles that do not suit a round stone."""


def choose_style(hand: Hand, style: str) -> None:
    if style in CUT_FOR:
        choose_cut(hand, CUT_FOR[style])
    hand.open_station("Head")
    hand.choose("head.style", style)


def choose_cut(hand: Hand, cut: str, length: str = "7.6", width: str = "6.4") -> None:
    hand.open_station("Stone")
    hand.choose("stone.cut", cut)
    if not CUTS[cut].is_round:
        hand.type("stone.length_mm", length)
        hand.type("stone.width_mm", width)


def test_every_style_is_tried_here() -> None:
    assert set(TYPED) == set(LISTED) == set(STYLES)


@pytest.mark.parametrize("style", STYLES)
def test_a_style_shows_its_own_fields_and_figures(style: str, hand: Hand) -> None:
    choose_style(hand, style)
    station = hand.window.run.stations[2]
    shown = {
        path.split(".")[1] for path, field in (*station.numbers.items(), *station.choices.items()) if field.isVisible()
    }
    unseen = {"notch_ratio", "claw_places_deg", "made", "tube", "ring_high_mm", "v_foot_mm"} | (
        set() if style in CUT_FOR else {"stone_axis", "school", "v_from"}
    )
    assert shown == (set(STYLES[style].FIELDS) - unseen) | {"style", "metal"}
    assert {row.key for row in hand.window.findChildren(FigureRow) if row.isVisible()} >= LISTED[style]
    field, text, key, value = TYPED[style]
    hand.type(field, text)
    assert hand.value(key) == pytest.approx(value)


def test_a_v_filed_from_solid_may_be_thin_low(hand: Hand) -> None:
    """Its field comes with the way that it is made, and goes with it; thicker below than above is refused in words."""
    choose_style(hand, "v-claw")
    hand.type("head.claw_mm", "1.0")
    hand.choose("head.v_from", "solid")
    hand.type("head.v_foot_mm", "0.6", enter=True)
    assert hand.value("head.v_foot") == 0.6 and "thick at its foot" in hand.window.session.plan.figures[V_FOOT].label
    hand.type("head.v_foot_mm", "1.4", enter=True)
    assert "up to 1 mm" in hand.window.session.problems["head.v_foot_mm"].accepted
    hand.type("head.v_foot_mm", "0.7", enter=True)
    hand.type("head.claw_mm", "", enter=True)
    plan = hand.window.session.plan
    assert plan is not None
    call = next(call for call in plan.diagnostics if call.code == "v-thicker-below")
    assert (call.level == "caution") == (plan[CLAW] < 0.7) and plan[V_FOOT] == min(plan[CLAW], 0.7)
    hand.choose("head.v_from", "folded")
    assert "v_foot_mm" not in hand.window.session.document["head"]
    assert not hand.window.run.stations[2].numbers["head.v_foot_mm"].isVisible()


@pytest.mark.parametrize("style", STYLES)
@pytest.mark.parametrize("method", ["on-flat", "inset"])
def test_a_style_is_drawn_judged_and_printed(
    style: str, method: str, hand: Hand, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    choose_style(hand, style)
    hand.window.session.set_value("fit.method", method, "Method")
    hand.calm()
    assert hand.window.sheet.drawing is not None
    keys = {text.key for text in hand.window.sheet.figure_texts()}
    across = "stone.width" if style in CUT_FOR else "stone.mean_diameter"
    assert {across, "head.inner_opening", "seat.depth", "seat.plane_above_finger"} <= keys
    for key in sorted(keys):
        hand.click_figure(key)
        assert hand.window.working.figure() is not None
        assert "Origin:" in hand.shown("working.text")
    target = tmp_path / "sheet.pdf"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a, **_k: (str(target), ""))
    hand.window.papers.write_pdf()
    assert len(pypdf.PdfReader(target).pages) >= 2


@pytest.mark.parametrize("style", STYLES)
def test_remedies_taken_one_after_the_other_leave_no_stop(style: str, hand: Hand) -> None:
    """Set everything wrong that this style can have wrong, then take whatever the worst call offers, by key."""
    choose_style(hand, style)
    wrong = {
        "wire-basket": {"head": {"notch_ratio": 0.7}, "fit": {"height": 1.5}},
        "tapered-collet": {"head": {"notch_ratio": 0.05, "wall_mm": 0.4, "included_angle_deg": 50}},
        "applied-collet": {"head": {"notch_ratio": 0.7}},
        "tube": {"head": {"height_mm": 2.0}},
        "bought": {"head": {"made_for_mm": 5.6, "height_mm": 2.2}},
        "v-claw": {"head": {"notch_ratio": 0.6, "claw_mm": 0.5}},
        "paired-corner": {"head": {"notch_ratio": 0.55}},
        "cast-claw": {"head": {"notch_ratio": 0.1}},
    }[style]
    hand.window.session.patch(wrong, "Everything wrong")
    hand.window.session.set_value("fit.method", "inset", "Method")
    assert hand.window.session.plan is not None
    assert any(call.level == STOP for call in hand.window.session.plan.diagnostics)

    def stopped() -> bool:
        plan = hand.window.session.plan
        return plan is not None and any(call.level == STOP for call in plan.diagnostics)

    for _ in range(12):
        before = hand.window.session.document
        if stopped():  # a hand that does not wait for the bodies
            hand.window.take_first_remedy()
        if before == hand.window.session.document:
            hand.judge()
            if not stopped():
                break
            hand.window.take_first_remedy()
    assert [call.code for call in hand.window.session.plan.diagnostics if call.level == STOP] == []


def test_a_bought_heads_opening_is_dragged_as_an_opening(hand: Hand) -> None:
    choose_style(hand, "bought")
    hand.type_over("head.inner_opening", "6.2")
    assert hand.window.session.document["head"]["opening_mm"] == 6.2
    assert hand.value("seat.notch_ratio") == pytest.approx((6.815 - 6.2) / 2 / hand.value("head.claw"))
    sheet = hand.window.sheet
    sheet.setFocus()
    hand.press(Qt.Key.Key_Greater)
    assert hand.value("head.inner_opening") == pytest.approx(6.25)


def test_changing_the_style_and_back_keeps_what_was_typed(hand: Hand) -> None:
    hand.open_station("Head")
    hand.type("head.claw_mm", "1.15")
    choose_style(hand, "tube")
    assert "head.claw" not in (hand.window.session.plan.figures if hand.window.session.plan else {})
    assert "claw_mm" not in hand.window.session.document["head"], "a tube has no claws to be told of"
    choose_style(hand, "wire-basket")
    assert hand.value("head.claw") == 1.15


def test_a_height_that_is_fixed_has_no_grip(hand: Hand) -> None:
    def grips() -> set[str]:
        drawing = hand.window.sheet.drawing
        return {grip.name for grip in drawing.grips} if drawing is not None else set()

    assert grips() == {"seat-height", "opening", "claw-0", "claw-1", "claw-2", "claw-3"}
    choose_style(hand, "tube")
    assert grips() == {"seat-height", "opening"}
    hand.type("head.height_mm", "5")
    assert grips() == {"opening"}


def test_the_demo_shows_every_style(open_hand: Callable[[Path], Hand], demo_path: Path) -> None:
    hand = open_hand(demo_path)
    seen = set()
    for docket_id in range(1, 11):
        hand.window.dockets.open(docket_id)
        hand.bot.waitUntil(
            lambda docket_id=docket_id: (
                hand.window.session.docket is not None and hand.window.session.docket.id == docket_id
            )
        )
        assert hand.window.session.plan is not None
        seen.add(hand.window.session.plan.job.head.style)
    assert seen == set(STYLES)


@pytest.mark.parametrize("style", ["wire-basket", "v-claw", "paired-corner", "cast-claw"])
def test_a_ring_of_strip_asks_how_high_it_is(style: str, hand: Hand) -> None:
    """Its height is asked for while it is strip, and is gone with it; posts in holes make it square wire."""
    choose_style(hand, style)
    station = hand.window.run.stations[2]
    high = station.numbers["head.ring_high_mm"]
    hand.choose("head.ring_section", "strip")
    assert high.isVisible()
    hand.type("head.ring_high_mm", "1.1")
    assert hand.value("head.ring_high") == pytest.approx(1.1)
    hand.choose("head.ring_section", "round")
    assert not high.isVisible() and "ring_high_mm" not in hand.window.session.document["head"]
