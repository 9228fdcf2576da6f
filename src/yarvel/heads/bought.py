"""Bought head: made for a size, taken as it is; the stone in hand decides how deep its notch becomes."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from yarvel.figures.figure import ASSUMED, CHOSEN, GEOMETRY, MEASURED, FigureKey, Ledger, Number, figure
from yarvel.figures.rules import HouseRules
from yarvel.heads import basket, claws, notches, style
from yarvel.heads.claws import CLAW
from yarvel.heads.fields import HeadField
from yarvel.heads.rings import lower_inset_mm
from yarvel.heads.shape import Claws, HeadShape, WireRing, closed_profile
from yarvel.heads.style import BegunHead, HeadChoice, StoneFacts, closing_over, height_mm, places_of
from yarvel.metals.alloys import Alloy, head_mass_g
from yarvel.metals.joints import Seam
from yarvel.stones.cut import Cut

MADE_FOR = FigureKey("head.made_for")
PEG = FigureKey("head.peg")

STYLE = "bought"
LABEL = "Bought head"
STANDS_ON = style.BASE
COMES = style.BOUGHT
OWN: tuple[HeadField, ...] = ()
FIELDS = (
    "made_for_mm",
    "opening_mm",
    "claws",
    "orientation",
    "claw_mm",
    "height_mm",
    "height_tip_mm",
    "notched",
    "trim_mm",
)
HEIGHT_TIP = FigureKey("head.height_tip")


@figure(
    "head.outer_over_claws",
    "Outside over the claws",
    "mm",
    "o + 2·w",
    GEOMETRY,
    opening_mm="o",
    claw_mm="w",
    shown_in="head",
)
def outer_mm(opening_mm: Number, claw_mm: Number) -> Number:
    """Width in mm over opposite claws at the girdle."""
    return opening_mm + 2 * claw_mm


@figure(
    "head.above_seat",
    "Claw that the seat leaves above it",
    "mm",
    "g + c/cos(β) + a_b + a_f",
    GEOMETRY,
    girdle_mm="g",
    cover_mm="c",
    crown_angle_deg="β",
    bend_mm="a_b",
    file_mm="a_f",
    shown_in="head",
)
def above_seat_mm(
    girdle_mm: Number, cover_mm: Number, crown_angle_deg: Number, bend_mm: Number, file_mm: Number
) -> Number:
    """Claw in mm that has to stand above the seat: girdle, the way over the crown, the bend, what is filed off."""
    return girdle_mm + cover_mm / np.cos(np.radians(crown_angle_deg)) + bend_mm + file_mm


@figure("head.sold_height", "Foot to seat, as it is sold", "mm", "h_t − q", GEOMETRY, tip_mm="h_t", above_mm="q")
def sold_height_mm(tip_mm: Number, above_mm: Number) -> Number:
    """Height in mm from foot to the highest seat that leaves claw enough above it, of a head sold foot to tip."""
    return tip_mm - above_mm


@figure("head.fixed_height", "Head's height after trimming", "mm", "h − Δ", GEOMETRY, height_mm="h", trim_mm="Δ")
def trimmed_height_mm(height_mm: Number, trim_mm: Number) -> Number:
    """Height in mm from foot to seat once the base is trimmed."""
    return height_mm - trim_mm


@figure(
    "head.metal_volume",
    "Metal in the head, about",
    "mm³",
    "π/4·(N·l·w² + π·d_b·v²)",
    GEOMETRY,
    places=1,
    claws="N",
    length_mm="l",
    claw_mm="w",
    base_mm="d_b",
    wire_mm="v",
)
def metal_volume_mm3(claws: Number, length_mm: Number, claw_mm: Number, base_mm: Number, wire_mm: Number) -> Number:
    """Volume in mm³ of the claws and a base ring of wire; the maker's gallery is not known."""
    return np.pi / 4 * (claws * length_mm * claw_mm**2 + np.pi * base_mm * wire_mm**2)


