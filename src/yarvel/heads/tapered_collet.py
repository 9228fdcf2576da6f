"""Tapered collet: a cone of sheet or driven tube, its rim rolled over as a bezel, or sawn and opened into claws."""

from __future__ import annotations

from functools import partial

import numpy as np

from yarvel.figures.figure import (
    CHOSEN,
    COMMON_PRACTICE,
    FROM_MEMORY,
    GEOMETRY,
    MEASURED,
    Ledger,
    Number,
    figure,
)
from yarvel.figures.rules import HouseRules
from yarvel.heads import claws, driven_tube, notches, style
from yarvel.heads.field import HeadField
from yarvel.heads.heights import clear_of_culet, raised
from yarvel.heads.shape import Claws, HeadShape, Wall, closed_profile
from yarvel.heads.style import BegunHead, HeadChoice, Made, StoneFacts, TubeInHand, closing_over, height_mm, places_of
from yarvel.heads.tube import LIP_THINNED, usual_wall_mm
from yarvel.metals.alloys import Alloy, head_mass_g
from yarvel.metals.joints import Seam
from yarvel.stones.cut import Cut

STYLE = "tapered-collet"
LABEL = "Tapered collet"
STANDS_ON = style.WALL
COMES = style.DRIVEN
OWN: tuple[HeadField, ...] = ()
FIELDS = ("cut", "included_angle_deg", "wall_mm", "claws", "orientation", "notch_ratio", "made", "tube")

BY_TUBE = ("wall_mm", "notch_ratio")
"""Fields that follow from a tube in hand: nobody chooses them beside it."""
BY_MEASURE = ("wall_mm", "included_angle_deg", "notch_ratio")
"""Fields that follow from the measures of a collet once it is made."""
BEZEL, CLAWS = "bezel", "claws"
_CLAW_SHARE = 0.4
_CLAW_WIDEST = 2.2

_SAW_SHARE = 0.55
"""Claws take this share of the rim, at most so many walls wide; sawn down this share of the height. From memory."""


@figure(
    "head.half_angle",
    "Half-angle of the collet",
    "°",
    "min(α₀, atan((1 − k)·r_g/H))",
    GEOMETRY,
    places=1,
    wanted_deg="α₀",
    share="k",
    radius_mm="r_g",
    height_mm="H",
)
def half_angle_deg(wanted_deg: Number, share: Number, radius_mm: Number, height_mm: Number) -> Number:
    """Half of the included angle in degrees, or less where the foot would close up."""
    return np.minimum(wanted_deg, np.degrees(np.arctan((1 - share) * radius_mm / np.maximum(height_mm, 1e-6))))


@figure(
    "head.included_angle",
    "Included angle",
    "°",
    "2·atan((d_t − d_f)/(2·h_c))",
    GEOMETRY,
    places=1,
    top_mm="d_t",
    foot_mm="d_f",
    height_mm="h_c",
)
def made_angle_deg(top_mm: Number, foot_mm: Number, height_mm: Number) -> Number:
    """Included angle in degrees of a collet that is made, from its measured top, foot and height in mm."""
    return 2 * np.degrees(np.arctan((top_mm - foot_mm) / (2 * height_mm)))


@figure(
    "seat.notch_ratio",
    "Ledge, share of the wall",
    "",
    "1 − (d_t − 2·(g + e)·tan(α) − D)/(2·t_h)",
    GEOMETRY,
    top_mm="d_t",
    girdle_mm="g",
    rim_mm="e",
    half_angle_deg="α",
    diameter_mm="D",
    wall_mm="t_h",
)
def made_ratio(
    top_mm: Number, girdle_mm: Number, rim_mm: Number, half_angle_deg: Number, diameter_mm: Number, wall_mm: Number
) -> Number:
    """How much of its wall, measured level, the seat takes of a collet that is made: its outside at the girdle is what
    its top leaves there."""
    outer = top_mm - 2 * (girdle_mm + rim_mm) * np.tan(np.radians(half_angle_deg))
    return 1 - (outer - diameter_mm) / (2 * wall_mm)


@figure("head.wall_across", "Wall, measured level", "mm", "t/cos(α)", GEOMETRY, wall_mm="t", half_angle_deg="α")
def wall_across_mm(wall_mm: Number, half_angle_deg: Number) -> Number:
    """Thickness in mm of the leaning wall along the girdle plane."""
    return wall_mm / np.cos(np.radians(half_angle_deg))


