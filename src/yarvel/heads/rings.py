"""Rings of wire under a stone of any outline: how far inside its edge they lie, their size, their wire."""

from __future__ import annotations

from typing import Any

import numpy as np
from msgspec import Struct

from yarvel.figures.figure import COMMON_PRACTICE, GEOMETRY, FigureFunction, FigureKey, Ledger, Number, figure
from yarvel.figures.rules import HouseRules
from yarvel.heads.shape import WireRing
from yarvel.heads.style import HeadChoice, StoneFacts
from yarvel.stones import stone as stones
from yarvel.stones.outline import Outline

RING_WIRE = FigureKey("head.ring_wire")
RING_HIGH = FigureKey("head.ring_high")
RING_DROP = FigureKey("head.ring_drop")
RING_LIFT = FigureKey("head.ring_lift")
ROUND, SQUARE, STRIP = "round", "square", "strip"
SECTIONS = {ROUND: "Round wire", SQUARE: "Square wire", STRIP: "Strip, on edge"}
GROOVED, DRILLED = "grooved", "drilled"

POSTS = {GROOVED: "In filed grooves", DRILLED: "In drilled holes"}
"""How claws stand in a ring: in grooves filed into its outside, or as posts in holes drilled through its middle."""
ROUND_A_POST_MM = 0.6
"""A ring that posts are drilled into is wider than they are by this, half of it on each side; common practice."""


def square_edge_mm(level_mm: Number, drop_mm: Number, inset_mm: Number, run: Number) -> Number:
    """Metal in mm to take off the inner top edge, square to the pavilion, of a ring or wall that ends level
    ``drop_mm`` below the girdle: ``level_mm`` thick there, its outside ``inset_mm`` inside the stone's edge; ``run`` is
    the way in that the pavilion makes per mm of depth."""
    return np.maximum(0.0, (inset_mm + level_mm - run * drop_mm) / np.sqrt(1 + run**2))


def _inset(seat_mm: Number, deep_mm: Number, wire_mm: Number, splay_deg: Number, groove: Number) -> Number:
    """How far in mm a ring's outside lies inside the stone's edge: the claws' inner face there, less its groove."""
    return seat_mm + deep_mm * np.tan(np.radians(splay_deg)) - groove * wire_mm


def _across(size_mm: Number, losses: Number, inset_mm: Number) -> Number:
    """Outside in mm of a ring along one axis; ``losses`` is 2 where both ends are curves or sides, more at points."""
    return size_mm - losses * inset_mm


def _wire(perimeter_mm: Number, turn: Number, inset_mm: Number, wire_mm: Number, lost_mm: Number) -> Number:
    """Wire in mm for a ring: the mid-line of the outline moved inwards (``turn`` is 2π on a curve); ``lost_mm`` is what
    an edge takes with it that the offset swallows."""
    return perimeter_mm - turn * (inset_mm + wire_mm / 2) + lost_mm


def _cut(length_mm: Number, wire_mm: Number, corners: Number) -> Number:
    """Wire in mm to cut for a ring with corners: scored from inside and folded, or mitred, each corner is as long as it
    is outside; ``corners`` is the sum of tan(turn/2) over them."""
    return length_mm + corners * wire_mm


def _former(length_mm: Number, wire_mm: Number) -> Number:
    """Diameter in mm of the rod to wind a ring on before it is squeezed to its outline."""
    return length_mm / np.pi - wire_mm


