"""V-claws: sheet or angle stock over every sharp point, folded whole or as two tabs; round wire between, if any."""

from __future__ import annotations

from yarvel.figures.figure import Ledger
from yarvel.figures.rules import HouseRules
from yarvel.heads import style, vees
from yarvel.heads.basket import Basket, basket_shape, begin_basket
from yarvel.heads.basket_seams import basket_seams
from yarvel.heads.field import HeadField
from yarvel.heads.shape import HeadShape
from yarvel.heads.style import HeadChoice, StoneFacts, places_of
from yarvel.metals.alloys import Alloy
from yarvel.metals.joints import Seam
from yarvel.stones.cut import Cut

STYLE = "v-claw"
LABEL = "V-claws"
STANDS_ON = style.CLAWS
COMES = style.OF_WIRE
OWN: tuple[HeadField, ...] = ()
FIELDS = (
    "claws",
    "school",
    "v_from",
    "v_foot_mm",
    "claw_mm",
    "splay_deg",
    "rings",
    "legs",
    "ring_section",
    "ring_mm",
    "ring_high_mm",
    "ring_drop_mm",
    "ring_lift_mm",
    "notch_ratio",
    "claw_places_deg",
    "stone_axis",
)


def clawed(cut: str) -> bool:
    """Always."""
    return True


def suits(cut: Cut) -> bool:
    """Cuts with sharp points."""
    return cut.pointed


def begin(ledger: Ledger, choice: HeadChoice, facts: StoneFacts, rules: HouseRules) -> Basket:
    """As for a basket; the metal is the V's sheet."""
    return begin_basket(ledger, choice, facts, rules)


def shape(ledger: Ledger, choice: HeadChoice, facts: StoneFacts, rules: HouseRules) -> HeadShape:
    """Vs over the points, and the rings."""
    return basket_shape(ledger, choice, facts, rules, places_of(choice, facts))


def seams(choice: HeadChoice, facts: StoneFacts, alloy: Alloy) -> list[Seam]:
    """Every V scored, folded and its corner flowed (none that is filed from solid), then as for a basket."""
    if choice.v_from == vees.SOLID:
        return basket_seams(places_of(choice, facts), alloy, choice)
    scored = [
        Seam(
            what=f"fold of claw {place + 1}",
            grade="hard",
            group="v-folds",
            metals=(alloy,),
            shield="solder just enough to fill the score",
            ends=((f"claw {place + 1}", 3.0),),
        )
        for place in range(len(places_of(choice, facts)))
    ]
    return scored + basket_seams(places_of(choice, facts), alloy, choice)