@figure(
    "collet.top_diameter",
    "Collet's top, outside",
    "mm",
    "d_g + 2·(g + e)·tan(α)",
    GEOMETRY,
    outer_mm="d_g",
    girdle_mm="g",
    rim_mm="e",
    half_angle_deg="α",
    shown_in="head",
)
def top_diameter_mm(outer_mm: Number, girdle_mm: Number, rim_mm: Number, half_angle_deg: Number) -> Number:
    """Outside diameter in mm at the rim."""
    return outer_mm + 2 * (girdle_mm + rim_mm) * np.tan(np.radians(half_angle_deg))


@figure("collet.top_opening", "Collet's top, opening", "mm", "d_t − 2·t_h", GEOMETRY, top_mm="d_t", wall_mm="t_h")
def top_opening_mm(top_mm: Number, wall_mm: Number) -> Number:
    """Opening in mm at the rim before the seat is cut: not more than the stone, so that it sits on the rim."""
    return top_mm - 2 * wall_mm


@figure(
    "collet.foot_diameter",
    "Collet's foot, outside",
    "mm",
    "d_g − 2·H·tan(α)",
    GEOMETRY,
    outer_mm="d_g",
    height_mm="H",
    half_angle_deg="α",
    shown_in="head",
)
def foot_diameter_mm(outer_mm: Number, height_mm: Number, half_angle_deg: Number) -> Number:
    """Outside diameter in mm at a depth below the girdle, at the foot."""
    return outer_mm - 2 * height_mm * np.tan(np.radians(half_angle_deg))


collet_height_mm = figure(
    "collet.height",
    "Collet's height",
    "mm",
    "H + g + e",
    GEOMETRY,
    base_mm="H",
    girdle_mm="g",
    above_mm="e",
    shown_in="head",
)(raised)


@figure(
    "collet.pattern_inner_radius",
    "Pattern, inner radius",
    "mm",
    "(d_f − t_h)/(2·sin(α))",
    GEOMETRY,
    foot_mm="d_f",
    wall_mm="t_h",
    half_angle_deg="α",
    shown_in="head",
)
def pattern_inner_radius_mm(foot_mm: Number, wall_mm: Number, half_angle_deg: Number) -> Number:
    """Inner radius in mm of the sheet pattern: the mid-wall cone laid flat, at the foot."""
    return (foot_mm - wall_mm) / (2 * np.sin(np.radians(half_angle_deg)))


@figure(
    "collet.pattern_outer_radius",
    "Pattern, outer radius",
    "mm",
    "(d_t − t_h)/(2·sin(α))",
    GEOMETRY,
    top_mm="d_t",
    wall_mm="t_h",
    half_angle_deg="α",
    shown_in="head",
)
def pattern_outer_radius_mm(top_mm: Number, wall_mm: Number, half_angle_deg: Number) -> Number:
    """Outer radius in mm of the sheet pattern, at the rim."""
    return (top_mm - wall_mm) / (2 * np.sin(np.radians(half_angle_deg)))


@figure(
    "collet.pattern_angle_deg",
    "Pattern, angle",
    "°",
    "360·sin(α)",
    GEOMETRY,
    places=1,
    half_angle_deg="α",
    shown_in="head",
)
def pattern_angle_deg(half_angle_deg: Number) -> Number:
    """Angle in degrees of the sheet pattern."""
    return 360 * np.sin(np.radians(half_angle_deg))


@figure(
    "collet.saw_depth",
    "Sawn down below the girdle",
    "mm",
    "min(q·H, max(H_f, t))",
    FROM_MEMORY,
    share="q",
    height_mm="H",
    free_mm="H_f",
    least_mm="t",
)
def saw_depth_mm(share: Number, height_mm: Number, free_mm: Number, least_mm: Number) -> Number:
    """How far in mm below the girdle the collet is sawn between its claws: to the shank's top at the gap, and no
    farther than a share of its height; at least as far as a claw needs to bend."""
    return np.minimum(share * height_mm, np.maximum(free_mm, least_mm))


@figure(
    "collet.hidden_by",
    "Wall between the claws inside the stone's edge by",
    "mm",
    "D/2 − d_g/2 + z_s·tan(α)",
    GEOMETRY,
    diameter_mm="D",
    outer_mm="d_g",
    saw_mm="z_s",
    half_angle_deg="α",
)
def hidden_by_mm(diameter_mm: Number, outer_mm: Number, saw_mm: Number, half_angle_deg: Number) -> Number:
    """How far in mm the top of the sawn wall lies inside the stone's edge, seen straight down; negative where
    it shows."""
    return diameter_mm / 2 - outer_mm / 2 + saw_mm * np.tan(np.radians(half_angle_deg))


