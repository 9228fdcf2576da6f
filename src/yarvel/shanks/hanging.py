"""Pendant: a head without a shank, hung by a ring at the height where it hangs straight."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from yarvel.figures.figure import ASSUMED, CHOSEN, GEOMETRY, Ledger, Number, figure
from yarvel.heads.style import FOOT, Making
from yarvel.metals.alloys import Alloy
from yarvel.metals.joints import Seam

METHOD = "pendant"
LABEL = "Hangs as a pendant"


@figure("bail.wire_length", "Ring's wire, cut", "mm", "π·(d_b + w_b)", GEOMETRY, inside="d_b", wire="w_b")
def wire_length_mm(inside: Number, wire: Number) -> Number:
    """Length in mm of round wire for the ring."""
    return np.pi * (inside + wire)


@figure("bail.mass", "Ring's mass", "g", "π/4·w_b²·l_b·ρ_m/1000", GEOMETRY, wire="w_b", length="l_b", density="ρ_m")
def ring_mass_g(wire: Number, length: Number, density: float) -> Number:
    """Mass in g of the ring."""
    return np.pi / 4 * wire**2 * length * density / 1000


@figure("bail.chain_room", "Room round the chain's end", "mm", "d_b − c", GEOMETRY, inside="d_b", chain="c")
def chain_room_mm(inside: Number, chain: Number) -> Number:
    """What is left in mm when the thickest part of the chain's end goes through the ring."""
    return inside - chain


@figure(
    "bail.tilt",
    "Face tips forward by",
    "°",
    "atan((z_b − z_m)/(e + d_b/2))",
    GEOMETRY,
    places=1,
    height="z_b",
    centre="z_m",
    reach="e",
    inside="d_b",
)
def tilt_deg(height: Number, centre: Number, reach: Number, inside: Number) -> Number:
    """Angle in degrees by which a pendant leans whose ring does not sit at the height of its centre of mass; positive
    where the face looks down. ``reach`` from the axis to the ring's foot; the chain bears on the ring's top."""
    return np.degrees(np.arctan2(height - centre, reach + inside / 2))


def enter(ledger: Ledger, inside: float, wire: float, chain_end: float | None, alloy: Alloy) -> None:
    """Enter the ring's figures; ``chain_end`` the thickest part that has to go through, mm."""
    ledger.given("bail.inside", "Ring, inside", "mm", inside, CHOSEN)
    ledger.given("bail.wire", "Ring, wire", "mm", wire, CHOSEN)
    length = ledger.enter(wire_length_mm, inside, wire)
    ledger.enter(ring_mass_g, wire, length, alloy.density)
    if chain_end is not None:
        ledger.given("bail.chain_end", "Chain's end", "mm", chain_end, ASSUMED)
        ledger.enter(chain_room_mm, inside, chain_end)


def seams(alloy: Alloy, figures: Mapping[str, float]) -> list[Seam]:
    """The ring's seam, then the ring to the head, before the stone is set."""
    height = figures["head.height"]
    return [
        Seam("hanging ring's seam", "hard", "Hanging ring's seam", (alloy,), ends=(("hanging ring", 0.0),)),
        Seam(
            "hanging ring to the head",
            "medium",
            "Hanging ring to the head",
            (alloy,),
            "before the stone is set",
            (("hanging ring", figures["bail.wire_length"] / 2), (FOOT, height)),
        ),
    ]


def making() -> Making:
    """Made, soldered where it hangs straight, tried on a thread."""
    return (
        (
            "Round up a ring of {bail.inside} inside from {bail.wire_length} of {bail.wire} wire; its seam goes to "
            "the "
            "head.",
            "the chain's end goes through without force",
        ),
        (
            "Solder it at {bail.height} above the foot, where the centre of mass lies, before the stone is set.",
            "with the stone held in by wax, hung from a thread, the face is upright",
        ),
    )
