"""Where claws stand on any outline: points covered, symmetric, the largest unsupported stretch least.

A place is a point of the outline with the outward normal there. On curves a stretch is measured by half its share of
the perimeter and half its share of the turning, which weights places to the ends of long stones.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from functools import cached_property, lru_cache

import numpy as np
from msgspec import Struct
from msgspec.structs import replace

from yarvel.stones.cut import Cut
from yarvel.stones.outline import Outline, Points

CLAW, POINT = "claw", "point"


class ClawPosition(Struct, frozen=True, dict=True):
    """A claw's place: contact (x, y) in mm, its outward normal in degrees, "claw" or "point" (a V over a corner).

    ``spread_deg``: at a point, half the angle between the normals of its two sides; 0 for a claw.
    """

    x_mm: float
    y_mm: float
    normal_deg: float
    kind: str = CLAW
    spread_deg: float = 0.0

    @property
    def azimuth_deg(self) -> float:
        """Azimuth of the contact seen from the culet, 0 … 360."""
        return math.degrees(math.atan2(self.y_mm, self.x_mm)) % 360

    @cached_property
    def normal(self) -> tuple[float, float]:
        """Outward unit normal."""
        turn = math.radians(self.normal_deg)
        return math.cos(turn), math.sin(turn)

    @cached_property
    def mirrored(self) -> tuple[str, float, float, float]:
        """The same for places that mirror one another at the axes, and for no others."""
        out = self.normal[0] if self.x_mm >= 0 else -self.normal[0]
        return self.kind, self.spread_deg, round(abs(self.x_mm), 9), round(out, 9)

    @property
    def half_angle_deg(self) -> float:
        """At a point: half the stone's angle there."""
        return 90.0 - self.spread_deg


def numbers(places: Sequence[ClawPosition]) -> tuple[int, ...]:
    """What each claw is called: 1 to N, clockwise from 12 o'clock (azimuth 90°), in the order of the places."""
    # rounded, so that a claw at 89.9999…° is not the last but the first
    order = sorted(range(len(places)), key=lambda claw: round(90.0 - places[claw].azimuth_deg, 4) % 360.0)
    numbered = [0] * len(places)
    for number, claw in enumerate(order, start=1):
        numbered[claw] = number
    return tuple(numbered)


LARGE_MM = 10.0
"""Common practice: above this (mean of length and width) a round or oval stone gets six claws."""


def usual_claws(cut: Cut, across_mm: float = 0.0) -> int:
    """How many claws a head for this cut usually has: its points and what holds it between them; six for large round
    and oval stones."""
    return 6 if across_mm > LARGE_MM and cut.smooth else cut.claws


def least_claws(outline: Outline) -> int:
    """Fewest claws that cover every point and can hold at all."""
    return max(3, len(outline.corners))


@lru_cache(maxsize=64)
def places(outline: Outline, count: int, orientation: str, cornered: bool) -> tuple[ClawPosition, ...]:
    """The claws' places, counter-clockwise from azimuth 0; ``cornered``: four claws sit on the cut corners.

    ``outline`` stands in the head's frame: the band runs along x, the finger along y.
    """
    corners = outline.corners
    if cornered:
        fixed = _cut_corners(outline)
        if count == len(fixed):
            return _ordered([_at(outline, place) for place in fixed])
    elif corners:
        return _ordered(_with_points(outline, corners, count))
    measure = _measure(outline)
    start = _start(outline, measure)
    turn = 0.5 if orientation == "square" else 0.0  # half a spacing: no claw on the band's own line
    marks = [(start + (place + turn) / count) % 1.0 for place in range(count)]
    return _ordered([_at(outline, _where(outline, measure, mark)) for mark in marks])


def circle(radius_mm: float, azimuths_deg: Sequence[float]) -> tuple[ClawPosition, ...]:
    """Places on a round stone."""
    turns = [(azimuth, math.radians(azimuth)) for azimuth in azimuths_deg]
    return tuple(
        ClawPosition(radius_mm * math.cos(turn), radius_mm * math.sin(turn), azimuth) for azimuth, turn in turns
    )


def moved(outline: Outline, azimuths_deg: Sequence[float]) -> tuple[ClawPosition, ...]:
    """Places at azimuths that someone chose; near a sharp point the place is the point."""
    positions = []
    for azimuth in azimuths_deg:
        near = [corner for corner in outline.corners if _apart(_azimuth(outline.points[corner]), azimuth) < 4.0]
        positions.append(_point(outline, near[0]) if near else _at(outline, _met(outline, azimuth)))
    return _ordered(positions)


def largest_stretch_mm(outline: Outline, chosen: Sequence[ClawPosition]) -> float:
    """Longest run of the outline between neighbouring places, mm."""
    along = np.sort([_distance(outline, place) for place in chosen])
    # the last place to the first, across the start of the outline
    gaps = np.diff([*along, along[0] + outline.perimeter])
    return float(gaps.max())


