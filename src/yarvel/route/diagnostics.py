"""What a route says is not as it must be: one call an operation."""

from __future__ import annotations

from yarvel.planning.diagnostics import worst_first
from yarvel.planning.diagnostics.accepting import with_accepted
from yarvel.planning.diagnostics.diagnostic import CAUTION, STOP, Diagnostic
from yarvel.planning.plan import Plan
from yarvel.route.running import Route

CODE = "route-order"


def route_diagnostics(route: Route, changed: bool = False) -> tuple[Diagnostic, ...]:
    """One caution for every operation whose needs are unmet where it stands; none for a sound route. ``changed``:
    somebody moved or left out operations, and the usual order is a way back."""
    refused = tuple(
        Diagnostic(
            code=CODE,
            level=CAUTION,
            title="Order of the joints",
            message=f"This cannot be worked in that order: {refusal}; the route keeps its own there.",
            remedy={"joints": {"order": None}},
            remedy_label="Back to the usual order",
        )
        for refusal in route.refused
    )
    return (
        refused
        + _astray(route)
        + tuple(
            Diagnostic(
                code=CODE,
                level=CAUTION,
                title=f"{step.operation.kind.label}: too early",
                message=f"{step.operation.text} Where it stands this does not hold: {'; '.join(step.unmet)}.",
                figure=float(place),
                limit=float(place),
                about="joints",
                at=step.operation.key,
                remedy={"route": None} if changed else None,
                remedy_label="Back to the usual order" if changed else "",
            )
            for place, step in enumerate(route.steps, start=1)
            if step.unmet
        )
    )


def _astray(route: Route) -> tuple[Diagnostic, ...]:
    """One caution for all that was changed of operations that are not there."""
    if not route.astray:
        return ()
    said = "; ".join(dict.fromkeys(problem.wrong for problem in route.astray))
    return (
        Diagnostic(
            code=CODE,
            level=CAUTION,
            title="Changes without their operation",
            message=f"Somebody moved, left out or changed what is not there now: {said}. It has no effect here.",
            remedy={"route": None},
            remedy_label="Back to the usual order",
        ),
    )


AT = {
    "notch": ("cut-seat", "guide-cut"),
    "seat": ("cut-seat", "scribe-girdle"),
    "bur": ("cut-seat",),
    "burs": ("cut-seat",),
    "claw": ("bend-u", "cut-length", "pick-bought", "cast-part"),
    "upper-ring": ("bend-to-shape", "pick-bought"),
    "culet": ("scribe-girdle",),
    "band": ("roll", "measure-part"),
    "gap": ("saw-gap", "fit-ends"),
    "foot": ("offer-part", "trim-base"),
    "joints": ("solder", "fuse", "tack"),
    "stone": ("seat-stone", "measure-stone"),
}
"""Kinds of operations at which a judgement about a place on the drawing is met, the likeliest first."""


def at_operation(call: Diagnostic, route: Route) -> str:
    """The key of the operation that a call belongs to: one that uses its figure, else one at its place; "" for none."""
    if call.at:
        return call.at
    steps = [step.operation for step in route.steps]
    using = next((operation.key for operation in steps if call.of is not None and call.of in operation.figures), "")
    if using:
        return using
    kinds = AT.get(call.about, ())
    return next((operation.key for kind in kinds for operation in steps if operation.kind.key == kind), "")


def all_diagnostics(plan: Plan, route: Route) -> list[Diagnostic]:
    """Everything that is to be said of a plan and of the work on it, worst first. What a stop makes impossible is not
    said again at every operation."""
    changed = plan.job.route is not None
    stopped = any(call.level == STOP for call in plan.diagnostics)
    calls = route_diagnostics(route, changed) if changed or not stopped else ()
    return list(worst_first([*plan.diagnostics, *with_accepted(calls, plan.job.accepted or (), plan.figures)]))
