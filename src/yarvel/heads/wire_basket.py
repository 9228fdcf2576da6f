"""Wire basket: claws of round wire, an upper ring that bears the stone, a lower ring at the foot."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from yarvel.figures.figure import COMMON_PRACTICE, GEOMETRY, Ledger, Number, figure
from yarvel.figures.rules import HouseRules
from yarvel.heads import claws, notches
from yarvel.heads.shape import Claws, HeadShape, WireRing, closed_profile
from yarvel.heads.style import HeadChoice, StoneFacts, closing_over, height_mm
from yarvel.metals.alloys import Alloy, head_mass_g
from yarvel.metals.joints import Seam
from yarvel.metals.wire import bend_strain, gauge_number

STYLE = "wire-basket"
LABEL = "Wire basket"
FIELDS = ("claws", "orientation", "claw_mm", "splay_deg", "ring_mm", "ring_drop_mm", "notch_ratio")


@figure("head.splay", "Splay of the claws", "°", "min(σ₀, atan((1 − k)·r_c/H))", GEOMETRY, places=1,
        splay="σ₀", share="k", claw_radius="r_c", height="H")
def splay_deg(splay: Number, share: Number, claw_radius: Number, height: Number) -> Number:
    """Splay in degrees: as chosen, or less where the foot would grow narrower than its share of the head."""
    return np.minimum(splay, np.degrees(np.arctan((1 - share) * claw_radius / np.maximum(height, 1e-6))))


@figure("head.width_at_foot", "Width over the foot, along the band", "mm", "2·(r_c − H·tan(σ))·k_φ + w", GEOMETRY,
        claw_radius="r_c", depth="H", splay="σ", reach="k_φ", claw="w")
def width_mm(claw_radius: Number, depth: Number, splay: Number, reach: Number, claw: Number) -> Number:
    """Width in mm over the claws along the band at a depth; ``reach`` is the largest |cos azimuth| of a claw."""
    return 2 * (claw_radius - depth * np.tan(np.radians(splay))) * reach + claw


@figure("head.upper_ring_outer", "Upper ring, outside", "mm", "o − 2·(z_o + v/2)·tan(σ) + 2·k·v", GEOMETRY,
        opening="o", drop="z_o", wire="v", splay="σ", groove="k")
def upper_ring_outer_mm(opening: Number, drop: Number, wire: Number, splay: Number, groove: Number) -> Number:
    """Outside diameter in mm of the upper ring let into the claws by its groove."""
    return opening - 2 * (drop + wire / 2) * np.tan(np.radians(splay)) + 2 * groove * wire


@figure("head.lower_ring_outer", "Lower ring, outside", "mm", "o − 2·(H − v/2)·tan(σ) + 2·k·v", GEOMETRY,
        opening="o", height="H", wire="v", splay="σ", groove="k")
def lower_ring_outer_mm(opening: Number, height: Number, wire: Number, splay: Number, groove: Number) -> Number:
    """Outside diameter in mm of the lower ring at the foot."""
    return opening - 2 * (height - wire / 2) * np.tan(np.radians(splay)) + 2 * groove * wire


@figure("head.upper_ring_wire_length", "Wire for the upper ring", "mm", "π·(d_u − v)", GEOMETRY, places=1,
        outer="d_u", wire="v")
def upper_ring_wire_length_mm(outer: Number, wire: Number) -> Number:
    """Wire length in mm: the mid-line of the ring."""
    return np.pi * (outer - wire)


@figure("head.lower_ring_wire_length", "Wire for the lower ring", "mm", "π·(d_l − v)", GEOMETRY, places=1,
        outer="d_l", wire="v")
def lower_ring_wire_length_mm(outer: Number, wire: Number) -> Number:
    """Wire length in mm: the mid-line of the ring."""
    return np.pi * (outer - wire)


@figure("head.ring_groove", "Claw groove in the rings", "mm", "k·v", COMMON_PRACTICE, share="k", wire="v")
def ring_groove_mm(share: Number, wire: Number) -> Number:
    """Depth in mm of the groove filed into a ring for each claw."""
    return share * wire


@figure("head.ring_hidden_by", "Upper ring inside the stone's edge by", "mm", "(D − d_u)/2", GEOMETRY,
        diameter="D", outer="d_u")
def ring_hidden_by_mm(diameter: Number, outer: Number) -> Number:
    """How far in mm the upper ring stays inside the stone's outline, seen from above."""
    return (diameter - outer) / 2


@figure("head.countersink", "Countersink the upper ring by", "mm",
        "max(0, v/2 − (z_o + v/2 − (D/2 − d_u/2 + v/2)/u)/√(1 + 1/u²))", GEOMETRY,
        wire="v", drop="z_o", diameter="D", outer="d_u", run="u")
