"""How head and band are cut to each other, as plain measures: what drawings and bodies read, whatever the method."""

from __future__ import annotations

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

Points = NDArray[np.float64]


class Hole(Struct, frozen=True):
    """A round hole into the band from above: ``diameter_mm`` and ``depth_mm`` from the band's top, mm."""

    diameter_mm: float
    depth_mm: float
    through: bool


class Split(Struct, frozen=True):
    """Shoulders split into two branches each: from ``start_mm`` mm out, every branch ``branch_mm`` wide, spread until
    its tip lies ``tip_out_mm`` along and ``tip_side_mm`` across the band from the head's axis; ``notch_mm`` deep for
    the head; mm."""

    start_mm: float
    branch_mm: float
    tip_out_mm: float
    tip_side_mm: float
    notch_mm: float

    def line(self, band_width_mm: float, way: float, side: float) -> tuple[Points, Points, Points]:
        """One branch seen straight down: where its middle starts and ends, and from there to its edge, each (2,) in mm;
        ``way`` along and ``side`` across the band, ±1."""
        # a branch keeps its outer edge on the band's edge: its middle starts half a branch inside it
        start = np.array(
            [way * self.start_mm, side * (max(band_width_mm / 2 - self.branch_mm, 0.0) + self.branch_mm / 2)]
        )
        tip = np.array([way * self.tip_out_mm, side * self.tip_side_mm])
        along = (tip - start) / np.hypot(*(tip - start))
        # a quarter turn to the left of the branch's run: towards its edge
        return start, tip, np.array([-along[1], along[0]]) * self.branch_mm / 2


class Recess(Struct, frozen=True):
    """A floor in the band that a head is let into from above: ``depth_mm`` below the band's top; ``widths_mm`` along
    the band, on its middle line, at the floor and at the top; ``loops`` the head's outlines there, to which its ends
    are hollowed; ``marks_mm`` how far from the middle it is sawn at floor and top, None where the band is wider than
    the head, which is then sunk into it; mm."""

    depth_mm: float
    widths_mm: tuple[float, float]
    loops: tuple[Points, Points]
    marks_mm: tuple[float, float] | None

    @property
    def sunk(self) -> bool:
        """Whether the band reaches all round the head."""
        return self.marks_mm is None


class LittleTube(Struct, frozen=True):
    """The tube of little bezels: its wall, the length of each, and how deep it is let into the band; mm."""

    wall_mm: float
    length_mm: float
    let_mm: float


class Carving(Struct, frozen=True):
    """How bezels are carved out of the shoulders: the band is cut ``down_mm`` round them between two angles round the
    finger, on both sides, but for a neck ``neck_mm`` wide from one to the next; mm."""

    down_mm: float
    neck_mm: float
    from_deg: float
    to_deg: float


class SmallRounds(Struct, frozen=True, kw_only=True):
    """Small rounds in the shoulders at ``angles_deg`` round the finger: stones of ``stone_mm`` sunk ``sink_mm`` to the
    girdle, ``pavilion_mm`` below it; ``bore_mm`` what is drilled first; ``outer_mm`` across what holds each; mm."""

    angles_deg: tuple[float, ...]
    stone_mm: float
    sink_mm: float
    pavilion_mm: float
    bore_mm: float
    outer_mm: float
    tube: LittleTube | None = None
    carving: Carving | None = None


class Joinery(Struct, frozen=True, kw_only=True):
    """What is taken from band and head where they meet; mm.

    ``recess``: the head stands in the band. ``flat``: the band is cut level at the head's foot. ``gap_mm``: the
    head's width at the inside and the outside of the band; ``marks_mm`` how far from the middle it is sawn there,
    straight, and ``hollow`` the head's outlines to which the ends are hollowed, or the hole's where ``bored``.
    ``saddle``: the head's foot is cut to the band's outside. ``point_mm``: how far below the head's foot its claws
    meet. ``peg_mm``: diameter and length below the band's top. ``cast``: head and band are one casting. ``small``:
    rounds in the shoulders."""

    flat: bool = False
    gap_mm: tuple[float, float] | None = None
    marks_mm: tuple[float, float] = (0.0, 0.0)
    hollow: tuple[Points, Points] | None = None
    bored: bool = False
    saddle: bool = False
    hole: Hole | None = None
    point_mm: float | None = None
    peg_mm: tuple[float, float] | None = None
    split: Split | None = None
    cast: bool = False
    recess: Recess | None = None
    small: SmallRounds | None = None

    @property
    def in_finger(self) -> bool:
        """Whether the head's foot stands flush with the finger, and is cut to its curve."""
        return self.gap_mm is not None or self.split is not None or self.cast
