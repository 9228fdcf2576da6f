"""Applied claws: a low collet that the stone hides, and claws of wire in grooves filed into its outside, soldered once
the collet is in its ring."""

from __future__ import annotations

import numpy as np

from yarvel.figures.figure import CHOSEN, COMMON_PRACTICE, FROM_MEMORY, GEOMETRY, Ledger, Number, figure
from yarvel.figures.rules import HouseRules
from yarvel.heads import claws, notches, rings, style
from yarvel.heads import tapered_collet as cone
from yarvel.heads.field import HeadField
from yarvel.heads.heights import clear_of_culet
from yarvel.heads.places import numbers
from yarvel.heads.shape import Claws, HeadShape, Wall, closed_profile
from yarvel.heads.style import BegunHead, HeadChoice, StoneFacts, closing_over, height_mm, places_of
from yarvel.heads.tube import usual_wall_mm
from yarvel.metals.alloys import Alloy, head_mass_g
from yarvel.metals.joints import Seam
from yarvel.stones.cut import Cut

STYLE = "applied-collet"
LABEL = "Claws on a collet"
STANDS_ON = style.WALL
COMES = style.APPLIED
OWN: tuple[HeadField, ...] = ()
FIELDS = ("claws", "orientation", "claw_mm", "notch_ratio", "wall_mm", "included_angle_deg")

_CLAW_SHARE, _LEAST_HOLD_MM = 0.6, 1.0
"""Claws run down this share of the height, and at least so far along the collet that solder holds them; from memory."""


@figure(
    "collet.top_diameter",
    "Collet's top, outside",
    "mm",
    "D − 2·δ",
    GEOMETRY,
    diameter_mm="D",
    inset_mm="δ",
    shown_in="head",
)
def top_diameter_mm(diameter_mm: Number, inset_mm: Number) -> Number:
    """Outside in mm of the collet's top, which lies ``inset_mm`` inside the stone's edge."""
    return diameter_mm - 2 * inset_mm


@figure("collet.height", "Collet's height", "mm", "H − z_o", GEOMETRY, height_mm="H", drop_mm="z_o", shown_in="head")
def collet_height_mm(height_mm: Number, drop_mm: Number) -> Number:
    """Height in mm of the collet by itself, up to where it ends below the girdle."""
    return height_mm - drop_mm


@figure(
    "head.claw_down",
    "Claws run down by",
    "mm",
    "min(H, max(k·H, z_o + a))",
    FROM_MEMORY,
    share="k",
    height_mm="H",
    drop_mm="z_o",
    hold_mm="a",
    shown_in="head",
)
def claw_down_mm(share: Number, height_mm: Number, drop_mm: Number, hold_mm: Number) -> Number:
    """How far in mm below the girdle the claws' wires end on the collet."""
    return np.minimum(height_mm, np.maximum(share * height_mm, drop_mm + hold_mm))


countersink_mm = figure(
    "collet.countersink",
    "Countersink the collet by",
    "mm",
    "max(0, (δ + t_h − u·z_o)/√(1 + u²))",
    GEOMETRY,
    inset_mm="δ",
    level_mm="t_h",
    run="u",
    drop_mm="z_o",
    shown_in="head",
)(rings.square_edge_mm)


@figure(
    "head.metal_volume",
    "Metal in the head",
    "mm³",
    "π·t·((d_t + d_f)/2 − t_h)·h_c/cos(α) + N·π/4·w²·(l − a_f)",
    GEOMETRY,
    places=1,
    wall_mm="t",
    top_mm="d_t",
    foot_mm="d_f",
    across_mm="t_h",
    collet_mm="h_c",
    half_angle_deg="α",
    claws="N",
    claw_mm="w",
    length_mm="l",
    allowance_mm="a_f",
)
def metal_volume_mm3(
    wall_mm: Number,
    top_mm: Number,
    foot_mm: Number,
    across_mm: Number,
    collet_mm: Number,
    half_angle_deg: Number,
    claws: Number,
    claw_mm: Number,
    length_mm: Number,
    allowance_mm: Number,
) -> Number:
    """Volume in mm³ of the cone before it is grooved, and of the claws less what is filed off."""
    wall = cone.metal_volume_mm3(wall_mm, foot_mm, top_mm, across_mm, collet_mm, 0.0, 0.0, half_angle_deg)
    return wall + claws * np.pi / 4 * claw_mm**2 * (length_mm - allowance_mm)


