"""Tube (straight bezel): a length of tube, or a strip bent to the outline where the stone is not round; seated or to be
seated, its rim rolled over the girdle."""

from __future__ import annotations

import numpy as np

from yarvel.figures.figure import GEOMETRY, Ledger, Number, figure
from yarvel.figures.rules import HouseRules
from yarvel.heads import notches, style
from yarvel.heads.field import HeadField
from yarvel.heads.heights import clear_of_culet, raised
from yarvel.heads.rings import losses
from yarvel.heads.shape import HeadShape, Polygon, Wall, area_mm2, closed_profile, uncut
from yarvel.heads.style import BegunHead, HeadChoice, StoneFacts, closing_over, height_mm
from yarvel.metals.alloys import Alloy, head_mass_g
from yarvel.metals.joints import Seam
from yarvel.stones import stone as stones
from yarvel.stones.cut import Cut

STYLE = "tube"
LABEL = "Tube"
STANDS_ON = style.WALL
COMES = style.OF_TUBE
OUTSIDE = "outside_mm"
OWN: tuple[HeadField, ...] = (
    HeadField(name=OUTSIDE, label="Tube in hand, outside", figure="head.tube_outer", typed=False),
)

BY_TUBE = ("notch_ratio",)
"""What a tube in hand decides: the ledge is what it leaves under the stone."""
LIP_THINNED = 0.8
"""A lip rolled over the crown is drawn at this share of its wall; from memory."""
STIFF = 1.5
"""A rim this many times the usual one is stiff to roll over; from memory."""
_LEAST_COVER_MM, _LESS = 0.01, 0.9
FIELDS = ("wall_mm", OUTSIDE, "height_mm", "seated", "notch_ratio", "stone_axis")


@figure(
    "head.tube_outer",
    "Tube, outside",
    "mm",
    "D + 2·l",
    GEOMETRY,
    diameter_mm="D",
    lip_mm="l",
    shown_in="head",
)
def tube_outer_mm(diameter_mm: Number, lip_mm: Number) -> Number:
    """Outside diameter in mm of the tube: the stone and the wall left outside the girdle."""
    return diameter_mm + 2 * lip_mm


@figure(
    "head.inner_opening",
    "Bore of the tube",
    "mm",
    "d_o − 2·t_w",
    GEOMETRY,
    outer_mm="d_o",
    wall_mm="t_w",
    shown_in="head",
)
def bore_mm(outer_mm: Number, wall_mm: Number) -> Number:
    """Bore in mm below the seat."""
    return outer_mm - 2 * wall_mm


@figure(
    "head.tube_lip",
    "Rim that it leaves",
    "mm",
    "(d_o − D)/2",
    GEOMETRY,
    outer_mm="d_o",
    diameter_mm="D",
    shown_in="head",
)
def lip_left_mm(outer_mm: Number, diameter_mm: Number) -> Number:
    """Wall in mm that a tube in hand leaves outside the stone."""
    return (outer_mm - diameter_mm) / 2


tube_length_mm = figure(
    "head.tube_length",
    "Length of tube",
    "mm",
    "H + g + e",
    GEOMETRY,
    base_mm="H",
    girdle_mm="g",
    above_mm="e",
    shown_in="head",
)(raised)


@figure(
    "head.tube_long",
    "Tube, outside, lengthwise",
    "mm",
    "L + m·l",
    GEOMETRY,
    length_mm="L",
    losses="m",
    lip_mm="l",
    shown_in="head",
)
def tube_long_mm(length_mm: Number, losses: Number, lip_mm: Number) -> Number:
    """Outside in mm along the stone's length."""
    return length_mm + losses * lip_mm


@figure(
    "head.width_at_foot",
    "Width over the foot, along the band",
    "mm",
    "b + m·l",
    GEOMETRY,
    along_mm="b",
    losses="m",
    lip_mm="l",
)
def width_along_band_mm(along_mm: Number, losses: Number, lip_mm: Number) -> Number:
    """Outside in mm along the band."""
    return along_mm + losses * lip_mm


