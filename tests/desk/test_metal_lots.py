"""Metal out of lots by hand: proposed, weighed, taken, undone; offcuts given back."""

from __future__ import annotations

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication

from tests.desk.conftest import Hand
from yarvel.desk.drawer.metal_lots import MetalLotsDialog
from yarvel.workshop.drawer.stock import LOT, StockItem


def opened(hand: Hand) -> MetalLotsDialog:
    hand.judge()
    hand.window.lots.open()
    hand.bot.waitUntil(lambda: hand.window.lots.dialog is not None)
    dialog = hand.window.lots.dialog
    assert dialog is not None
    return dialog


def stocked(hand: Hand) -> None:
    plan = hand.window.session.plan
    assert plan is not None
    metals = {plan.job.head.metal, plan.job.shank.metal if plan.job.shank else plan.job.head.metal}
    lots = [
        StockItem(LOT, f"R-{metal}", metal, 3.2, thickness_mm=3.2, length_mm=200.0, mass_g=31.7, shape="bar")
        for metal in sorted(metals)
    ]
    done: list[object] = []
    hand.window.dockets.rules.change_drawer(lambda store: store.drawer.add(lots), done.append)
    hand.bot.waitUntil(lambda: bool(done))


def test_metal_is_taken_from_a_lot_weighed_and_put_back(hand: Hand) -> None:
    hand.window.dockets.open(5)
    hand.bot.waitUntil(lambda: hand.window.session.docket.id == 5)  # type: ignore[union-attr]
    stocked(hand)
    dialog = opened(hand)
    assert dialog.needs and len(dialog.lots) == len(dialog.needs)
    codes = {combo.currentText().split(" · ")[0] for combo in dialog.lots}
    assert any(code.startswith("R-") for code in codes)
    dialog.lots[-1].setCurrentIndex(0)
    dialog.lots[-1].activated.emit(0)
    assert "Short, to be ordered" in dialog.told.text() and dialog.needs[-1].piece.lower() in dialog.told.text()
    hand.bot.mouseClick(dialog.buttons["order"], Qt.MouseButton.LeftButton)
    assert dialog.needs[-1].piece.lower() in QApplication.clipboard().text()
    dialog.lots[-1].setCurrentIndex(1)
    line = dialog.grams[-1]
    line.selectAll()
    hand.bot.keyClicks(line, "much")
    hand.bot.mouseClick(dialog.buttons["take"], Qt.MouseButton.LeftButton)
    assert "'much' is no mass. Accepted: 0.001" in dialog.told.text()
    line.selectAll()
    hand.bot.keyClicks(line, "2.5 g")
    hand.bot.mouseClick(dialog.buttons["take"], Qt.MouseButton.LeftButton)
    hand.bot.waitUntil(lambda: "Undo puts them back" in dialog.told.text())
    assert not line.isEnabled(), "what is taken is not taken twice"

    def issued(store: object) -> list[float]:
        return [line.mass for line in store.fine.of_docket(5) if line.note.startswith("lot ")]  # type: ignore[attr-defined]

    found: list[list[float]] = []
    hand.window.dockets.ask(issued, found.append)
    hand.bot.waitUntil(lambda: bool(found))
    assert 2.5 in found[0]
    shank = next(place for place, need in enumerate(dialog.needs) if need.part == "shank")
    assert not dialog.lots[shank].isEnabled()
    stock = hand.window.session.document["shank"]["stock"]
    assert (stock["across_mm"], stock["down_mm"]) == (3.2, 3.2)
    assert stock["length_mm"] == pytest.approx(200 * float(dialog.grams[shank].text()) / 31.7, abs=0.1)
    if dialog.backs:
        hand.bot.mouseClick(dialog.buttons["back"], Qt.MouseButton.LeftButton)
        assert "Nothing is weighed yet" in dialog.told.text()
        hand.bot.keyClicks(dialog.back_grams[0], "0.21")
        hand.bot.mouseClick(dialog.buttons["back"], Qt.MouseButton.LeftButton)
        hand.bot.waitUntil(lambda: "as lots in the drawer" in dialog.told.text())
        held: list[list[StockItem]] = []
        hand.window.dockets.ask(lambda store: store.drawer.items(), held.append)
        hand.bot.waitUntil(lambda: bool(held))
        assert dialog.backs[0].code in {item.code for item in held[0]}
    else:
        raise AssertionError("an inset ring gives the piece of its gap back")
