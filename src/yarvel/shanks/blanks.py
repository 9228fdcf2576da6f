"""The shank itself: section, blank length, and what a gap takes from it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from yarvel.figures.figure import GEOMETRY, FigureKey, Ledger, Number, figure
from yarvel.figures.rules import HouseRules
from yarvel.metals.alloys import Alloy
from yarvel.metals.joints import Seam

INSIDE_DIAMETER = FigureKey("shank.inside_diameter")
WIDTH = FigureKey("shank.width")
THICKNESS = FigureKey("shank.thickness")
BACK_WIDTH = FigureKey("shank.back_width")
BACK_THICKNESS = FigureKey("shank.back_thickness")

SHANK = "shank"
"""Name of the shank in the graph of joints; ways along it are counted from under the head."""


@dataclass(frozen=True)
class Band:
    """A band: sizes in mm at the head, ``back_width_mm`` and ``back_thickness_mm`` opposite it where it tapers;
    ``profile`` flat, half-round, court or square. Width and thickness change evenly along the arc."""

    inside_diameter_mm: float
    width_mm: float
    thickness_mm: float
    profile: str
    back_width_mm: float | None = None
    back_thickness_mm: float | None = None

    @property
    def inside_radius(self) -> float:
        """Radius of the finger side, mm."""
        return self.inside_diameter_mm / 2

    @property
    def outside_radius(self) -> float:
        """Radius over the middle of the band at the head, mm."""
        return self.inside_diameter_mm / 2 + self.thickness_mm

    @property
    def tapers(self) -> bool:
        """Whether the back is not as the head's side."""
        return (self._back_width, self._back_thickness) != (self.width_mm, self.thickness_mm)

    @property
    def _back_width(self) -> float:
        return self.width_mm if self.back_width_mm is None else self.back_width_mm

    @property
    def _back_thickness(self) -> float:
        return self.thickness_mm if self.back_thickness_mm is None else self.back_thickness_mm

    def outside_at(self, across_mm: Number) -> Number:
        """Radius in mm of the band's outside at the head, this far in mm from the middle of its width."""
        crown = CROWN[self.profile] * self.thickness_mm
        share = np.minimum(np.abs(across_mm) / (self.width_mm / 2), 1.0)
        radius: Number = self.outside_radius - crown * (1 - np.sqrt(1 - share**2))
        return radius

    def width_at(self, turn_deg: Number) -> Number:
        """Width in mm at an angle round the finger, 0 at the head, 180 opposite."""
        return self.width_mm + (self._back_width - self.width_mm) * np.abs(turn_deg) / 180

    def thickness_at(self, turn_deg: Number) -> Number:
        """Thickness in mm at an angle round the finger, 0 at the head, 180 opposite."""
        return self.thickness_mm + (self._back_thickness - self.thickness_mm) * np.abs(turn_deg) / 180

    @property
    def mean_thickness(self) -> float:
        """Mean thickness in mm along the band."""
        return (self.thickness_mm + self._back_thickness) / 2

    @property
    def section_mm2(self) -> float:
        """Mean area of the section, mm²."""
        return FILL[self.profile] * mean_product(
            self.width_mm, self._back_width, self.thickness_mm, self._back_thickness
        )

    @property
    def volume_mm3(self) -> float:
        """Volume of the whole closed ring, mm³: every section times the way of its centroid (Pappus)."""
        turn = np.linspace(0.0, 180.0, 181)
        wide, thick = np.asarray(self.width_at(turn)), np.asarray(self.thickness_at(turn))
        crown = CROWN[self.profile]
        upright, round_part = 1 - crown, crown * np.pi / 4
        middle = (upright**2 / 2 + round_part * (upright + 4 * crown / (3 * np.pi))) / (upright + round_part)
        slices = FILL[self.profile] * wide * thick * (self.inside_radius + middle * thick)
        return float(2 * np.trapezoid(slices, np.radians(turn)))


