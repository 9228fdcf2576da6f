"""Closing the claws: the order, what to look for at each round, jaws and pressure, tips; both schools."""

from __future__ import annotations

from yarvel.heads.places import numbers
from yarvel.heads.vees import FOLD
from yarvel.metals.alloys import alloy_of
from yarvel.planning.compute import species_of
from yarvel.planning.plan import Plan

PUSHER, PLIERS = "pusher", "pliers"
CLOSING_SCHOOLS = {PUSHER: "Pusher", PLIERS: "Pliers in pairs"}
"""Schools of closing. The pusher is the default: each claw is felt alone, and nothing bears on two sides of the stone
at once. Pliers close a pair evenly and faster on sound round stones."""
DOWN, SIDEWAYS, FILE_FIRST = "bur-down", "hart-sideways", "file-first"
SEAT_SCHOOLS = {DOWN: "Bur straight down", SIDEWAYS: "Hart bur sideways", FILE_FIRST: "File first"}
"""Schools of cutting the notch. Straight down is the default for round stones, sideways for all others."""


def tips_text(plan: Plan) -> str:
    """How the tips are made ready before the stone goes in."""
    alloy = alloy_of(plan.job.head.metal, plan.rules)
    if alloy.soft:
        return (
            "Round the tips against a safe edge before the stone goes in and leave them thick: "
            f"{alloy.label.lower()} is soft. Burnish them hard once they are down."
        )
    if "head.claw" not in plan.figures:
        return "Thin and round the tips against a safe edge before the stone goes in."
    thick = plan.rules.tip_thinned_share * plan["head.claw"]
    return f"Thin and round the tips to {thick:.2f} against a safe edge before the stone goes in."


def closing_lines(plan: Plan) -> tuple[str, ...]:
    """The whole of closing, line by line."""
    shape = plan.shape
    if not shape.places:
        return (
            _jaws(plan),
            "Press the rim over at 12, 6, 3 and 9 until the stone cannot turn, then between, little "
            "by "
            "little; look at eye level after every round.",
            "Work the rim down to the crown from the outside, then "
            "burnish it; where one side sits low, press the opposite side next.",
        )
    order = closing_order(plan)
    lines = [tips_text(plan), _jaws(plan), f"Order of the claws, round by round: {order}."]
    lines += _cornered(plan)
    lines += [
        "First round: lean every claw until it just touches. Look at eye level, front and side: table level, "
        "girdle down in every seat.",
        "Second round: half-way down. Look straight down: the stone has not crept to one side, claws still on "
        "their places.",
        "Last round: home. No light between claw and crown; the stone does not tick under the nail.",
        "One side low: ease the claw on the low side, tighten the one across, then look again; touch the high "
        "seat "
        "up between rounds rather than forcing the stone down.",
        "Snag test: draw a thread or stocking over every tip.",
    ]
    return tuple(lines)


def closing_order(plan: Plan) -> str:
    """Opposite pairs by their numbers, each pair as far from the one before as there is."""
    azimuths = [place.azimuth_deg for place in plan.shape.places]
    left = sorted(range(len(azimuths)), key=lambda claw: (90.0 - azimuths[claw]) % 360.0)
    ordered: list[int] = []
    while left:
        last = azimuths[ordered[-1]] if ordered else None
        following = left[0]
        if last is not None and len(ordered) % 2 == 1:
            following = max(left, key=lambda claw: _apart(azimuths[claw], last))
        elif ordered:
            following = max(left, key=lambda claw: min(_apart(azimuths[claw], azimuths[done]) for done in ordered))
        ordered.append(following)
        left.remove(following)
    words = [str(numbers(plan.shape.places)[claw]) for claw in ordered]
    pairs = [words[place : place + 2] for place in range(0, len(words), 2)]
    return ", then ".join(" and ".join(pair) for pair in pairs)


def _apart(one: float, other: float) -> float:
    return abs((one - other + 180.0) % 360.0 - 180.0)


def _cornered(plan: Plan) -> list[str]:
    shape = plan.shape
    if shape.vees is not None:
        fold = (
            "Fold each V over its point whole, from both sides towards the middle"
            if plan.job.head.school == FOLD
            else "Fold the two tabs of each V over their own sides, never over the corner"
        )
        return [f"{fold}; no pressure on the corner itself, never across two corners."]
    if "head.pairs" in plan.figures:
        return [
            "Press each claw of a pair sideways against its own side, then bring the tips over; never across two "
            "corners."
        ]
    return []


def _jaws(plan: Plan) -> str:
    """Tool and pressure by school, hardness and cleavage."""
    species = species_of(plan.job)
    school = plan.job.setting.closing if plan.job.setting is not None else PUSHER
    cornered = plan.shape.vees is not None or "head.pairs" in plan.figures
    if school == PLIERS and cornered:
        tool = (
            "Pliers with one jaw low at the foot, the other on the claw: one corner at a time, little by little, never "
            "squeezed across a diagonal"
        )
    elif school == PLIERS and plan.shape.places:
        tool = "Pliers across each pair, smooth parallel jaws, both claws moved together"
    else:
        where = "each claw" if plan.shape.places else "the rim"
        tool = f"A pusher with a smooth face, from the outside of {where}, the head held in a clamp or shellac"
    soft = species.hardness < plan.rules.soft_stone_mohs
    if "cleavage" in species.note:
        care = f"{species.label} cleaves: light pressure, never a knock, none along the girdle"
    elif soft:
        care = f"{species.label} is softer than steel dust and burs: brass or boxwood faces, no steel on the stone"
    else:
        care = f"{species.label} bears steady pressure on its crown, none on an edge or a corner"
    return f"{tool}. {care}."


def notch_lines(plan: Plan) -> tuple[str, ...]:
    """How the notch is cut, by the school chosen or the usual one for the cut."""
    figures = plan.figures
    if not plan.shape.places:
        return ()
    asked = plan.job.setting.seat if plan.job.setting is not None else None
    round_stone = plan.facts.cut.is_round
    school = asked if asked is not None else DOWN if round_stone else SIDEWAYS
    if school == DOWN and not round_stone:
        return ("A round bur does not fit this outline: hart bur at the scribed line, claw by claw; touch up between.",)
    if school == SIDEWAYS:
        size = f"{plan.rules.hart_bur_mm:.1f} mm, or larger where the crown's slope asks for it"
        return (f"Hart bur of {size}, sideways at the scribed line, claw by claw, to {figures['seat.depth'].text()}.",)
    if school == FILE_FIRST:
        return (
            f"Open each notch at the line with a taper bur or a three-square file, which cannot rip around the "
            "claw, "
            f"to {figures['seat.first_cut'].text()}; then the bur to {figures['seat.depth'].text()}.",
        )
    return ()