@dataclass(frozen=True)
class Bought(BegunHead):
    """A bought head, taken for one stone."""

    choice: HeadChoice
    facts: StoneFacts
    rules: HouseRules
    claw_mm: float
    opening_mm: float
    sold_mm: Number | None

    @property
    def gallery_height(self) -> Number:
        """A base ring and daylight over it, mm."""
        return 2 * self.claw_mm

    @property
    def least_height(self) -> Number:
        """The base ring alone, mm."""
        return self.claw_mm

    @property
    def fixed_height(self) -> Number | None:
        """The head's own height in mm, less what is trimmed off its base."""
        if self.sold_mm is None:
            return None
        return np.maximum(trimmed_height_mm(self.sold_mm, self.choice.trim_mm or 0.0), self.claw_mm)

    @property
    def _seat(self) -> Number:
        return notches.claw_reach_mm(self.facts.stone.diameter, self.opening_mm)

    def splay(self, height_mm: Number) -> Number:
        """Splay in degrees, assumed; that of the head as it is sold, for trimming does not bend it."""
        made = height_mm if self.sold_mm is None else self.sold_mm
        return basket.splay_deg(
            self.rules.splay_deg, self.rules.foot_share, self.opening_mm / 2 + self.claw_mm / 2, made
        )

    def width_at(self, depth_mm: Number, height_mm: Number) -> Number:
        """Width in mm along the band at a depth below the seat."""
        if np.any(depth_mm < height_mm):
            out, lean = basket.foot_reach(places_of(self.choice, self.facts))
            reach = self.facts.stretched(out, 0.0)[0]
            return basket.width_mm(reach, lean, self.claw_mm, self._seat, depth_mm, self.splay(height_mm))
        return basket.foot_width_mm(*self._foot(height_mm))

    def _foot(self, height: Number) -> tuple[Number, ...]:
        """What the width at the foot is worked out from."""
        reach, lean = basket.foot_reach(places_of(self.choice, self.facts))
        splay, wire = self.splay(height), self.claw_mm * self.rules.ring_wire_share
        inset = lower_inset_mm(self._seat, height, splay, wire, self.rules.groove_share)
        size = self.facts.stone.diameter
        return self.facts.stretched(reach, 0.0)[0], lean, self.claw_mm, self._seat, height, splay, size, 2.0, inset

    def enter(self, ledger: Ledger, seat_height_mm: Number, free_mm: Number, alloy: Alloy) -> None:
        """Enter height, foot, tips and mass."""
        rules, stone = self.rules, self.facts.stone
        if self.sold_mm is not None:
            ledger.enter(trimmed_height_mm, self.sold_mm, self.sold_mm - seat_height_mm)
        ledger.enter(height_mm, seat_height_mm)
        sold = seat_height_mm if self.sold_mm is None else self.sold_mm
        ledger.enter(basket.splay_deg, rules.splay_deg, rules.foot_share, self.opening_mm / 2 + self.claw_mm / 2, sold)
        width = ledger.enter(basket.foot_width_mm, *self._foot(seat_height_mm))
        _enter_cover(ledger, self.facts, self.claw_mm, rules)
        claws.enter_arcs(ledger, self.choice.claws)
        claws.enter_bending(ledger, self.claw_mm, np.minimum(self._seat, self.claw_mm), rules)
        volume = ledger.enter(
            metal_volume_mm3,
            float(self.choice.claws),
            seat_height_mm + stone.girdle_mm + self.claw_mm,
            self.claw_mm,
            width - self.claw_mm,
            self.claw_mm * rules.ring_wire_share,
        )
        ledger.enter(head_mass_g, volume, alloy.density)


