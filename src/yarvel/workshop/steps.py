"""What a task says: the step of the plan, of the repair chosen, or the checks, with today's figures."""

from __future__ import annotations

from yarvel.figures.errors import JobError
from yarvel.figures.rules import HouseRules
from yarvel.planning.job import from_document, is_measured
from yarvel.planning.mending import mending_step
from yarvel.planning.plan import plan
from yarvel.planning.work import Step, checks, work_steps
from yarvel.workshop.claw_chart import found_on
from yarvel.workshop.dockets import Docket
from yarvel.workshop.estimate import CHECK

CHECK_CAUTION = "What fails goes back with a reason; nothing is handed over unchecked without a name and a reason."


def step_of(operation: str, docket: Docket, rules: HouseRules) -> Step | None:
    """The step that a task of this operation stands for; None where the docket cannot be planned or has none."""
    if not is_measured(docket.job_document.get("stone") or {}):
        return None
    try:
        made = plan(from_document(docket.job_document), rules, samples=0)
    except JobError:
        return None
    if operation == CHECK:
        return Step(CHECK, checks(made), CHECK_CAUTION)
    own = next((step for step in work_steps(made) if step.name == operation), None)
    return own or mending_step(made, found_on(docket, len(made.shape.places)), operation)
