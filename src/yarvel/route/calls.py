"""What a route says is not as it must be: one call an operation."""

from __future__ import annotations

from yarvel.planning.calls.call import CAUTION, Call
from yarvel.route.running import Route

CODE = "route-order"


def route_calls(route: Route) -> tuple[Call, ...]:
    """One caution for every operation whose needs are unmet where it stands; none for a sound route."""
    return tuple(
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
