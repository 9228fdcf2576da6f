"""Joints: what is soldered to what, in which grade and order, and which earlier joints its heat reaches."""

from __future__ import annotations

import itertools
import math
from collections.abc import Mapping

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from yarvel.metals.alloys import GRADES, Alloy
from yarvel.operations.joint_groups import key_of

FUSED, WELDED = "fused", "welded"

METHODS = (*GRADES, FUSED, WELDED)
"""How a group of joints is closed: by a grade of solder, by fusing its ends, by the laser all round."""
_FUSES_ABOVE_C = 50.0
"""Fusing heats this much over the hardest solder's flow; from memory."""
STEP_DOWN, ONE_GRADE = "step-down", "one-grade"

SOLDER_METHODS = {STEP_DOWN: "Grade by grade", ONE_GRADE: "One grade"}
"""Methods of soldering: a grade down for each later joint, or one grade throughout with care. Stepping down is the
default: a slip of the flame then costs no earlier joint."""


class Seam(Struct, frozen=True, kw_only=True):
    """A joint before it is given its place in the order.

    ``group`` names the joints that are done together on the sheet; ``shield`` what to take care of meanwhile; ``ends``
    the parts that it joins, each with the way in mm along that part to the joint: the edges of the assembly's graph.
    """

    what: str
    grade: str
    group: str
    metals: tuple[Alloy, ...]
    shield: str = ""
    ends: tuple[tuple[str, float], ...] = ()


class Joint(Struct, frozen=True, kw_only=True):
    """A joint in its place: ``order`` counts from 1, ``flow_c`` is the solder's flow temperature in °C, infinite where
    none is used (fused, welded); ``reaches`` the groups of earlier joints that its heat reaches and that flow hardly
    hotter; ``melts`` those that flow cooler; ``softer`` all groups near it that flow cooler than it is heated, whenever
    they are made, ``shielded`` those that flow hardly hotter; ``heat_c`` what it is heated to."""

    what: str
    grade: str
    flow_c: float
    order: int
    group: str
    shield: str
    reaches: tuple[str, ...] = ()
    melts: tuple[str, ...] = ()
    softer: tuple[str, ...] = ()
    shielded: tuple[str, ...] = ()
    heat_c: float = 0.0


def in_order(
    seams: list[Seam],
    method: str = STEP_DOWN,
    order: tuple[str, ...] = (),
    reach_mm: float = 15.0,
    step_c: float = 20.0,
    grades: Mapping[str, str] | None = None,
) -> tuple[Joint, ...]:
    """Seams in soldering order: hottest flow first, otherwise as the work runs; or by ``order``, names or keys of
    groups. ``grades`` by a group's key: a grade of solder, or fused, or welded.

    Where two metals meet, the solder of the one that flows lower is used. With one grade, every joint takes the
    hardest. Heat reaches joints up to ``reach_mm`` away through the metal; fusing heats more than any solder flows at,
    the laser heats nothing, and neither leaves anything that flows.
    """
    asked = grades or {}
    graded = [(_grade(seam, method, asked), seam) for seam in seams]
    flowed = [(_heat(grade, seam), grade, seam) for grade, seam in graded]
    places = {key_of(group): place for place, group in enumerate(order)}
    flowed.sort(key=lambda held: (places.get(key_of(held[2].group), len(places)), -held[0]))
    seen = [seam for _, _, seam in flowed]
    names = tuple(dict.fromkeys(seam.group for seam in seen))
    near = apart_mm(seen) <= reach_mm
    reached = _reached(flowed, names, near, step_c)
    return tuple(
        Joint(
            what=seam.what,
            grade=grade,
            flow_c=heat if grade in GRADES else math.inf,
            order=place,
            group=seam.group,
            shield=seam.shield,
            reaches=reaches,
            melts=melts,
            softer=softer,
            shielded=shielded,
            heat_c=heat,
        )
        for place, ((heat, grade, seam), (reaches, melts, softer, shielded)) in enumerate(
            zip(flowed, reached, strict=True), start=1
        )
    )


Flags = NDArray[np.bool_]


def _reached(
    flowed: list[tuple[float, str, Seam]], names: tuple[str, ...], near: Flags, step_c: float
) -> list[tuple[tuple[str, ...], ...]]:
    """Of each joint, which groups its heat reaches, by name: earlier ones that flow hardly hotter, and cooler; all that
    flow cooler, and hardly hotter."""
    flows = [(place, heat, seam.group) for place, (heat, grade, seam) in enumerate(flowed) if grade in GRADES]
    reached = []
    for place, ((heat, grade, seam), row) in enumerate(zip(flowed, near.tolist(), strict=True)):
        names_by_state: tuple[set[str], ...] = (set(), set(), set(), set())
        reaches, melts, softer, shielded = names_by_state
        for other, at, group in flows if grade != WELDED else ():
            if at < heat + step_c and row[other] and group != seam.group:
                (softer if at < heat else shielded).add(group)
                if other < place:
                    (melts if at < heat else reaches).add(group)
        reached.append(
            tuple(
                tuple(name for name in names if name in states_of_group) if states_of_group else ()
                for states_of_group in names_by_state
            )
        )
    return reached


def _grade(seam: Seam, method: str, asked: Mapping[str, str]) -> str:
    return asked.get(key_of(seam.group), GRADES[0] if method == ONE_GRADE else seam.grade)


def _heat(grade: str, seam: Seam) -> float:
    """What a joint is heated to, °C; of a welded one what orders it among the others: its place with solder."""
    if grade == FUSED:
        return min(metal.flow(GRADES[0]) for metal in seam.metals) + _FUSES_ABOVE_C
    return min(metal.flow(seam.grade if grade == WELDED else grade) for metal in seam.metals)


def apart_mm(seams: list[Seam]) -> NDArray[np.float64]:
    """Shortest way in mm through the metal between all joints, shape (n, n); infinite where nothing joins them.

    Joints are neighbours where they lie on one part; longer ways go through other joints (Floyd and Warshall's
    algorithm).
    """
    count = len(seams)
    ways = [[math.inf] * count for _ in seams]
    on_part: dict[str, list[tuple[int, float]]] = {}
    for number, seam in enumerate(seams):
        ways[number][number] = 0.0
        for part, way in seam.ends:
            on_part.setdefault(part, []).append((number, way))
    for names_on_part in on_part.values():
        for (group, here), (other, there) in itertools.combinations(names_on_part, 2):
            ways[group][other] = ways[other][group] = min(abs(here - there), ways[group][other])
    apart = np.array(ways)
    between = [number for number, seam in enumerate(seams) if len(seam.ends) > 1]  # no way leads on through others
    for through in between:
        np.minimum(apart, np.add.outer(apart[:, through], apart[through]), out=apart)
    return apart


def least_step_c(joints: tuple[Joint, ...]) -> float | None:
    """Smallest drop in °C between one grade used and the next; None where only one grade is used."""
    temperatures = sorted({joint.flow_c for joint in joints if math.isfinite(joint.flow_c)}, reverse=True)
    steps = [high - low for high, low in itertools.pairwise(temperatures)]
    return min(steps) if steps else None


def groups(joints: tuple[Joint, ...]) -> list[tuple[Joint, int]]:
    """Joints gathered by group in order: the first of each group and how many it has."""
    joints_by_grade: dict[str, tuple[Joint, int]] = {}
    for joint in joints:
        first, count = joints_by_grade.get(joint.group, (joint, 0))
        joints_by_grade[joint.group] = (first, count + 1)
    return list(joints_by_grade.values())
