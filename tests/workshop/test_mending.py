"""Repairs as routes: which claws, the stone out before heat, old seats kept; quoted as they are booked."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import replace
from datetime import datetime
from pathlib import Path

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from tests.conftest import BASE
from tests.stated import MOMENT
from tests.strategies import jobs
from tests.told import parts, said
from yarvel.demo.scenario import fill
from yarvel.figures.rules import HouseRules, WorkshopData
from yarvel.heads.wear import BENT, FINDINGS, MISSING, WORN_TIP, ClawFound
from yarvel.operations.operation import HEAT
from yarvel.operations.stone_state import ABSENT, HELD
from yarvel.planning.diagnostics.diagnostic import STOP
from yarvel.planning.job import WAYS, Job, from_document
from yarvel.planning.plan import Plan, plan
from yarvel.planning.repair import judge_head
from yarvel.planning.weighing import weighed
from yarvel.route.balance import balances, taken
from yarvel.route.card import CHECK, LABELS
from yarvel.route.running import Route, route_of
from yarvel.route.ways import repaired, route_of_way, ways_out
from yarvel.workshop.dockets.claw_chart import chart_with
from yarvel.workshop.dockets.records import Docket
from yarvel.workshop.money.estimate import estimate, tasks_of
from yarvel.workshop.store import Store
from yarvel.workshop.work.docket_work import metal_as_tested, told_of, way_of

RULES = HouseRules()
WORN = ClawFound(WORN_TIP, tip=0.2)
FOUND = {
    "tighten": (ClawFound(BENT), ClawFound(), ClawFound(BENT), ClawFound()),
    "re-tip": (WORN, ClawFound(BENT), WORN, ClawFound()),
    "new-claws": (ClawFound(MISSING), ClawFound(), ClawFound(), ClawFound()),
    "new-head-bought": (WORN, WORN, WORN, ClawFound()),
    "new-head-made": (WORN, WORN, WORN, ClawFound()),
}


def mended(made: Plan, way: str) -> Route:
    found = FOUND[way]
    job = repaired(made, found, judge_head(made, found, RULES).claws, way)
    return route_of_way(weighed(made), job, RULES)


def docket_with(chosen: str, found: tuple[ClawFound, ...] = (WORN,) * 4) -> Docket:
    now = datetime(2031, 4, 9)
    chart = {**chart_with({}, found, now.date()), "chosen": chosen}
    return Docket(
        id=1,
        number="31-0001",
        customer="",
        item="",
        promised_on=None,
        state="planned",
        job_document=BASE,
        drafts={},
        ticks=(),
        version=1,
        created_at=now,
        updated_at=now,
        claw_chart=chart,
    )


@pytest.mark.parametrize("way", WAYS)
def test_a_repair_reads_as_it_is_done(way: str, planned: Callable[..., Plan]) -> None:
    """Common practice, no source: chart first, the stone out before any torch and back in after all of them, nothing of
    the ring made; a tightened head sees no torch and keeps its stone."""
    route = mended(planned(samples=0, fit={"method": "inset"}), way)
    keys = [step.operation.key for step in route.steps]
    assert not [step for step in route.steps if step.unmet], [step.unmet for step in route.steps if step.unmet]
    assert keys[0] == "chart-wear-head" and route.done.stone == HELD
    assert not {"roll-shank", "cut-length-shank", "bend-to-shape-shank", "round-up-shank", "saw-gap-gap"} & set(keys)
    heats = [step for step in route.steps if step.operation.kind.temper == HEAT]
    assert all(step.piece.stone == ABSENT for step in heats) and bool(heats) == (way != "tighten")
    if heats:
        assert keys.index("take-stone-out-stone") < keys.index(heats[0].operation.key)
        assert keys.index("seat-stone-stone") > keys.index(heats[-1].operation.key)
    old = {"unsolder-old-head", "clean-slot-old-head", "fit-ends-slot"}
    assert (old <= set(keys)) == way.startswith("new-head")


@given(jobs(), st.lists(st.sampled_from(sorted(FINDINGS)), min_size=12, max_size=12), st.sampled_from(WAYS))
def test_every_sound_heads_repair_is_sound(job: Job, findings: list[str], way: str) -> None:
    """Random heads, findings, ways out: nothing unmet, no stone in a heat, the stone held at the end, metal whole."""
    made = plan(job, RULES, samples=0)
    assume(made.shape.places and not any(call.level == STOP for call in made.diagnostics))
    found = tuple(ClawFound(finding) for finding in findings[: len(made.shape.places)])
    route = route_of(plan(repaired(made, found, judge_head(made, found, RULES).claws, way), RULES, samples=0))
    assert [(step.operation.key, step.unmet) for step in route.steps if step.unmet] == []
    assert all(step.piece.stone == ABSENT for step in route.steps if step.operation.kind.temper == HEAT)
    assert route.done.stone == HELD
    assert all(abs(balance.open) < 1e-9 for balance in balances(route).values())


@pytest.mark.parametrize("way", WAYS)
def test_a_repairs_metal_is_what_it_adds(way: str, planned: Callable[..., Plan]) -> None:
    route = mended(planned(samples=0, fit={"method": "inset"}), way)
    pieces = {lot.piece.split(",")[0] for lot in taken(route)}
    wanted = {
        "tighten": set(),
        "re-tip": {"New tips", "Solder"},
        "new-claws": {"New claws", "Solder"},
        "new-head-bought": {"Bought head", "Solder"},
        "new-head-made": {"Claws as U-pieces", "Upper ring", "Lower ring", "Solder"},
    }
    assert pieces == wanted[way]
    assert all(abs(balance.open) < 1e-9 for balance in balances(route).values())
    if way == "new-claws":
        claw = weighed(planned(samples=0)).volumes["claws"] / 4 * 15.5 / 1000
        assert balances(route)["18k-yellow"].back_g == pytest.approx(claw, rel=0.2), "the old claw comes back"


def test_the_claws_are_named_by_their_numbers(planned: Callable[..., Plan]) -> None:
    made = planned(samples=0)
    text = " ".join(step.operation.text for step in mended(made, "re-tip").steps)
    assert "out come: the spinel" in text and "Found: claw" in text and "worn tip" in text
    job = repaired(made, FOUND["re-tip"], judge_head(made, FOUND["re-tip"], RULES).claws, "re-tip")
    numbers = sorted(
        number for number, findings in (job.repair.claws if job.repair else {}).items() if "worn-tip" in findings
    )
    assert len(numbers) == 2 and f"New tips for claws {', '.join(numbers)}" in text
    assert "Straighten claw" in text, "the bent one, while the stone is out"
    both = (ClawFound(MISSING), WORN, ClawFound(), ClawFound())
    mixed = repaired(made, both, judge_head(made, both, RULES).claws, "new-claws")
    said_of = " ".join(step.operation.text for step in route_of_way(weighed(made), mixed, RULES).steps)
    assert "New tips for claw " in said_of and "Saw out claw " in said_of
    told = parts(plan(job, RULES, samples=0)).values()
    assert "gas checked" in " ".join(section.caution for section in told)


@pytest.mark.parametrize("chosen", ["", *WAYS, *(LABELS[way] for way in WAYS)])
def test_every_task_of_a_docket_says_something(planned: Callable[..., Plan], chosen: str) -> None:
    """Also of a chart whose way was kept under its name."""
    docket = docket_with(chosen)
    assert bool(way_of(docket)) == bool(chosen)
    keys = [one.operation for one in tasks_of(planned(samples=0), docket, RULES)]
    assert keys[-1] == CHECK
    for key in keys:
        told = told_of(key, docket, RULES)
        assert told is not None and told.lines and told.name == LABELS[key], key
    bare = replace(docket, job_document={"format": BASE["format"]})
    assert told_of("head", bare, RULES) is None


@pytest.mark.parametrize("way", ["re-tip", "new-claws", "new-head-bought"])
def test_what_is_quoted_is_what_is_booked(way: str, planned: Callable[..., Plan]) -> None:
    """Minutes of the way's button, of its tasks and of the price on the docket; and the metal of that price."""
    rules = HouseRules(hour_rate=90, custom=WorkshopData(alloys=(("18k-yellow", "price_per_g", 70.0),)))
    made = weighed(planned(samples=0, house=rules))
    quoted = next(one for one in ways_out(made, FOUND[way], rules) if one.key == way)
    docket = docket_with(way, FOUND[way])
    wanted = tasks_of(made, docket, rules)
    assert sum(one.minutes for one in wanted) == pytest.approx(quoted.minutes, abs=0.5)
    price = estimate(made, docket, wanted, rules)
    assert price.total == pytest.approx(quoted.cost, rel=0.02)


