"""Alloys and species of the workshop's own, put in by hand and chosen in the run."""

from __future__ import annotations

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QPushButton

from tests.desk.conftest import Hand
from tests.desk.test_whole_ring import answering
from yarvel.desk.house.alloys import AlloysDialog
from yarvel.desk.house.custom_alloy import CustomAlloyDialog
from yarvel.desk.house.species import SpeciesDialog
from yarvel.metals.alloys import head_mass_g
from yarvel.planning.plan import HEAD_VOLUME
from yarvel.stones.species import SPECIES


def press(hand: Hand, button: QPushButton) -> None:
    hand.bot.mouseClick(button, Qt.MouseButton.LeftButton)


def put_in_an_alloy(hand: Hand) -> None:
    def fill(dialog: object) -> None:
        assert isinstance(dialog, CustomAlloyDialog)
        ok = dialog.buttons.button(dialog.buttons.StandardButton.Ok)
        hand.bot.keyClicks(dialog.label, "Greyish gold")
        hand.bot.keyClicks(dialog.parts, "Au 75, Ag 5")
        press(hand, ok)
        assert "they make up 80" in dialog.told.text()
        hand.bot.keyClicks(dialog.parts, ", Pd 20")
        assert "By its elements" in dialog.weighs.text()
        press(hand, ok)

    def act(dialog: object) -> None:
        assert isinstance(dialog, AlloysDialog)
        answering(CustomAlloyDialog, fill)
        press(hand, dialog.another)
        edit = dialog.edits["own-greyish-gold", "price_per_g"]
        edit.setFocus()
        edit.selectAll()
        hand.bot.keyClicks(edit, "66")
        press(hand, dialog.buttons.button(dialog.buttons.StandardButton.Ok))

    answering(AlloysDialog, act)
    hand.window.house.edit_alloys()
    hand.settle()


def test_an_alloy_is_put_in_and_a_head_made_of_it(hand: Hand) -> None:
    hand.open_station("Head")
    hand.window.board.open_fine_book()  # a window that was open before knows it, too
    put_in_an_alloy(hand)
    hand.choose("head.metal", "own-greyish-gold")
    hand.judge()
    plan = hand.window.session.plan
    assert plan is not None
    density = 1 / (0.75 / 19.3 + 0.05 / 10.5 + 0.20 / 12.02)
    hand.bot.waitUntil(lambda: HEAD_VOLUME in hand.window.session.plan.figures)  # type: ignore[union-attr]
    plan = hand.window.session.plan
    assert plan[head_mass_g] / plan[HEAD_VOLUME] * 1000 == pytest.approx(density, abs=0.006)  # type: ignore[index]
    hand.window.board.open_fine_book()
    book = hand.window.board.fine
    assert book is not None and book.alloy.findText("Greyish gold") >= 0

    def leave_out(dialog: object) -> None:
        assert isinstance(dialog, AlloysDialog)
        out = dialog.findChild(QPushButton, "alloys.own-greyish-gold.out")
        assert isinstance(out, QPushButton)
        press(hand, out)
        press(hand, dialog.buttons.button(dialog.buttons.StandardButton.Ok))

    answering(AlloysDialog, leave_out)
    hand.window.house.edit_alloys()
    hand.bot.waitUntil(lambda: "is named by docket" in hand.window.banner.text())
    assert hand.window.session.plan is not None, "what a docket names stays"


def test_a_species_is_put_in_and_chosen(hand: Hand) -> None:
    hand.open_station("Stone")

    def act(dialog: object) -> None:
        assert isinstance(dialog, SpeciesDialog)
        for line, text in ((dialog.label, "Spinel"), (dialog.hardness, "6.25"), (dialog.gravity, "33")):
            line.setFocus()
            line.selectAll()
            hand.bot.keyClicks(line, text)
        press(hand, dialog.add)
        assert "stands in the table already" in dialog.problem.text()
        dialog.label.selectAll()
        hand.bot.keyClicks(dialog.label, "Benitoite")
        press(hand, dialog.add)
        assert dialog.problem.text() == "Gravity: 33.0 cannot be. Accepted: 0.9 to 8"
        dialog.gravity.selectAll()
        hand.bot.keyClicks(dialog.gravity, "3.65")
        press(hand, dialog.add)
        item = dialog.rows.item(0, 0)
        assert item is not None and item.text() == "Benitoite", "one's own stand first"
        press(hand, dialog.buttons.button(dialog.buttons.StandardButton.Ok))

    answering(SpeciesDialog, act)
    hand.window.house.edit_species()
    hand.settle()
    before = hand.value("stone.weight_model")
    gravity = SPECIES[hand.window.session.document["stone"]["species"]].gravity
    hand.choose("stone.species", "own-benitoite")
    assert hand.value("stone.weight_model") == pytest.approx(before * 3.65 / gravity)