class Applied(BegunHead, frozen=True, kw_only=True):
    """A hidden collet with applied claws, begun for one stone."""

    facts: StoneFacts
    rules: HouseRules
    claw_mm: float
    wall_mm: float
    across_mm: Number
    opening_mm: Number
    seat_mm: Number
    inset_mm: Number
    wanted_deg: float

    @property
    def gallery_height(self) -> Number:
        """Height in mm from foot to seat that the pavilion asks for: it lies inside the collet whole."""
        return clear_of_culet(self.facts.stone.pavilion_depth_mm, self.rules.culet_clearance_mm)

    @property
    def least_height(self) -> Number:
        """Collet enough for the claws to hold to, mm."""
        return self.rules.ring_drop_mm + _LEAST_HOLD_MM

    @property
    def top_mm(self) -> Number:
        """Outside of the collet's top, mm."""
        return top_diameter_mm(self.facts.stone.diameter, self.inset_mm)

    def angle(self, height_mm: Number) -> Number:
        """Half-angle in degrees at this height."""
        tall = np.maximum(height_mm - self.rules.ring_drop_mm, 1e-6)
        return cone.half_angle_deg(self.wanted_deg, self.rules.foot_share, self.top_mm / 2, tall)

    def width_at(self, depth_mm: Number, height_mm: Number) -> Number:
        """Outside diameter in mm of the collet at a depth below the seat."""
        return cone.foot_diameter_mm(self.top_mm, depth_mm - self.rules.ring_drop_mm, self.angle(height_mm))

    def enter(self, ledger: Ledger, seat_height_mm: Number, free_mm: Number, alloy: Alloy) -> None:
        """Enter the collet, its claws, and mass."""
        drop = self.rules.ring_drop_mm
        ledger.enter(height_mm, seat_height_mm)
        tall = ledger.enter(collet_height_mm, seat_height_mm, drop)
        top = ledger.enter(top_diameter_mm, self.facts.stone.diameter, self.inset_mm)
        angle = ledger.enter(cone.half_angle_deg, self.wanted_deg, self.rules.foot_share, top / 2, tall)
        foot = ledger.enter(cone.foot_diameter_mm, top, tall, angle)
        ledger.enter(cone.pattern_inner_radius_mm, foot, self.across_mm, angle)
        ledger.enter(cone.pattern_outer_radius_mm, top, self.across_mm, angle)
        ledger.enter(cone.pattern_angle_deg, angle)
        ledger.enter(countersink_mm, self.across_mm, drop, self.inset_mm, self.facts.run)
        bar = ledger.enter(cone.blank_outer_mm, top, self.rules.collet_rim_opens)
        length = self._enter_claws(ledger, seat_height_mm, angle)
        cone_of = self.wall_mm, top, foot, self.across_mm, tall, angle
        alone = metal_volume_mm3(*cone_of, 0.0, self.claw_mm, length, self.rules.file_allowance_mm)
        ledger.enter(cone.blank_length_mm, alone, self.wall_mm, bar)
        count = float(self.choice.claws)
        volume = ledger.enter(metal_volume_mm3, *cone_of, count, self.claw_mm, length, self.rules.file_allowance_mm)
        ledger.enter(head_mass_g, volume, alloy.density)

    def _enter_claws(self, ledger: Ledger, height: Number, angle: Number) -> Number:
        """How far the claws run, hold and bend; returns the length of one, mm."""
        rules, stone = self.rules, self.facts.stone
        share, way = rules.tip_cover_share, rules.tip_to_table_share
        cover = ledger.enter(claws.tip_cover_mm, self.claw_mm, share, way, stone.table_share, stone.diameter)
        down = ledger.enter(claw_down_mm, _CLAW_SHARE, height, rules.ring_drop_mm, _LEAST_HOLD_MM)
        length = ledger.enter(
            claws.claw_length_mm,
            down,
            angle,
            stone.girdle_mm,
            cover,
            self.facts.crown_angle_deg,
            rules.bend_allowance_mm,
            rules.file_allowance_mm,
        )
        claws.enter_arcs(ledger, self.choice.claws)
        ledger.enter(rings.ring_groove_mm, rules.groove_share, self.wall_mm)
        ledger.call(rings.ring_groove_mm, "Claw groove in the collet")
        claws.enter_bending(ledger, self.claw_mm, self.seat_mm, rules)
        return length


