"""Soldering in words: stones out first, flame, chips and supports."""

from __future__ import annotations

from yarvel.metals.alloys import alloy_of
from yarvel.metals.joints import ONE_GRADE
from yarvel.planning.compute import species_of
from yarvel.planning.plan import Plan


def out_first(plan: Plan) -> str:
    """Which stones come out before any heat; on new work, in which none is yet, that all joints come before them."""
    species = species_of(plan.job, plan.rules)
    small = plan.job.shank is not None and plan.job.shank.shoulder is not None
    stones = f"the {species.label.lower()}" + (" and the small rounds of the shoulders" if small else "")
    if not plan.job.ring_exists:
        bears = f": {species.label.lower()} bears no heat" if species.heat == "never" else ""
        return f"All joints before {stones}{bears}."
    if species.heat == "never":
        return f"Before any heat: {stones} out; {species.label.lower()} bears none."
    return f"Before any heat: {stones} out; treatment is rarely known, so treat it as sensitive."


def flame(plan: Plan) -> str:
    """Which flame, by the metals."""
    keys = {plan.job.head.metal, *((plan.job.shank.metal,) if plan.job.shank is not None else ())}
    labels = [alloy_of(key, plan.rules).label for key in sorted(keys)]
    if any(key.startswith("platinum") or key.startswith("palladium") for key in keys):
        return (
            f"Flame for {', '.join(labels)}: small, hot, slightly oxidising, on a clean block; dark glass; no flux on "
            "platinum, no charcoal under it."
        )
    return f"Flame for {', '.join(labels)}: soft and bushy, moving, flux over all that heats."


def set_up_text(plan: Plan) -> str:
    """What holds for all joints: flame, chips, support; with one grade, how the earlier joints are kept."""
    held = "the piece" if plan.job.shank is None else "the shank"
    parts = [
        out_first(plan),
        flame(plan),
        "Chips small, one on each side of a joint; no gap, for solder bridges none; never solder blind: turn the work "
        "until you see the joint flow.",
        f"Pins or binding wire where a part could drop; {held} held lightly, for steel tweezers draw the heat off; "
        "thick metal first, the thin tube or claw comes up last.",
    ]
    if plan.job.joints is not None and plan.job.joints.school == ONE_GRADE:
        parts.append(
            "One grade: coat every earlier joint against flow, let the work cool between, heat from the side of the "
            "new joint."
        )
    return " ".join(parts)
