"""A tube in hand driven into a block: what its rim, its outside at the girdle and its wall become. Metal is conserved;
the punch stretches the rim, the block only closes the foot."""

from __future__ import annotations

import numpy as np

from yarvel.figures.figure import COMMON_PRACTICE, GEOMETRY, FigureKey, Number, figure

TUBE_WALL = FigureKey("collet.tube_wall")
BLOCK_HOLE = FigureKey("collet.block_hole")


@figure(
    "collet.top_diameter", "Outside at the rim", "mm", "d_b·(1 + q_r)", COMMON_PRACTICE, outside_mm="d_b", opened="q_r"
)
def driven_top_mm(outside_mm: Number, opened: Number) -> Number:
    """Outside in mm at the rim of a tube that is driven as it is: the punch opens it by the share ``opened``."""
    return outside_mm * (1 + opened)


@figure(
    "head.collet_outer",
    "Outside at the girdle",
    "mm",
    "d_t − 2·(g + e)·tan(α)",
    GEOMETRY,
    top_mm="d_t",
    girdle_mm="g",
    rim_mm="e",
    half_angle_deg="α",
    shown_in="head",
)
def driven_outer_mm(top_mm: Number, girdle_mm: Number, rim_mm: Number, half_angle_deg: Number) -> Number:
    """Outside diameter in mm at the girdle of a driven tube, from its rim down the block's angle."""
    return top_mm - 2 * (girdle_mm + rim_mm) * np.tan(np.radians(half_angle_deg))


@figure(
    "head.wall",
    "Wall once driven",
    "mm",
    "cos(α)·(m − √(m² − 4·V/(π·h)))/2",
    GEOMETRY,
    middle_mm="m",
    volume_mm3="V",
    height_mm="h",
    half_angle_deg="α",
    shown_in="head",
)
def driven_wall_mm(middle_mm: Number, volume_mm3: Number, height_mm: Number, half_angle_deg: Number) -> Number:
    """Wall in mm of a tube once it is driven: its metal is as much as before, over a cone whose outside measures
    ``middle_mm`` half way up. A cone that the metal would fill has no bore left."""
    level = (middle_mm - np.sqrt(np.maximum(middle_mm**2 - 4 * volume_mm3 / (np.pi * height_mm), 1e-9))) / 2
    return np.cos(np.radians(half_angle_deg)) * level


@figure(
    "collet.tube_volume",
    "Metal of the tube",
    "mm³",
    "π·t_b·(d_b − t_b)·l_b",
    GEOMETRY,
    wall_mm="t_b",
    outside_mm="d_b",
    length_mm="l_b",
)
def tube_volume_mm3(wall_mm: Number, outside_mm: Number, length_mm: Number) -> Number:
    """Metal in mm³ of a length of tube."""
    return np.pi * wall_mm * (outside_mm - wall_mm) * length_mm


@figure(
    "collet.foot_closed", "Foot closed by the block", "", "(d_b − d_f)/d_b", GEOMETRY, outside_mm="d_b", foot_mm="d_f"
)
def foot_closed(outside_mm: Number, foot_mm: Number) -> Number:
    """How much narrower, as a share, the block makes the tube at its foot."""
    return (outside_mm - foot_mm) / outside_mm


@figure("collet.stretch", "Stretch at the rim", "", "(d_t − d_b)/d_b", GEOMETRY, top_mm="d_t", outside_mm="d_b")
def rim_stretch(top_mm: Number, outside_mm: Number) -> Number:
    """Strain at the rim, which the punch alone opens; the block closes the foot and stretches nothing."""
    return (top_mm - outside_mm) / outside_mm
