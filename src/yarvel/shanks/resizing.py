"""Resizing a ring that carries a set head: metal in or out, and what the new curve does to the head."""

from __future__ import annotations

import numpy as np
from msgspec.structs import replace

from yarvel.figures.figure import GEOMETRY, FigureKey, Ledger, Number, figure
from yarvel.metals.alloys import Alloy
from yarvel.shanks import blanks
from yarvel.shanks.band import Band

FROM_DIAMETER = FigureKey("resize.from_diameter")
PIECE, STRETCH = "piece", "stretch"

WAYS: dict[str, str] = {PIECE: "Piece at the back", STRETCH: "Stretched"}
"""How a ring comes to another size: a key that stays, and what it is called."""


@figure(
    "resize.change",
    "Metal put in; taken out where negative",
    "mm",
    "π·(d_i − d_0)",
    GEOMETRY,
    new_mm="d_i",
    old_mm="d_0",
)
def change_mm(new_mm: Number, old_mm: Number) -> Number:
    """Length in mm of the piece that goes in at the back, or of the piece that comes out."""
    return np.pi * (new_mm - old_mm)


@figure(
    "resize.piece_mass",
    "Mass of that piece",
    "g",
    "A·abs(l_p)·ρ_m/1000",
    GEOMETRY,
    section_mm2="A",
    length_mm="l_p",
    density_g_cm3="ρ_m",
)
def piece_mass_g(section_mm2: Number, length_mm: Number, density_g_cm3: float) -> Number:
    """Mass in g of the piece, from the band's section in mm² at the back."""
    return section_mm2 * np.abs(length_mm) * density_g_cm3 / 1000


@figure(
    "resize.foot_gap",
    "Band leaves the foot's edges by",
    "mm",
    "(r_0 + t − √((r_0 + t)² − b_f²/4)) − (r_i + t − √((r_i + t)² − b_f²/4))",
    GEOMETRY,
    old_mm="r_0",
    new_mm="r_i",
    thickness_mm="t",
    foot_mm="b_f",
)
def foot_gap_mm(old_mm: Number, new_mm: Number, thickness_mm: Number, foot_mm: Number) -> Number:
    """How far in mm the band's new curve goes away from the edges of a foot that was fitted to the old one; negative
    where it presses on them."""
    return blanks.sagitta_mm(old_mm + thickness_mm, foot_mm) - blanks.sagitta_mm(new_mm + thickness_mm, foot_mm)


@figure(
    "resize.turn",
    "Shoulders turn beside the head by",
    "°",
    "asin(b_f/(2·r_0)) − asin(b_f/(2·r_i))",
    GEOMETRY,
    places=1,
    foot_mm="b_f",
    old_mm="r_0",
    new_mm="r_i",
)
def turn_deg(foot_mm: Number, old_mm: Number, new_mm: Number) -> Number:
    """Angle in degrees that each shoulder turns against the head."""

    def half(radius_mm: Number) -> Number:
        angle: Number = np.degrees(np.arcsin(np.clip(foot_mm / (2 * radius_mm), 0, 1)))
        return angle

    return half(old_mm) - half(new_mm)


@figure(
    "resize.strain",
    "Stretched by",
    "%",
    "100·((d_i − d_0)/(d_0 + t_0))",
    GEOMETRY,
    places=1,
    new_mm="d_i",
    old_mm="d_0",
    thickness_mm="t_0",
)
def strain_percent(new_mm: Number, old_mm: Number, thickness_mm: Number) -> Number:
    """Strain in per cent of a band that is stretched from one inside diameter to another, along its middle line."""
    return 100 * (new_mm - old_mm) / (old_mm + thickness_mm)


@figure(
    "resize.thinner",
    "Band becomes thinner by",
    "mm",
    "t_0·(1 − 1/√(1 + ε/100))",
    GEOMETRY,
    thickness_mm="t_0",
    strain_percent="ε",
)
def thinner_mm(thickness_mm: Number, strain_percent: Number) -> Number:
    """What a stretched band loses of its thickness, mm: its metal stays, and width and thickness give alike."""
    return thickness_mm * (1 - 1 / np.sqrt(1 + strain_percent / 100))


def stretched(band: Band, old_diameter_mm: float) -> Band:
    """A band as it is after it was stretched from another inside diameter, mm, with the metal that it had."""
    gives = float(1 / np.sqrt(1 + strain_percent(band.inside_diameter_mm, old_diameter_mm, band.thickness_mm) / 100))
    return replace(
        band,
        width_mm=band.width_mm * gives,
        thickness_mm=band.thickness_mm * gives,
        back_width_mm=None if band.back_width_mm is None else band.back_width_mm * gives,
        back_thickness_mm=None if band.back_thickness_mm is None else band.back_thickness_mm * gives,
        between=tuple(
            replace(
                section,
                width_mm=None if section.width_mm is None else section.width_mm * gives,
                thickness_mm=None if section.thickness_mm is None else section.thickness_mm * gives,
            )
            for section in band.between
        ),
    )


def enter(
    ledger: Ledger, old_diameter_mm: float, band: Band, foot_width_mm: Number, alloy: Alloy, thickness_mm: float | None
) -> None:
    """Enter the figures of a ring that had another inside diameter, mm; ``thickness_mm`` of one that is stretched, as
    it was before."""
    ledger.given(FROM_DIAMETER, "Inside diameter now", "mm", old_diameter_mm, "measured")
    if thickness_mm is None:
        change = ledger.enter(change_mm, band.inside_diameter_mm, old_diameter_mm)
        ledger.enter(piece_mass_g, band.area_at(180.0), change, alloy.density)
    else:
        strain = ledger.enter(strain_percent, band.inside_diameter_mm, old_diameter_mm, thickness_mm)
        ledger.enter(thinner_mm, thickness_mm, strain)
    ledger.enter(foot_gap_mm, old_diameter_mm / 2, band.inside_radius, band.thickness_mm, foot_width_mm)
    ledger.enter(turn_deg, foot_width_mm, old_diameter_mm / 2, band.inside_radius)
