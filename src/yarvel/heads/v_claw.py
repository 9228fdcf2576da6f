"""V-claws: sheet or angle stock over every sharp point, folded whole or as two tabs; round wire between, if any."""

from __future__ import annotations

from yarvel.figures.figure import Ledger
from yarvel.figures.rules import HouseRules
from yarvel.heads import style
from yarvel.heads.basket import MAKING_RINGS, Basket, basket_seams, basket_shape, begin_basket
from yarvel.heads.shape import HeadShape
from yarvel.heads.style import HeadChoice, Making, StoneFacts, places_of
from yarvel.heads.vees import FOLD, TABS
from yarvel.metals.alloys import Alloy
from yarvel.metals.joints import Seam
from yarvel.stones.cut import Cut

STYLE = "v-claw"
LABEL = "V-claws"
STANDS_ON = style.CLAWS
FIELDS = (
    "claws",
    "school",
    "claw_mm",
    "splay_deg",
    "ring_mm",
    "ring_drop_mm",
    "ring_lift_mm",
    "notch_ratio",
    "claw_places_deg",
    "stone_axis",
)


def suits(cut: Cut) -> bool:
    """Cuts with sharp points."""
    return cut.pointed


def begin(ledger: Ledger, choice: HeadChoice, facts: StoneFacts, rules: HouseRules) -> Basket:
    """As for a basket; the metal is the V's sheet."""
    return begin_basket(ledger, choice, facts, rules)


def shape(ledger: Ledger, choice: HeadChoice, facts: StoneFacts, rules: HouseRules) -> HeadShape:
    """Vs over the points, and both rings."""
    return basket_shape(ledger, facts, rules, places_of(choice, facts))


def seams(choice: HeadChoice, facts: StoneFacts, alloy: Alloy) -> list[Seam]:
    """Every V scored, folded and its corner flowed, then as for a basket."""
    scored = [
        Seam(
            f"fold of claw {place + 1}",
            "hard",
            "Scored folds of the Vs",
            (alloy,),
            "solder just enough to fill the score",
            ((f"claw {place + 1}", 3.0),),
        )
        for place in range(len(places_of(choice, facts)))
    ]
    return scored + basket_seams(places_of(choice, facts), alloy)


_SCORED = (
    "Scribe the fold line on {head.v_width} wide strip of {head.claw} sheet, score it no deeper than "
    "{head.guide_line} at first, then to half, and fold to {head.v_angle}.",
    "both legs {head.v_leg}, fold sharp",
)
_RELIEF = (
    "Drill the relief hole of {head.relief_hole} where the stone's corner will lie, and clear the keel line "
    "down to "
    "{head.keel_cut} below the girdle.",
    "{head.left_behind_relief} left outside the hole; the corner is free",
)
_LAID = ("Lay the stone on the crowns of the Vs.", "it just reaches the insides of the tips")
_CLOSING = {
    FOLD: (
        "Undercut each V at the girdle to half and leave it whole: it is folded over the point in one piece.",
        "the undercut is even on both legs",
    ),
    TABS: (
        "Saw each V's corner down to the girdle: two tabs, each folded over its own side; they bear "
        "{head.tab_strength} of what the whole V does.",
        "the saw cut ends above the relief hole",
    ),
}


def making(choice: HeadChoice) -> Making:
    """Scored and folded, relieved, then by the school."""
    return (_SCORED, _RELIEF, _LAID, _CLOSING[choice.school], *MAKING_RINGS)
