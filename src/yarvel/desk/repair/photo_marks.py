"""The claw chart's marks on a photograph, each with the shape of what its claw calls for."""

from __future__ import annotations

from yarvel.desk.widgets.picture import Mark
from yarvel.drawing.claw_chart import LEVELS
from yarvel.figures.rules import HouseRules
from yarvel.heads.places import numbers
from yarvel.planning.diagnostics.diagnostic import OK
from yarvel.planning.plan import Plan
from yarvel.planning.repair import judge_head
from yarvel.workshop.dockets.claw_chart import found_on
from yarvel.workshop.dockets.photo_marks import spots_on
from yarvel.workshop.dockets.records import Docket


def marks_on(docket: Docket | None, plan: Plan | None, rules: HouseRules, photograph_id: int) -> tuple[Mark, ...]:
    """The marks of a docket's chart on one of its photographs."""
    spots = {} if docket is None else spots_on(docket.claw_chart, photograph_id)
    if not spots or docket is None:
        return ()
    level: dict[int, str] = {}
    if plan is not None and plan.shape.places:
        at = numbers(plan.shape.places)
        claws = judge_head(plan, found_on(docket, len(at)), rules).claws
        level = {number: LEVELS[verdict.work] for number, verdict in zip(at, claws, strict=True)}
    return tuple(Mark(x, y, level.get(number, OK), number) for number, (x, y) in spots.items())