def mean_product(width_mm: float, back_width_mm: float, thickness_mm: float, back_thickness_mm: float) -> float:
    """Mean in mm² of width times thickness where both change evenly from one end to the other."""
    ends = 2 * width_mm * thickness_mm + 2 * back_width_mm * back_thickness_mm
    return (ends + width_mm * back_thickness_mm + back_width_mm * thickness_mm) / 6


CROWN = {"flat": 0.0, "square": 0.0, "half-round": 0.8, "court": 0.35}
"""How much of a profile's thickness is rounded, as half an ellipse over its width; the rest stands upright. From
memory."""
FILL = {profile: 1 - crown * (1 - np.pi / 4) for profile, crown in CROWN.items()}
"""Share of width times thickness that a profile fills."""
PROFILES = tuple(FILL)


@figure(
    "shank.full_length",
    "Length of a whole ring",
    "mm",
    "π·(d_i + t)",
    GEOMETRY,
    inside_diameter_mm="d_i",
    thickness_mm="t",
)
def full_length_mm(inside_diameter_mm: Number, thickness_mm: Number) -> Number:
    """Mid-line length in mm of a closed ring."""
    return np.pi * (inside_diameter_mm + thickness_mm)


@figure(
    "shank.blank_length",
    "Blank length",
    "mm",
    "π·(d_i + t) − gap",
    GEOMETRY,
    inside_diameter_mm="d_i",
    thickness_mm="t",
    gap_mm="gap",
)
def blank_length_mm(inside_diameter_mm: Number, thickness_mm: Number, gap_mm: Number) -> Number:
    """Mid-line length in mm of the blank, less the arc that the head takes up (0 for a closed ring)."""
    return np.pi * (inside_diameter_mm + thickness_mm) - gap_mm


@figure("shank.cut_length", "Cut the stock at", "mm", "l + a", GEOMETRY, places=1, length_mm="l", allowance_mm="a")
def cut_length_mm(length_mm: Number, allowance_mm: Number) -> Number:
    """Length in mm to cut, with the saw allowance."""
    return length_mm + allowance_mm


@figure("shank.gap_arc", "Gap on the mid-line", "mm", "2·r·asin(b/(2·r))·π/180", GEOMETRY, radius_mm="r", width_mm="b")
def gap_arc_mm(radius_mm: Number, width_mm: Number) -> Number:
    """Arc in mm on a circle of this radius over a gap this wide (chord)."""
    arc: Number = 2 * radius_mm * np.arcsin(np.clip(width_mm / (2 * radius_mm), 0, 1))
    return arc


@figure("shank.removed_arc_deg", "Arc removed", "°", "2·asin(b/(2·r))", GEOMETRY, places=1, width_mm="b", radius_mm="r")
def removed_arc_deg(width_mm: Number, radius_mm: Number) -> Number:
    """Angle in degrees of the arc taken out at the inside of the band."""
    angle: Number = 2 * np.degrees(np.arcsin(np.clip(width_mm / (2 * radius_mm), 0, 1)))
    return angle


def sagitta_mm(radius_mm: Number, chord_mm: Number) -> Number:
    """Height in mm of the arc over a chord; the whole radius where the chord reaches the diameter."""
    return radius_mm - np.sqrt(np.maximum(radius_mm**2 - chord_mm**2 / 4, 0))


def enter_closed(ledger: Ledger, band: Band, rules: HouseRules, gap_mm: Number = 0.0) -> None:
    """Enter the blank of a band that is closed under its head, or that is left open by a gap in mm on its mid-line."""
    length = ledger.enter(blank_length_mm, band.inside_diameter_mm, band.mean_thickness, gap_mm)
    ledger.enter(cut_length_mm, length, rules.saw_allowance_mm)


def back_seam(shank: Alloy, figures: Mapping[FigureKey, float]) -> Seam:
    """The seam of a closed band, opposite the head."""
    half = figures[blank_length_mm] / 2
    return Seam("shank seam", "hard", "shank-seam", (shank,), ends=((SHANK, half),))