def countersink_mm(wire: Number, drop: Number, diameter: Number, outer: Number, run: Number) -> Number:
    """Metal in mm to take off the ring's inner top edge, square to the pavilion, so that the pavilion clears it.

    ``run`` is the radius that the pavilion loses per mm of depth. The height of the pavilion above the ring
    wire's centre, measured square to the pavilion, less the wire's radius, is the room; none: countersink.
    """
    middle = outer / 2 - wire / 2
    above = drop + wire / 2 - (diameter / 2 - middle) / run
    return np.maximum(0.0, wire / 2 - above / np.sqrt(1 + 1 / run**2))


@figure("head.bridge", "Bridge of the U-piece", "mm", "o − 2·H·tan(σ) + w", GEOMETRY, places=1,
        opening="o", height="H", splay="σ", claw="w")
def bridge_mm(opening: Number, height: Number, splay: Number, claw: Number) -> Number:
    """Wire in mm across the foot between two opposite claws, middle to middle."""
    return opening - 2 * height * np.tan(np.radians(splay)) + claw


@figure("head.between_claws", "Daylight between neighbouring claws", "mm", "2·r_c·sin(180/N) − w", GEOMETRY,
        claw_radius="r_c", claws="N", claw="w")
def between_claws_mm(claw_radius: Number, claws: Number, claw: Number) -> Number:
    """Gap in mm between neighbouring claws at the seat; negative where they would run into each other."""
    return 2 * claw_radius * np.sin(np.pi / claws) - claw


@figure("head.metal_volume", "Metal in the head", "mm³", "π/4·(N·(l − a_f)·w² + (l_u + l_l)·v²)", GEOMETRY, places=1,
        claws="N", length="l", allowance="a_f", claw="w", upper="l_u", lower="l_l", wire="v")
def metal_volume_mm3(claws: Number, length: Number, allowance: Number, claw: Number, upper: Number, lower: Number,
                     wire: Number) -> Number:
    """Volume in mm³ of claws (less what is filed off) and both rings."""
    return np.pi / 4 * (claws * (length - allowance) * claw**2 + (upper + lower) * wire**2)


@dataclass(frozen=True)
class Basket:
    """A wire basket begun for one stone."""

    choice: HeadChoice
    facts: StoneFacts
    rules: HouseRules
    claw: float
    ring: float
    drop: float
    opening: Number
    reach: float

    @property
    def gallery_height(self) -> Number:
        """Drop of the upper ring, both rings, and daylight between them, in mm."""
        return self.drop + self.ring * (2 + self.rules.rings_apart_share)

    @property
    def least_height(self) -> Number:
        """Both rings touching, in mm."""
        return self.drop + self.ring * 2

    @property
    def fixed_height(self) -> Number | None:
        """A basket is made to its height."""
        return None

    @property
    def ring_drop(self) -> Number | None:
        """Upper ring's top below the girdle, mm."""
        return self.drop

    @property
    def claw_radius(self) -> Number:
        """Radius of the claw wire's centre at the seat plane, mm."""
        return self.opening / 2 + self.claw / 2

    def splay(self, height: Number) -> Number:
        """Splay in degrees at this height."""
        wanted = self.rules.splay_deg if self.choice.splay_deg is None else self.choice.splay_deg
        return splay_deg(wanted, self.rules.foot_share, self.claw_radius, height)

    def width_at(self, depth: Number, height: Number) -> Number:
        """Width in mm along the band at a depth below the seat."""
        return width_mm(self.claw_radius, depth, self.splay(height), self.reach, self.claw)

    def enter(self, ledger: Ledger, height: Number, alloy: Alloy) -> None:
        """Enter rings, claw and U-piece lengths, mass."""
        rules, stone = self.rules, self.facts.stone
        ledger.enter(height_mm, height)
        wanted = rules.splay_deg if self.choice.splay_deg is None else self.choice.splay_deg
        splay = ledger.enter(splay_deg, wanted, rules.foot_share, self.claw_radius, height)
        ledger.enter(width_mm, self.claw_radius, height, splay, self.reach, self.claw)
        upper_length, lower_length = self._enter_rings(ledger, height, splay)
        cover = ledger.enter(claws.tip_cover_mm, self.claw, rules.tip_cover_share, rules.tip_to_table_share,
                             stone.table, stone.diameter)
        length = ledger.enter(claws.claw_length_mm, height, splay, stone.girdle, cover, self.facts.crown_angle,
                              rules.bend_allowance_mm, rules.file_allowance_mm)
        bridge = ledger.enter(bridge_mm, self.opening, height, splay, self.claw)
        ledger.enter(claws.u_piece_length_mm, length, bridge, rules.handling_mm)
        ledger.enter(claws.open_arc_deg, float(self.choice.claws))
        ledger.enter(claws.open_arc_one_lost_deg, float(self.choice.claws))
        ledger.enter(between_claws_mm, self.claw_radius, float(self.choice.claws), self.claw)
        ledger.enter(bend_strain, self.claw * rules.tip_thinned_share, rules.bend_radius_mm)
        volume = ledger.enter(metal_volume_mm3, float(self.choice.claws), length, rules.file_allowance_mm, self.claw,
                              upper_length, lower_length, self.ring)
        ledger.enter(head_mass_g, volume, alloy.density)

    def _enter_rings(self, ledger: Ledger, height: Number, splay: Number) -> tuple[Number, Number]:
        groove, stone = self.rules.groove_share, self.facts.stone
        upper = ledger.enter(upper_ring_outer_mm, self.opening, self.drop, self.ring, splay, groove)
        upper_length = ledger.enter(upper_ring_wire_length_mm, upper, self.ring)
        lower = ledger.enter(lower_ring_outer_mm, self.opening, height, self.ring, splay, groove)
        lower_length = ledger.enter(lower_ring_wire_length_mm, lower, self.ring)
        ledger.enter(ring_groove_mm, groove, self.ring)
        ledger.enter(ring_hidden_by_mm, stone.diameter, upper)
        ledger.enter(countersink_mm, self.ring, self.drop, stone.diameter, upper, self.facts.run)
        return upper_length, lower_length


