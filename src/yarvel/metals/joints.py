"""Joints: what is soldered to what, in which grade and order, and which earlier joints its heat reaches."""

from __future__ import annotations

import itertools
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from yarvel.metals.alloys import GRADES, Alloy

SHANK_SEAM = "Shank seam"
STEP_DOWN, ONE_GRADE = "step-down", "one-grade"
SCHOOLS = {STEP_DOWN: "Grade by grade", ONE_GRADE: "One grade"}
"""Schools of soldering: a grade down for each later joint, or one grade throughout with care. Stepping down is the
default: a slip of the flame then costs no earlier joint."""


@dataclass(frozen=True)
class Seam:
    """A joint before it is given its place in the order.

    ``group`` names the joints that are done together on the sheet; ``shield`` what to keep cool meanwhile; ``ends`` the
    parts that it joins, each with the way in mm along that part to the joint: the edges of the assembly's graph.
    """

    what: str
    grade: str
    group: str
    metals: tuple[Alloy, ...]
    shield: str = ""
    ends: tuple[tuple[str, float], ...] = ()


@dataclass(frozen=True)
class Joint:
    """A joint in its place: ``order`` counts from 1, ``flow_c`` is the solder's flow temperature in °C; ``reaches`` the
    groups of earlier joints that its heat reaches and that flow hardly hotter; ``melts`` those that flow cooler."""

    what: str
    grade: str
    flow_c: float
    order: int
    group: str
    shield: str
    reaches: tuple[str, ...] = ()
    melts: tuple[str, ...] = ()


def in_order(
    seams: list[Seam],
    school: str = STEP_DOWN,
    order: tuple[str, ...] = (),
    reach_mm: float = 15.0,
    step_c: float = 20.0,
) -> tuple[Joint, ...]:
    """Seams in soldering order: hottest flow first, otherwise as the work runs; or by ``order``, names of groups.

    Where two metals meet, the solder of the one that flows lower is used. With one grade, every joint takes the
    hardest. Heat reaches joints up to ``reach_mm`` away through the metal.
    """
    flowed = [(_flow(seam, school), seam) for seam in seams]
    places = {group: place for place, group in enumerate(order)}
    flowed.sort(key=lambda pair: (places.get(pair[1].group, len(places)), -pair[0]))
    near = (apart_mm([seam for _, seam in flowed]) <= reach_mm).tolist()
    joints = []
    for place, (flow, seam) in enumerate(flowed):
        reaches: dict[str, None] = {}
        melts: dict[str, None] = {}
        for (heat, earlier), reached in zip(flowed[:place], near[place][:place], strict=True):
            if reached and earlier.group != seam.group:
                if heat < flow:
                    melts[earlier.group] = None
                elif heat < flow + step_c:
                    reaches[earlier.group] = None
        grade = GRADES[0] if school == ONE_GRADE else seam.grade
        joints.append(Joint(seam.what, grade, flow, place + 1, seam.group, seam.shield, tuple(reaches), tuple(melts)))
    return tuple(joints)


def _flow(seam: Seam, school: str) -> float:
    grade = GRADES[0] if school == ONE_GRADE else seam.grade
    return min(metal.flow(grade) for metal in seam.metals)


def apart_mm(seams: list[Seam]) -> NDArray[np.float64]:
    """Shortest way in mm through the metal between all joints, shape (n, n); infinite where nothing joins them.

    Joints are neighbours where they lie on one part; longer ways go through other joints (Floyd and Warshall's
    algorithm).
    """
    count = len(seams)
    apart = np.full((count, count), np.inf)
    on_part: dict[str, list[tuple[int, float]]] = {}
    for number, seam in enumerate(seams):
        for part, way in seam.ends:
            on_part.setdefault(part, []).append((number, way))
    for held in on_part.values():
        numbers = np.array([number for number, _ in held])
        ways = np.array([way for _, way in held])
        np.minimum.at(apart, (numbers[:, None], numbers[None, :]), np.abs(ways[:, None] - ways[None, :]))
    np.fill_diagonal(apart, 0.0)
    for through in range(count):
        apart = np.minimum(apart, apart[:, through, None] + apart[None, through, :])
    return apart


def least_step_c(joints: tuple[Joint, ...]) -> float | None:
    """Smallest drop in °C between one grade used and the next; None where only one grade is used."""
    temperatures = sorted({joint.flow_c for joint in joints}, reverse=True)
    steps = [high - low for high, low in itertools.pairwise(temperatures)]
    return min(steps) if steps else None


GROUPS = (
    "Upper ring seam, to lie under a claw",
    "Lower ring seam, to lie under a claw",
    "Claws to the upper ring",
    "Claws to the lower ring",
    "Scored folds of the Vs",
    "Collet seam (none where it is driven from seamless tube)",
    "Seam of the strip",
    "Claws at the point",
    SHANK_SEAM,
    "Shank ends to the head",
    "Branches to the bezel",
    "Little bezels in the shoulders",
    "Hanging ring's seam",
    "Hanging ring to the head",
    "Head to shank",
)
"""All groups of joints that heads and fits have; an order may name these and no others."""


GROUP_KEYS = {
    "Upper ring seam, to lie under a claw": "upper-ring-seam",
    "Lower ring seam, to lie under a claw": "lower-ring-seam",
    "Claws to the upper ring": "claws-to-upper-ring",
    "Claws to the lower ring": "claws-to-lower-ring",
    "Scored folds of the Vs": "v-folds",
    "Collet seam (none where it is driven from seamless tube)": "collet-seam",
    "Seam of the strip": "collet-seam",
    "Claws at the point": "point",
    SHANK_SEAM: "shank-seam",
    "Shank ends to the head": "head-to-shank",
    "Branches to the bezel": "head-to-shank",
    "Little bezels in the shoulders": "bezels",
    "Hanging ring's seam": "bail",
    "Hanging ring to the head": "bail",
    "Head to shank": "head-to-shank",
}
"""The key of each group, as documents name it."""


def groups(joints: tuple[Joint, ...]) -> list[tuple[Joint, int]]:
    """Joints gathered by group in order: the first of each group and how many it has."""
    found: dict[str, tuple[Joint, int]] = {}
    for joint in joints:
        first, count = found.get(joint.group, (joint, 0))
        found[joint.group] = (first, count + 1)
    return list(found.values())
