"""Heights of a set head, above the finger where there is a band, above its own foot where there is none."""

from __future__ import annotations

from yarvel.figures.figure import GEOMETRY, Number, figure


def clear_of_culet(pavilion: Number, clearance_mm: Number) -> Number:
    """Height in mm that a seat needs above whatever lies under the culet."""
    return pavilion + clearance_mm


def raised(base: Number, girdle: Number, above: Number) -> Number:
    """Height in mm of what stands ``above`` the girdle (the crown's table, a rim): seat's height, girdle and that."""
    return base + girdle + above


def lowered(base: Number, below: Number) -> Number:
    """Height in mm of something that lies ``below`` the seat."""
    return base - below


table_above_finger_mm = figure(
    "seat.table_above_finger",
    "Table above the finger",
    "mm",
    "P + g + h_c",
    GEOMETRY,
    base="P",
    girdle="g",
    above="h_c",
)(raised)
culet_above_finger_mm = figure(
    "seat.culet_above_finger", "Culet above the finger", "mm", "P − h_p", GEOMETRY, base="P", below="h_p"
)(lowered)
ring_above_finger_mm = figure(
    "seat.ring_above_finger", "Upper ring's top above the finger", "mm", "P − z_o", GEOMETRY, base="P", below="z_o"
)(lowered)
table_above_foot_mm = figure(
    "seat.table_above_foot", "Table above the foot", "mm", "H + g + h_c", GEOMETRY, base="H", girdle="g", above="h_c"
)(raised)
culet_above_foot_mm = figure(
    "seat.culet_above_foot", "Culet above the foot", "mm", "H − h_p", GEOMETRY, base="H", below="h_p"
)(lowered)
ring_above_foot_mm = figure(
    "seat.ring_above_foot", "Upper ring's top above the foot", "mm", "H − z_o", GEOMETRY, base="H", below="z_o"
)(lowered)
