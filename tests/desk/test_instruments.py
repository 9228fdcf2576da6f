"""A hand with a gauge: readings type themselves into the field that waits, from made-up instruments in processes of
their own."""

from __future__ import annotations

import subprocess
import sys
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication

from tests.desk.conftest import Hand
from yarvel.desk.instruments.dialog import InstrumentsDialog
from yarvel.instruments.port import PortEvent

Play = Callable[..., "Played"]


class Played:
    """A made-up instrument that a window listens to."""

    def __init__(self, link: Path, arguments: tuple[str, ...]) -> None:
        command = [sys.executable, "-m", "yarvel.cli", "simulate", *arguments, "--link", str(link)]
        self.link = link
        self.process = subprocess.Popen(command, stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True)
        assert self.process.stdout is not None
        assert self.process.stdout.readline().strip() == str(link)

    def put(self, what: str) -> None:
        """Something under it, and its button pressed."""
        assert self.process.stdin is not None
        self.process.stdin.write(what + "\n")
        self.process.stdin.flush()

    def end(self) -> None:
        """It is put away."""
        self.process.kill()
        self.process.wait()
        for pipe in (self.process.stdin, self.process.stdout):
            if pipe is not None:
                pipe.close()


@pytest.fixture
def play(hand: Hand, tmp_path: Path) -> Iterator[Play]:
    held: list[Played] = []
    came: list[PortEvent] = []
    hand.window.instruments.read.connect(came.append)

    def make(key: str, *arguments: str) -> Played:
        made = Played(tmp_path / key, arguments)
        held.append(made)
        dialog = InstrumentsDialog(hand.window.instruments, hand.window)
        dialog.ports[key].setCurrentText(str(made.link))
        dialog.keep()
        assert dialog.problem.text() == ""
        hand.bot.waitUntil(lambda: any(told.open and told.kind.key == key for told in came))
        dialog.deleteLater()
        return made

    yield make
    hand.window.instruments.finish()
    for one in held:
        one.end()


def test_readings_go_from_field_to_field(hand: Hand, play: Play) -> None:
    """Three diameters and a depth, no key touched; how finely the gauge reads goes with them."""
    gauge = play("gauge", "gauge")
    hand.window.take_in()
    hand.open_station("Stone")
    first = hand.field("stone.diameters_mm.0")
    first.setFocus()
    for place, size in enumerate(("5.31", "5.37", "5.33")):
        focus = QApplication.focusWidget()
        assert focus is not None and focus.objectName() == f"stone.diameters_mm.{place}"
        gauge.put(size)
        hand.bot.waitUntil(lambda focus=focus: QApplication.focusWidget() is not focus)
    stone = hand.window.session.document["stone"]
    assert stone["diameters_mm"] == [5.31, 5.37, 5.33] and "resolution_mm" not in stone
    assert "mean 5.34, spread 0.06" in hand.shown("stone.diameters_mm.told")
    hand.field("stone.depth_mm").setFocus()
    gauge.put("3.3")  # sent as 3.30 by an instrument that shows hundredths
    hand.bot.waitUntil(lambda: hand.window.session.document["stone"].get("depth_mm") == 3.3)


def test_a_reading_that_stands_out_is_told(hand: Hand, play: Play) -> None:
    gauge = play("gauge", "gauge")
    hand.window.take_in()
    hand.open_station("Stone")
    hand.field("stone.diameters_mm.0").setFocus()
    for size in ("5.31", "5.33", "5.32", "5.87"):
        focus = QApplication.focusWidget()
        gauge.put(size)
        hand.bot.waitUntil(lambda focus=focus: QApplication.focusWidget() is not focus)
    assert "5.87 stands out: read it again" in hand.shown("stone.diameters_mm.told")


def test_a_gauge_in_inches_and_one_that_nobody_waits_for(hand: Hand, play: Play) -> None:
    gauge = play("gauge", "gauge", "--fault", "unit")
    hand.window.take_in()
    hand.open_station("Stone")
    hand.field("stone.diameters_mm.0").setFocus()
    gauge.put("5.08")
    hand.bot.waitUntil(lambda: bool(hand.window.session.document.get("stone", {}).get("diameters_mm")))
    stone = hand.window.session.document["stone"]
    assert stone["diameters_mm"][0] == pytest.approx(5.08, abs=0.002)
    hand.window.sheet.setFocus()
    gauge.put("6.11")
    hand.bot.waitUntil(lambda: "No field waits for it" in hand.window.banner.text())
    hand.open_station("Take in")
    hand.field("docket.customer").setFocus()
    gauge.put("6.12")
    hand.bot.waitUntil(lambda: "0.24" in hand.window.banner.text())
    assert hand.field("docket.customer").text() == "", "words are not readings"  # type: ignore[attr-defined]


def test_carats_and_grams_go_where_they_are_waited_for(hand: Hand, play: Play) -> None:
    """The carat scale into the stone's weight; the gram scale into the fine book, and not into a size."""
    carats = play("carat-scale", "carat-scale")
    hand.window.dockets.open(7)
    hand.bot.waitUntil(lambda: hand.window.session.docket is not None and hand.window.session.docket.id == 7)
    hand.open_station("Stone")
    declared = hand.field("stone.declared_ct")
    hand.window.run.ensureWidgetVisible(declared)
    declared.setFocus()
    carats.put("1.523")
    hand.bot.waitUntil(lambda: hand.window.session.document["stone"].get("declared_ct") == 1.523)
    hand.field("stone.depth_mm").setFocus()
    carats.put("1.4")
    hand.bot.waitUntil(lambda: "waits for mm" in hand.window.banner.text())
    scale = play("gram-scale", "scale", "--fault", "doubled")
    hand.window.board.open_fine_book()
    book = hand.window.board.fine
    assert book is not None
    hand.bot.waitUntil(lambda: book.ready)
    hand.settle()  # what is still asked or put away must not take the focus afterwards
    book.activateWindow()
    book.mass.setFocus()
    hand.bot.waitUntil(lambda: QApplication.focusWidget() is book.mass)
    scale.put("7.415")
    hand.bot.waitUntil(lambda: book.mass.text() == "7.415")


def test_a_scanner_on_a_port_opens_the_docket(hand: Hand, play: Play) -> None:
    scanner = play("scanner", "scanner")
    scanner.put("~26-0003" if hand.window.session.docket is None else f"~{hand.window.session.docket.number[:2]}-0003")
    hand.bot.waitUntil(lambda: hand.window.session.docket is not None and hand.window.session.docket.id == 3)


def test_an_instrument_that_is_pulled_out_is_told(hand: Hand, play: Play) -> None:
    gauge = play("gauge", "gauge")
    gauge.process.kill()
    hand.bot.waitUntil(lambda: "does not answer: is it plugged in" in hand.window.banner.text())


def test_what_cannot_be_listened_to_is_refused(hand: Hand) -> None:
    dialog = InstrumentsDialog(hand.window.instruments, hand.window)
    hand.bot.addWidget(dialog)
    dialog.show()
    hand.bot.keyClicks(dialog.patterns["gauge"], "(")
    dialog.keep()
    assert "Accepted: a regular expression" in dialog.problem.text()
    dialog.patterns["gauge"].clear()
    for key in ("gauge", "scanner"):
        dialog.ports[key].setCurrentText("/dev/ttyUSB7")
    dialog.keep()
    assert "stands twice" in dialog.problem.text()
    hand.bot.keyClick(dialog, Qt.Key.Key_Escape)
    assert not dialog.isVisible()
