"""Joints: what is soldered to what, in which grade, hottest first."""

from __future__ import annotations

import itertools
from dataclasses import dataclass

from yarvel.metals.alloys import Alloy


@dataclass(frozen=True)
class Seam:
    """A joint before it is given its place in the order.

    ``group`` names the joints that are done together on the sheet; ``shield`` what to keep cool meanwhile.
    """

    what: str
    grade: str
    group: str
    metals: tuple[Alloy, ...]
    shield: str = ""


@dataclass(frozen=True)
class Joint:
    """A joint in its place: ``order`` counts from 1, ``flow_c`` is the solder's flow temperature in °C."""

    what: str
    grade: str
    flow_c: float
    order: int
    group: str
    shield: str


def in_order(seams: list[Seam]) -> tuple[Joint, ...]:
    """Seams in soldering order: hottest flow first, otherwise as the work runs.

    Where two metals meet, the solder of the one that flows lower is used.
    """
    flowed = [(min(metal.flow(seam.grade) for metal in seam.metals), seam) for seam in seams]
    flowed.sort(key=lambda pair: -pair[0])
    return tuple(Joint(seam.what, seam.grade, flow, place, seam.group, seam.shield)
                 for place, (flow, seam) in enumerate(flowed, start=1))


def least_step_c(joints: tuple[Joint, ...]) -> float | None:
    """Smallest drop in °C between one grade used and the next; None where only one grade is used."""
    temperatures = sorted({joint.flow_c for joint in joints}, reverse=True)
    steps = [high - low for high, low in itertools.pairwise(temperatures)]
    return min(steps) if steps else None


def groups(joints: tuple[Joint, ...]) -> list[tuple[Joint, int]]:
    """Joints gathered by group in order: the first of each group and how many it has."""
    found: dict[str, tuple[Joint, int]] = {}
    for joint in joints:
        first, count = found.get(joint.group, (joint, 0))
        found[joint.group] = (first, count + 1)
    return list(found.values())