@figure(
    "head.strip_length",
    "Strip to bend round the stone",
    "mm",
    "P + κ·(l − t_w/2)",
    GEOMETRY,
    places=1,
    perimeter_mm="P",
    turn="κ",
    lip_mm="l",
    wall_mm="t_w",
    shown_in="head",
)
def strip_length_mm(perimeter_mm: Number, turn: Number, lip_mm: Number, wall_mm: Number) -> Number:
    """Length in mm of the strip along its middle: the outline moved outwards."""
    return perimeter_mm + turn * (lip_mm - wall_mm / 2)


@figure(
    "head.metal_volume",
    "Metal in the head",
    "mm³",
    "l_s·t_w·l_t",
    GEOMETRY,
    places=1,
    strip_mm="l_s",
    wall_mm="t_w",
    length_mm="l_t",
)
def strip_volume_mm3(strip_mm: Number, wall_mm: Number, length_mm: Number) -> Number:
    """Volume in mm³ of the strip before the seat is cut."""
    return strip_mm * wall_mm * length_mm


@figure(
    "head.metal_volume",
    "Metal in the head",
    "mm³",
    "π·(d_o − t_w)·t_w·l_t",
    GEOMETRY,
    places=1,
    outer_mm="d_o",
    wall_mm="t_w",
    length_mm="l_t",
)
def metal_volume_mm3(outer_mm: Number, wall_mm: Number, length_mm: Number) -> Number:
    """Volume in mm³ of the tube before the seat is cut."""
    return np.pi * (outer_mm - wall_mm) * wall_mm * length_mm


class Tube(BegunHead, frozen=True, kw_only=True):
    """A tube begun for one stone."""

    facts: StoneFacts
    rules: HouseRules
    wall_mm: float
    lip_mm: Number
    outer_mm: Number

    @property
    def _needed(self) -> Number:
        return clear_of_culet(self.facts.stone.pavilion_depth_mm, self.rules.culet_clearance_mm)

    @property
    def gallery_height(self) -> Number:
        """Height in mm from foot to seat that the pavilion asks for: it lies inside the tube whole."""
        return self._needed

    @property
    def least_height(self) -> Number:
        """Enough wall under the seat to bear the stone, mm."""
        return 2 * self.wall_mm

    @property
    def fixed_height(self) -> Number | None:
        """Height in mm below the seat where the job gives the tube's whole length."""
        if self.choice.height_mm is None:
            return None
        below = self.choice.height_mm - self.facts.stone.girdle_mm - self.rules.tube_rim_mm
        return np.maximum(below, self.wall_mm)

    def width_at(self, depth_mm: Number, height_mm: Number) -> Number:
        """Outside in mm along the band: a tube is as wide at every depth."""
        if self.facts.cut.is_round:
            return self.outer_mm + 0.0 * (depth_mm + height_mm)
        return width_along_band_mm(*self._along_band(), self.lip_mm) + 0.0 * (depth_mm + height_mm)

    def _along_band(self) -> tuple[Number, float]:
        stone, (wide, long) = self.facts.stone, losses(self.facts)
        return (stone.length_mm, long) if self.facts.along_band else (stone.width_mm, wide)

    def enter(self, ledger: Ledger, seat_height_mm: Number, free_mm: Number, alloy: Alloy) -> None:
        """Enter lengths and mass."""
        ledger.enter(height_mm, seat_height_mm)
        length = ledger.enter(tube_length_mm, seat_height_mm, self.facts.stone.girdle_mm, self.rules.tube_rim_mm)
        if self.facts.cut.is_round:
            volume = ledger.enter(metal_volume_mm3, self.outer_mm, self.wall_mm, length)
        else:
            ledger.enter(tube_long_mm, self.facts.stone.length_mm, losses(self.facts)[1], self.lip_mm)
            ledger.enter(width_along_band_mm, *self._along_band(), self.lip_mm)
            strip = ledger.enter(
                strip_length_mm,
                ledger.value(stones.perimeter_mm),
                self.facts.outline.turn_sum,
                self.lip_mm,
                self.wall_mm,
            )
            volume = ledger.enter(strip_volume_mm3, strip, self.wall_mm, length)
        ledger.enter(head_mass_g, volume, alloy.density)


def usual_wall_mm(diameter_mm: float, rules: HouseRules) -> float:
    """Wall in mm by the house rules; thinner on small stones, so that a bore is left under them."""
    return round(min(rules.tube_wall_mm, rules.tube_lip_mm + rules.tube_ledge_share * diameter_mm), 2)


