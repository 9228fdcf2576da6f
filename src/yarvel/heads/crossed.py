"""Crossed wires: two U's of claw wire that cross under the culet, halved into each other; four claws and no ring."""

from __future__ import annotations

import numpy as np
from msgspec.structs import asdict

from yarvel.figures.figure import GEOMETRY, Ledger, Number, figure
from yarvel.figures.rules import HouseRules
from yarvel.heads import claws, notches, rings, style
from yarvel.heads.basket import (
    Basket,
    begin_basket,
    enter_hold,
    enter_splay,
    enter_us,
    foot_over_claws_mm,
    metal_volume_mm3,
)
from yarvel.heads.shape import Claws, HeadShape, Hooks, closed_profile
from yarvel.heads.style import FOOT, HeadChoice, StoneFacts, closing_over, height_mm, places_of
from yarvel.metals.alloys import Alloy, head_mass_g
from yarvel.metals.joints import Seam

CLAWS = 4
"""Two U's have so many."""


@figure("head.halved", "Halved where the wires cross", "mm", "w/2", GEOMETRY, claw_mm="w", shown_in="head")
def halved_mm(claw_mm: Number) -> Number:
    """Depth in mm to which each wire is filed through at the middle of its bar, so that both lie in one plane."""
    return claw_mm / 2


class Crossed(Basket, frozen=True, kw_only=True):
    """A basket of two U's: its foot is where they cross."""

    @property
    def gallery_height(self) -> Number:
        """The wires that cross, room over them, and the pavilion, mm."""
        return self.facts.stone.pavilion_depth_mm + self.rules.culet_clearance_mm + self.claw_mm

    @property
    def least_height(self) -> Number:
        """The wires alone, mm."""
        return self.claw_mm

    @property
    def floor_mm(self) -> Number:
        """The wires that cross under the culet, mm."""
        return self.claw_mm

    @property
    def fixed_height(self) -> Number | None:
        """None: it is bent to its height."""
        return None

    def ring_drop(self, height_mm: Number) -> Number | None:
        """None: there is no ring; ``height_mm`` in mm."""
        return None

    def width_at(self, depth_mm: Number, height_mm: Number) -> Number:
        """Width in mm along the band at a depth below the seat, over the claws."""
        return self.along.width_mm(depth_mm, height_mm, self.splay(height_mm))

    def enter(self, ledger: Ledger, seat_height_mm: Number, free_mm: Number, alloy: Alloy) -> None:
        """Enter claws and U's, where they cross, holding, mass."""
        ledger.enter(height_mm, seat_height_mm)
        splay = enter_splay(ledger, self, seat_height_mm)
        over = self.along.over(seat_height_mm, seat_height_mm, splay)
        ledger.enter(foot_over_claws_mm, *over.of_figure, seat_height_mm, splay)
        length = self.enter_length(ledger, seat_height_mm, splay)
        ledger.enter(halved_mm, self.claw_mm)
        bridge = enter_us(ledger, self, length, seat_height_mm, splay)
        enter_hold(ledger, self)
        whole, filed = length + bridge / 2, self.rules.file_allowance_mm
        volume = ledger.enter(metal_volume_mm3, float(CLAWS), self.claw_mm, 0.0, 0.0, 0.0, whole, filed, 0.0, 0.0, 0.0)
        ledger.enter(head_mass_g, volume, alloy.density)


def begin(ledger: Ledger, choice: HeadChoice, facts: StoneFacts, rules: HouseRules) -> Crossed:
    """As for a basket, without its rings."""
    basket = begin_basket(ledger, choice, facts, rules)
    for key in (rings.RING_WIRE, rings.RING_DROP):
        ledger.entries.pop(key, None)
    return Crossed(**asdict(basket))


def shape(ledger: Ledger, choice: HeadChoice, facts: StoneFacts, rules: HouseRules) -> HeadShape:
    """Claws closed over the crown, and the bars that run in from their feet to where they cross."""
    keys = (claws.CLAW, height_mm, style.SPLAY, claws.tip_cover_mm, notches.SEAT_DEPTH)
    claw, height, splay, cover, seat = (float(ledger.value(key)) for key in keys)
    lean = float(np.tan(np.radians(splay)))
    profile = closed_profile(
        -seat, claw - seat, lean, height, closing_over(facts, cover, claw * rules.tip_thinned_share)
    )
    places = places_of(choice, facts)
    middle = claw / 2 - seat - (height - claw / 2) * lean
    starts = [(place.x_mm + middle * place.normal[0], place.y_mm + middle * place.normal[1]) for place in places]
    hooks = Hooks(tuple((start, (0.0, 0.0)) for start in starts), -height + claw / 2, claw)
    claws_made = Claws(places, profile, claw, cover)
    outer, foot = notches.outer_over_claws_mm, style.WIDTH_AT_FOOT
    return HeadShape(
        outline=facts.outline,
        height_mm=height,
        opening_inset_mm=seat,
        claws=claws_made,
        rings=(),
        walls=(),
        outer_key=outer,
        foot_key=foot,
        on_legs=True,
        hooks=hooks,
    )


def seams(alloy: Alloy) -> list[Seam]:
    """The one joint where the wires cross."""
    return [
        Seam(
            what="the wires where they cross",
            grade="hard",
            group="crossing",
            metals=(alloy,),
            ends=((FOOT, 0.0), ("claw 1", 3.0)),
        )
    ]
