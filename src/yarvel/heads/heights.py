"""Heights of a set head, above the finger where there is a band, above its own foot where there is none."""

from __future__ import annotations

from yarvel.figures.figure import GEOMETRY, Number, figure


def clear_of_culet(pavilion_mm: Number, clearance_mm: Number) -> Number:
    """Height in mm that a seat needs above whatever lies under the culet."""
    return pavilion_mm + clearance_mm


def raised(base_mm: Number, girdle_mm: Number, above_mm: Number) -> Number:
    """Height in mm of what stands above the girdle, a table or a rim: the seat's height, the girdle and that."""
    return base_mm + girdle_mm + above_mm


def lowered(base_mm: Number, below_mm: Number) -> Number:
    """Height in mm of something that lies below the seat."""
    return base_mm - below_mm


table_above_finger_mm = figure(
    "seat.table_above_finger",
    "Table above the finger",
    "mm",
    "P + g + h_c",
    GEOMETRY,
    base_mm="P",
    girdle_mm="g",
    above_mm="h_c",
)(raised)
culet_above_finger_mm = figure(
    "seat.culet_above_finger", "Culet above the finger", "mm", "P − h_p", GEOMETRY, base_mm="P", below_mm="h_p"
)(lowered)
ring_above_finger_mm = figure(
    "seat.ring_above_finger",
    "Upper ring's top above the finger",
    "mm",
    "P − z_o",
    GEOMETRY,
    base_mm="P",
    below_mm="z_o",
)(lowered)
table_above_foot_mm = figure(
    "seat.table_above_foot",
    "Table above the foot",
    "mm",
    "H + g + h_c",
    GEOMETRY,
    base_mm="H",
    girdle_mm="g",
    above_mm="h_c",
)(raised)
culet_above_foot_mm = figure(
    "seat.culet_above_foot", "Culet above the foot", "mm", "H − h_p", GEOMETRY, base_mm="H", below_mm="h_p"
)(lowered)
ring_above_foot_mm = figure(
    "seat.ring_above_foot", "Upper ring's top above the foot", "mm", "H − z_o", GEOMETRY, base_mm="H", below_mm="z_o"
)(lowered)