def begin(ledger: Ledger, choice: HeadChoice, facts: StoneFacts, rules: HouseRules) -> Applied:
    """Claw, wall, notch, and how far the collet lies inside the stone's edge."""
    stone = facts.stone
    usual = claws.usual_wire_mm(facts.nominal_diameter_mm, choice.claws, rules, facts.narrowest, choice.soft)
    claw = usual if choice.claw_mm is None else choice.claw_mm
    wall = usual_wall_mm(facts.nominal_diameter_mm, rules) if choice.wall_mm is None else choice.wall_mm
    half = (rules.collet_angle_deg if choice.included_angle_deg is None else choice.included_angle_deg) / 2
    ratio = rules.notch_target if choice.notch_ratio is None else choice.notch_ratio
    ledger.given(claws.CLAW, "Claw wire", "mm", claw, COMMON_PRACTICE if choice.claw_mm is None else CHOSEN)
    ledger.given(style.HEAD_WALL, "Wall of the collet", "mm", wall, FROM_MEMORY if choice.wall_mm is None else CHOSEN)
    origin = COMMON_PRACTICE if choice.included_angle_deg is None else CHOSEN
    ledger.given(cone.made_angle_deg, "Included angle", "°", 2 * half, origin, places=1)
    across = ledger.enter(cone.wall_across_mm, wall, half)
    opening = ledger.enter(notches.claw_opening_mm, stone.diameter, ratio, claw)
    ledger.enter(notches.outer_over_claws_mm, stone.diameter, ratio, claw)
    seat = ledger.enter(notches.claw_depth_mm, ratio, claw)
    ledger.enter(notches.notch_ratio, stone.diameter, opening, claw)
    ledger.enter(notches.first_cut_mm, rules.first_cut_ratio, claw)
    ledger.enter(notches.claw_left_mm, claw, seat)
    inset = ledger.enter(rings.ring_hidden_by_mm, seat, rules.ring_drop_mm, wall, half, rules.groove_share)
    ledger.call(rings.ring_hidden_by_mm, "Collet inside the stone's edge by")
    return Applied(
        choice=choice,
        facts=facts,
        rules=rules,
        claw_mm=claw,
        wall_mm=wall,
        across_mm=across,
        opening_mm=opening,
        seat_mm=seat,
        inset_mm=inset,
        wanted_deg=half,
    )


def shape(ledger: Ledger, choice: HeadChoice, facts: StoneFacts, rules: HouseRules) -> HeadShape:
    """Claws closed over the crown on a cone that ends below the girdle."""
    keys = (claws.CLAW, notches.SEAT_DEPTH, height_mm, cone.half_angle_deg, claws.tip_cover_mm, claw_down_mm)
    claw, seat, height, half, cover, down = (float(ledger.value(key)) for key in keys)
    lean, drop = float(np.tan(np.radians(half))), rules.ring_drop_mm
    closing = closing_over(facts, cover, claw * rules.tip_thinned_share)
    profile = closed_profile(-seat, claw - seat, lean, down, closing)
    outside = -float(ledger.value(rings.ring_hidden_by_mm))
    inside, low = outside - float(ledger.value(cone.wall_across_mm)), lean * (height - drop)
    wall = np.array([(inside - low, -height), (inside, -drop), (outside, -drop), (outside - low, -height)])
    claws_made = Claws(places_of(choice, facts), profile, claw, cover)
    return HeadShape(
        outline=facts.outline,
        height_mm=height,
        opening_inset_mm=seat,
        claws=claws_made,
        rings=(),
        walls=(Wall("collet", wall),),
        outer_key=notches.outer_over_claws_mm,
        foot_key=cone.foot_diameter_mm,
    )


def clawed(cut: str) -> bool:
    """Always."""
    return True


def suits(cut: Cut) -> bool:
    """Round cuts: a cone has a round pattern."""
    return cut.is_round and not cut.domed


def seams(choice: HeadChoice, facts: StoneFacts, alloy: Alloy) -> list[Seam]:
    """The seam of a collet of sheet; every claw in its groove, after the collet is in its ring."""
    collet_seams = [
        Seam(what="collet seam", grade="hard", group="collet-seam", metals=(alloy,), ends=((style.FOOT, 0.0),))
    ]
    places = places_of(choice, facts)
    return collet_seams + [
        Seam(
            what=f"claw {called} to the collet",
            grade="medium",
            group="claws-to-collet",
            metals=(alloy,),
            ends=((f"claw {number}", 0.0), (style.FOOT, _UP_MM)),
        )
        for number, called in enumerate(numbers(places), start=1)
    ]


_UP_MM = 2.0
"""About how far up from the foot the claws are soldered, mm: what the torch's reach is held against."""