ring_hidden_by_mm = figure(
    "head.ring_hidden_by",
    "Upper ring inside the stone's edge by",
    "mm",
    "s + z_m·tan(σ) − k·v",
    GEOMETRY,
    seat_mm="s",
    deep_mm="z_m",
    wire_mm="v",
    splay_deg="σ",
    groove="k",
)(_inset)
lower_ring_inset_mm = figure(
    "head.lower_ring_inset",
    "Lower ring inside the stone's edge by",
    "mm",
    "s + z_m·tan(σ) − k·v",
    GEOMETRY,
    seat_mm="s",
    deep_mm="z_m",
    wire_mm="v",
    splay_deg="σ",
    groove="k",
)(_inset)
upper_ring_outer_mm = figure(
    "head.upper_ring_outer",
    "Upper ring, outside",
    "mm",
    "W − m·δ",
    GEOMETRY,
    size_mm="W",
    losses="m",
    inset_mm="δ",
    shown_in="head",
)(_across)
lower_ring_outer_mm = figure(
    "head.lower_ring_outer",
    "Lower ring, outside",
    "mm",
    "W − m·δ",
    GEOMETRY,
    size_mm="W",
    losses="m",
    inset_mm="δ",
    shown_in="head",
)(_across)
upper_ring_long_mm = figure(
    "head.upper_ring_long",
    "Upper ring, lengthwise",
    "mm",
    "L − m·δ",
    GEOMETRY,
    size_mm="L",
    losses="m",
    inset_mm="δ",
    shown_in="head",
)(_across)
lower_ring_long_mm = figure(
    "head.lower_ring_long",
    "Lower ring, lengthwise",
    "mm",
    "L − m·δ",
    GEOMETRY,
    size_mm="L",
    losses="m",
    inset_mm="δ",
    shown_in="head",
)(_across)
upper_ring_wire_length_mm = figure(
    "head.upper_ring_wire_length",
    "Wire for the upper ring",
    "mm",
    "P − κ·(δ + v/2) + λ",
    GEOMETRY,
    places=1,
    perimeter_mm="P",
    turn="κ",
    inset_mm="δ",
    wire_mm="v",
    lost_mm="λ",
    shown_in="head",
)(_wire)
lower_ring_wire_length_mm = figure(
    "head.lower_ring_wire_length",
    "Wire for the lower ring",
    "mm",
    "P − κ·(δ + v/2) + λ",
    GEOMETRY,
    places=1,
    perimeter_mm="P",
    turn="κ",
    inset_mm="δ",
    wire_mm="v",
    lost_mm="λ",
    shown_in="head",
)(_wire)
upper_ring_cut_mm = figure(
    "head.upper_ring_cut_length",
    "Wire to cut for the upper ring",
    "mm",
    "l + τ·v",
    GEOMETRY,
    places=1,
    length_mm="l",
    wire_mm="v",
    corners="τ",
    shown_in="head",
)(_cut)
lower_ring_cut_mm = figure(
    "head.lower_ring_cut_length",
    "Wire to cut for the lower ring",
    "mm",
    "l + τ·v",
    GEOMETRY,
    places=1,
    length_mm="l",
    wire_mm="v",
    corners="τ",
    shown_in="head",
)(_cut)
upper_ring_former_mm = figure(
    "head.upper_ring_former",
    "Upper ring wound on a rod of",
    "mm",
    "l/π − v",
    GEOMETRY,
    length_mm="l",
    wire_mm="v",
    shown_in="head",
)(_former)
lower_ring_former_mm = figure(
    "head.lower_ring_former",
    "Lower ring wound on a rod of",
    "mm",
    "l/π − v",
    GEOMETRY,
    length_mm="l",
    wire_mm="v",
    shown_in="head",
)(_former)


@figure(
    "head.ring_groove",
    "Claw groove in the rings",
    "mm",
    "k·v",
    COMMON_PRACTICE,
    share="k",
    wire_mm="v",
    shown_in="head",
)
def ring_groove_mm(share: Number, wire_mm: Number) -> Number:
    """Depth in mm of the groove filed into a ring for each claw."""
    return share * wire_mm


@figure(
    "head.ring_groove_deepest",
    "Claw groove at the strip's foot",
    "mm",
    "k·v + u/2·tan(σ)",
    GEOMETRY,
    share="k",
    wire_mm="v",
    high_mm="u",
    splay_deg="σ",
    shown_in="head",
)
def deepest_groove_mm(share: Number, wire_mm: Number, high_mm: Number, splay_deg: Number) -> Number:
    """Depth in mm of a claw's groove at the underside of a strip on edge: the claw leans in, the strip stands."""
    return share * wire_mm + high_mm / 2 * np.tan(np.radians(splay_deg))


@figure(
    "head.countersink",
    "Countersink the upper ring by",
    "mm",
    "max(0, v/2 − (z_o + v/2 − (δ + v/2)/u)/√(1 + 1/u²))",
    GEOMETRY,
    wire_mm="v",
    drop_mm="z_o",
    inset_mm="δ",
    run="u",
    shown_in="head",
)
def countersink_mm(wire_mm: Number, drop_mm: Number, inset_mm: Number, run: Number) -> Number:
    """Metal in mm to take off the ring's inner top edge, square to the pavilion, so that the pavilion clears it.

    ``run`` is the way in that the pavilion makes per mm of depth. The height of the pavilion above the ring
    wire's centre, measured square to the pavilion, less the wire's radius, is the room; none: countersink.
    """
    above = drop_mm + wire_mm / 2 - (inset_mm + wire_mm / 2) / run
    return np.maximum(0.0, wire_mm / 2 - above / np.sqrt(1 + 1 / run**2))


