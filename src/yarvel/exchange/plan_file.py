"""The plan as its JSON document."""

from __future__ import annotations

import json
import math
from collections import Counter
from typing import Any

from msgspec.structs import asdict, replace

from yarvel.exchange.route_file import metal_document, route_document
from yarvel.figures.errors import JobError
from yarvel.figures.figure import Figure
from yarvel.operations.joint_groups import key_of
from yarvel.planning.diagnostics.accepting import with_accepted
from yarvel.planning.diagnostics.diagnostic import Diagnostic
from yarvel.planning.plan import FORMAT, Plan
from yarvel.route.diagnostics import at_operation, route_diagnostics
from yarvel.route.running import route_of

_ROOMS = ("stone", "head", "collet", "seat", "shank", "shoulder", "slot", "resize", "bail")


def plan_document(plan: Plan) -> dict[str, Any]:
    """The plan as plain data: rooms of figures, joints, the route, calls.

    Raises
    ------
    JobError : the job moves, leaves out or changes operations that its route has not.
    """
    document: dict[str, Any] = {"format": FORMAT}
    for room in _ROOMS:
        figures = {
            figure.key.split(".", 1)[1]: _figure(figure)
            for figure in plan.figures.values()
            if figure.key.startswith(f"{room}.")
        }
        if figures:
            document[room] = figures
    document["head"]["claw_azimuths_deg"] = list(plan.claw_azimuths_deg)
    document["seat"]["bur_steps_mm"] = list(plan.bur_steps_mm)
    counts = Counter(key_of(joint.group) for joint in plan.joints)
    numbered: Counter[str] = Counter()
    document["joints"] = [
        {
            "key": _joint_key(key_of(joint.group), counts, numbered),
            "group": key_of(joint.group),
            "what": joint.what,
            "grade": joint.grade,
            "flow_c": joint.flow_c if math.isfinite(joint.flow_c) else None,
            "order": joint.order,
            "shield": joint.shield,
        }
        for joint in plan.joints
    ]
    route = route_of(plan)
    if route.astray:
        raise JobError(list(route.astray))
    document["route"] = route_document(route)
    document |= metal_document(route)
    accepted = plan.job.accepted or ()
    calls = [
        *plan.diagnostics,
        *with_accepted(route_diagnostics(route, plan.job.route is not None), accepted, plan.figures),
    ]
    document["calls"] = [_call(call, at_operation(call, route)) for call in calls]
    return document


def _joint_key(group: str, counts: Counter[str], numbered: Counter[str]) -> str:
    """A group's key, with a number where it has several joints."""
    numbered[group] += 1
    return group if counts[group] == 1 else f"{group}-{numbered[group]}"


def _call(call: Diagnostic, at: str) -> dict[str, Any]:
    """One call: ``place`` with its code is unique; ``accepted`` null, or who takes it as it is, and why."""
    document = asdict(replace(call, of=None))
    del document["of"]
    by, why = document.pop("accepted_by"), document.pop("accepted_why")
    return {
        **document,
        "figure_key": call.figure_key,
        "place": call.place,
        "at": at or None,
        "accepted": {"by": by, "why": why} if by else None,
    }


def plan_text(plan: Plan) -> str:
    """The plan document as JSON text."""
    return json.dumps(plan_document(plan), indent=2, ensure_ascii=False) + "\n"


def _figure(figure: Figure) -> dict[str, Any]:
    return {
        "value": figure.value,
        "plus_minus": figure.plus_minus,
        "unit": figure.unit,
        "label": figure.label,
        "formula": figure.formula,
        "source": figure.source,
    }
