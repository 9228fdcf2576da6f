"""Photographs stand where the docket is: small in a row, large, and two side by side."""

from __future__ import annotations

from pathlib import Path

from PIL import Image
from PySide6.QtCore import Qt

from tests.desk.conftest import Hand
from yarvel.desk.widgets.photo_strip import PhotoStrip, small
from yarvel.workshop.dockets.records import Photograph


def taken(folder: Path, name: str, colour: str) -> Path:
    path = folder / f"{name}.png"
    Image.new("RGB", (640, 420), colour).save(path)
    return path


def test_photographs_stand_with_their_docket(hand: Hand, tmp_path: Path) -> None:
    hand.open_station("Take in")
    strip = hand.window.findChild(PhotoStrip, "docket.photographs")
    assert strip is not None and not strip.isVisible()
    docket = hand.window.session.docket
    assert docket is not None
    for count, (name, colour) in enumerate(
        (("before", "#884422"), ("bench", "#228844"), ("after", "#224488")), start=1
    ):
        hand.window.intake.take_photograph(taken(tmp_path, name, colour), docket)
        hand.bot.waitUntil(lambda count=count: strip.count() == count)
    assert strip.isVisible() and strip.item(0).toolTip().startswith("before")
    strip.setFocus()
    hand.bot.keyClick(strip, Qt.Key.Key_Return)
    shown = hand.window.intake.pictures
    assert shown is not None and shown.words[1].text().startswith("3 of 3 · after") and not shown.words[0].isVisible()
    hand.bot.keyClick(shown, Qt.Key.Key_S)
    assert shown.words[0].isVisible() and shown.words[0].text().startswith("1 of 3 · before")
    hand.bot.keyClick(shown, Qt.Key.Key_Left)
    assert shown.words[1].text().startswith("2 of 3 · bench") and shown.words[0].text().startswith("1 of 3")
    hand.bot.keyClick(shown, Qt.Key.Key_S)
    assert not shown.words[0].isVisible()
    hand.bot.keyClick(shown, Qt.Key.Key_Escape)
    assert not shown.isVisible()
    strip.item(0).setSelected(True)
    strip.item(2).setSelected(True)
    hand.bot.keyClick(strip, Qt.Key.Key_Return)
    both = hand.window.intake.pictures
    assert both is not None and both.words[0].text().startswith("1 of 3") and both.words[1].text().startswith("3 of 3")
    both.close()
    hand.window.dockets.open(3)
    hand.bot.waitUntil(lambda: hand.window.session.docket is not None and hand.window.session.docket.id == 3)
    hand.bot.waitUntil(lambda: not strip.isVisible())


def test_a_picture_that_cannot_be_read_is_a_grey_field(hand: Hand) -> None:
    from datetime import datetime

    spoiled = Photograph(id=1, at=datetime(2031, 4, 9), by="", caption="", width=10, height=10, jpeg=b"no picture")
    assert not small(spoiled).isNull()
