"""Words are for people: every title of every register is reworded, and nothing but words is different afterwards."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from datetime import date
from pathlib import Path
from typing import Any

import pytest
from msgspec import Struct, structs

from yarvel.exchange.plan_file import plan_document
from yarvel.figures.rules import HouseRules
from yarvel.heads import vees
from yarvel.heads.styles import STYLES
from yarvel.heads.wear import FINDINGS, WORK, ClawFound
from yarvel.metals.alloys import ALLOYS
from yarvel.operations import joint_states
from yarvel.operations.joint_groups import FORMER_NAMES, GROUPS
from yarvel.operations.register import REGISTER
from yarvel.operations.stone_state import FEATURES
from yarvel.planning.job import Job, from_document, merge_patch
from yarvel.planning.plan import Plan, plan
from yarvel.planning.repair import CAUSES, VERDICTS, judge_head
from yarvel.planning.weighing import weighed
from yarvel.planning.work_methods import CLOSINGS, RINGS, SEATS, STONE_STATES, TACKS, TIPS
from yarvel.route.card import LABELS, SECTIONS, sections, tasks
from yarvel.route.checks import checks
from yarvel.route.instead import INSTEAD
from yarvel.route.running import route_of
from yarvel.route.ways import repaired, ways_out
from yarvel.shanks.methods import METHODS
from yarvel.stones.cuts import CUTS
from yarvel.stones.species import SPECIES
from yarvel.workshop.dockets.claw_chart import chart_with, found_on
from yarvel.workshop.dockets.records import STATES, DocketEdit
from yarvel.workshop.money.estimate import tasks_of
from yarvel.workshop.reports.records import CAUSE_LABELS, causes
from yarvel.workshop.storage.rights import ROLES
from yarvel.workshop.store import Store
from yarvel.workshop.work.docket_work import way_of
from yarvel.workshop.work.standards import STANDARDS

RULES = HouseRules()
PlanMaker = Callable[..., Plan]
_WORDS = ("text", "look", "message", "title", "what", "shield", "label", "caution", "piece", "from", "remedy_label")
"""Of a plan's document, what is for people only."""
_TABLES: tuple[dict[Any, str], ...] = (
    FINDINGS, WORK, CAUSES, VERDICTS, CAUSE_LABELS, STATES, ROLES, GROUPS, FEATURES, LABELS, joint_states.WORDS,
)  # fmt: skip
_RECORDS: tuple[dict[Any, Any], ...] = (REGISTER, ALLOYS, SPECIES, CUTS, STANDARDS, CLOSINGS)
_MODULES = (*STYLES.values(), *METHODS.values())
PIECES: dict[str, dict[str, Any]] = {
    "basket": {"fit": {"method": "inset"}},
    "order": {"joints": {"order": list(FORMER_NAMES)[:2], "grades": {"head-to-shank": "easy"}}},
    "collet": {
        "head": {"style": "tapered-collet", "claw_mm": None, "notch_ratio": None, "cut": "claws"},
        "fit": {"method": "fish-mouth"},
    },
    "strip": {
        "stone": {"cut": "emerald", "diameters_mm": None, "length_mm": 8.4, "width_mm": 6.1, "depth_mm": 4.1},
        "head": {"style": "tube", "claws": None, "claw_mm": None, "notch_ratio": None},
        "fit": {"method": "split-shoulder"},
    },
    "pendant": {"shank": None, "fit": {"method": "pendant", "height": None}},
}


def _rename(record: Any, label: str) -> None:
    """What nobody else may do: another title for a record that cannot be changed."""
    (structs.force_setattr if isinstance(record, Struct) else object.__setattr__)(record, "label", label)


@pytest.fixture
def reword(monkeypatch: pytest.MonkeyPatch) -> Iterator[Callable[[], None]]:
    """Puts other words in the place of every title; they are put back afterwards."""
    put_back: list[Callable[[], None]] = []

    def act() -> None:
        for table in _TABLES:
            for key in table:
                monkeypatch.setitem(table, key, f"Other words {len(put_back)}")
        for stage, (key, _) in list(SECTIONS.items()):
            monkeypatch.setitem(SECTIONS, stage, (key, f"Part {stage}"))
        for ways in (*INSTEAD.values(), RINGS, SEATS, STONE_STATES, TACKS, TIPS, vees.FOLD_METHODS):
            for key in ways:
                monkeypatch.setitem(ways, key, f"In other words {key}")
        for records in _RECORDS:
            for record in records.values():
                before = record.label
                _rename(record, f"Another {len(put_back)}")
                put_back.append(lambda record=record, before=before: _rename(record, before))
        for module in _MODULES:
            monkeypatch.setattr(module, "LABEL", f"Some {module.__name__}")

    yield act
    for undo in put_back:
        undo()