square_countersink_mm = figure(
    "head.countersink",
    "Countersink the upper ring by",
    "mm",
    "max(0, (δ + v − u·z_o)/√(1 + u²))",
    GEOMETRY,
    level_mm="v",
    drop_mm="z_o",
    inset_mm="δ",
    run="u",
    shown_in="head",
)(square_edge_mm)


@figure(
    "head.drill_offset",
    "Drill in by, out by, from the wire's middle",
    "mm",
    "v/2·tan(σ)",
    GEOMETRY,
    wire_mm="v",
    splay_deg="σ",
)
def drill_offset_mm(wire_mm: Number, splay_deg: Number) -> Number:
    """How far in mm outside the wire's middle a post's hole enters at the top, and inside of it leaves at the bottom:
    it runs at the claws' slant."""
    return wire_mm / 2 * np.tan(np.radians(splay_deg))


@figure(
    "head.v_slot",
    "Slot for a V, from the ring's outside",
    "mm",
    "(v + w)/2",
    GEOMETRY,
    wire_mm="v",
    claw_mm="w",
)
def v_slot_mm(wire_mm: Number, claw_mm: Number) -> Number:
    """How deep in mm a ring that posts are drilled into is sawn open where a V stands in it, from outside: a V goes
    into no hole."""
    return axis_share(claw_mm, wire_mm) * wire_mm


def axis_share(claw_mm: Number, wire_mm: Number) -> Number:
    """What a groove would take of the ring's wire for a claw to stand in the wire's middle, as a share of it."""
    return (1 + claw_mm / wire_mm) / 2


def _turn(turn_deg: Number) -> Number:
    """Angle in degrees by which wire is bent where the ring turns most at a corner; scored first."""
    return turn_deg


def _mitre(turn_deg: Number) -> Number:
    """Angle in degrees between wire and mitre where the ends meet: half of the corner's own angle."""
    return (180 - turn_deg) / 2


ring_turn_deg = figure("head.ring_turn", "Upper ring turns at a corner by", "°", "θ", GEOMETRY, places=1, turn_deg="θ")(
    _turn
)
lower_ring_turn_deg = figure(
    "head.lower_ring_turn", "Lower ring turns at a corner by", "°", "θ", GEOMETRY, places=1, turn_deg="θ"
)(_turn)
ring_mitre_deg = figure(
    "head.ring_mitre", "Upper ring mitred at a corner to", "°", "(180 − θ)/2", GEOMETRY, places=1, turn_deg="θ"
)(_mitre)
lower_ring_mitre_deg = figure(
    "head.lower_ring_mitre", "Lower ring mitred at a corner to", "°", "(180 − θ)/2", GEOMETRY, places=1, turn_deg="θ"
)(_mitre)


def _middle(outline: Outline, inset_mm: float) -> Outline:
    """The mid-line of a ring's wire, ``inset_mm`` mm inside the stone's edge: curves beside a corner are swallowed by
    the offset, so that it turns more there than the stone."""
    return Outline(outline.inset(inset_mm), outline.cleft)


_INSETS = 4
"""At so many insets, evenly over what the readings leave open, a ring's line is worked out; between them it runs on."""


def _line_of(facts: StoneFacts, inset_mm: float) -> tuple[float, float, float]:
    """Of a ring's mid-line: what it is longer by than its sides shortened evenly, mm; the sum of tan(turn/2) over its
    corners, and the most that it turns at one, degrees (0 where it has none)."""
    outline = facts.outline
    middle = _middle(outline, inset_mm)
    # where an edge is swallowed by the offset, its negative length does not count
    lost = middle.perimeter - (outline.perimeter - outline.turn_sum * inset_mm)
    turns = middle.turning[list(middle.corners)]
    if not len(turns):
        return lost, 0.0, 0.0
    return lost, float(np.tan(turns / 2).sum()), float(np.degrees(turns.max()))


def _lines(facts: StoneFacts, inset_mm: Number) -> tuple[Number, Number, Number]:
    """The same over samples of the inset, (n,) each, or of one."""
    if np.ndim(inset_mm) == 0:
        return _line_of(facts, float(inset_mm))
    insets = np.linspace(np.min(inset_mm), np.max(inset_mm), _INSETS)
    table = np.array([_line_of(facts, float(inset)) for inset in insets])
    lost, corners, turn = (np.interp(inset_mm, insets, column) for column in table.T)
    return lost, corners, turn


