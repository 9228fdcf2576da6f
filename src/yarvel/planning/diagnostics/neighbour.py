"""A band worn beside the ring: under an overhanging head it saws a claw through over the years."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from yarvel.heads.shape import reach_at
from yarvel.planning.diagnostics.diagnostic import CAUTION, OK, STOP, Diagnostic, Situation
from yarvel.shanks import fitting

CODE = "worn-by-neighbour"
CODES = (CODE,)


def examine(situation: Situation) -> list[Diagnostic]:
    """Room between the neighbour's top and the lowest part of the head that overhangs the band's side."""
    fit = situation.job.fit
    if fit is None or fit.beside_mm is None or situation.band is None:
        return []
    lowest = overhang_mm(situation)
    if lowest is None:
        return [
            Diagnostic(
                code=CODE,
                level=OK,
                title="Band worn beside it",
                message="Nothing of the head stands out over the band's side.",
                about="claw",
            )
        ]
    room = situation[fitting.PLANE_ABOVE_FINGER] + lowest - fit.beside_mm
    limit = situation.rules.neighbour_room_mm
    level = OK if room >= limit else STOP if room <= -1.0 else CAUTION
    wider = (
        math.ceil(
            (2 * reach_below_mm(situation, fit.beside_mm + limit - situation[fitting.PLANE_ABOVE_FINGER]) + 0.05) * 10
        )
        / 10
    )
    can = level != OK and wider <= 15 and not situation.job.ring_exists
    return [
        Diagnostic(
            code=CODE,
            level=level,
            title="Band worn beside it",
            message="The head passes over the other band."
            if level == OK
            else "The head stands out at the height of the other band, which saws into claw or gallery over the years: "
            "a wider band keeps it off, or the other band is shaped to pass.",
            figure=room,
            limit=limit,
            unit="mm",
            about="claw",
            of=fitting.PLANE_ABOVE_FINGER,
            remedy=situation.wider_band(wider) if can else None,
            remedy_label=f"Band {wider:.1f} mm wide" if can else "",
        )
    ]


def reach_below_mm(situation: Situation, height_mm: float) -> float:
    """How far along the finger the head's metal reaches, from its foot up to a height over the seat plane, mm."""
    shape = situation.shape
    heights = np.linspace(-shape.height_mm, max(height_mm, -shape.height_mm + 1e-3), 40)
    reach = 0.0
    for part in (shape.claws, shape.vees):
        if part is not None:
            out = float(reach_at(part.profile, heights)[1].max())
            reach = max([reach, *(abs(place.y_mm) + out * abs(place.normal[1]) for place in part.places)])
    edge = max(float(shape.outline.support(90.0)), float(shape.outline.support(270.0)))
    for wall in shape.walls:
        reach = max(reach, edge + float(reach_at(wall.profile, heights)[1].max()))
    return reach


def overhang_mm(situation: Situation) -> float | None:
    """Height of the lowest metal that stands out beyond the band's side, over the seat plane (negative below); None
    where nothing does."""
    half = 0.0 if situation.band is None else situation.band.width_mm / 2
    shape, lows = situation.shape, []
    for part in (shape.claws, shape.vees):
        if part is not None:
            for place in part.places:
                across = abs(place.y_mm) + part.profile[:, 0] * abs(place.normal[1])
                lows += _crossings(across, part.profile[:, 1], half)
    edge = max(float(shape.outline.support(90.0)), float(shape.outline.support(270.0)))
    for wall in shape.walls:
        lows += _crossings(edge + wall.profile[:, 0], wall.profile[:, 1], half)
    return min(lows) if lows else None


def _crossings(across: NDArray[np.float64], heights: NDArray[np.float64], half: float) -> list[float]:
    """Heights at which a closed section lies beyond, or crosses, a distance from the middle."""
    after, above = np.roll(across, -1), np.roll(heights, -1)
    beyond = heights[across > half + 1e-9].tolist()
    crossing = (across - half) * (after - half) < 0
    share = (half - across[crossing]) / (after[crossing] - across[crossing])
    return [*beyond, *(heights[crossing] + share * (above[crossing] - heights[crossing])).tolist()]
