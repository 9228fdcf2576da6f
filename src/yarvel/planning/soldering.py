"""Soldering: joints in their order, what to shield and to take out, chips, flame and supports."""

from __future__ import annotations

from yarvel.metals.alloys import alloy_of
from yarvel.metals.joints import ONE_GRADE, SHANK_SEAM, Joint, groups
from yarvel.planning.compute import species_of
from yarvel.planning.plan import Plan


def out_first(plan: Plan) -> str:
    """Which stones come out before any heat; on new work, in which none is yet, that all joints come before them."""
    species = species_of(plan.job)
    small = plan.job.shank is not None and plan.job.shank.shoulder is not None
    stones = f"the {species.label.lower()}" + (" and the small rounds of the shoulders" if small else "")
    if not plan.job.ring_exists:
        bears = (
            "bears no heat"
            if species.heat == "never"
            else "may be treated, which is rarely known: take it as sensitive"
        )
        return f"All joints before {stones}: {species.label.lower()} {bears}."
    if species.heat == "never":
        return f"Before any heat: {stones} out; {species.label.lower()} bears none."
    return f"Before any heat: {stones} out; treatment is rarely known, so treat it as sensitive."


def solder_lines(plan: Plan) -> tuple[str, ...]:
    """One line a group of joints, and what holds for all of them."""
    if not plan.joints:
        return ("This head has no joint of its own.",)
    lines = [out_first(plan)]
    lines += [_line(plan, joint, count) for joint, count in groups(plan.joints)]
    lines += [
        flame(plan),
        "Chips small, one on each side of a joint; no gap, for solder bridges none; never solder "
        "blind: turn the work until you see the joint flow.",
        "Support: pins or binding wire where a part could drop; the shank held lightly, for steel tweezers "
        "draw the "
        "heat off; thick metal first, the thin tube or claw comes up last.",
    ]
    if plan.job.joints is not None and plan.job.joints.school == ONE_GRADE:
        lines.append(
            "One grade: coat every earlier joint against flow, let the work cool between, heat from the "
            "side of "
            "the new joint."
        )
    if any(joint.group == "Head to shank" for joint in plan.joints):
        lines.append(
            "Laser instead of the torch: tack the head only, so that it can come out again; a full weld saves "
            "the tack's solder but costs the head when it has to be replaced."
        )
    return tuple(lines)


def _line(plan: Plan, joint: Joint, count: int) -> str:
    """A joint to make; a ring that is there already has its seam, and nobody knows in which solder."""
    if joint.group == SHANK_SEAM and plan.job.ring_exists and "resize.change" not in plan.figures:
        return "Shank seam: there already, its solder unknown; shield it, and test for old seams before the heat."
    return joint_line(joint, count)


def joint_line(joint: Joint, count: int) -> str:
    """One group of joints: how many, grade, heat, what to shield."""
    many = f" × {count}" if count > 1 else ""
    told = f"{joint.group}{many}: {joint.grade}, flows {joint.flow_c:.0f} °C"
    if joint.reaches:
        told += "; shield " + ", ".join(_short(name) for name in joint.reaches)
    return f"{told}; {joint.shield}." if joint.shield else f"{told}."


def flame(plan: Plan) -> str:
    """Which flame, by the metals."""
    keys = {plan.job.head.metal, *((plan.job.shank.metal,) if plan.job.shank is not None else ())}
    labels = [alloy_of(key, plan.rules).label for key in sorted(keys)]
    if any(key.startswith("platinum") or key.startswith("palladium") for key in keys):
        return (
            f"Flame for {', '.join(labels)}: small, hot, slightly oxidising, on a clean block; dark glass; no flux "
            "on platinum, no charcoal under it."
        )
    return f"Flame for {', '.join(labels)}: soft and bushy, moving, flux over all that heats."


def _short(group: str) -> str:
    """A group's name within a sentence, without what is said of it behind a comma or in brackets."""
    name = group.split(",")[0].split(" (")[0]
    return name[0].lower() + name[1:]