def losses(facts: StoneFacts) -> tuple[float, float]:
    """Reach lost per mm of inset at both ends together, across the width and along the length."""
    if facts.cut.is_round:
        return 2.0, 2.0
    outline = facts.outline
    along = outline.loss(0.0) + outline.loss(180.0)
    across = outline.loss(90.0) + outline.loss(270.0)
    return (across, along) if facts.along_band else (along, across)


def along_band(facts: StoneFacts) -> tuple[Number, float]:
    """The stone's size along the band, and the reach lost there per mm of inset at both ends together."""
    wide, long = losses(facts)
    return (facts.stone.length_mm, long) if facts.along_band else (facts.stone.width_mm, wide)


class RingStock(Struct, frozen=True):
    """What a head's rings are made of: its ``section``, ``across_mm`` from inside to outside, ``high_mm`` from foot to
    top; mm."""

    across_mm: float
    high_mm: float
    section: str = ROUND

    @property
    def angular(self) -> bool:
        """Whether its section has corners."""
        return self.section != ROUND

    @property
    def full(self) -> float:
        """The share of across by high that its section fills."""
        return 1.0 if self.angular else np.pi / 4

    @property
    def area_mm2(self) -> float:
        """Its section in mm²."""
        return self.full * self.across_mm * self.high_mm


def round_wire(wire_mm: float) -> RingStock:
    """Round wire of this diameter in mm."""
    return RingStock(wire_mm, wire_mm)


def lower_inset_mm(
    seat_mm: Number, height_mm: Number, splay_deg: Number, across_mm: Number, high_mm: Number, groove: Number
) -> Number:
    """How far in mm the lower ring's outside lies inside the stone's edge."""
    return _inset(seat_mm, height_mm - high_mm / 2, across_mm, splay_deg, groove)


def enter_rings(
    ledger: Ledger,
    facts: StoneFacts,
    seat_mm: Number,
    height_mm: Number,
    splay_deg: Number,
    stock: RingStock,
    drop_mm: Number,
    groove: Number,
    count: int,
) -> tuple[Number, Number]:
    """Enter the upper ring, and the lower one where there are two; returns the lengths of their wires, mm (0 for none).
    An only ring is the upper one, and called the ring."""
    wire_mm, half = stock.across_mm, stock.high_mm / 2
    upper = ledger.enter(ring_hidden_by_mm, seat_mm, drop_mm + half, wire_mm, splay_deg, groove)
    upper_length = _enter_ring(ledger, facts, upper, wire_mm, OF_UPPER)
    lower_length: Number = 0.0
    if count > 1:
        lower = ledger.enter(lower_ring_inset_mm, seat_mm, height_mm - half, wire_mm, splay_deg, groove)
        lower_length = _enter_ring(ledger, facts, lower, wire_mm, OF_LOWER)
    if stock.angular:
        ledger.enter(square_countersink_mm, wire_mm, drop_mm, upper, facts.run)
    else:
        ledger.enter(countersink_mm, wire_mm, drop_mm, upper, facts.run)
    called = {**(_ONLY if count == 1 else {})}
    if stock.section == STRIP:
        called |= {key: called.get(key, label).replace("Wire", "Strip") for key, label in _OF_STRIP.items()}
    for key, label in called.items():
        if key in ledger.entries:
            ledger.call(key, label)
    return upper_length, lower_length


OF_UPPER = (
    upper_ring_outer_mm,
    upper_ring_long_mm,
    upper_ring_wire_length_mm,
    upper_ring_former_mm,
    upper_ring_cut_mm,
    ring_turn_deg,
    ring_mitre_deg,
)
OF_LOWER = (
    lower_ring_outer_mm,
    lower_ring_long_mm,
    lower_ring_wire_length_mm,
    lower_ring_former_mm,
    lower_ring_cut_mm,
    lower_ring_turn_deg,
    lower_ring_mitre_deg,
)
"""``OF_UPPER``, ``OF_LOWER``: by ring: its outside, length over all, wire, the rod that it is wound on; with corners
what to cut, how far they turn and how they are mitred."""
_ONLY: dict[FigureKey, str] = {
    RING_DROP: "Ring's top below the girdle",
    ring_hidden_by_mm: "Ring inside the stone's edge by",
    upper_ring_outer_mm: "Ring, outside",
    upper_ring_long_mm: "Ring, lengthwise",
    upper_ring_wire_length_mm: "Wire for the ring",
    upper_ring_former_mm: "Ring wound on a rod of",
    upper_ring_cut_mm: "Wire to cut for the ring",
    ring_turn_deg: "Ring turns at a corner by",
    ring_mitre_deg: "Ring mitred at a corner to",
    countersink_mm: "Countersink the ring by",
}
"""What figures of the upper ring are called where it is the only one."""
_OF_STRIP: dict[FigureKey, str] = {
    upper_ring_wire_length_mm: "Wire for the upper ring",
    lower_ring_wire_length_mm: "Wire for the lower ring",
    upper_ring_cut_mm: "Wire to cut for the upper ring",
    lower_ring_cut_mm: "Wire to cut for the lower ring",
}
"""What a ring takes of its stock, which of a strip is not called wire."""


