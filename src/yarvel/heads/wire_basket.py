"""Wire basket: claws of round wire (a V over each sharp point) on two rings, on one, or two U's that cross."""

from __future__ import annotations

from yarvel.figures.figure import Ledger
from yarvel.figures.rules import HouseRules
from yarvel.heads import crossed, style
from yarvel.heads.basket import Basket, basket_shape, begin_basket
from yarvel.heads.basket_seams import basket_seams
from yarvel.heads.field import HeadField
from yarvel.heads.shape import HeadShape
from yarvel.heads.style import HeadChoice, StoneFacts, places_of
from yarvel.metals.alloys import Alloy
from yarvel.metals.joints import Seam
from yarvel.stones.cut import Cut

STYLE = "wire-basket"
LABEL = "Wire basket"
STANDS_ON = style.CLAWS
COMES = style.OF_WIRE
OWN: tuple[HeadField, ...] = ()
FIELDS = (
    "claws",
    "orientation",
    "claw_mm",
    "splay_deg",
    "rings",
    "legs",
    "ring_section",
    "posts",
    "ring_mm",
    "ring_high_mm",
    "ring_drop_mm",
    "ring_lift_mm",
    "notch_ratio",
    "school",
    "v_from",
    "v_foot_mm",
    "claw_places_deg",
    "stone_axis",
)


def clawed(cut: str) -> bool:
    """Always."""
    return True


def suits(cut: Cut) -> bool:
    """Every cut."""
    return True


def begin(ledger: Ledger, choice: HeadChoice, facts: StoneFacts, rules: HouseRules) -> Basket:
    """Claw, notch and opening, which do not depend on the height."""
    return (
        crossed.begin(ledger, choice, facts, rules) if choice.rings == 0 else begin_basket(ledger, choice, facts, rules)
    )


def shape(ledger: Ledger, choice: HeadChoice, facts: StoneFacts, rules: HouseRules) -> HeadShape:
    """Claws closed over the crown, and the rings, or the wires that cross."""
    if choice.rings == 0:
        return crossed.shape(ledger, choice, facts, rules)
    return basket_shape(ledger, choice, facts, rules, places_of(choice, facts))


def seams(choice: HeadChoice, facts: StoneFacts, alloy: Alloy) -> list[Seam]:
    """A seam a ring, then every claw to every ring."""
    return crossed.seams(alloy) if choice.rings == 0 else basket_seams(places_of(choice, facts), alloy, choice)
