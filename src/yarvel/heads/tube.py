"""Tube (straight bezel): a length of tube, seated or to be seated, its rim rolled over the girdle."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from yarvel.figures.figure import GEOMETRY, Ledger, Number, figure
from yarvel.figures.rules import HouseRules
from yarvel.heads import notches
from yarvel.heads.heights import clear_of_culet
from yarvel.heads.shape import HeadShape, Wall, closed_profile
from yarvel.heads.style import HeadChoice, StoneFacts, closing_over, height_mm
from yarvel.metals.alloys import Alloy, head_mass_g
from yarvel.metals.joints import Seam

STYLE = "tube"
LABEL = "Tube"
LIP_THINNED = 0.8
"""A lip rolled over the crown is drawn at this share of its wall; from memory."""
FIELDS = ("wall_mm", "height_mm", "seated", "notch_ratio")


@figure("head.tube_outer", "Tube, outside", "mm", "D + 2·l", GEOMETRY, diameter="D", lip="l")
def tube_outer_mm(diameter: Number, lip: Number) -> Number:
    """Outside diameter in mm of the tube: the stone and the wall left outside the girdle."""
    return diameter + 2 * lip


@figure("head.inner_opening", "Bore of the tube", "mm", "d_o − 2·t_w", GEOMETRY, outer="d_o", wall="t_w")
def bore_mm(outer: Number, wall: Number) -> Number:
    """Bore in mm below the seat."""
    return outer - 2 * wall


@figure("head.tube_length", "Length of tube", "mm", "H + g + e", GEOMETRY, height="H", girdle="g", rim="e")
def tube_length_mm(height: Number, girdle: Number, rim: Number) -> Number:
    """Length in mm of tube to cut: below the seat, the girdle, and the rim to roll over."""
    return height + girdle + rim


@figure("head.metal_volume", "Metal in the head", "mm³", "π·(d_o − t_w)·t_w·l_t", GEOMETRY, places=1,
        outer="d_o", wall="t_w", length="l_t")
def metal_volume_mm3(outer: Number, wall: Number, length: Number) -> Number:
    """Volume in mm³ of the tube before the seat is cut."""
    return np.pi * (outer - wall) * wall * length


@dataclass(frozen=True)
class Tube:
    """A tube begun for one stone."""

    choice: HeadChoice
    facts: StoneFacts
    rules: HouseRules
    wall: float
    outer: Number

    @property
    def _needed(self) -> Number:
        return clear_of_culet(self.facts.stone.pavilion_depth, self.rules.culet_clearance_mm)

    @property
    def gallery_height(self) -> Number:
        """The whole pavilion lies inside the tube."""
        return self._needed

    @property
    def least_height(self) -> Number:
        """Enough wall under the seat to bear the stone, mm."""
        return 2 * self.wall

    @property
    def fixed_height(self) -> Number | None:
        """Height below the seat where the job gives the tube's whole length."""
        if self.choice.height_mm is None:
            return None
        below = self.choice.height_mm - self.facts.stone.girdle - self.rules.tube_rim_mm
        return np.maximum(below, self.wall)

    @property
    def ring_drop(self) -> Number | None:
        """A tube has no rings."""
        return None

    def width_at(self, depth: Number, height: Number) -> Number:
        """A tube is as wide at every depth."""
        return self.outer + 0.0 * (depth + height)

    def enter(self, ledger: Ledger, height: Number, alloy: Alloy) -> None:
        """Enter lengths and mass."""
        ledger.enter(height_mm, height)
        length = ledger.enter(tube_length_mm, height, self.facts.stone.girdle, self.rules.tube_rim_mm)
        volume = ledger.enter(metal_volume_mm3, self.outer, self.wall, length)
        ledger.enter(head_mass_g, volume, alloy.density)


def usual_wall_mm(diameter: float, rules: HouseRules) -> float:
    """Wall in mm by the house rules; thinner on small stones, so that a bore is left under them."""
    return round(min(rules.tube_wall_mm, rules.tube_lip_mm + rules.tube_ledge_share * diameter), 2)


def ledge_asked_mm(diameter: float, choice: HeadChoice, rules: HouseRules) -> float:
    """Width of the ledge in mm that a choice asks for."""
    wall = usual_wall_mm(diameter, rules) if choice.wall_mm is None else choice.wall_mm
    if choice.notch_ratio is not None:
        return choice.notch_ratio * wall
    return max(wall - rules.tube_lip_mm, 0.0)


def begin(ledger: Ledger, choice: HeadChoice, facts: StoneFacts, rules: HouseRules) -> Tube:
    """Outside, bore and ledge."""
    wall = usual_wall_mm(facts.nominal_diameter, rules) if choice.wall_mm is None else choice.wall_mm
    stone = facts.stone
    ledger.given("head.wall", "Tube wall", "mm", wall, "from memory" if choice.wall_mm is None else "chosen")
    lip: Number = rules.tube_lip_mm
    if choice.notch_ratio is not None:
        lip = wall * (1 - choice.notch_ratio)
    outer = ledger.enter(tube_outer_mm, stone.diameter, np.minimum(lip, wall))
    bore = ledger.enter(bore_mm, outer, wall)
    depth = ledger.enter(notches.wall_reach_mm, stone.diameter, bore)
    ledger.enter(notches.notch_ratio, stone.diameter, bore, wall)
    if not choice.seated:
        ledger.enter(notches.first_cut_mm, rules.first_cut_ratio, wall)
    ledger.enter(notches.wall_left_mm, wall, depth)
    return Tube(choice, facts, rules, wall, outer)


def shape(ledger: Ledger, choice: HeadChoice, facts: StoneFacts, rules: HouseRules) -> HeadShape:
    """The wall with its ledge, rolled over the crown."""
    stone = facts.stone
    outer, bore = (float(ledger.value(f"head.{key}")) / 2 for key in ("tube_outer", "inner_opening"))
    height = float(ledger.value("head.height"))
    cover = min(rules.tube_rim_mm, rules.tip_to_table_share * (1 - float(stone.table)) * float(stone.diameter) / 2)
    closing = closing_over(facts, cover, (outer - float(stone.diameter) / 2) * LIP_THINNED)
    wall = Wall("tube", closed_profile(bore, outer, 0.0, height, closing))
    return HeadShape(height, bore, None, (), (wall,), "head.tube_outer", "head.tube_outer")


def seams(choice: HeadChoice, alloy: Alloy) -> list[Seam]:
    """Drawn tube has no seam."""
    return []
