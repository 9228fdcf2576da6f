"""A basket's joints: rings, claws and the peg that its legs close on, as the graph that heat runs through."""

from __future__ import annotations

import math

from yarvel.heads import rings, style
from yarvel.heads.places import ClawPosition, numbers
from yarvel.heads.style import FOOT, HeadChoice
from yarvel.metals.alloys import Alloy
from yarvel.metals.joints import Seam


def basket_seams(places: tuple[ClawPosition, ...], alloy: Alloy, choice: HeadChoice) -> list[Seam]:
    """A seam a ring, under a claw, then every claw to every ring; legs that close on a peg to it."""
    seams_made = _RINGS if choice.rings > 1 else _ONE_RING
    seams = [
        Seam(
            what=f"{name} seam",
            grade="hard",
            group=f"{name.replace(' ', '-')}-seam",
            metals=(alloy,),
            ends=((part, 0.0),),
        )
        for name, part, _ in seams_made
    ]
    ways = _along_ring(places)
    for name, part, up in seams_made:
        seams += [
            Seam(
                what=f"claw {called} to the {name}",
                grade="hard",
                group=f"claws-to-{name.replace(' ', '-')}",
                metals=(alloy,),
                ends=((f"claw {number}", up), (part, way)),
            )
            for number, (way, called) in enumerate(zip(ways, numbers(places), strict=True), start=1)
        ]
    if choice.legs == style.PEG_LEGS:
        seams += [
            Seam(
                what=f"leg {called} to the peg",
                grade="hard",
                group="peg",
                metals=(alloy,),
                ends=((f"claw {number}", 0.0), (PEG_PART, 0.0)),
            )
            for number, called in enumerate(numbers(places), start=1)
        ]
    return seams


PEG_PART = "peg"
"""The peg that a basket's legs close on, in the graph of joints."""


_RINGS = ((rings.UPPER, rings.UPPER, 3.0), (rings.LOWER, FOOT, 0.0))
_ONE_RING = ((rings.ONLY, FOOT, 0.0),)
"""``_RINGS``, ``_ONE_RING``: rings: their name, their part in the assembly, and about how far up the claws they lie,
mm. An only ring is what the fit's heat reaches first, through the claws' ends."""


def _along_ring(places: tuple[ClawPosition, ...]) -> list[float]:
    """Way in mm along the stone's edge from the first claw to each, the shorter way round."""
    points = [(place.x_mm, place.y_mm) for place in places]
    steps = [math.dist(here, there) for here, there in zip(points, [*points[1:], points[0]], strict=True)]
    ahead = [sum(steps[:number]) for number in range(len(steps))]
    return [min(way, sum(steps) - way) for way in ahead]
