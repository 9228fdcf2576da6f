"""Sections of a band that changes along the ring: side by side, each with where it is and what it measures."""

from __future__ import annotations

import numpy as np

from yarvel.drawing.metrics import text_width
from yarvel.drawing.primitives import Drawing, Points
from yarvel.drawing.view import SMALL, View
from yarvel.shanks.band import Band, BandStation

_GAP, _TITLE, _LINES = 6.0, 8.0, 9.0
_TICK = 0.8

_BESIDE, _BELOW = 9.0, 1.35 * SMALL
"""How near two angles may stand, across and down, mm of paper: the longest is three digits and its sign."""


def told(band: Band, station: BandStation) -> tuple[str, str]:
    """Where a section is; its width by its thickness in mm, and its profile where that is given there."""
    turn = station.turn_deg
    where = {0.0: "at the head", 180.0: "at the back"}.get(turn, f"{turn:g}° round")
    size = f"{float(band.width_at(turn)):.2f} × {float(band.thickness_at(turn)):.2f}"
    return where, f"{size} {station.profile or ''}".strip()


def size_of(band: Band, scale: float) -> tuple[float, float]:
    """Width and height in mm of paper that the row takes; nothing where the band is the same all round."""
    if not band.tapers:
        return 0.0, 0.0
    return sum(_wide(band, station, scale) + _GAP for station in band.stations), _TITLE + band.widest[
        1
    ] * scale + _LINES


def _wide(band: Band, station: BandStation, scale: float) -> float:
    return max(
        float(band.width_at(station.turn_deg)) * scale, *(text_width(text, SMALL) for text in told(band, station))
    )


def draw(drawing: Drawing, band: Band, at: tuple[float, float], scale: float) -> None:
    """The row, its upper left corner ``at`` so many mm on the paper."""
    if not band.tapers:
        return
    x, top = at
    drawing.text((x, top + 2.5), "Sections of the band, square to it", SMALL, "start", "text-quiet")
    foot = top + _TITLE + band.widest[1] * scale
    for station in band.stations:
        wide = _wide(band, station, scale)
        view = View(drawing, (x + wide / 2, foot), scale)
        view.area(section(band, station.turn_deg), "metal-cut", "cut", "slant")
        for line, text in enumerate(told(band, station)):
            drawing.text(
                (x + wide / 2, foot + 4.0 + 4.0 * line), text, SMALL, "middle", "text" if line else "text-quiet"
            )
        x += wide + _GAP


def section(band: Band, turn_deg: float) -> Points:
    """The band's section (n, 2) at an angle from the head, mm: its finger side on y = 0, counter-clockwise."""
    half, thick = float(band.width_at(turn_deg)) / 2, float(band.thickness_at(turn_deg))
    crown = float(band.crown_at(turn_deg)) * thick
    if crown <= 0:
        return np.array([(-half, 0.0), (half, 0.0), (half, thick), (-half, thick)])
    turn = np.linspace(0, np.pi, 33)
    back = np.column_stack([half * np.cos(turn), thick - crown + crown * np.sin(turn)])
    return np.vstack([[(half, 0.0)], back, [(-half, 0.0)]])


def ticks(view: View, band: Band, centre: float) -> None:
    """Where the sections lie on the whole ring seen from the front: across the band on both sides, with their angle;
    one below the other where two lie so near that their angles would cover each other."""
    last = (-np.inf, -np.inf)
    for station in band.between:
        turn = np.radians(station.turn_deg)
        out = band.inside_radius + float(band.thickness_at(station.turn_deg)) + _TICK
        for way in (-1.0, 1.0):
            ray = np.array([way * np.sin(turn), np.cos(turn)])
            ends = [ray * radius + (0.0, centre) for radius in (band.inside_radius - _TICK, out)]
            view.line(np.array(ends), "centre")
        there = ray * out + (0.0, centre)
        x, y = view.at(float(there[0]), float(there[1]))
        if abs(x - last[0]) < _BESIDE and y < last[1] + _BELOW:
            y = last[1] + _BELOW
        last = x, y
        view.drawing.text((x + 1.0, y), f"{station.turn_deg:g}°", SMALL, "start", "text-quiet")