@figure("collet.stretch", "Stretch if driven from tube", "", "(d_t − d_f)/d_f", GEOMETRY, top_mm="d_t", foot_mm="d_f")
def stretch(top_mm: Number, foot_mm: Number) -> Number:
    """Strain at the rim of a tube of the foot's diameter, driven into the block until it is a collet."""
    return (top_mm - foot_mm) / foot_mm


@figure("collet.blank_outer", "Tube to drive, outside", "mm", "d_t/(1 + q_r)", GEOMETRY, top_mm="d_t", opened="q_r")
def blank_outer_mm(top_mm: Number, opened: Number) -> Number:
    """Outside in mm of the tube that a collet is driven from: the block closes its foot, the punch opens its rim by the
    share ``opened``."""
    return top_mm / (1 + opened)


@figure(
    "collet.blank_length",
    "Tube to drive, length",
    "mm",
    "V/(π·t·(d_b − t))",
    GEOMETRY,
    volume_mm3="V",
    wall_mm="t",
    outer_mm="d_b",
)
def blank_length_mm(volume_mm3: Number, wall_mm: Number, outer_mm: Number) -> Number:
    """Length in mm of tube to drive: as much metal as the collet has, for driving moves metal and takes none."""
    return volume_mm3 / (np.pi * wall_mm * (outer_mm - wall_mm))


@figure("collet.stretch_left", "Stretch left before it tears", "", "ε − q", GEOMETRY, elongation="ε", stretch="q")
def stretch_left(elongation: Number, stretch: Number) -> Number:
    """Strain that annealed metal still bears after driving; negative: anneal between, or make it from sheet."""
    return elongation - stretch


@figure(
    "head.metal_volume",
    "Metal in the head",
    "mm³",
    "π·t·(d_f + d_t − 2·t_h)/2·(H + g + e)/cos(α)",
    GEOMETRY,
    places=1,
    wall_mm="t",
    foot_mm="d_f",
    top_mm="d_t",
    across_mm="t_h",
    height_mm="H",
    girdle_mm="g",
    rim_mm="e",
    half_angle_deg="α",
)
def metal_volume_mm3(
    wall_mm: Number,
    foot_mm: Number,
    top_mm: Number,
    across_mm: Number,
    height_mm: Number,
    girdle_mm: Number,
    rim_mm: Number,
    half_angle_deg: Number,
) -> Number:
    """Volume in mm³ of the cone before seat and claws are cut: mid-wall area times the wall."""
    slant = (height_mm + girdle_mm + rim_mm) / np.cos(np.radians(half_angle_deg))
    return np.pi * wall_mm * (foot_mm + top_mm - 2 * across_mm) / 2 * slant


