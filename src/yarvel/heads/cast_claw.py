"""Cast claws over a cabochon: annealed before bending, curved to the dome beforehand."""

from __future__ import annotations

import math

import numpy as np
from msgspec.structs import asdict

from yarvel.figures.figure import GEOMETRY, FigureKey, Ledger, Number, figure
from yarvel.figures.rules import HouseRules
from yarvel.heads import basket, claws, notches, rings, style
from yarvel.heads.basket import Basket, basket_shape, begin_basket
from yarvel.heads.field import HeadField
from yarvel.heads.shape import HeadShape
from yarvel.heads.style import HeadChoice, StoneFacts, places_of
from yarvel.metals.alloys import Alloy
from yarvel.metals.joints import Seam
from yarvel.stones.cut import Cut
from yarvel.stones.stone import DOME_SHARE

STYLE = "cast-claw"
LABEL = "Cast claws"
STANDS_ON = style.CLAWS
COMES = style.CAST
OWN: tuple[HeadField, ...] = ()
FIELDS = (
    "claws",
    "orientation",
    "claw_mm",
    "splay_deg",
    "rings",
    "ring_section",
    "ring_mm",
    "ring_high_mm",
    "ring_drop_mm",
    "ring_lift_mm",
    "notch_ratio",
    "claw_places_deg",
    "stone_axis",
)


@figure(
    "head.dome_radius",
    "Curve the claw to a radius of",
    "mm",
    "((W/2)²·(1 − c²) + (h_c·c)²)·√((W/2)²·(1 − c²) + (h_c·c)²)/(W/2·h_c)",
    GEOMETRY,
    width_mm="W",
    height_mm="h_c",
    cosine="c",
    shown_in="head",
)
def dome_radius_mm(width_mm: Number, height_mm: Number, cosine: float) -> Number:
    """Radius of curvature in mm of the dome's half ellipse where the tip ends; ``cosine`` of its running angle."""
    half = width_mm / 2
    square = half**2 * (1 - cosine**2) + (height_mm * cosine) ** 2
    radius: Number = square * np.sqrt(square) / (half * height_mm)
    return radius


@figure(
    "head.least_bend_radius",
    "Least bend, annealed",
    "mm",
    "t/2·(1/ε − 1)",
    GEOMETRY,
    thickness_mm="t",
    elongation="ε",
    shown_in="head",
)
def least_bend_radius_mm(thickness_mm: Number, elongation: Number) -> Number:
    """Inside radius in mm at which the outer fibre just reaches the annealed metal's elongation."""
    return thickness_mm / 2 * (1 / elongation - 1)


def clawed(cut: str) -> bool:
    """Always."""
    return True


def suits(cut: Cut) -> bool:
    """Cabochons."""
    return cut.domed


HIDDEN_MM, LEAST_WITHIN = 0.02, 0.1
"""How far a cast bed lies inside the stone's edge, and how much of its wire its claws run into at the least; from
memory."""


_OF_WIRE: tuple[FigureKey, ...] = (
    basket.bridge_mm,
    claws.u_piece_length_mm,
    rings.ring_groove_mm,
    rings.deepest_groove_mm,
    *rings.OF_UPPER[2:],
    *rings.OF_LOWER[2:],
)
"""Figures of what is cut, bent, mitred and grooved."""


class CastClaws(Basket, frozen=True, kw_only=True):
    """A cast basket: as one of wire, with the dome to bend to, and its bed where it hides."""

    @property
    def _groove(self) -> Number:
        """The share of the bed's wire that lies within a claw: nobody files grooves into a casting, so it lies as far
        in as the stone hides it, and runs into its claws at least by a tenth."""
        lean = math.tan(math.radians(self.rules.splay_deg if self.choice.splay_deg is None else self.choice.splay_deg))
        hidden = (self.seat_mm + (self.drop_mm + self.ring.high_mm / 2) * lean - HIDDEN_MM) / self.ring.across_mm
        return np.clip(hidden, LEAST_WITHIN, self.rules.groove_share)

    def enter(self, ledger: Ledger, seat_height_mm: Number, free_mm: Number, alloy: Alloy) -> None:
        """Enter all of a basket, and the dome's radius against the least that the metal bends to."""
        super().enter(ledger, seat_height_mm, free_mm, alloy)
        none = (notches.first_cut_mm,) if self.choice.notch_ratio == 0 else ()
        for key in (*_OF_WIRE, *none):  # nothing of a casting is bent from wire
            ledger.entries.pop(key, None)
        stone = self.facts.stone
        ledger.enter(dome_radius_mm, stone.width_mm, stone.crown_height_mm, 1 - 2 * DOME_SHARE)
        ledger.enter(least_bend_radius_mm, self.claw_mm * self.rules.tip_thinned_share, alloy.elongation_annealed)


def begin(ledger: Ledger, choice: HeadChoice, facts: StoneFacts, rules: HouseRules) -> Basket:
    """As for a basket."""
    basket = begin_basket(ledger, choice, facts, rules)
    return CastClaws(**asdict(basket))


def shape(ledger: Ledger, choice: HeadChoice, facts: StoneFacts, rules: HouseRules) -> HeadShape:
    """Claws closed over the dome, and the rings."""
    return basket_shape(ledger, choice, facts, rules, places_of(choice, facts))


def seams(choice: HeadChoice, facts: StoneFacts, alloy: Alloy) -> list[Seam]:
    """A casting comes in one piece."""
    return []
