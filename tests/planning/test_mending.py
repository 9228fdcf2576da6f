"""Ways out of a repair as steps: which claws, the stone out before heat, the caution that belongs to the torch."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime

import pytest

from tests.conftest import BASE
from yarvel.figures.rules import HouseRules
from yarvel.heads.wear import BENT, MISSING, WORN_TIP, ClawFound
from yarvel.planning.mending import mending_step
from yarvel.planning.plan import Plan
from yarvel.planning.repair import judge_head
from yarvel.workshop.claw_chart import chart_with
from yarvel.workshop.dockets import Docket
from yarvel.workshop.estimate import CHECK, tasks_of
from yarvel.workshop.operations import OPERATIONS
from yarvel.workshop.steps import step_of

WORN = ClawFound(WORN_TIP, tip=0.2)


def test_every_way_out_has_its_step_and_names_its_claws(planned: Callable[..., Plan]) -> None:
    made = planned()
    found = (WORN, ClawFound(BENT), ClawFound(), ClawFound())
    for way in judge_head(made, found, made.rules).ways:
        step = mending_step(made, found, way.name)
        assert step is not None and way.name in OPERATIONS
        text = " ".join(step.lines)
        if way.heat:
            assert "out come: the spinel" in text, "common practice, no source: stones out before heat"
            assert "gas checked" in step.caution
        if way.name == "Re-tip":
            assert "Re-tip: " in text and "Tighten: " in text and made.figures["head.claw"].text() in text
    new = mending_step(made, (ClawFound(MISSING), *found[1:]), "New claws")
    assert new is not None and any(line.startswith("New claws: ") for line in new.lines)
    tight = mending_step(made, found, "Tighten")
    assert tight is not None and "gas" not in tight.caution
    assert mending_step(made, found, "Polish the box") is None


@pytest.mark.parametrize(
    "chosen", ["", "Tighten", "Re-tip", "New claws", "New head from the drawer", "New head by hand"]
)
def test_every_task_of_a_docket_says_something(rules: HouseRules, planned: Callable[..., Plan], chosen: str) -> None:
    now = datetime(2031, 4, 9)
    docket = Docket(
        1,
        "31-0001",
        "",
        "",
        None,
        "planned",
        BASE,
        {},
        (),
        1,
        now,
        now,
        claw_chart={**chart_with({}, (WORN,) * 4, now.date()), "chosen": chosen},
    )
    names = [name for name, _ in tasks_of(planned(), docket)]
    assert CHECK in names and (not chosen or names[0] == chosen)
    for name in names:
        step = step_of(name, docket, rules)
        assert step is not None and step.lines, name
    assert (
        step_of(
            "Make the head",
            Docket(1, "31-0001", "", "", None, "planned", {"format": BASE["format"]}, {}, (), 1, now, now),
            rules,
        )
        is None
    )