class Collet(BegunHead, frozen=True, kw_only=True):
    """A tapered collet begun for one stone."""

    facts: StoneFacts
    rules: HouseRules
    wall_mm: float
    across_mm: Number
    outer_mm: Number
    wanted_deg: float

    @property
    def gallery_height(self) -> Number:
        """Height in mm from foot to seat that the pavilion asks for: it lies inside the collet whole."""
        return clear_of_culet(self.facts.stone.pavilion_depth_mm, self.rules.culet_clearance_mm)

    @property
    def least_height(self) -> Number:
        """Enough wall under the seat to bear the stone, mm."""
        return 2 * self.wall_mm

    @property
    def fixed_height(self) -> Number | None:
        """None: a collet is made to its height; one that is made has what was measured in mm, less its rim and the
        girdle."""
        made_collet = self.choice.made
        return (
            None if made_collet is None else made_collet.height_mm - self.facts.stone.girdle_mm - self.rules.tube_rim_mm
        )

    def angle(self, height_mm: Number) -> Number:
        """Half-angle in degrees at this height."""
        return half_angle_deg(self.wanted_deg, self.foot_share, self.outer_mm / 2, height_mm)

    @property
    def foot_share(self) -> float:
        """Least share of the outside that the foot keeps; of a made collet the foot is what it is."""
        return self.rules.foot_share if self.choice.made is None else 0.0

    def width_at(self, depth_mm: Number, height_mm: Number) -> Number:
        """Outside diameter in mm at a depth below the seat."""
        return foot_diameter_mm(self.outer_mm, depth_mm, self.angle(height_mm))

    @property
    def sawn_least(self) -> Number:
        """A claw bends only where it is as long below the girdle as it is thick, mm."""
        return self.wall_mm if self.choice.cut == CLAWS else 0.0

    def enter(self, ledger: Ledger, seat_height_mm: Number, free_mm: Number, alloy: Alloy) -> None:
        """Enter diameters, pattern and mass."""
        rules, girdle = self.rules, self.facts.stone.girdle_mm
        ledger.enter(height_mm, seat_height_mm)
        angle = ledger.enter(half_angle_deg, self.wanted_deg, self.foot_share, self.outer_mm / 2, seat_height_mm)
        top = ledger.enter(top_diameter_mm, self.outer_mm, girdle, rules.tube_rim_mm, angle)
        ledger.enter(top_opening_mm, top, self.across_mm)
        foot = ledger.enter(foot_diameter_mm, self.outer_mm, seat_height_mm, angle)
        ledger.enter(collet_height_mm, seat_height_mm, girdle, rules.tube_rim_mm)
        ledger.enter(pattern_inner_radius_mm, foot, self.across_mm, angle)
        ledger.enter(pattern_outer_radius_mm, top, self.across_mm, angle)
        ledger.enter(pattern_angle_deg, angle)
        strain = ledger.enter(stretch, top, foot)
        ledger.enter(stretch_left, alloy.elongation_annealed, strain)
        self._enter_sawn(ledger, seat_height_mm, free_mm, angle)
        volume = ledger.enter(
            metal_volume_mm3, self.wall_mm, foot, top, self.across_mm, seat_height_mm, girdle, rules.tube_rim_mm, angle
        )
        blank = ledger.enter(blank_outer_mm, top, rules.collet_rim_opens)
        ledger.enter(blank_length_mm, volume, self.wall_mm, blank)
        ledger.enter(head_mass_g, volume, alloy.density)

    def _enter_sawn(self, ledger: Ledger, height: Number, free_mm: Number, angle: Number) -> None:
        """Claws sawn from the wall: how they hold, how deep they are sawn, whether the wall shows between them."""
        if self.choice.cut != CLAWS:
            return
        claws.enter_arcs(ledger, self.choice.claws)
        saw = ledger.enter(saw_depth_mm, 1 - _SAW_SHARE, height, free_mm, self.sawn_least)
        ledger.enter(hidden_by_mm, self.facts.stone.diameter, self.outer_mm, saw, angle)


class Driven(Collet, frozen=True, kw_only=True):
    """A collet driven from the tube in hand: its rim is what the punch makes of the tube, its foot lies where the
    block's angle has come to, and its wall holds the tube's metal. ``top_mm`` outside at the rim, ``volume_mm3`` of the
    tube."""

    tube: TubeInHand
    top_mm: Number
    volume_mm3: Number

    @property
    def fixed_height(self) -> Number | None:
        """Height in mm from foot to seat at which the foot is as asked; None where the lowest seat decides."""
        if self.tube.foot_mm is None:
            return None
        whole: Number = (self.top_mm - self.tube.foot_mm) / (2 * np.tan(np.radians(self.wanted_deg)))
        return whole - self.facts.stone.girdle_mm - self.rules.tube_rim_mm

    @property
    def foot_share(self) -> float:
        """None: the block closes the foot as far as it is driven."""
        return 0.0

    def enter(self, ledger: Ledger, seat_height_mm: Number, free_mm: Number, alloy: Alloy) -> None:
        """Enter foot, wall and ledge as driving makes them, the rim's stretch, and mass."""
        rules, girdle = self.rules, self.facts.stone.girdle_mm
        ledger.enter(height_mm, seat_height_mm)
        angle = ledger.enter(half_angle_deg, self.wanted_deg, 0.0, self.outer_mm / 2, seat_height_mm)
        foot = ledger.enter(foot_diameter_mm, self.outer_mm, seat_height_mm, angle)
        whole = ledger.enter(collet_height_mm, seat_height_mm, girdle, rules.tube_rim_mm)
        wall = ledger.enter(driven_tube.driven_wall_mm, (foot + self.top_mm) / 2, self.volume_mm3, whole, angle)
        across = ledger.enter(wall_across_mm, wall, angle)
        ratio = ledger.enter(
            made_ratio, self.top_mm, girdle, rules.tube_rim_mm, angle, self.facts.stone.diameter, across
        )
        _notched(ledger, self.facts, ratio, across, rules)
        ledger.enter(top_opening_mm, self.top_mm, across)
        hole = np.ceil(2 * self.top_mm + 1e-9) / 2
        next_height = "the next half millimetre that the rim still goes into"
        ledger.given(
            driven_tube.BLOCK_HOLE, "Hole of the block", "mm", hole, COMMON_PRACTICE, places=1, formula=next_height
        )
        ledger.enter(driven_tube.foot_closed, self.tube.outside_mm, foot)
        strain = ledger.enter(driven_tube.rim_stretch, self.top_mm, self.tube.outside_mm)
        ledger.enter(stretch_left, alloy.elongation_annealed, strain)
        self._enter_sawn(ledger, seat_height_mm, free_mm, angle)
        volume = ledger.enter(
            metal_volume_mm3, wall, foot, self.top_mm, across, seat_height_mm, girdle, rules.tube_rim_mm, angle
        )
        ledger.enter(head_mass_g, volume, alloy.density)


