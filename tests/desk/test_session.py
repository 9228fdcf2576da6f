"""Session, keeper and edits without a window."""

from __future__ import annotations

import threading
from collections.abc import Callable
from datetime import datetime
from typing import Any

import pytest
from msgspec import structs
from PySide6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from tests.conftest import BASE
from yarvel.desk.background.runner import Runner
from yarvel.desk.session.edits import HEIGHT_RANGE, NOTCH_RANGE, can_type_over, dragged_to, typed_over
from yarvel.desk.session.session import Session
from yarvel.desk.storing.keeper import Keeper
from yarvel.desk.theme import THEMES
from yarvel.exchange.job_file import accepted, checked_job
from yarvel.figures.errors import StoreGoneError
from yarvel.figures.figure import FigureKey
from yarvel.figures.rules import HouseRules
from yarvel.planning.documents import nested, value_at
from yarvel.planning.job import merge_patch
from yarvel.planning.plan import Plan, plan
from yarvel.workshop.dockets.records import Docket, DocketEdit

NOW = datetime(2031, 4, 9)


def docket(document: dict[str, Any] = BASE) -> Docket:
    return Docket(
        id=1,
        number="31-0001",
        customer="",
        item="",
        promised_on=None,
        state="taken in",
        job_document=document,
        drafts={},
        ticks=(),
        version=1,
        created_at=NOW,
        updated_at=NOW,
    )


@pytest.fixture
def session(qapp: QApplication) -> Session:
    made = Session(HouseRules())
    made.open(docket())
    return made


def test_every_change_is_told_as_a_patch(session: Session) -> None:
    told: list[DocketEdit] = []
    session.edited.connect(told.append)
    session.set_value("head.claws", 6, "Claws")
    session.undo_stack.undo()
    patches = [patch for edit in told for patch in edit.job_patches]
    assert patches == [{"head": {"claws": 6}}, {"head": {"claws": 4}}]
    assert session.document == BASE


def test_one_go_of_typing_is_one_step_and_a_return_is_none(session: Session) -> None:
    for text in ("1", "1.", "1.1", "1.12"):
        session.enter_text("head.claw_mm", text, "Claw wire")
    assert session.undo_stack.count() == 1
    session.end_burst()
    session.enter_text("head.claw_mm", "1.13", "Claw wire")
    assert session.undo_stack.count() == 2
    session.enter_text("head.claw_mm", "1.12", "Claw wire")
    assert session.undo_stack.count() == 1


def test_a_docket_without_stone_still_checks_its_other_fields(session: Session) -> None:
    session.open(docket({"format": "yarvel-job/1"}))
    assert session.plan is None
    assert session.set_value("shank.size", {"system": "UK", "value": "M"}, "Size")
    assert not session.set_value("head.claws", 99, "Claws")
    assert session.problems["head.claws"].accepted == "a whole number, 3 to 8"


def test_a_job_made_impossible_from_elsewhere_is_told_and_can_be_mended(session: Session) -> None:
    broken = {name: part for name, part in BASE.items() if name != "shank"} | {"shank": {"width_mm": 2.0}}
    session.open(docket(broken))
    assert session.plan is None
    assert "not whole" in session.problems["job"].wrong
    session.patch({"shank": None, "fit": None}, "Take the shank away")
    assert session.plan is not None
    assert "job" not in session.problems


def test_a_preview_of_what_no_longer_fits_shows_nothing(session: Session) -> None:
    assert session.plan is not None
    call = next(call for call in session.plan.diagnostics if call.code == "claw-loss")
    session.show_preview(call)
    assert session.preview is not None
    session.open(docket({"format": "yarvel-job/1", "stone": {"diameters_mm": [5.0]}}))
    session.show_preview(structs.replace(call, remedy={"shank": {"width_mm": 3.0}}))
    assert session.preview is None


def test_drafts_come_back_with_their_mark(session: Session) -> None:
    from dataclasses import replace

    session.open(replace(docket(), drafts={"stone.depth_mm": "4,x"}))
    assert session.problems["stone.depth_mm"].wrong == "'4,x' is not accepted"


def test_paths_of_a_document() -> None:
    assert nested("a.b.c", 1) == {"a": {"b": {"c": 1}}}
    assert value_at({"a": {"b": 2}}, "a.b") == 2
    assert value_at({"a": 1}, "a.b.c") is None


def test_ranges_of_a_drag_are_the_jobs_own() -> None:
    assert accepted("head.notch_ratio") == f"0 to {NOTCH_RANGE[1]:g}"
    assert accepted("fit.height").startswith(f"{HEIGHT_RANGE[0]:g} to {HEIGHT_RANGE[1]:g} mm")


