"""The claw chart in its window: pressed, measured, judged, stored."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import pytest
from msgspec.structs import replace
from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QImage
from PySide6.QtWidgets import QLabel, QWidget

from tests.desk.conftest import Hand
from yarvel.desk.repair.window import RepairWindow
from yarvel.drawing.claw_chart import claw_chart
from yarvel.drawing.primitives import Drawing
from yarvel.drawing.primitives import Path as Drawn
from yarvel.heads.places import numbers
from yarvel.planning.plan import Plan
from yarvel.route.ways import ClawTold
from yarvel.workshop.dockets.photo_marks import spots_on, with_spot
from yarvel.workshop.store import Store


@pytest.fixture
def repair(hand: Hand) -> RepairWindow:
    hand.window.intake.open_repair()
    hand.bot.waitUntil(lambda: hand.window.intake.repair is not None and hand.window.intake.repair.isVisible())
    made = hand.window.intake.repair
    assert made is not None
    return made


def told(repair: RepairWindow, name: str) -> str:
    label = repair.findChild(QLabel, name)
    assert label is not None
    return label.text()


def press(hand: Hand, repair: RepairWindow, claw: int) -> None:
    hand.bot.mouseClick(repair.chart, Qt.MouseButton.LeftButton, pos=repair.chart.spot(claw).toPoint())


def choose(repair: RepairWindow, finding: str) -> None:
    repair.findings.boxes[finding].click()


def measure(hand: Hand, repair: RepairWindow, name: str, text: str) -> None:
    edit = repair.findChild(QWidget, f"claw.{name}")
    assert edit is not None
    hand.bot.mouseClick(edit, Qt.MouseButton.LeftButton)
    hand.bot.keyClick(edit, Qt.Key.Key_A, Qt.KeyboardModifier.ControlModifier)
    hand.bot.keyClicks(edit, text)


def test_a_claw_is_pressed_measured_and_judged(hand: Hand, repair: RepairWindow) -> None:
    press(hand, repair, 1)
    assert repair.chart.claw == 1
    choose(repair, "worn-tip")
    measure(hand, repair, "tip", "0,3")
    assert told(repair, "claw.verdict").startswith("Re-tip: 0.30 mm of tip left")
    assert "<b>Mend</b>" in told(repair, "repair.told") and "worn tips" in told(repair, "repair.told")
    measure(hand, repair, "tip", "9")
    assert "over 0 to 5" in told(repair, "claw.problem") and "0.30" in told(repair, "claw.verdict")
    assert found(repair, 1) == ("worn-tip",)


def found(repair: RepairWindow, claw: int) -> tuple[str, ...]:
    return repair._found()[claw].findings


def test_a_claw_is_chosen_wherever_it_is_pressed(hand: Hand, repair: RepairWindow) -> None:
    """Its tip over the stone, its middle, its mark, its number; between two claws nothing is."""
    plan = hand.window.session.plan
    assert plan is not None
    scale, middle = repair.chart._frame()
    for claw, place in enumerate(plan.shape.places):
        over = min(float(part[:, 0].min()) for part in plan.shape.profiles)
        out = max(float(part[:, 0].max()) for part in plan.shape.profiles)
        for along in (over, 0.0, out, out + 16 / scale, out + 46 / scale):
            repair.chart._choose((claw + 1) % 4)
            x, y = place.x_mm + along * place.normal[0], place.y_mm + along * place.normal[1]
            at = QPointF(middle.x() + x * scale, middle.y() - y * scale).toPoint()
            hand.bot.mouseClick(repair.chart, Qt.MouseButton.LeftButton, pos=at)
            assert repair.chart.claw == claw, (claw, along)
    hand.bot.mouseClick(repair.chart, Qt.MouseButton.LeftButton, pos=middle.toPoint())
    assert repair.chart.claw == 3, "the stone is no claw"


def test_what_is_missing_is_nothing_else(hand: Hand, repair: RepairWindow) -> None:
    """Neither worn nor loose, and nothing is measured of it; whatever is found afterwards, it is there."""
    press(hand, repair, 0)
    choose(repair, "worn-tip")
    measure(hand, repair, "tip", "0.3")
    choose(repair, "loose")
    assert found(repair, 0) == ("worn-tip", "loose")
    choose(repair, "missing")
    assert found(repair, 0) == ("missing",) and told(repair, "claw.verdict") == "New claw: missing."
    assert not repair.edits["tip"].isEnabled() and repair.edits["tip"].text() == ""
    choose(repair, "bent")
    assert found(repair, 0) == ("bent",) and repair.edits["tip"].isEnabled()
    hand.bot.keyClicks(repair.chart, "5")
    assert found(repair, 0) == ("missing",)


def test_a_missing_claw_is_not_drawn_as_one_that_is_there(planned: Callable[..., Plan]) -> None:
    """Its outline, dashed; the others as metal. In the window and on paper."""
    plan = planned(samples=0)
    told_claws = [
        ClawTold(called, place, ("missing",) if place == 1 else (), "new-claw" if place == 1 else "leave")
        for place, called in enumerate(numbers(plan.shape.places))
    ]
    whole = claw_chart(plan, tuple(replace(claw, findings=(), work="leave") for claw in told_claws), 120, 120)
    gone = claw_chart(plan, tuple(told_claws), 120, 120)

    def of_role(drawing: Drawing, role: str) -> int:
        return sum(isinstance(part, Drawn) and role in (part.fill, part.stroke) for part in drawing.items)

    assert of_role(gone, "metal") == of_role(whole, "metal") - 1
    assert of_role(gone, "hidden") == of_role(whole, "hidden") + 1


def test_arrow_keys_go_the_way_the_eye_does(hand: Hand, repair: RepairWindow) -> None:
    """From every claw: to one that lies that way, or nowhere."""
    moved = 0
    for key, way in (
        (Qt.Key.Key_Right, (1, 0)),
        (Qt.Key.Key_Left, (-1, 0)),
        (Qt.Key.Key_Down, (0, 1)),
        (Qt.Key.Key_Up, (0, -1)),
    ):
        for claw in range(4):
            press(hand, repair, claw)
            hand.bot.keyClick(repair.chart, key)
            off = repair.chart.spot(repair.chart.claw) - repair.chart.spot(claw)
            moved += repair.chart.claw != claw
            assert repair.chart.claw == claw or off.x() * way[0] + off.y() * way[1] > 0
    assert moved >= 8


def test_a_claw_shows_more_than_one_thing_by_its_figures(hand: Hand, repair: RepairWindow) -> None:
    """Worn and lifted: re-tipped, for that is the heavier work; a band beside it is the cause before wear."""
    press(hand, repair, 0)
    hand.bot.keyClicks(repair.chart, "18")
    assert found(repair, 0) == ("worn-tip", "lifted")
    assert told(repair, "claw.verdict").startswith("Re-tip") and "worn tips" in told(repair, "repair.told")
    hand.bot.keyClicks(repair.chart, "6")
    assert found(repair, 0) == ("worn-tip", "neighbour", "lifted")
    assert "a band worn beside it" in told(repair, "repair.told")
    chart = hand.window.session.docket.claw_chart  # type: ignore[union-attr]
    assert chart["claws"][0] == {"finding": "worn-tip", "also": ["neighbour", "lifted"]}
    hand.bot.mouseClick(repair.ways["re-tip"], Qt.MouseButton.LeftButton)
    notice = hand.window.findChild(QLabel, "repair.notice")
    assert notice is not None and "worn tip, worn by a neighbour band, lifted off the crown – re-tip" in notice.text()
    hand.bot.keyClicks(repair.chart, "0")
    assert found(repair, 0) == ()


def test_the_docket_s_photograph_stands_beside_its_chart(hand: Hand, tmp_path: Path) -> None:
    picture = tmp_path / "worn.png"
    image = QImage(300, 200, QImage.Format.Format_RGB32)
    image.fill(Qt.GlobalColor.darkYellow)
    image.save(str(picture))
    docket = hand.window.session.docket
    assert docket is not None
    hand.window.intake.take_photograph(picture, docket)
    hand.settle()
    hand.window.intake.open_repair()
    hand.bot.waitUntil(lambda: hand.window.intake.repair is not None)
    opened = hand.window.intake.repair
    assert opened is not None
    assert opened.photograph.isVisible() and opened.photograph.told.text().startswith("worn, ")
    assert not opened.photograph.other.isVisible()


def test_a_way_out_is_chosen_and_all_is_stored(hand: Hand, repair: RepairWindow) -> None:
    choose(repair, "missing")
    assert list(repair.ways) == ["new-claws", "new-head-bought", "new-head-made"]
    assert "advised" in repair.ways["new-claws"].text()
    hand.bot.mouseClick(repair.ways["new-claws"], Qt.MouseButton.LeftButton)
    assert "chosen" in repair.ways["new-claws"].text()
    hand.bot.waitUntil(lambda: not hand.window.dockets.keeper.waiting)
    store = Store(Path(hand.window._settings.fileName().removesuffix(".window.ini")))
    docket = store.docket(hand.window.session.docket.id)  # type: ignore[union-attr]
    assert docket.claw_chart["chosen"] == "new-claws" and docket.claw_chart["claws"][0] == {"finding": "missing"}
    assert store.history(docket.id)[-1].field == "claw_chart"
    store.close()
    notice = hand.window.findChild(QLabel, "repair.notice")
    assert notice is not None and notice.isVisible()
    assert "Repair: New claws" in notice.text() and "missing – new claw" in notice.text()
    repair.close()
    hand.open_station("Work")
    hand.settle()
    keys = hand.window.run.stations[5].list.operation_keys()  # type: ignore[attr-defined]
    assert keys[:3] == ["chart-wear-head", "take-stone-out-stone", "saw-off-stays-old-claws"]
    assert "roll-shank" not in keys and "solder-new-claws" in keys


def test_without_a_head_it_says_what_to_do(hand: Hand) -> None:
    hand.window.take_in()
    hand.bot.waitUntil(lambda: hand.window.session.plan is None)
    hand.window.intake.open_repair()
    assert "measure the stone first" in hand.window.banner.text()


def test_a_claw_is_marked_on_the_photograph_where_it_is_seen(hand: Hand, tmp_path: Path) -> None:
    """Pressed there: its number and its verdict's shape; pressed again it is gone; large it shows the same."""
    test_the_docket_s_photograph_stands_beside_its_chart(hand, tmp_path)
    opened, session = hand.window.intake.repair, hand.window.session
    assert opened is not None and opened.photograph.shown is not None
    picture = opened.photograph.picture
    press(hand, opened, 0)
    hand.bot.keyClicks(opened.chart, "5")
    place = picture.spot(0.25, 0.5).toPoint()
    hand.bot.mouseClick(picture, Qt.MouseButton.LeftButton, pos=place)
    hand.bot.waitUntil(lambda: len(picture.marks) == 1)
    number = numbers(session.plan.shape.places)[0]  # type: ignore[union-attr]
    (mark,) = picture.marks
    assert (mark.number, mark.level) == (number, "stop") and mark.x == pytest.approx(0.25, abs=0.01)
    press(hand, opened, 2)
    hand.bot.mouseClick(picture, Qt.MouseButton.LeftButton, pos=picture.spot(0.75, 0.5).toPoint())
    hand.bot.waitUntil(lambda: {one.level for one in picture.marks} == {"stop", "ok"})
    shown = [opened.photograph.shown]
    hand.window.intake.open_photographs((shown, shown))
    large = hand.window.intake.pictures
    assert large is not None and {one.number for one in large.pictures[1].marks} == {
        one.number for one in picture.marks
    }
    large.close()
    press(hand, opened, 0)
    hand.bot.mouseClick(picture, Qt.MouseButton.LeftButton, pos=place)
    hand.bot.waitUntil(lambda: [one.level for one in picture.marks] == ["ok"])


def test_what_is_no_mark_is_left_out() -> None:
    chart = {"marks": {"3": {"1": [0.5, 0.5], "x": [0, 0], "2": [2, 0], "4": "here"}, "4": 7}, "seen": "2031-01-01"}
    assert spots_on(chart, 3) == {1: (0.5, 0.5)} and spots_on(chart, 4) == {} and spots_on({}, 3) == {}
    away = with_spot(chart, 3, 1, (0.51, 0.49))
    assert spots_on(away, 3) == {} and away["seen"] == "2031-01-01"
    assert spots_on(with_spot(chart, 3, 1, (0.9, 0.9)), 3) == {1: (0.9, 0.9)}