def ledge_asked_mm(diameter_mm: float, choice: HeadChoice, rules: HouseRules) -> float:
    """Width of the ledge in mm that a choice asks for."""
    wall = usual_wall_mm(diameter_mm, rules) if choice.wall_mm is None else choice.wall_mm
    if choice.notch_ratio is not None:
        return choice.notch_ratio * wall
    return max(wall - rules.tube_lip_mm, 0.0)


def begin(ledger: Ledger, choice: HeadChoice, facts: StoneFacts, rules: HouseRules) -> Tube:
    """Outside, bore and ledge."""
    wall = usual_wall_mm(facts.narrowest, rules) if choice.wall_mm is None else choice.wall_mm
    stone = facts.stone
    ledger.given(style.HEAD_WALL, "Tube wall", "mm", wall, "from memory" if choice.wall_mm is None else "chosen")
    lip: Number = rules.tube_lip_mm
    if choice.notch_ratio is not None:
        lip = wall * (1 - choice.notch_ratio)
    lip = np.minimum(lip, wall)
    outside = choice.own.get(OUTSIDE)
    if outside is None:
        outer = ledger.enter(tube_outer_mm, stone.diameter, lip)
    else:
        outer = ledger.given(tube_outer_mm, "Tube, outside", "mm", outside, "measured", shown_in="head")
        lip = ledger.enter(lip_left_mm, outer, stone.diameter)
    bore = ledger.enter(bore_mm, outer, wall)
    depth = ledger.enter(notches.wall_reach_mm, stone.diameter, bore)
    ledger.enter(notches.notch_ratio, stone.diameter, bore, wall)
    if not choice.seated:
        ledger.enter(notches.first_cut_mm, rules.first_cut_ratio, wall)
    ledger.enter(notches.wall_left_mm, wall, depth)
    return Tube(choice=choice, facts=facts, rules=rules, wall_mm=wall, lip_mm=lip, outer_mm=outer)


def shape(ledger: Ledger, choice: HeadChoice, facts: StoneFacts, rules: HouseRules) -> HeadShape:
    """The wall with its ledge, rolled over the crown."""
    stone = facts.stone
    outer, bore = (float(ledger.value(key)) / 2 for key in (tube_outer_mm, style.INNER_OPENING))
    height = float(ledger.value(style.height_mm))
    cover = min(
        rules.tube_rim_mm, rules.tip_to_table_share * (1 - float(stone.table_share)) * float(stone.diameter) / 2
    )
    edge = float(stone.diameter) / 2
    metal = (outer - bore) * float(ledger.value(tube_length_mm))
    wall = Wall("tube", _rolled(facts, (bore - edge, outer - edge), height, cover, metal))
    foot = tube_outer_mm if facts.cut.is_round else style.WIDTH_AT_FOOT
    return HeadShape(
        outline=facts.outline,
        height_mm=height,
        opening_inset_mm=edge - bore,
        claws=None,
        rings=(),
        walls=(wall,),
        outer_key=tube_outer_mm,
        foot_key=foot,
    )


def _rolled(facts: StoneFacts, faces: tuple[float, float], height: float, cover: float, metal: float) -> Polygon:
    """Section of the wall with its rim over the crown by ``cover``, or by as much as its ``metal`` (mm², the wall times
    its length) reaches: a steep crown or a dome takes more of it."""
    inner, outer = faces
    profile = closed_profile(inner, outer, 0.0, height, closing_over(facts, cover, outer * LIP_THINNED))
    while area_mm2(uncut(profile)) > metal and cover > _LEAST_COVER_MM:
        cover *= _LESS
        profile = closed_profile(inner, outer, 0.0, height, closing_over(facts, cover, outer * LIP_THINNED))
    return profile


def clawed(cut: str) -> bool:
    """Its rim is pressed over."""
    return False


def suits(cut: Cut) -> bool:
    """Every cut: round stones in tube, all others in a bent strip."""
    return True


def seams(choice: HeadChoice, facts: StoneFacts, alloy: Alloy) -> list[Seam]:
    """Drawn tube has no seam; a strip has one."""
    return (
        []
        if facts.cut.is_round
        else [Seam(what="bezel seam", grade="hard", group="strip-seam", metals=(alloy,), ends=((style.FOOT, 0.0),))]
    )
