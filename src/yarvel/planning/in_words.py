"""A plan's masses and places in a line each."""

from __future__ import annotations

import math

from yarvel.heads import notches
from yarvel.heads.places import numbers
from yarvel.metals.alloys import alloys_of, head_mass_g
from yarvel.planning.plan import HEAD_VOLUME, Plan


def masses_text(plan: Plan) -> str:
    """The head's mass in every other metal, in one line; "" until the plan is weighed."""
    if HEAD_VOLUME not in plan.figures:
        return ""
    volume = plan[HEAD_VOLUME]
    others = [alloy for key, alloy in alloys_of(plan.rules).items() if key != plan.job.head.metal]
    return " · ".join(f"{alloy.label} {head_mass_g(volume, alloy.density):.2f} g" for alloy in others)


def spacing_text(plan: Plan) -> str:
    """Where the claws are to stand: evenly round a circle, else by the chords from each to the next at the seat."""
    places = plan.shape.places
    azimuths = sorted(place.azimuth_deg for place in places)
    steps = [(after - before) % 360 for before, after in zip(azimuths, [*azimuths[1:], azimuths[0]], strict=True)]
    if plan.facts.cut.is_round and max(steps) - min(steps) < 0.1:
        return f"Claws evenly spaced, {360 / len(places):g}° apart"
    by_number = [place for _, place in sorted(zip(numbers(places), places, strict=True), key=lambda pair: pair[0])]
    out = 0.0 if plan.shape.claws is None else plan.shape.claws.width_mm / 2 - plan[notches.SEAT_DEPTH]
    spots = [(place.x_mm + out * place.normal[0], place.y_mm + out * place.normal[1]) for place in by_number]
    chords = [
        f"{here}–{here % len(spots) + 1} {math.dist(spots[here - 1], spots[here % len(spots)]):.2f}"
        for here in range(1, len(spots) + 1)
    ]
    return f"Claws where they are planned, middle to middle at the seat: {', '.join(chords)} mm"