def longest_stretch(outline: Outline, chosen: Sequence[ClawPosition]) -> Points:
    """The longest run of the outline between neighbouring places, as points (n, 2)."""
    along = np.sort([_distance(outline, place) for place in chosen])
    gaps = np.diff([*along, along[0] + outline.perimeter])
    start = float(along[int(np.argmax(gaps))])
    marks = start + np.linspace(0.0, float(gaps.max()), 25)
    at = np.concatenate([[0.0], np.cumsum(outline.lengths)])
    loop = np.vstack([outline.points, outline.points[:1]])
    wrapped = np.mod(marks, outline.perimeter)
    return np.column_stack([np.interp(wrapped, at, loop[:, 0]), np.interp(wrapped, at, loop[:, 1])])


def _apart(one: float, other: float) -> float:
    return abs((one - other + 180) % 360 - 180)


def _azimuth(point: Points) -> float:
    return float(np.degrees(np.arctan2(point[1], point[0])))


def _ordered(found: list[ClawPosition]) -> tuple[ClawPosition, ...]:
    return tuple(sorted(found, key=lambda place: round(place.azimuth_deg % 360, 6) % 360))


def _point(outline: Outline, corner: int) -> ClawPosition:
    before, after = outline.normals[corner - 1], outline.normals[corner]
    middle = before + after
    normal = float(np.degrees(np.arctan2(middle[1], middle[0])) % 360)
    x, y = outline.points[corner].tolist()
    return ClawPosition(x, y, normal, POINT, float(np.degrees(outline.turning[corner])) / 2)


def _at(outline: Outline, where: tuple[int, float]) -> ClawPosition:
    """The place on an edge at a share of its length; near its ends the normal is that of the curve."""
    edge, share = where
    x, y = (outline.points[edge] + share * outline.edges[edge]).tolist()
    count = len(outline.points)
    after = (edge + 1) % count
    lean = 0.0
    for corner, weight in ((edge, share - 0.5), (after, share - 0.5)):
        turn = float(outline.turning[corner])
        if abs(turn) < 0.4 and (weight < 0) == (corner == edge):
            lean += weight * turn
    own = outline.normals[edge]
    normal = float(np.degrees(np.arctan2(own[1], own[0]) + lean) % 360)
    return ClawPosition(x, y, normal)


def _cut_corners(outline: Outline) -> list[tuple[int, float]]:
    """Middles of the four cut faces: the edges whose normals lean most to both axes."""
    lean = np.abs(outline.normals[:, 0] * outline.normals[:, 1])
    return [(place, 0.5) for place in np.flatnonzero(lean > 0.4).tolist()]


def _measure(outline: Outline) -> Points:
    """Running measure 0 … 1 at each point (and 1 behind the last): half by length, half by turning."""
    length = outline.lengths / outline.perimeter
    smooth = np.abs(np.where(np.abs(outline.turning) < np.radians(25), outline.turning, 0.0))
    turning = (smooth + np.roll(smooth, -1)) / 2
    total = max(float(turning.sum()), 1e-9)
    step = (length + turning / total) / 2 if total > 1e-6 else length
    return np.concatenate([[0.0], np.cumsum(step / step.sum())])


def _start(outline: Outline, measure: Points) -> float:
    """Measure of the place counting starts from: azimuth 0, or the end on the axis of an outline that has one only."""
    width, height = (outline.points * (-1, 1), outline.points * (1, -1))
    both = all(
        np.allclose(
            outline.support(np.arange(0, 360, 30.0)), Outline(flip[::-1]).support(np.arange(0, 360, 30.0)), atol=1e-6
        )
        for flip in (width, height)
    )
    lengthwise = np.allclose(
        outline.support(np.arange(0, 360, 30.0)), Outline(width[::-1]).support(np.arange(0, 360, 30.0)), atol=1e-6
    )
    azimuth = 0.0 if both else 90.0 if lengthwise else 0.0
    edge, share = _met(outline, azimuth)
    return float(measure[edge] + share * (measure[edge + 1] - measure[edge]))


def _where(outline: Outline, measure: Points, mark: float) -> tuple[int, float]:
    edge = int(np.clip(np.searchsorted(measure, mark, side="right") - 1, 0, len(outline.points) - 1))
    return edge, float((mark - measure[edge]) / (measure[edge + 1] - measure[edge]))


def _met(outline: Outline, azimuth_deg: float) -> tuple[int, float]:
    """Edge and share where the ray at this azimuth leaves the outline."""
    turn = np.radians(azimuth_deg)
    way = np.array([np.cos(turn), np.sin(turn)])
    start, end = outline.points, np.roll(outline.points, -1, axis=0)
    off_start = way[0] * start[:, 1] - way[1] * start[:, 0]
    off_end = way[0] * end[:, 1] - way[1] * end[:, 0]
    ahead = (start + end) @ way > 0
    hit = np.flatnonzero((off_start <= 1e-12) & (off_end > 1e-12) & ahead)
    edge = int(hit[-1])
    return edge, float(np.clip(-off_start[edge] / (off_end[edge] - off_start[edge]), 0.0, 1.0))