def begin(ledger: Ledger, choice: HeadChoice, facts: StoneFacts, rules: HouseRules) -> Basket:
    """Claw, notch and opening, which do not depend on the height."""
    claw = choice.claw_mm
    if claw is None:
        claw = claws.usual_wire_mm(facts.nominal_diameter, choice.claws, rules)
    ratio = rules.notch_target if choice.notch_ratio is None else choice.notch_ratio
    ring = choice.ring_mm if choice.ring_mm is not None else round(claw * rules.ring_wire_share * 20) / 20
    drop = rules.ring_drop_mm if choice.ring_drop_mm is None else choice.ring_drop_mm
    stone = facts.stone
    origin = COMMON_PRACTICE if choice.claw_mm is None else "chosen"
    ledger.given("head.claw", "Claw wire", "mm", claw, origin)
    ledger.given("head.ring_wire", "Ring wire", "mm", ring, "from memory" if choice.ring_mm is None else "chosen")
    ledger.given("head.ring_drop", "Upper ring's top below the girdle", "mm", drop,
                 COMMON_PRACTICE if choice.ring_drop_mm is None else "chosen")
    ledger.enter(gauge_number, claw)
    opening = ledger.enter(notches.claw_opening_mm, stone.diameter, ratio, claw)
    ledger.enter(notches.outer_over_claws_mm, stone.diameter, ratio, claw)
    depth = ledger.enter(notches.claw_depth_mm, ratio, claw)
    ledger.enter(notches.notch_ratio, stone.diameter, opening, claw)
    ledger.enter(notches.first_cut_mm, rules.first_cut_ratio, claw)
    ledger.enter(notches.claw_left_mm, claw, depth)
    places = claws.azimuths_deg(choice.claws, choice.orientation)
    reach = float(np.max(np.abs(np.cos(np.radians(places)))))
    return Basket(choice, facts, rules, claw, ring, drop, opening, reach)


def shape(ledger: Ledger, choice: HeadChoice, facts: StoneFacts, rules: HouseRules) -> HeadShape:
    """Claws closed over the crown, and both rings."""
    at = {key: float(ledger.value(f"head.{key}")) for key in (
        "claw", "ring_wire", "ring_drop", "inner_opening", "height", "splay", "upper_ring_outer", "lower_ring_outer",
        "tip_cover")}
    wire = at["ring_wire"]
    closing = closing_over(facts, at["tip_cover"], at["claw"] * rules.tip_thinned_share)
    inner = at["inner_opening"] / 2
    lean = float(np.tan(np.radians(at["splay"])))
    profile = closed_profile(inner, inner + at["claw"], lean, at["height"], closing)
    rings = (
        WireRing("upper ring", (at["upper_ring_outer"] - wire) / 2, -at["ring_drop"] - wire / 2, wire),
        WireRing("lower ring", (at["lower_ring_outer"] - wire) / 2, -at["height"] + wire / 2, wire),
    )
    made = Claws(claws.azimuths_deg(choice.claws, choice.orientation), profile, at["claw"],
                 closing.stone_radius - closing.cover)
    return HeadShape(at["height"], inner, made, rings, (), "head.outer_over_claws", "head.width_at_foot")


def seams(choice: HeadChoice, alloy: Alloy) -> list[Seam]:
    """A seam a ring, under a claw, then every claw to both rings."""
    found = [Seam(f"{name} ring seam", "hard", f"{name.capitalize()} ring seam, to lie under a claw", (alloy,))
             for name in ("upper", "lower")]
    for name in ("upper", "lower"):
        found += [Seam(f"claw {place + 1} to the {name} ring", "hard", f"Claws to the {name} ring", (alloy,),
                       "shield the ring's seam; chips small, one each side")
                  for place in range(choice.claws)]
    return found
