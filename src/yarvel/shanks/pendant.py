"""Pendant: a head without a shank, hung by a ring at the height where it hangs straight."""

from __future__ import annotations

import math
from collections.abc import Mapping

import numpy as np
from msgspec import Struct

from yarvel.figures.figure import ASSUMED, CHOSEN, GEOMETRY, MEASURED, FigureKey, Ledger, Number, figure
from yarvel.heads import style
from yarvel.heads.style import FOOT
from yarvel.metals.alloys import Alloy
from yarvel.metals.joints import Seam

INSIDE = FigureKey("bail.inside")
WIRE = FigureKey("bail.wire")
CHAIN_END = FigureKey("bail.chain_end")
CENTRE = FigureKey("bail.centre")
HEIGHT = FigureKey("bail.height")
REACH = FigureKey("bail.reach")

BAIL_OPENING = FigureKey("bail.opening")
BAIL_WIRE = FigureKey("bail.hook")
BAIL_MASS = FigureKey("bail.bought_mass")

ABOVE, BEHIND = "above", "behind"
PLACES = {ABOVE: "Above the head", BEHIND: "Hidden behind it"}
PINCHED, SOLDERED = "pinched", "soldered"
BAIL_JOINTS = (PINCHED, SOLDERED)
METHOD = "pendant"
LABEL = "Hangs as a pendant"


@figure("bail.wire_length", "Ring's wire, cut", "mm", "π·(d_b + w_b)", GEOMETRY, inside_mm="d_b", wire_mm="w_b")
def wire_length_mm(inside_mm: Number, wire_mm: Number) -> Number:
    """Length in mm of round wire for the ring."""
    return np.pi * (inside_mm + wire_mm)


@figure(
    "bail.mass",
    "Ring's mass",
    "g",
    "π/4·w_b²·l_b·ρ_m/1000",
    GEOMETRY,
    wire_mm="w_b",
    length_mm="l_b",
    density_g_cm3="ρ_m",
)
def ring_mass_g(wire_mm: Number, length_mm: Number, density_g_cm3: float) -> Number:
    """Mass in g of the ring."""
    return np.pi / 4 * wire_mm**2 * length_mm * density_g_cm3 / 1000


@figure("bail.chain_room", "Room round the chain's end", "mm", "o − c", GEOMETRY, opening_mm="o", chain_mm="c")
def chain_room_mm(opening_mm: Number, chain_mm: Number) -> Number:
    """What is left in mm when the thickest part of the chain's end goes through: the ring, or the bail in it."""
    return opening_mm - chain_mm


@figure("bail.hook_room", "Room for the bail in its ring", "mm", "d_b − k", GEOMETRY, inside_mm="d_b", hook_mm="k")
def hook_room_mm(inside_mm: Number, hook_mm: Number) -> Number:
    """What is left in mm inside the ring beside the part of a bail that goes through it."""
    return inside_mm - hook_mm


def ring_for_mm(through_mm: float, room_mm: float) -> float:
    """The least inside in mm, in tenths, of a ring that leaves so much room round what goes through it."""
    return math.ceil((through_mm + room_mm) * 10 - 1e-6) / 10


class BoughtBail(Struct, frozen=True):
    """A bail as it is sold: the chain's opening and what goes through the ring in mm, its mass in g; None where it is
    not known."""

    opening_mm: float
    wire_mm: float | None
    mass_g: float | None


@figure(
    "bail.tilt",
    "Face tips forward by",
    "°",
    "atan((z_m − z_b)/(y_t − y_m))",
    GEOMETRY,
    places=1,
    height_mm="z_b",
    centre_mm="z_m",
    top_mm="y_t",
    middle_mm="y_m",
)
def tilt_deg(height_mm: Number, centre_mm: Number, top_mm: Number, middle_mm: Number) -> Number:
    """Angle in degrees by which a pendant leans whose ring does not sit at the height of its centre of mass; positive
    where the face looks down: the weight then hangs in front of the ring, as that of a picture in front of a wire at
    its back. ``top_mm`` is how far up from the axis the chain bears, ``middle_mm``
    the centre of mass."""
    return np.degrees(np.arctan2(centre_mm - height_mm, top_mm - middle_mm))


