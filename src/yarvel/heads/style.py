"""What every head style answers."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING, Any, Protocol

import numpy as np
from msgspec import Struct, field

from yarvel.figures.figure import GEOMETRY, FigureKey, Ledger, Number, figure
from yarvel.figures.rules import HouseRules
from yarvel.heads import places as placing
from yarvel.heads.claws import azimuths_deg
from yarvel.heads.places import ClawPosition
from yarvel.heads.shape import ClosedTip, HeadShape
from yarvel.metals.alloys import Alloy
from yarvel.metals.joints import Seam
from yarvel.stones.cut import Cut
from yarvel.stones.outline import Outline
from yarvel.stones.stone import Stone

INNER_OPENING = FigureKey("head.inner_opening")

SPLAY = FigureKey("head.splay")
METAL_VOLUME = FigureKey("head.metal_volume")
HEAD_WALL = FigureKey("head.wall")
WIDTH_AT_FOOT = FigureKey("head.width_at_foot")

if TYPE_CHECKING:
    from yarvel.heads.field import HeadField


class Made(Struct, frozen=True):
    """A collet as it was measured once it was made, outside; mm."""

    foot_mm: float
    top_mm: float
    height_mm: float
    wall_mm: float


FLUSH, UNDER, POINT_LEGS, PEG_LEGS = "flush", "under", "point", "peg"

LEGS = {
    FLUSH: "Cut off level",
    UNDER: "Bent in below",
    POINT_LEGS: "To a point",
    PEG_LEGS: "Closed on a peg",
}
"""How a basket's claws end below."""
BENT_IN = (UNDER, PEG_LEGS)
"""Legs that are bent in below: to the ring's inside, or to a peg."""


class TubeInHand(Struct, frozen=True):
    """A length of tube to drive a collet from, and the foot or the rim that it is driven to, outside; mm."""

    outside_mm: float
    wall_mm: float
    length_mm: float
    foot_mm: float | None = None
    rim_mm: float | None = None


class HeadChoice(Struct, frozen=True, kw_only=True):
    """What a job says of its head, defaults filled in. None: to be derived from the stone and the house rules. ``own``
    fields that only this style reads, by name; ``soft`` a metal that wants its claws thicker."""

    style: str
    claws: int
    orientation: str
    claw_mm: float | None = None
    notch_ratio: float | None = None
    splay_deg: float | None = None
    rings: int = 2
    legs: str = FLUSH
    soft: bool = False
    ring_section: str = "round"
    posts: str = "grooved"
    ring_mm: float | None = None
    ring_high_mm: float | None = None
    ring_drop_mm: float | None = None
    wall_mm: float | None = None
    seated: bool = False
    height_mm: float | None = None
    height_tip_mm: float | None = None
    cut: str = "bezel"
    included_angle_deg: float | None = None
    made_for_mm: float | None = None
    made_for_width_mm: float | None = None
    label_ct: float | None = None
    foot_mm: float | None = None
    rail_mm: float | None = None
    opening_mm: float | None = None
    peg_mm: float | None = None
    trim_mm: float | None = None
    school: str = "fold"
    v_from: str = "folded"
    v_foot_mm: float | None = None
    claw_places_deg: tuple[float, ...] | None = None
    ring_lift_mm: float | None = None
    made: Made | None = None
    tube: TubeInHand | None = None
    own: Mapping[str, Any] = field(default_factory=dict)

    @property
    def bent_in(self) -> bool:
        """Whether its legs are bent in below: to the ring's inside, or to a peg."""
        return self.legs in BENT_IN


class StoneFacts(Struct, frozen=True, kw_only=True):
    """A stone and what a head needs to know of its cut.

    ``outline`` in the head's frame, of the stone as measured, also where ``stone`` is samples; ``along_band`` where the
    stone's length runs along the band; ``run`` is the way in per mm under the girdle, ``crown_angle_deg`` in degrees;
    ``nominal_diameter_mm`` is one number even where the stone is samples; ``open`` is −1 … 1 over samples: what
    the head itself leaves open.
    """

    stone: Stone
    cut: Cut
    outline: Outline
    along_band: bool
    run: Number
    crown_angle_deg: Number
    nominal_diameter_mm: float
    open: Number = 0.0

    @property
    def narrowest(self) -> float:
        """The stone's width in mm as measured, one number: what walls are chosen by."""
        return self.nominal_diameter_mm if self.cut.is_round else min(self.outline.size)

    def stretched(self, x_mm: float, y_mm: float) -> tuple[Number, Number]:
        """A point of the outline, moved with length and width where the stone is samples."""
        wide, long = self.outline.size
        across, along = (
            (self.stone.length_mm, self.stone.width_mm)
            if self.along_band
            else (self.stone.width_mm, self.stone.length_mm)
        )
        return x_mm * across / wide, y_mm * along / long


def closing_over(facts: StoneFacts, cover_mm: float, tip_thickness_mm: float) -> ClosedTip:
    """What a tip or lip closed over this stone looks like, for a stone of plain numbers; lengths in mm."""
    return ClosedTip(
        float(facts.stone.girdle_mm),
        float(facts.run),
        float(np.tan(np.radians(facts.crown_angle_deg))),
        cover_mm,
        tip_thickness_mm,
    )


