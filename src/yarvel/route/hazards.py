"""Which causes of a hazard are in the work: from what exists already, the alloys, and what is plated."""

from __future__ import annotations

from yarvel.metals.alloys import alloy_of
from yarvel.operations.cautions import InTheWork
from yarvel.planning.plan import Plan

_PLATED = "white"
"""White alloys are often plated (common practice); of what somebody else's piece is, nobody knows."""


def in_the_work(plan: Plan) -> InTheWork:
    """What there is to warn of in this piece."""
    job = plan.job
    keys = {job.head.metal, *((job.shank.metal,) if job.shank is not None else ())}
    alloys = [alloy_of(key, plan.rules) for key in sorted(keys)]
    old = job.ring_exists or job.head_exists
    return InTheWork(
        old_solder=old,
        nickel=any(not alloy.parts or alloy.parts.get("Ni", 0.0) > 0 for alloy in alloys),
        plating=old or any(_PLATED in alloy.key or _PLATED in alloy.label.casefold() for alloy in alloys),
    )