@pytest.mark.parametrize(
    "parts", [{}, {"fit": {"method": "inset"}}, {"head": {"style": "tube", "notch_ratio": None, "claw_mm": None}}]
)
def test_every_figure_that_can_be_typed_over_takes_what_is_typed(
    parts: dict[str, Any], planned: Callable[..., Plan]
) -> None:
    before = planned(samples=0, **parts)
    document = merge_patch(BASE, parts)
    able = [key for key in before.figures if can_type_over(before, key)]
    assert len(able) >= 12
    for key in able:
        wanted = before[key] + (0.04 if key.key != "head.splay" else 1.0)
        job = checked_job(merge_patch(document, typed_over(before, key, wanted)), HouseRules())
        assert plan(job, HouseRules(), samples=0)[key] == pytest.approx(wanted, abs=2e-3), key


def test_a_drag_goes_as_far_as_a_job_may(planned: Callable[..., Plan]) -> None:
    made = planned(samples=0)
    assert dragged_to(made, FigureKey("head.inner_opening"), 99)["head"]["notch_ratio"] == 0.05
    assert dragged_to(made, FigureKey("seat.plane_above_finger"), 99)["fit"]["height"] == 25


def test_what_cannot_be_stored_is_tried_again_and_nothing_is_lost(
    qtbot: QtBot, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("yarvel.desk.storing.keeper.RETRY_MS", 30)
    runner = Runner()
    keeper = Keeper(runner)
    written: list[DocketEdit] = []
    full = [True]

    def write(docket_id: int, edit: DocketEdit) -> Docket:
        if full[0]:
            raise StoreGoneError("disk full")
        written.append(edit)
        return docket()

    told: list[str] = []
    keeper.failing.connect(told.append)
    keeper.begin(write)
    keeper.keep(1, DocketEdit(job_patches=({"a": 1},), fields={"item": "x"}))
    qtbot.waitUntil(lambda: len(told) >= 2)
    keeper.keep(1, DocketEdit(job_patches=({"b": 2},), fields={"item": "y"}))
    assert keeper.waiting
    full[0] = False
    qtbot.waitUntil(lambda: not keeper.waiting)
    assert [patch for edit in written for patch in edit.job_patches] == [{"a": 1}, {"b": 2}]
    assert written[-1].fields["item"] == "y"
    runner.finish()


def test_what_waits_is_handed_over_on_closing(qtbot: QtBot) -> None:
    runner = Runner()
    keeper = Keeper(runner)
    keeper.keep(7, DocketEdit(job_patches=({"a": 1},)))
    keeper.keep(7, DocketEdit(job_patches=({"b": 2},)))
    keeper.keep(7, DocketEdit(job_patches=({"c": 3},), act="a drag"))
    keeper.keep(7, DocketEdit(job_patches=({"c": 4},), act="a drag"))
    dragged = DocketEdit(job_patches=({"c": 3}, {"c": 4}), fields={}, job_seen=(None, None), act="a drag")
    taken = keeper.take_all()
    assert [(key, structs.replace(edit, id="", follows="", pressed=None)) for key, edit in taken] == [
        (7, DocketEdit(job_patches=({"a": 1},))),
        (7, DocketEdit(job_patches=({"b": 2},))),
        (7, dragged),
    ]
    ids = [edit.id for _, edit in taken]
    assert len(set(ids)) == 3 and [edit.follows for _, edit in taken] == ["", *ids[:2]]
    assert not keeper.waiting
    runner.finish()


def luminance(colour: str) -> float:
    """Relative luminance by WCAG 2."""
    parts = [int(colour[place : place + 2], 16) / 255 for place in (1, 3, 5)]
    linear = [part / 12.92 if part <= 0.04045 else ((part + 0.055) / 1.055) ** 2.4 for part in parts]
    return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]


PAIRS = (
    [("text", ground) for ground in ("window", "panel", "raised", "field", "accent-soft", "paper")]
    + [("text-quiet", ground) for ground in ("window", "panel", "raised", "field", "paper")]
    + [(level, ground) for level in ("stop", "caution", "note", "ok") for ground in ("panel", "raised")]
    + [("on-accent", "accent"), ("figure", "paper"), ("figure", "accent-soft")]
)


@pytest.mark.parametrize("theme", THEMES)
def test_text_contrast_is_at_least_four_and_a_half_to_one(theme: str) -> None:
    """Published: WCAG 2.2, success criterion 1.4.3."""
    colours = THEMES[theme]
    for text, ground in PAIRS:
        light, dark = sorted((luminance(colours[text]), luminance(colours[ground])), reverse=True)
        assert (light + 0.05) / (dark + 0.05) >= 4.5, f"{text} on {ground}"


def test_both_themes_know_the_same_roles() -> None:
    assert set(THEMES["light"]) == set(THEMES["dark"])


def test_work_that_hangs_keeps_no_window_from_closing(qtbot: QtBot) -> None:
    runner, never = Runner(), threading.Event()
    runner.run(never.wait, lambda _done: None)
    assert not runner.finish(lambda: None, patience_s=0.3), "by itself it would wait for ever"
    never.set()
