"""Measured checks in the window: typed, told, sent back, counted at the hand-over."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QLabel, QPushButton

from tests.desk.conftest import Hand
from yarvel.figures.figure import FigureKey


def told(hand: Hand, key: str) -> str:
    label = hand.window.findChild(QLabel, f"measured.{key}.told")
    assert label is not None
    return label.text()


def test_readings_are_told_and_what_fails_goes_back(hand: Hand) -> None:
    hand.open_station("Checks")
    hand.unfold("inside diameter, mm")
    wanted = hand.value("shank.inside_diameter")
    hand.type("measured.size.0", f"{wanted + 0.02:.2f}")
    assert "within 0.10" in told(hand, "size")
    hand.unfold("chord to the next claw, mm")
    for place, chord in enumerate(("5.2", "5.6", "4.8", "5.2")):
        hand.type(f"measured.chords.{place}", chord)
    assert "stands out by" in told(hand, "chords")
    assert "1 failed" in hand.window.run.stations[6].telling() and hand.window.run.stations[6].state() == "caution"
    send = hand.field("checks.send_back")
    assert isinstance(send, QPushButton) and not send.isEnabled()
    hand.type("checks.whom", "Benno")
    hand.window.run.ensureWidgetVisible(send)
    hand.bot.mouseClick(send, Qt.MouseButton.LeftButton)
    docket = hand.window.session.docket
    assert docket is not None and docket.state == "in work"
    assert docket.measured["sent_back"][0]["to"] == "Benno" and "stands out" in docket.measured["sent_back"][0]["why"]


def test_what_is_no_measure_is_marked_and_left_out(hand: Hand) -> None:
    hand.judge()
    hand.open_station("Checks")
    hand.unfold("weight with the stone, g")
    hand.type("measured.weight.0", "5.1")
    hand.type("measured.weight.0", "a lot")
    assert "Accepted: 0.05 to 500 g" in told(hand, "weight")
    docket = hand.window.session.docket
    assert docket is not None and "weight" not in docket.measured


def test_a_failed_measure_is_open_at_the_hand_over(hand: Hand) -> None:
    hand.open_station("Checks")
    hand.unfold("inside diameter, mm")
    before = len(hand.window.run.stations[7]._still_open())  # type: ignore[attr-defined]
    hand.type("measured.size.0", f"{hand.value('shank.inside_diameter') + 0.4:.2f}")
    assert len(hand.window.run.stations[7]._still_open()) == before + 1  # type: ignore[attr-defined]
    assert "take 1.2" in told(hand, "size")


def test_the_answer_for_another_job_is_not_taken(hand: Hand) -> None:
    """Bodies take a moment: what they tell of a job, or by rules, that are no longer in hand is dropped."""
    hand.judge()
    session, bodies = hand.window.session, hand.window.bodies
    seen: dict[float, set[float]] = {}

    def note() -> None:
        plan = session.plan
        if plan is not None and FigureKey("head.mass") in plan.figures:
            seen.setdefault(plan[FigureKey("head.claw")], set()).add(round(plan[FigureKey("head.mass")], 6))

    session.plan_changed.connect(note)
    thin, thick = 0.9, 1.2
    session.patch({"head": {"claw_mm": thin}}, "Thin")
    bodies._ask(fine=True)
    assert not bodies.at_rest
    session.patch({"head": {"claw_mm": thick}}, "Thick")
    hand.bot.waitUntil(lambda: bodies.at_rest)
    hand.judge()
    assert set(seen) == {thick} and len(seen[thick]) == 1, "nothing was told of the thick claws but their own mass"
    bodies._ask(fine=True)
    session.set_rules(session.rules.but(culet_clearance_mm=session.rules.culet_clearance_mm + 0.1))
    answered = bodies.answered
    hand.bot.waitUntil(lambda: bodies.answered > answered)
    assert session.plan is not None and FigureKey("head.mass") not in session.plan.figures, (
        "by other rules it is another head"
    )
    hand.bot.waitUntil(lambda: bodies.at_rest)
    hand.judge()
