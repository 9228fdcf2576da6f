"""What a route says is not as it must be: one call an operation."""

from __future__ import annotations

from yarvel.planning.calls.call import CAUTION, Call
from yarvel.route.running import Route

CODE = "route-order"


def route_calls(route: Route) -> tuple[Call, ...]:
    """One caution for every operation whose needs are unmet where it stands; none for a sound route."""
    refused = tuple(
        Call(
            CODE,
            CAUTION,
            "Order of the joints",
            f"This cannot be worked in that order: {one}; the route keeps its own there.",
            remedy={"joints": {"order": None}},
            remedy_label="Back to the usual order",
        )
        for one in route.refused
    )
    return refused + tuple(
        Call(
            CODE,
            CAUTION,
            f"{step.operation.kind.label}: too early",
            f"{step.operation.text} Where it stands this does not hold: {'; '.join(step.unmet)}.",
            float(place),
            float(place),
            "",
            "",
            "",
        )
        for place, step in enumerate(route.steps, start=1)
        if step.unmet
    )