def begin(ledger: Ledger, choice: HeadChoice, facts: StoneFacts, rules: HouseRules) -> Collet:
    """Wall, ledge and the outside at the girdle; all of them by what was measured, where the collet is made."""
    if choice.made is not None:
        return _made(ledger, choice, choice.made, facts, rules)
    if choice.tube is not None:
        return _driven(ledger, choice, choice.tube, facts, rules)
    wall = usual_wall_mm(facts.nominal_diameter_mm, rules) if choice.wall_mm is None else choice.wall_mm
    wanted = (rules.collet_angle_deg if choice.included_angle_deg is None else choice.included_angle_deg) / 2
    ledger.given(style.HEAD_WALL, "Wall of the collet", "mm", wall, FROM_MEMORY if choice.wall_mm is None else "chosen")
    ledger.given(
        made_angle_deg,
        "Included angle",
        "°",
        2 * wanted,
        COMMON_PRACTICE if choice.included_angle_deg is None else "chosen",
        places=1,
    )
    across = ledger.enter(wall_across_mm, wall, wanted)
    ratio = choice.notch_ratio
    if ratio is None:
        lip = min(rules.tube_lip_mm, wall)
        ratio = rules.notch_target if choice.cut == CLAWS else 1 - lip / float(across)
    ledger.given(
        notches.notch_ratio,
        "Ledge, share of the wall",
        "",
        ratio,
        COMMON_PRACTICE if choice.notch_ratio is None else "chosen",
    )
    return Collet(
        choice=choice,
        facts=facts,
        rules=rules,
        wall_mm=wall,
        across_mm=across,
        outer_mm=_notched(ledger, facts, ratio, across, rules),
        wanted_deg=wanted,
    )


def _made(ledger: Ledger, choice: HeadChoice, made: Made, facts: StoneFacts, rules: HouseRules) -> Collet:
    """A collet that is made: angle and ledge follow from its measures."""
    stone = facts.stone
    ledger.given(style.HEAD_WALL, "Wall of the collet", "mm", made.wall_mm, "measured")
    angle = float(ledger.enter(made_angle_deg, made.top_mm, made.foot_mm, made.height_mm)) / 2
    across = ledger.enter(wall_across_mm, made.wall_mm, angle)
    ratio = ledger.enter(made_ratio, made.top_mm, stone.girdle_mm, rules.tube_rim_mm, angle, stone.diameter, across)
    return Collet(
        choice=choice,
        facts=facts,
        rules=rules,
        wall_mm=made.wall_mm,
        across_mm=across,
        outer_mm=_notched(ledger, facts, ratio, across, rules),
        wanted_deg=angle,
    )


