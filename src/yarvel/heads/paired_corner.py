"""Paired corner claws: two claws beside every cut corner hold on its two sides; the corner itself stays free."""

from __future__ import annotations

import numpy as np
from msgspec.structs import asdict

from yarvel.figures.figure import CHOSEN, FROM_MEMORY, GEOMETRY, FigureKey, Ledger, Number, figure
from yarvel.figures.rules import HouseRules
from yarvel.heads import rings, style
from yarvel.heads.basket import Basket, basket_shape, begin_basket
from yarvel.heads.basket_seams import basket_seams
from yarvel.heads.claws import usual_wire_mm
from yarvel.heads.field import HeadField
from yarvel.heads.places import ClawPosition
from yarvel.heads.shape import HeadShape
from yarvel.heads.style import HeadChoice, StoneFacts
from yarvel.metals.alloys import Alloy
from yarvel.metals.joints import Seam
from yarvel.stones.cut import Cut
from yarvel.stones.outline import Outline

PAIRS = FigureKey("head.pairs")

STYLE = "paired-corner"
LABEL = "Paired corners"
STANDS_ON = style.CLAWS
COMES = style.OF_WIRE
OWN: tuple[HeadField, ...] = ()
FIELDS = (
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
    "stone_axis",
)
CORNERS = 4
_SHARE_OF_SIDE = 0.35


@figure(
    "head.corner_free",
    "Corner free in a pair",
    "mm",
    "e − w",
    GEOMETRY,
    apart_mm="e",
    claw_mm="w",
    shown_in="head",
)
def corner_free_mm(apart_mm: Number, claw_mm: Number) -> Number:
    """Free way in mm between the two claws of one corner, where the stone's corner lies."""
    return apart_mm - claw_mm


@figure(
    "head.gallery_skim",
    "Skim the gallery by",
    "mm",
    "max(0, (s_c − z_o·u)·(1 − 1/√(2)))",
    FROM_MEMORY,
    corner_mm="s_c",
    drop_mm="z_o",
    run="u",
    shown_in="head",
)
def gallery_skim_mm(corner_mm: Number, drop_mm: Number, run: Number) -> Number:
    """Metal in mm to take off the gallery behind a cut corner, where a deep pavilion bulges: what the ring's corner
    cuts off the diagonal, less the pavilion's way in down to the ring."""
    skim: Number = np.maximum(0.0, (corner_mm - drop_mm * run) * (1 - 1 / np.sqrt(2)))
    return skim


class PairedBasket(Basket, frozen=True, kw_only=True):
    """A basket of pairs: what its gallery leaves behind the corners follows from where its ring lies."""

    def enter(self, ledger: Ledger, seat_height_mm: Number, free_mm: Number, alloy: Alloy) -> None:
        """Enter what every basket has, and the skimming of the gallery."""
        super().enter(ledger, seat_height_mm, free_mm, alloy)
        drop = ledger.value(rings.RING_DROP)
        ledger.enter(gallery_skim_mm, self.facts.stone.corner_mm, drop, self.facts.run)


def clawed(cut: str) -> bool:
    """Always."""
    return True


def suits(cut: Cut) -> bool:
    """Cuts with cut or rounded corners."""
    return cut.takes_pairs


def pairs(outline: Outline, claw_mm: float) -> tuple[ClawPosition, ...]:
    """Two places a corner: on the long sides' ends just beside the corner, or a claw's width along a round one."""
    step = claw_mm * 0.75
    lean = np.abs(outline.normals[:, 0] * outline.normals[:, 1])
    cut = np.flatnonzero(lean > 0.4).tolist()
    places: list[ClawPosition] = []
    if len(outline.points) <= 2 * CORNERS:
        count = len(outline.points)
        for face in cut:
            before, after = (face - 1) % count, (face + 1) % count
            reach_before = min(step, _SHARE_OF_SIDE * float(outline.lengths[before]))
            reach_after = min(step, _SHARE_OF_SIDE * float(outline.lengths[after]))
            places.append(_on(outline, before, float(outline.lengths[before]) - reach_before))
            places.append(_on(outline, after, reach_after))
    else:
        for quarter in range(CORNERS):
            for off in (-18.0, 18.0):
                azimuth = np.radians(45.0 + 90.0 * quarter + off)
                reach = outline.points @ np.array([np.cos(azimuth), np.sin(azimuth)])
                edge = int(np.argmax(reach))
                places.append(_on(outline, edge, 0.0))
    return tuple(sorted(places, key=lambda place: place.azimuth_deg))


def _on(outline: Outline, edge: int, along: float) -> ClawPosition:
    x, y = (outline.points[edge] + outline.edges[edge] * along / outline.lengths[edge]).tolist()
    normal = outline.normals[edge]
    return ClawPosition(x, y, float(np.degrees(np.arctan2(normal[1], normal[0])) % 360))


def _places(choice: HeadChoice, facts: StoneFacts, rules: HouseRules) -> tuple[ClawPosition, ...]:
    claw = choice.claw_mm
    if claw is None:
        claw = usual_wire_mm(facts.nominal_diameter_mm, 2 * CORNERS, rules, facts.narrowest, choice.soft)
    return pairs(facts.outline, claw)


def begin(ledger: Ledger, choice: HeadChoice, facts: StoneFacts, rules: HouseRules) -> Basket:
    """As for a basket of eight claws."""
    basket = begin_basket(ledger, choice, facts, rules, _places(choice, facts, rules))
    ledger.given(PAIRS, "Pairs of claws", "", float(CORNERS), CHOSEN, places=0)
    first, second = basket.places[:2]
    ledger.enter(corner_free_mm, float(np.hypot(first.x_mm - second.x_mm, first.y_mm - second.y_mm)), basket.claw_mm)
    return PairedBasket(**asdict(basket))


def shape(ledger: Ledger, choice: HeadChoice, facts: StoneFacts, rules: HouseRules) -> HeadShape:
    """Eight claws in four pairs, and the rings."""
    return basket_shape(ledger, choice, facts, rules, _places(choice, facts, rules))


def seams(choice: HeadChoice, facts: StoneFacts, alloy: Alloy) -> list[Seam]:
    """A seam a ring, then every claw to every ring."""
    return basket_seams(pairs(facts.outline, choice.claw_mm or 1.0), alloy, choice)
