"""The shank itself: section, blank length, and what a gap takes from it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from yarvel.figures.figure import GEOMETRY, Number, figure


@dataclass(frozen=True)
class Band:
    """A plain band: sizes in mm, ``profile`` flat, half-round, court or square."""

    inside_diameter: float
    width: float
    thickness: float
    profile: str

    @property
    def inside_radius(self) -> float:
        """Radius of the finger side, mm."""
        return self.inside_diameter / 2

    @property
    def outside_radius(self) -> float:
        """Radius over the middle of the band, mm."""
        return self.inside_diameter / 2 + self.thickness

    @property
    def section_mm2(self) -> float:
        """Area of the section, mm²: half-round as half an ellipse, court as rounded on both faces."""
        return self.width * self.thickness * _FILL[self.profile]


_FILL = {"flat": 1.0, "square": 1.0, "half-round": np.pi / 4, "court": (1 + np.pi / 4) / 2}
PROFILES = tuple(_FILL)


@figure("shank.full_length", "Length of a whole ring", "mm", "π·(d_i + t)", GEOMETRY,
        inside_diameter="d_i", thickness="t")
def full_length_mm(inside_diameter: Number, thickness: Number) -> Number:
    """Mid-line length in mm of a closed ring."""
    return np.pi * (inside_diameter + thickness)


@figure("shank.blank_length", "Blank length", "mm", "π·(d_i + t) − gap", GEOMETRY,
        inside_diameter="d_i", thickness="t", gap="gap")
def blank_length_mm(inside_diameter: Number, thickness: Number, gap: Number) -> Number:
    """Mid-line length in mm of the blank, less the arc that the head takes up (0 for a closed ring)."""
    return np.pi * (inside_diameter + thickness) - gap


@figure("shank.cut_length", "Cut the stock at", "mm", "l + a", GEOMETRY, places=1, length="l", allowance="a")
def cut_length_mm(length: Number, allowance: Number) -> Number:
    """Length in mm to cut, with the saw allowance."""
    return length + allowance


@figure("shank.gap_arc", "Gap on the mid-line", "mm", "2·r·asin(b/(2·r))·π/180", GEOMETRY, radius="r", width="b")
def gap_arc_mm(radius: Number, width: Number) -> Number:
    """Arc in mm on a circle of this radius over a gap this wide (chord)."""
    arc: Number = 2 * radius * np.arcsin(np.clip(width / (2 * radius), 0, 1))
    return arc


@figure("shank.removed_arc_deg", "Arc removed", "°", "2·asin(b/(2·r))", GEOMETRY, places=1, width="b", radius="r")
def removed_arc_deg(width: Number, radius: Number) -> Number:
    """Angle in degrees of the arc taken out at the inside of the band."""
    angle: Number = 2 * np.degrees(np.arcsin(np.clip(width / (2 * radius), 0, 1)))
    return angle


def sagitta_mm(radius: Number, chord: Number) -> Number:
    """Height in mm of the arc over a chord; the whole radius where the chord reaches the diameter."""
    return radius - np.sqrt(np.maximum(radius**2 - chord**2 / 4, 0))