def begin(ledger: Ledger, choice: HeadChoice, facts: StoneFacts, rules: HouseRules) -> Bought:
    """Opening as given or as its size makes it, and the notch that this stone takes in it."""
    made_for = round(facts.nominal_diameter_mm, 1) if choice.made_for_mm is None else choice.made_for_mm
    claw = claws.usual_wire_mm(made_for, choice.claws, rules) if choice.claw_mm is None else choice.claw_mm
    ledger.given(MADE_FOR, "Made for", "mm", made_for, ASSUMED if choice.made_for_mm is None else CHOSEN)
    ledger.given(CLAW, "Claw wire", "mm", claw, ASSUMED if choice.claw_mm is None else CHOSEN)
    if choice.peg_mm is not None:
        ledger.given(PEG, "Peg", "mm", choice.peg_mm, CHOSEN)
    if choice.opening_mm is None:
        opening = float(ledger.enter(notches.made_for_opening_mm, made_for, rules.notch_target, claw))
    else:
        opening = choice.opening_mm
        ledger.given(
            style.INNER_OPENING,
            "Opening between the claws",
            "mm",
            opening,
            CHOSEN,
            shown_in="head",
        )
    stone = facts.stone
    ledger.enter(outer_mm, opening, claw)
    depth = ledger.enter(notches.claw_reach_mm, stone.diameter, opening)
    ledger.enter(notches.notch_ratio, stone.diameter, opening, claw)
    ledger.enter(notches.first_cut_mm, rules.first_cut_ratio, claw)
    ledger.enter(notches.claw_left_mm, claw, depth)
    sold: Number | None = choice.height_mm
    if choice.height_tip_mm is not None:
        ledger.given(HEIGHT_TIP, "Foot to tip", "mm", choice.height_tip_mm, MEASURED, shown_in="head")
        cover = _enter_cover(ledger, facts, claw, rules)
        bend, filed = rules.bend_allowance_mm, rules.file_allowance_mm
        above = ledger.enter(above_seat_mm, stone.girdle_mm, cover, facts.crown_angle_deg, bend, filed)
        sold = ledger.enter(sold_height_mm, choice.height_tip_mm, above)
    return Bought(choice, facts, rules, claw, opening, sold)


def _enter_cover(ledger: Ledger, facts: StoneFacts, claw_mm: float, rules: HouseRules) -> Number:
    stone, share, way = facts.stone, rules.tip_cover_share, rules.tip_to_table_share
    return ledger.enter(claws.tip_cover_mm, claw_mm, share, way, stone.table_share, stone.diameter)


def shape(ledger: Ledger, choice: HeadChoice, facts: StoneFacts, rules: HouseRules) -> HeadShape:
    """Claws closed over the crown on a base ring."""
    keys = (claws.CLAW, style.INNER_OPENING, style.height_mm, basket.splay_deg, claws.tip_cover_mm)
    claw, opening, height, splay, cover = (float(ledger.value(key)) for key in keys)
    wire = claw * rules.ring_wire_share
    closing = closing_over(facts, cover, claw * rules.tip_thinned_share)
    edge = float(facts.stone.diameter) / 2
    inner = opening / 2 - edge
    lean = float(np.tan(np.radians(splay)))
    profile = closed_profile(inner, inner + claw, lean, height, closing)
    low = -height + wire / 2
    radius = max(edge + inner + lean * low + wire * (rules.groove_share - 0.5), wire / 2)
    base = WireRing("base", edge - radius, low, wire)
    made = Claws(places_of(choice, facts), profile, claw, closing.cover_mm)
    return HeadShape(facts.outline, height, -inner, made, (base,), (), outer_mm, style.WIDTH_AT_FOOT)


def clawed(cut: str) -> bool:
    """Always."""
    return True


def suits(cut: Cut) -> bool:
    """Round cuts: bought heads for other outlines are made for one length and width only."""
    return cut.is_round


def seams(choice: HeadChoice, facts: StoneFacts, alloy: Alloy) -> list[Seam]:
    """A bought head comes in one piece."""
    return []