@pytest.mark.parametrize(
    ("metal", "key"),
    [
        ("18k white gold", "18k-white"),
        ("Platinum 950, tested", "platinum-950"),
        ("18k-yellow", "18k-yellow"),
        ("", None),
        ("brass?", None),
    ],
)
def test_the_metal_as_tested_is_the_repairs(metal: str, key: str | None) -> None:
    assert metal_as_tested(replace(docket_with("re-tip"), metal=metal), HouseRules()) == key


def test_a_repair_is_planned_from_its_file(planned: Callable[..., Plan]) -> None:
    document = {
        **BASE,
        "fit": {"method": "inset"},
        "stone": {**BASE["stone"], "state": "held"},
        "repair": {"claws": {"2": ["worn-tip"], "3": ["bent", "worn-tip"]}, "way": "re-tip", "metal": "18k-white"},
    }
    made = plan(from_document(document), RULES, samples=0)
    assert "New tips for claws 2, 3" in said(made)


def test_what_a_task_says_in_grams_its_bodies_weigh(tmp_path: Path) -> None:
    """Of every docket of the made-up workshop: the board said “cast from 0.00 g” where the bench says 1.76."""
    store = Store(tmp_path / "s.sqlite")
    fill(store, MOMENT.date())
    cards = [told_of("stock", docket, RULES) for docket in store.dockets()]
    told = [text for card in cards if card is not None for _mark, text in card.lines]
    assert any("Cast the head from" in text for text in told)
    assert not [text for text in told if re.search(r"\b0(\.0+)? g\b", text)]
    store.close()