@figure(
    "bail.turn",
    "Turns in its own plane by",
    "°",
    "atan(x_m/(y_t − y_m))",
    GEOMETRY,
    places=1,
    side_mm="x_m",
    top_mm="y_t",
    middle_mm="y_m",
)
def turn_deg(side_mm: Number, top_mm: Number, middle_mm: Number) -> Number:
    """Angle in degrees by which a pendant turns in its own plane whose centre of mass lies ``side_mm`` of its ring."""
    return np.degrees(np.arctan2(side_mm, top_mm - middle_mm))


SINKS = 0.2
"""A ring's foot sinks into the metal by this share of its wire, so that solder has something to fill."""


@figure(
    "bail.bears",
    "Chain bears from the middle",
    "mm",
    "e + d_b + 0.8·w_b",
    GEOMETRY,
    reach_mm="e",
    inside_mm="d_b",
    wire_mm="w_b",
)
def bears_mm(reach_mm: Number, inside_mm: Number, wire_mm: Number) -> Number:
    """How far in mm up from the axis the chain bears: on the inside of the ring's top; ``reach_mm`` to the metal that
    its foot sinks into."""
    return reach_mm + inside_mm + (1 - SINKS) * wire_mm


def enter(
    ledger: Ledger,
    inside_mm: float,
    wire_mm: float,
    chain_end_mm: float | None,
    alloy: Alloy,
    bought: BoughtBail | None = None,
) -> None:
    """Enter the ring's figures; ``chain_end_mm`` the thickest part that has to go through it, or through the bail that
    hooks into it, mm."""
    ledger.given(INSIDE, "Ring, inside", "mm", inside_mm, CHOSEN)
    ledger.given(WIRE, "Ring, wire", "mm", wire_mm, CHOSEN)
    length = ledger.enter(wire_length_mm, inside_mm, wire_mm)
    ledger.enter(ring_mass_g, wire_mm, length, alloy.density)
    if bought is not None:
        ledger.given(BAIL_OPENING, "Bail, opening", "mm", bought.opening_mm, MEASURED)
        if bought.wire_mm is not None:
            ledger.given(BAIL_WIRE, "Bail, through the ring", "mm", bought.wire_mm, MEASURED)
            ledger.enter(hook_room_mm, inside_mm, bought.wire_mm)
        if bought.mass_g is not None:
            ledger.given(BAIL_MASS, "Bail's mass", "g", bought.mass_g, MEASURED)
    if chain_end_mm is not None:
        ledger.given(CHAIN_END, "Chain's end", "mm", chain_end_mm, ASSUMED)
        ledger.enter(chain_room_mm, inside_mm if bought is None else bought.opening_mm, chain_end_mm)


def seams(alloy: Alloy, figures: Mapping[FigureKey, float], bail_joint: str = PINCHED) -> list[Seam]:
    """The ring's seam, then the ring to the head, before the stone is set; the joint of a bought bail where it is
    soldered, last and easy."""
    height = figures[style.height_mm]
    bail = Seam(
        what="bail's joint",
        grade="easy",
        group="bail-joint",
        metals=(alloy,),
        shield="before the stone is set",
        ends=(("bail", 0.0),),
    )
    return [
        *_of_ring(alloy, figures, height),
        *((bail,) if bail_joint == SOLDERED and BAIL_OPENING in figures else ()),
    ]


def _of_ring(alloy: Alloy, figures: Mapping[FigureKey, float], height: float) -> list[Seam]:
    return [
        Seam(
            what="hanging ring's seam", grade="hard", group="bail-seam", metals=(alloy,), ends=(("hanging ring", 0.0),)
        ),
        Seam(
            what="hanging ring to the head",
            grade="medium",
            group="bail-to-head",
            metals=(alloy,),
            shield="before the stone is set",
            ends=(("hanging ring", figures[wire_length_mm] / 2), (FOOT, height)),
        ),
    ]