def without_words(part: Any) -> Any:
    """A document without what is for people only."""
    if isinstance(part, dict):
        return {name: without_words(value) for name, value in part.items() if name not in _WORDS}
    return [without_words(value) for value in part] if isinstance(part, list) else part


def told(job: Job) -> dict[str, Any]:
    """All that programs, tasks and ticks go by."""
    made = weighed(plan(job, RULES, samples=0))
    parts = sections(route_of(made), made)
    return {
        "document": without_words(plan_document(made)),
        "lines": [(part.key, [(line.key, line.mark, line.minutes) for line in part.lines]) for part in parts],
        "tasks": [(part.key, part.minutes, sorted(part.skills)) for part in tasks(parts)],
        "checks": [check.mark for check in checks(made)],
    }


@pytest.mark.parametrize("name", PIECES)
def test_a_plan_and_its_work_do_not_hang_on_words(name: str, planned: PlanMaker, reword: Callable[[], None]) -> None:
    job = planned(samples=0, **PIECES[name]).job
    before, words = told(job), plan_document(plan(job, RULES, samples=0))
    reword()
    assert told(job) == before
    assert plan_document(plan(job, RULES, samples=0)) != words, "they are reworded"


def test_a_repair_does_not_hang_on_words(planned: PlanMaker, reword: Callable[[], None]) -> None:
    made = planned(samples=0)
    found = (ClawFound("worn-tip", tip=0.2), ClawFound("bent"), ClawFound("neighbour", tip=0.3), ClawFound())

    def all_of() -> list[Any]:
        judged = judge_head(made, found, RULES)
        ways = [(way.key, way.minutes, way.metal_g, way.cost) for way in ways_out(made, found, RULES)]
        work = [claw.work for claw in judged.claws]
        return [work, judged.verdict, judged.cause, ways, told(repaired(made, found, judged.claws, "re-tip"))]

    before = all_of()
    reword()
    assert all_of() == before


def test_a_store_does_not_hang_on_words(tmp_path: Path, planned: PlanMaker, reword: Callable[[], None]) -> None:
    """A docket with its tasks, ticks, chart and state, written under one set of words and read under another."""
    made = planned(samples=0)
    chart = {**chart_with({}, (ClawFound("thin-side"), ClawFound("worn-tip")), made_on()), "cause": "worn"}
    store = Store(tmp_path / "a.sqlite")
    docket = store.new_docket("Ferrand", "ring", None, {"format": "yarvel-job/1"}, "in work")
    mark = checks(made)[0].mark
    store.edit(
        docket.id, DocketEdit(job_patches=(), fields={"claw_chart": {**chart, "chosen": "Re-tip"}, "ticks": (mark,)})
    )
    store.tasks.plan_tasks(docket.id, tasks_of(made, store.docket(docket.id), RULES))
    store.people.add("Tove", "front desk", ())

    def all_of() -> list[Any]:
        held = store.docket(docket.id)
        back = [(cause.cause, cause.style, cause.claws) for cause in causes([held])]
        keys = [(task.operation, task.standard) for task in store.tasks.tasks(docket.id)]
        found = [claw.finding for claw in found_on(held, 2)]
        people = [person.role for person in store.people.all()]
        return [held.state, held.ticks, way_of(held), back, keys, found, people, tasks_of(made, held, RULES)]

    before = all_of()
    reword()
    assert all_of() == before
    store.tasks.plan_tasks(docket.id, tasks_of(made, store.docket(docket.id), RULES))
    assert all_of() == before, "planned again, they are the same tasks"
    store.close()


def made_on() -> date:
    """A day on which claws were looked at."""
    return date(2031, 4, 9)


def test_schools_and_styles_are_named_in_documents_by_key() -> None:
    """The words of a job file are the registers' keys, so that one written today is read under any wording."""
    for words in (STYLES, METHODS, ALLOYS, SPECIES, CUTS, GROUPS, FINDINGS):
        assert all(key == key.lower() for key in words)
    assert from_document(merge_patch({"format": "yarvel-job/1"}, {"stone": {"cut": "round"}})).stone.cut in CUTS