def _driven(ledger: Ledger, choice: HeadChoice, tube: TubeInHand, facts: StoneFacts, rules: HouseRules) -> Driven:
    """A collet from the tube in hand: what is known of it before its height is."""
    angle = (rules.collet_angle_deg if choice.included_angle_deg is None else choice.included_angle_deg) / 2
    ledger.given(blank_outer_mm, "Tube in hand, outside", "mm", tube.outside_mm, MEASURED, shown_in="head")
    ledger.given(driven_tube.TUBE_WALL, "Tube in hand, wall", "mm", tube.wall_mm, MEASURED, shown_in="head")
    ledger.given(blank_length_mm, "Tube in hand, length", "mm", tube.length_mm, MEASURED, shown_in="head")
    asked = choice.included_angle_deg
    origin = COMMON_PRACTICE if asked is None else CHOSEN
    ledger.given(made_angle_deg, "Included angle of the block", "°", 2 * angle, origin, places=1)
    if tube.rim_mm is not None:
        top: Number = ledger.given(top_diameter_mm, "Outside at the rim", "mm", tube.rim_mm, CHOSEN)
    else:
        top = ledger.enter(driven_tube.driven_top_mm, tube.outside_mm, rules.collet_rim_opens)
    outer = ledger.enter(driven_tube.driven_outer_mm, top, facts.stone.girdle_mm, rules.tube_rim_mm, angle)
    volume = ledger.enter(driven_tube.tube_volume_mm3, tube.wall_mm, tube.outside_mm, tube.length_mm)
    return Driven(
        choice=choice,
        facts=facts,
        rules=rules,
        wall_mm=tube.wall_mm,
        across_mm=tube.wall_mm,
        outer_mm=outer,
        wanted_deg=angle,
        tube=tube,
        top_mm=top,
        volume_mm3=volume,
    )


def _notched(ledger: Ledger, facts: StoneFacts, ratio: Number, across: Number, rules: HouseRules) -> Number:
    """Enter what the ledge leaves; the outside at the girdle, mm."""
    outer = ledger.enter(notches.collet_outer_mm, facts.stone.diameter, ratio, across)
    ledger.enter(notches.collet_bore_mm, facts.stone.diameter, ratio, across)
    depth = ledger.enter(notches.collet_depth_mm, ratio, across)
    ledger.enter(notches.first_cut_mm, rules.first_cut_ratio, across)
    ledger.enter(notches.wall_left_mm, across, depth)
    return outer


def shape(ledger: Ledger, choice: HeadChoice, facts: StoneFacts, rules: HouseRules) -> HeadShape:
    """The cone rolled over the crown, or its claws closed over it above the sawn wall."""
    stone = facts.stone
    outer, bore = (float(ledger.value(key)) / 2 for key in (notches.collet_outer_mm, style.INNER_OPENING))
    height = float(ledger.value(style.height_mm))
    lean = float(np.tan(np.radians(ledger.value(half_angle_deg))))
    radius = float(stone.diameter) / 2
    reach = rules.tip_to_table_share * (1 - float(stone.table_share)) * radius
    left = outer - radius
    rolled = rules.tube_rim_mm * float(np.cos(np.radians(facts.crown_angle_deg)))  # along the crown, not level
    cover = min(rolled if choice.cut == BEZEL else outer - bore, reach)
    closing = closing_over(facts, cover, left * LIP_THINNED)
    inside, outside = bore - radius, outer - radius
    profile = closed_profile(inside, outside, lean, height, closing)
    head = partial(
        HeadShape,
        outline=facts.outline,
        height_mm=height,
        opening_inset_mm=-inside,
        rings=(),
        outer_key=notches.collet_outer_mm,
        foot_key=foot_diameter_mm,
    )
    if choice.cut == BEZEL:
        return head(claws=None, walls=(Wall("collet", profile),))
    saw = -float(ledger.value(saw_depth_mm))
    low = np.array(
        [
            (inside - lean * height, -height),
            (inside + lean * saw, saw),
            (outside + lean * saw, saw),
            (outside - lean * height, -height),
        ]
    )
    width = _CLAW_SHARE * 2 * np.pi * outer / choice.claws
    width = min(width, _CLAW_WIDEST * (outer - bore))
    claws_made = Claws(places_of(choice, facts), profile, width, cover)
    return head(claws=claws_made, walls=(Wall("collet", low),))


def clawed(cut: str) -> bool:
    """Where it is sawn to claws."""
    return cut == CLAWS


def suits(cut: Cut) -> bool:
    """Round cuts: a cone has a round pattern."""
    return cut.is_round and not cut.domed


def seams(choice: HeadChoice, facts: StoneFacts, alloy: Alloy) -> list[Seam]:
    """The seam of a collet of sheet; none where it is driven from a tube in hand, or made already."""
    if choice.tube is not None or choice.made is not None:
        return []
    return [
        Seam(
            what="collet seam",
            grade="hard",
            group="collet-seam",
            metals=(alloy,),
            ends=((style.FOOT, 0.0),),
        )
    ]