def places_of(choice: HeadChoice, facts: StoneFacts) -> tuple[ClawPosition, ...]:
    """Where the claws of a head stand: as chosen, or as the outline asks."""
    if choice.claw_places_deg is not None:
        return placing.moved(facts.outline, choice.claw_places_deg)
    if facts.cut.is_round:
        return placing.circle(facts.outline.size[0] / 2, azimuths_deg(choice.claws, choice.orientation))
    return placing.places(facts.outline, choice.claws, choice.orientation, facts.cut.cornered)


FOOT = "foot"
"""Name of the head's lowest part in the graph of joints: what a fit method solders to."""
WALL, CLAWS, BASE = "wall", "claws", "base"
"""What a head stands on: its own wall, free claws below a ring, or a maker's base."""
OF_WIRE, DRIVEN, OF_TUBE, BOUGHT, CAST, APPLIED = "wire", "driven", "tube", "bought", "cast", "applied"
"""How a head comes to be: rings and claws soldered, a collet driven, tube or strip, picked from the drawer, cast; claws
applied to a collet.
Whoever offers that work goes by it."""


@figure(
    "head.height",
    "Height from foot to seat",
    "mm",
    "H",
    GEOMETRY,
    seat_mm="H",
    shown_in="head",
)
def height_mm(seat_mm: Number) -> Number:
    """Height in mm of the head from its foot to the seat plane, as the fit solved it."""
    return seat_mm


class Head(Protocol):
    """A head begun for one stone, before its height is known."""

    @property
    def gallery_height(self) -> Number:
        """Least height in mm from foot to seat that the gallery needs."""

    @property
    def least_height(self) -> Number:
        """Least height in mm that can be made at all."""

    @property
    def fixed_height(self) -> Number | None:
        """Height in mm from foot to seat where the head is already made."""

    def ring_drop(self, height_mm: Number) -> Number | None:
        """How far in mm the upper ring's top lies below the girdle of a head of this height; None without rings."""

    @property
    def floor_mm(self) -> Number:
        """Metal in mm that lies across the foot under the culet; 0 where it is open."""

    def width_at(self, depth_mm: Number, height_mm: Number) -> Number:
        """Width in mm along the band at a depth below the seat, for a head of this height."""

    @property
    def sawn_least(self) -> Number:
        """How far in mm below the seat claws have to be sawn, once it stands in its ring, to bend at all; 0 without."""

    @property
    def claw_count(self) -> int:
        """How many claws it has, or is to be cut to."""

    def foot_circle(self, height_mm: Number) -> Number:
        """How far in mm from the axis the claws' middles, or the outside of a wall, lie at the foot."""

    def enter(self, ledger: Ledger, seat_height_mm: Number, free_mm: Number, alloy: Alloy) -> None:
        """Enter all figures of the head at this height, of which ``free_mm`` below the seat stand above its band."""


class BegunHead(Struct, frozen=True, dict=True):
    """What most heads answer alike: made to their height, without rings, nothing sawn from them, as many claws as they
    were asked to have, and a wall for a foot."""

    choice: HeadChoice

    @property
    def fixed_height(self) -> Number | None:
        """None: it is made to its height."""
        return None

    def ring_drop(self, height_mm: Number) -> Number | None:
        """None: it has no rings, or nobody knows where they lie; ``height_mm`` in mm."""
        return None

    @property
    def floor_mm(self) -> Number:
        """0 mm: its foot is open."""
        return 0.0

    @property
    def sawn_least(self) -> Number:
        """0 mm: its claws are of wire, as they came, or none."""
        return 0.0

    @property
    def claw_count(self) -> int:
        """How many claws it has."""
        return self.choice.claws

    def width_at(self, depth_mm: Number, height_mm: Number) -> Number:
        """Width in mm along the band at a depth below the seat, for a head of this height.

        Raises
        ------
        NotImplementedError : a head that does not say it.
        """
        raise NotImplementedError

    def foot_circle(self, height_mm: Number) -> Number:
        """Half the width along the band at the foot, mm."""
        return self.width_at(height_mm, height_mm) / 2


class HeadStyle(Protocol):
    """A module of a head style. ``FIELDS`` are the job's fields of a head that it reads."""

    @property
    def STYLE(self) -> str:
        """The word for it in a job file."""

    @property
    def LABEL(self) -> str:
        """Its name for people."""

    @property
    def FIELDS(self) -> tuple[str, ...]:
        """The job's fields of a head that it reads; the window shows these."""

    @property
    def OWN(self) -> tuple[HeadField, ...]:
        """Those of them that no other style reads, with what each is called."""

    @property
    def STANDS_ON(self) -> str:
        """Its own wall, free claws, or a maker's base."""

    @property
    def COMES(self) -> str:
        """How it comes to be: of wire, driven, of tube, bought, cast."""

    def clawed(self, cut: str) -> bool:
        """Whether it holds its stone by claws, not by a rim; ``cut`` what a collet is set as."""

    def suits(self, cut: Cut) -> bool:
        """Whether a head of this style can hold a stone of this cut."""

    def begin(self, ledger: Ledger, choice: HeadChoice, facts: StoneFacts, rules: HouseRules) -> Head:
        """Derive what does not depend on the height."""

    def shape(self, ledger: Ledger, choice: HeadChoice, facts: StoneFacts, rules: HouseRules) -> HeadShape:
        """The head's form, read from the figures of a finished ledger of scalars."""

    def seams(self, choice: HeadChoice, facts: StoneFacts, alloy: Alloy) -> list[Seam]:
        """Joints of the head by itself."""