def _distance(outline: Outline, place: ClawPosition) -> float:
    edge, share = _met(outline, place.azimuth_deg)
    return float(outline.lengths[:edge].sum() + share * outline.lengths[edge])


def _with_points(outline: Outline, corners: tuple[int, ...], count: int) -> list[ClawPosition]:
    """A claw on every point (and on both lobes beside a cleft), the rest shared out over the stretches between."""
    measure = _measure(outline)
    fixed = [_point(outline, corner) for corner in corners]
    marks = [float(measure[corner]) for corner in corners]
    barred = -1.0
    if outline.cleft and count >= len(corners) + 2:
        away = (fixed[0].azimuth_deg + 180) % 360
        crests = [edge for edge in range(len(outline.points)) if _crest(outline, edge, away)]
        fixed += [_at(outline, (edge, 0.0)) for edge in crests]
        marks += [float(measure[edge]) for edge in crests]
        barred = min(float(measure[edge]) for edge in crests)
        if count % 2 == 0:
            cleft = int(np.argmin(outline.turning))
            fixed.append(replace(_at(outline, (cleft, 0.0)), normal_deg=away))
            barred = -1.0
            marks.append(float(measure[cleft]))
    return fixed + _between(outline, measure, sorted(marks), count - len(fixed), barred)


def _crest(outline: Outline, edge: int, away_deg: float) -> bool:
    """Whether the outline turns past a direction at the start of an edge."""

    def off(normal: Points) -> float:
        return float((np.degrees(np.arctan2(normal[1], normal[0])) - away_deg + 180) % 360 - 180)

    before, after = off(outline.normals[edge - 1]), off(outline.normals[edge])
    return before <= 0 < after and abs(before) < 60 and abs(after) < 60


def _between(outline: Outline, measure: Points, marks: list[float], many: int, barred: float) -> list[ClawPosition]:
    """Claws shared out over the stretches between marks; no claw on the stretch that starts at ``barred``."""
    gaps = np.diff([*marks, marks[0] + 1.0])
    share = [0] * len(gaps)
    last = -1
    left = many
    while left > 0:
        widest = [
            0.0 if mark == barred else gap / (claws_between + 1)
            for mark, gap, claws_between in zip(marks, gaps, share, strict=True)
        ]
        best = max(widest)
        tied = [place for place, wide in enumerate(widest) if wide > best - 1e-6]
        across = len(gaps) // 2
        tied.sort(key=lambda place: (last < 0 or (place - last) % len(gaps) != across, place))
        alone = [
            place
            for place in range(len(gaps))
            if gaps[place] > 0
            and widest[place] > 0
            and all(abs(gaps[place] - gap) > 1e-6 for other, gap in enumerate(gaps) if other != place)
        ]
        if left == 1 and len(tied) == 2 and alone:
            tied = [max(alone, key=lambda place: widest[place])]
        last = tied[0]
        share[last] += 1
        left -= 1
    positions = []
    for mark, gap, held in zip(marks, gaps, share, strict=True):
        for step in range(held):
            positions.append(_at(outline, _where(outline, measure, (mark + gap * (step + 1) / (held + 1)) % 1.0)))
    return positions


def least_apart_mm(places: tuple[ClawPosition, ...], outwards_mm: float) -> float:
    """Least distance in mm between neighbouring claws' centres, ``outwards_mm`` from the stone's edge."""
    centres = np.array(
        [(place.x_mm + outwards_mm * place.normal[0], place.y_mm + outwards_mm * place.normal[1]) for place in places]
    )
    return float(np.hypot(*(np.roll(centres, -1, axis=0) - centres).T).min())


def shares_at(place: ClawPosition, size_mm: tuple[float, float], along_band: bool) -> tuple[float, float]:
    """By which share of half their differences a stone (its outline's ``size_mm`` across and along) that is wider or
    longer than its head lies deeper at a place: 1, 0 at its sides, 0, 1 at its ends. A V is asked square to the side of
    it that takes more."""
    wide, long = size_mm
    shares = []
    for side in (-1.0, 1.0) if place.kind == POINT else (0.0,):
        turn = np.radians(place.normal_deg + side * place.spread_deg)
        across = 2 * place.x_mm / wide * float(np.cos(turn))
        along = 2 * place.y_mm / long * float(np.sin(turn))
        shares.append((along, across) if along_band else (across, along))
    return max(shares, key=sum)


def drawn_in(place: ClawPosition, deeper_mm: float) -> ClawPosition:
    """A claw's place moved in by what the stone lies deeper there, mm; of a V, square to its sides."""
    inwards = deeper_mm / float(np.cos(np.radians(place.spread_deg)))
    x, y = place.normal
    return replace(place, x_mm=place.x_mm - inwards * x, y_mm=place.y_mm - inwards * y) if deeper_mm else place