def _enter_ring(
    ledger: Ledger,
    facts: StoneFacts,
    inset: Number,
    wire: float,
    figures: tuple[FigureFunction[Any], ...],
) -> Number:
    """Size, wire and former of one ring; returns the length of its wire, mm."""
    stone, (outer, along, length, former, cut, most, mitre) = facts.stone, figures
    turn = facts.outline.turn_sum if not facts.cut.is_round else 2 * np.pi
    wide, long = losses(facts)
    ledger.enter(outer, stone.width_mm, wide, inset)
    if not facts.cut.is_round:
        ledger.enter(along, stone.length_mm, long, inset)
    lost, corners, most_turn = (0.0, 0.0, 0.0) if facts.cut.is_round else _lines(facts, inset + wire / 2)
    needed = ledger.enter(length, ledger.value(stones.perimeter_mm), turn, inset, wire, lost)
    if facts.cut.is_round:
        return needed
    if not facts.outline.corners:
        ledger.enter(former, needed, wire)
        return needed
    ledger.enter(cut, needed, wire, corners)
    ledger.enter(most, most_turn)
    ledger.enter(mitre, most_turn)
    return needed


def pieces_mm(outline: Outline, inset_mm: float, wire_mm: float) -> list[tuple[float, float]]:
    """What a ring with corners is folded from: by side, from corner to corner, its length outside in mm and the tangent
    of half the turn at the corner that follows; the mid-line lies ``inset_mm`` mm inside the stone's edge. The ends
    meet where it turns most."""
    inner = _middle(outline, inset_mm)
    corners = inner.corners
    if not corners:
        return []
    first = int(np.argmax(inner.turning[list(corners)].round(6)))
    corners = (*corners[first:], *corners[:first])
    half = np.tan(inner.turning / 2)
    starts = np.concatenate([[0.0], np.cumsum(inner.lengths)])
    pieces = []
    for here, there in zip(corners, (*corners[1:], corners[0]), strict=True):
        along = float(starts[there] - starts[here]) % inner.perimeter or inner.perimeter
        pieces.append((along + wire_mm / 2 * float(half[here] + half[there]), float(half[there])))
    return pieces


def ring_shapes(ledger: Ledger, stock: RingStock, drop_mm: float, height_mm: float) -> tuple[WireRing, ...]:
    """The rings from the figures of a finished ledger: an upper and a lower one, or the only one."""
    upper = float(ledger.value(ring_hidden_by_mm))
    two = lower_ring_inset_mm in ledger.entries
    first = ring_shape(UPPER if two else ONLY, upper, -drop_mm - stock.high_mm / 2, stock)
    if not two:
        return (first,)
    lower = float(ledger.value(lower_ring_inset_mm))
    return first, ring_shape(LOWER, lower, -height_mm + stock.high_mm / 2, stock)


def ring_shape(name: str, inset_mm: float, z_mm: float, stock: RingStock) -> WireRing:
    """A ring whose outside lies ``inset_mm`` inside the stone's edge, its middle at the height ``z_mm``; mm."""
    return WireRing(
        name=name,
        inset_mm=inset_mm + stock.across_mm / 2,
        z_mm=z_mm,
        across_mm=stock.across_mm,
        high_mm=stock.high_mm,
        angular=stock.angular,
    )


def stock_of(choice: HeadChoice, rules: HouseRules, across_mm: float) -> RingStock:
    """What a head's rings are made of, so thick in mm from inside to outside."""
    if choice.ring_section != STRIP:
        return RingStock(across_mm, across_mm, choice.ring_section)
    usual = rules.ring_strip_high_share * across_mm
    return RingStock(across_mm, usual if choice.ring_high_mm is None else choice.ring_high_mm, STRIP)


UPPER, LOWER, ONLY = "upper ring", "lower ring", "ring"
"""Names of the rings as parts."""
