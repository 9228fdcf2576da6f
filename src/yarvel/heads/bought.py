"""Bought head: made for a size, taken as it is; the stone in hand decides how deep its notches become.

A head for another outline than a circle is made for a length and a width. A stone that differs from either lies deeper
in the claws at its ends than in those at its sides, or the other way round: each place has its own seat depth."""

from __future__ import annotations

from functools import cached_property

import numpy as np

from yarvel.figures.figure import ASSUMED, CHOSEN, FROM_MEMORY, GEOMETRY, MEASURED, FigureKey, Ledger, Number, figure
from yarvel.figures.rules import HouseRules
from yarvel.heads import basket, claws, notches, reach, rings, style, vees
from yarvel.heads.claws import CLAW
from yarvel.heads.field import HeadField
from yarvel.heads.places import POINT, ClawPosition, drawn_in, shares_at
from yarvel.heads.shape import Claws, HeadShape, Vees, WireRing, closed_profile
from yarvel.heads.style import BegunHead, HeadChoice, StoneFacts, closing_over, height_mm, places_of
from yarvel.metals.alloys import Alloy, head_mass_g
from yarvel.metals.joints import Seam
from yarvel.stones.cut import Cut

MADE_FOR = FigureKey("head.made_for")
PEG = FigureKey("head.peg")

STYLE = "bought"
LABEL = "Bought head"
STANDS_ON = style.BASE
COMES = style.BOUGHT
OWN: tuple[HeadField, ...] = ()
FIELDS = (
    "made_for_mm",
    "made_for_width_mm",
    "label_ct",
    "opening_mm",
    "claws",
    "orientation",
    "stone_axis",
    "claw_mm",
    "height_mm",
    "height_tip_mm",
    "foot_mm",
    "rail_mm",
    "notched",
    "trim_mm",
)
HEIGHT_TIP = FigureKey("head.height_tip")
MADE_FOR_WIDTH = FigureKey("head.made_for_width")
LABEL_CT = FigureKey("head.label_weight")
FOOT_ACROSS = FigureKey("head.foot_across")
RAIL = FigureKey("head.rail")

UNKNOWN_SPLAY_DEG = 3.0
"""How far the splay of a head that nobody has measured may be off, in degrees either way; from memory."""
LEAST_RAIL_DROP_MM = 0.05


@figure(
    MADE_FOR,
    "Made for, by its label",
    "mm",
    "(m/(k·d·q))^(1/3)",
    FROM_MEMORY,
    label_ct="m",
    factor="k",
    deep="d",
    slim="q",
)
def labelled_mm(label_ct: Number, factor: Number, deep: Number, slim: Number) -> Number:
    """Diameter or length in mm of a usual diamond of this weight in ct: what a head sold by the carat is made for.
    ``factor`` is the cut's weight factor, ``deep`` its depth and ``slim`` its width as shares of the length."""
    return np.cbrt(label_ct / (factor * deep * slim))


@figure(MADE_FOR_WIDTH, "Made for, width", "mm", "M·W/L", ASSUMED, made_for_mm="M", width_mm="W", length_mm="L")
def made_for_width_mm(made_for_mm: Number, width_mm: Number, length_mm: Number) -> Number:
    """Width in mm of the stone that the head is made for, where only its length is known: the stone's proportion."""
    return made_for_mm * width_mm / length_mm


@figure(
    "head.opening_long",
    "Opening, lengthwise",
    "mm",
    "o + M − M_w",
    GEOMETRY,
    opening_mm="o",
    made_for_mm="M",
    width_mm="M_w",
    shown_in="head",
)
def opening_long_mm(opening_mm: Number, made_for_mm: Number, width_mm: Number) -> Number:
    """Opening in mm along the stone's length."""
    return opening_mm + made_for_mm - width_mm


def _seat(across_mm: Number, wide: Number, width_off_mm: Number, long: Number, length_off_mm: Number) -> Number:
    """Seat depth in mm at one place: what the head takes of a stone of its own size, and half of what this stone is
    wider and longer than that, each by its share at the place."""
    return across_mm + wide * width_off_mm / 2 + long * length_off_mm / 2


deepest_mm = figure(
    notches.SEAT_DEPTH,
    "Seat depth in the claw that takes most",
    "mm",
    "s₀ + q·e_w/2 + p·e_l/2",
    GEOMETRY,
    across_mm="s₀",
    wide="q",
    width_off_mm="e_w",
    long="p",
    length_off_mm="e_l",
)(_seat)
shallowest_mm = figure(
    "seat.depth_least",
    "Seat depth in the claw that takes least",
    "mm",
    "s₀ + q·e_w/2 + p·e_l/2",
    GEOMETRY,
    across_mm="s₀",
    wide="q",
    width_off_mm="e_w",
    long="p",
    length_off_mm="e_l",
)(_seat)


def _share(depth_mm: Number, claw_mm: Number) -> Number:
    """A notch as a share of the claw."""
    return depth_mm / claw_mm


deepest_ratio = figure(notches.notch_ratio, "Notch ratio, deepest", "", "s/w", GEOMETRY, depth_mm="s", claw_mm="w")(
    _share
)
shallowest_ratio = figure(
    "seat.notch_ratio_least", "Notch ratio, shallowest", "", "s/w", GEOMETRY, depth_mm="s", claw_mm="w"
)(_share)


@figure(
    "head.splay",
    "Splay of the claws",
    "°",
    "min(σ₀, atan((1 − k)·r_c/H))",
    ASSUMED,
    places=1,
    wanted_deg="σ₀",
    share="k",
    claw_radius_mm="r_c",
    height_mm="H",
)
def assumed_splay_deg(wanted_deg: Number, share: Number, claw_radius_mm: Number, height_mm: Number) -> Number:
    """Splay in degrees of a head whose foot nobody has measured."""
    return basket.splay_deg(wanted_deg, share, claw_radius_mm, height_mm)


@figure(
    "head.splay",
    "Splay of the claws, by its foot",
    "°",
    "atan((o + 2·w − b_f)/(2·H))",
    GEOMETRY,
    places=1,
    opening_mm="o",
    claw_mm="w",
    foot_mm="b_f",
    height_mm="H",
)
def measured_splay_deg(opening_mm: Number, claw_mm: Number, foot_mm: Number, height_mm: Number) -> Number:
    """Splay in degrees, from the foot as it was measured across."""
    return np.degrees(np.arctan((opening_mm + 2 * claw_mm - foot_mm) / (2 * np.maximum(height_mm, 1e-6))))


@figure(
    "head.ring_drop",
    "Rail's top below the girdle",
    "mm",
    "max(h − h_r, m)",
    GEOMETRY,
    height_mm="h",
    rail_mm="h_r",
    least_mm="m",
)
def rail_drop_mm(height_mm: Number, rail_mm: Number, least_mm: Number) -> Number:
    """How far in mm the top of a head's upper rail lies below the seat, both measured from its foot as it is sold."""
    return np.maximum(height_mm - rail_mm, least_mm)


@figure(
    "head.outer_over_claws",
    "Outside over the claws",
    "mm",
    "o + 2·w",
    GEOMETRY,
    opening_mm="o",
    claw_mm="w",
    shown_in="head",
)
def outer_mm(opening_mm: Number, claw_mm: Number) -> Number:
    """Width in mm over opposite claws at the girdle."""
    return opening_mm + 2 * claw_mm


@figure(
    "head.above_seat",
    "Claw that the seat leaves above it",
    "mm",
    "g + c/cos(β) + a_b + a_f",
    GEOMETRY,
    girdle_mm="g",
    cover_mm="c",
    crown_angle_deg="β",
    bend_mm="a_b",
    file_mm="a_f",
    shown_in="head",
)
def above_seat_mm(
    girdle_mm: Number, cover_mm: Number, crown_angle_deg: Number, bend_mm: Number, file_mm: Number
) -> Number:
    """Claw in mm that has to stand above the seat: girdle, the way over the crown, the bend, what is filed off."""
    return girdle_mm + cover_mm / np.cos(np.radians(crown_angle_deg)) + bend_mm + file_mm


@figure("head.sold_height", "Foot to seat, as it is sold", "mm", "h_t − q", GEOMETRY, tip_mm="h_t", above_mm="q")
def sold_height_mm(tip_mm: Number, above_mm: Number) -> Number:
    """Height in mm from foot to the highest seat that leaves claw enough above it, of a head sold foot to tip."""
    return tip_mm - above_mm


@figure("head.trim", "Trim the base by", "mm", "h − H", GEOMETRY, sold_mm="h", height_mm="H")
def trim_mm(sold_mm: Number, height_mm: Number) -> Number:
    """What is trimmed in mm off the base of a head of ``sold_mm`` from foot to seat, for the height asked for."""
    return sold_mm - height_mm


@figure("head.fixed_height", "Head's height after trimming", "mm", "h − Δ", GEOMETRY, height_mm="h", trim_mm="Δ")
def trimmed_height_mm(height_mm: Number, trim_mm: Number) -> Number:
    """Height in mm from foot to seat once the base is trimmed."""
    return height_mm - trim_mm


@figure(
    "head.metal_volume",
    "Metal in the head, about",
    "mm³",
    "π/4·(N·l·w² + π·d_b·v²)",
    GEOMETRY,
    places=1,
    claws="N",
    length_mm="l",
    claw_mm="w",
    base_mm="d_b",
    wire_mm="v",
)
def metal_volume_mm3(claws: Number, length_mm: Number, claw_mm: Number, base_mm: Number, wire_mm: Number) -> Number:
    """Volume in mm³ of the claws and a base ring of wire; the maker's gallery is not known."""
    return np.pi / 4 * (claws * length_mm * claw_mm**2 + np.pi * base_mm * wire_mm**2)


class Bought(BegunHead, frozen=True, kw_only=True):
    """A bought head, taken for one stone; or as many as its columns are long, all with the same places.

    ``places`` on the stone's edge; ``seats_mm`` how deep the stone lies in the claw at each; ``sold_mm`` the height
    from foot to seat as it is sold, None where nothing of it is known; ``foot_mm`` the foot across, None (NaN in a
    column) where nobody measured it; ``rail_mm`` the upper rail's top over the foot; ``off_deg`` by how much an assumed
    splay is taken to be off; lengths in mm."""

    facts: StoneFacts
    rules: HouseRules
    places: tuple[ClawPosition, ...]
    claw_mm: Number
    opening_mm: Number
    seats_mm: tuple[Number, ...]
    sold_mm: Number | None
    foot_mm: Number | None = None
    rail_mm: Number | None = None
    off_deg: Number = 0.0
    leg_mm: Number = 0.0

    @property
    def gallery_height(self) -> Number:
        """A base ring and daylight over it, mm."""
        return 2 * self.claw_mm

    @property
    def least_height(self) -> Number:
        """The base ring alone, mm."""
        return self.claw_mm

    @property
    def fixed_height(self) -> Number | None:
        """The head's own height in mm, less what is trimmed off its base."""
        if self.sold_mm is None:
            return None
        return np.maximum(trimmed_height_mm(self.sold_mm, self.choice.trim_mm or 0.0), self.claw_mm)

    @property
    def claw_count(self) -> int:
        """How many claws it has."""
        return len(self.places)

    def ring_drop(self, height_mm: Number) -> Number | None:
        """How far in mm the upper rail's top lies below the girdle, where it was measured; ``height_mm`` in mm."""
        if self.rail_mm is None or self.sold_mm is None:
            return None
        return rail_drop_mm(self.sold_mm, self.rail_mm, LEAST_RAIL_DROP_MM)

    @property
    def seat_most(self) -> Number:
        """Seat depth in mm in the claw that takes most of the stone."""
        most: Number = np.max(np.broadcast_arrays(*self.seats_mm), axis=0)
        return most

    @cached_property
    def seat_least(self) -> Number:
        """Seat depth in mm in the claw that takes least of it."""
        least: Number = np.min(np.broadcast_arrays(*self.seats_mm), axis=0)
        return least

    @property
    def wire_mm(self) -> Number:
        """Wire of the base ring, mm."""
        return self.claw_mm * self.rules.ring_wire_share

    def splay(self, height_mm: Number) -> Number:
        """Splay in degrees, by the foot or assumed; that of the head as it is sold, for trimming does not bend it."""
        height_sold = height_mm if self.sold_mm is None else self.sold_mm
        assumed = assumed_splay_deg(*self._assumed(height_sold))
        if self.foot_mm is None:
            return assumed
        measured = measured_splay_deg(self.opening_mm, self.claw_mm, self.foot_mm, height_sold)
        return np.where(np.isnan(self.foot_mm), assumed, measured)

    def _assumed(self, made_mm: Number) -> tuple[Number, Number, Number, Number]:
        """What an assumed splay follows from."""
        wanted = self.rules.splay_deg + self.off_deg
        return wanted, self.rules.foot_share, self.opening_mm / 2 + self.claw_mm / 2, made_mm

    def width_at(self, depth_mm: Number, height_mm: Number) -> Number:
        """Width in mm along the band at a depth below the seat."""
        splay = self.splay(height_mm)
        over = reach.widest(self._alike, depth_mm, splay)
        if np.any(depth_mm < height_mm):
            return over
        size, losses, inset = self._base(height_mm, splay)
        return np.maximum(over, size - losses * inset)

    def _over_claws(self, depth_mm: Number, splay_deg: Number) -> reach.OverClaws:
        """Width over the claws along the band at a depth, mm, and what decides."""
        metals = (self.claw_mm,) * len(self.places)
        return reach.over_claws(self.facts, self.places, metals, self.seats_mm, depth_mm, splay_deg, self.leg_mm)

    @cached_property
    def _alike(self) -> list[reach.Found]:
        """Where claws may reach farthest along the band: they are as thick at every depth."""
        metals = (self.claw_mm,) * len(self.places)
        return reach.unlike(self.facts, self.places, metals, self.seats_mm, self.leg_mm)

    def _base(self, height_mm: Number, splay_deg: Number) -> tuple[Number, float, Number]:
        """The stone's size along the band in mm, what an inset loses of it, and how far the base ring lies inside."""
        wire = self.wire_mm, self.wire_mm, self.rules.groove_share
        inset = rings.lower_inset_mm(self.seat_least, height_mm, splay_deg, *wire)
        return *rings.along_band(self.facts), inset

    def _enter_foot(self, ledger: Ledger, height: Number, splay: Number) -> Number:
        """Enter the width along the band at the foot, over the claw that reaches farthest there or the base ring."""
        over, base = self._over_claws(height, splay), self._base(height, splay)
        return ledger.enter(basket.foot_width_mm, *over.of_figure, height, splay, *base)

    def enter(self, ledger: Ledger, seat_height_mm: Number, free_mm: Number, alloy: Alloy) -> None:
        """Enter height, foot, tips and mass."""
        rules, stone = self.rules, self.facts.stone
        if self.sold_mm is not None:
            ledger.enter(trimmed_height_mm, self.sold_mm, ledger.enter(trim_mm, self.sold_mm, seat_height_mm))
        ledger.enter(height_mm, seat_height_mm)
        sold = seat_height_mm if self.sold_mm is None else self.sold_mm
        if self.foot_mm is not None:
            ledger.given(FOOT_ACROSS, "Foot, across", "mm", self.foot_mm, MEASURED)
            splay = ledger.enter(measured_splay_deg, self.opening_mm, self.claw_mm, self.foot_mm, sold)
        else:
            splay = ledger.enter(assumed_splay_deg, *self._assumed(sold))
        width = self._enter_foot(ledger, seat_height_mm, splay)
        self._enter_rail(ledger, splay)
        _enter_cover(ledger, self.facts, float(np.mean(self.claw_mm)), rules)
        basket.enter_arcs(ledger, self.choice, self.places, self.facts, float(np.mean(self.leg_mm)))
        claws.enter_bending(ledger, float(np.mean(self.claw_mm)), np.minimum(self.seat_most, self.claw_mm), rules)
        volume = ledger.enter(
            metal_volume_mm3,
            float(len(self.places)),
            seat_height_mm + stone.girdle_mm + self.claw_mm,
            self.claw_mm,
            width - self.claw_mm,
            self.wire_mm,
        )
        ledger.enter(head_mass_g, volume, alloy.density)

    def _enter_rail(self, ledger: Ledger, splay: Number) -> None:
        """The maker's upper rail, where its height over the foot is known: what hides it, and what of it is in the
        pavilion's way."""
        if self.rail_mm is None or self.sold_mm is None:
            return
        ledger.given(RAIL, "Rail's top over the foot, as it is sold", "mm", self.rail_mm, MEASURED)
        drop = ledger.enter(rail_drop_mm, self.sold_mm, self.rail_mm, LEAST_RAIL_DROP_MM)
        ledger.given(rings.RING_WIRE, "Rail's wire", "mm", self.wire_mm, ASSUMED)
        deep, share = drop + self.wire_mm / 2, self.rules.groove_share
        inset = ledger.enter(rings.ring_hidden_by_mm, self.seat_least, deep, self.wire_mm, splay, share)
        ledger.call(rings.ring_hidden_by_mm, "Rail inside the stone's edge by")
        ledger.enter(rings.countersink_mm, self.wire_mm, drop, inset, self.facts.run)
        ledger.call(rings.countersink_mm, "Countersink the rail by")


def begin(ledger: Ledger, choice: HeadChoice, facts: StoneFacts, rules: HouseRules) -> Bought:
    """Opening as given or as its size makes it, and the notches that this stone takes in it."""
    stone, places = facts.stone, places_of(choice, facts)
    made_for, across = _enter_size(ledger, choice, facts)
    usual = claws.usual_wire_mm(float(np.mean(across)), choice.claws, rules, facts.narrowest)
    usual = min(usual, max(vees.most_metal_mm(facts.outline, places, rules), basket.LEAST_V_MM))
    claw = usual if choice.claw_mm is None else choice.claw_mm
    ledger.given(CLAW, "Claw wire", "mm", claw, ASSUMED if choice.claw_mm is None else CHOSEN)
    if choice.peg_mm is not None:
        ledger.given(PEG, "Peg", "mm", choice.peg_mm, CHOSEN)
    opening: Number
    if choice.opening_mm is None:
        opening = ledger.enter(notches.made_for_opening_mm, across, rules.notch_target, claw)
    else:
        opening = choice.opening_mm
        ledger.given(style.INNER_OPENING, "Opening between the claws", "mm", opening, CHOSEN, shown_in="head")
    ledger.enter(outer_mm, opening, claw)
    seats = seats_mm(facts, places, opening, made_for, across)
    _enter_seats(ledger, facts, places, seats, opening, claw, made_for, across)
    depth = ledger.value(notches.SEAT_DEPTH)
    ledger.enter(notches.first_cut_mm, rules.first_cut_ratio, claw)
    ledger.enter(notches.claw_left_mm, claw, depth)
    leg = vees.enter_vees(ledger, facts, places, claw, depth, rules, vees.FOLD)
    sold: Number | None = choice.height_mm
    if choice.height_tip_mm is not None:
        ledger.given(HEIGHT_TIP, "Foot to tip", "mm", choice.height_tip_mm, MEASURED, shown_in="head")
        cover = _enter_cover(ledger, facts, claw, rules)
        bend, filed = rules.bend_allowance_mm, rules.file_allowance_mm
        above = ledger.enter(above_seat_mm, stone.girdle_mm, cover, facts.crown_angle_deg, bend, filed)
        sold = ledger.enter(sold_height_mm, choice.height_tip_mm, above)
    off = UNKNOWN_SPLAY_DEG * facts.open
    return Bought(
        choice=choice,
        facts=facts,
        rules=rules,
        places=places,
        claw_mm=claw,
        opening_mm=opening,
        seats_mm=seats,
        sold_mm=sold,
        foot_mm=choice.foot_mm,
        rail_mm=choice.rail_mm,
        off_deg=off,
        leg_mm=leg,
    )


def _enter_size(ledger: Ledger, choice: HeadChoice, facts: StoneFacts) -> tuple[Number, Number]:
    """Length (diameter) and width in mm of the stone that the head is made for: as chosen, by its label, or the stone's
    own."""
    stone, cut, made_for = facts.stone, facts.cut, choice.made_for_mm
    name = "Made for" if cut.is_round else "Made for, length"
    if made_for is None and choice.label_ct is not None:
        ledger.given(LABEL_CT, "Sold for stones of", "ct", choice.label_ct, CHOSEN)
        made_for = float(ledger.enter(labelled_mm, choice.label_ct, *usual_of(cut, slim_of(facts))))
    elif made_for is None:
        made_for = round(facts.nominal_diameter_mm if cut.is_round else float(np.max(facts.outline.size)), 1)
        ledger.given(MADE_FOR, name, "mm", made_for, ASSUMED)
    else:
        ledger.given(MADE_FOR, name, "mm", made_for, CHOSEN)
    if cut.is_round:
        return made_for, made_for
    if choice.made_for_width_mm is not None:
        ledger.given(MADE_FOR_WIDTH, "Made for, width", "mm", choice.made_for_width_mm, CHOSEN)
        return made_for, choice.made_for_width_mm
    return made_for, ledger.enter(made_for_width_mm, made_for, stone.width_mm, stone.length_mm)


def slim_of(facts: StoneFacts) -> float:
    """The stone's width as a share of its length."""
    return 1.0 if facts.cut.is_round else float(np.min(facts.outline.size) / np.max(facts.outline.size))


def usual_of(cut: Cut, slim: float) -> tuple[Number, float, float]:
    """Weight factor, depth and width as shares of the length of a usual diamond of this cut, ``slim`` times as wide as
    long: what :func:`labelled_mm` reads a label by."""
    return cut.weight_factor(1 / slim), (cut.crown + cut.girdle + cut.pavilion) * slim, slim


def _shares_at(facts: StoneFacts, places: tuple[ClawPosition, ...]) -> list[tuple[float, float]]:
    return [shares_at(place, facts.outline.size, facts.along_band) for place in places]


def seats_mm(
    facts: StoneFacts, places: tuple[ClawPosition, ...], opening_mm: Number, made_for_mm: Number, across_mm: Number
) -> tuple[Number, ...]:
    """How deep in mm the stone lies in the claw at each place of a head of this opening, made for this length and
    width."""
    stone = facts.stone
    if facts.cut.is_round:
        return (notches.claw_reach_mm(stone.diameter, opening_mm),) * len(places)
    own = (across_mm - opening_mm) / 2
    wider, longer = stone.width_mm - across_mm, stone.length_mm - made_for_mm
    return tuple(_seat(own, wide, wider, long, longer) for wide, long in _shares_at(facts, places))


def _enter_seats(
    ledger: Ledger,
    facts: StoneFacts,
    places: tuple[ClawPosition, ...],
    seats: tuple[Number, ...],
    opening: Number,
    claw: float,
    made_for: Number,
    across: Number,
) -> None:
    """Seat depth and notch ratio: of all claws of a round head, of those that take most and least of any other."""
    stone = facts.stone
    if facts.cut.is_round:
        ledger.enter(notches.claw_reach_mm, stone.diameter, opening)
        ledger.enter(notches.notch_ratio, stone.diameter, opening, claw)
        return
    ledger.enter(opening_long_mm, opening, made_for, across)
    ledger.enter(basket.outer_long_mm, ledger.value(opening_long_mm), 0.0, claw)
    every = np.stack(np.broadcast_arrays(*seats))
    shares = np.array(_shares_at(facts, places))
    own = (across - opening) / 2
    off = stone.width_mm - across, stone.length_mm - made_for
    for named, ratio, pick in ((deepest_mm, deepest_ratio, np.argmax), (shallowest_mm, shallowest_ratio, np.argmin)):
        wide, long = shares[pick(every, axis=0)].T  # of each sample the claw that it takes most, or least, of
        ledger.enter(ratio, ledger.enter(named, own, wide, off[0], long, off[1]), claw)


def _enter_cover(ledger: Ledger, facts: StoneFacts, claw_mm: float, rules: HouseRules) -> Number:
    stone, share, way = facts.stone, rules.tip_cover_share, rules.tip_to_table_share
    return ledger.enter(claws.tip_cover_mm, claw_mm, share, way, stone.table_share, stone.diameter)


def shape(ledger: Ledger, choice: HeadChoice, facts: StoneFacts, rules: HouseRules) -> HeadShape:
    """Claws closed over the crown on a base ring, and the rail where it is known."""
    keys = (claws.CLAW, style.INNER_OPENING, style.height_mm, basket.splay_deg, claws.tip_cover_mm, MADE_FOR)
    claw, opening, height, splay, cover, made_for = (float(ledger.value(key)) for key in keys)
    across = made_for if facts.cut.is_round else float(ledger.value(MADE_FOR_WIDTH))
    wire = claw * rules.ring_wire_share
    made_of = rings.round_wire(wire)
    closing = closing_over(facts, cover, claw * rules.tip_thinned_share)
    places = places_of(choice, facts)
    seats = [float(seat) for seat in seats_mm(facts, places, opening, made_for, across)]
    least = min(seats)
    lean = float(np.tan(np.radians(splay)))
    profile = closed_profile(-least, claw - least, lean, height, closing)
    stood = [drawn_in(place, seat - least) for place, seat in zip(places, seats, strict=True)]
    plain = tuple(place for place in stood if place.kind != POINT)
    pointed = tuple(place for place in stood if place.kind == POINT)
    claws_made = Claws(plain, profile, claw, closing.cover_mm) if plain else None
    vee = None
    if pointed:
        leg, relief = float(ledger.value(vees.leg_mm)), float(ledger.value(vees.relief_hole_mm))
        vee = Vees(places=pointed, profile=profile, leg_mm=leg, relief_mm=relief, lean=lean)
    low = -height + wire / 2
    inset = least - lean * low + wire * (0.5 - rules.groove_share)
    base = rings.ring_shape("base", min(inset, min(facts.outline.size) / 2 - wire / 2) - wire / 2, low, made_of)
    rail: tuple[WireRing, ...] = ()
    if RAIL in ledger.entries:
        drop, hidden = float(ledger.value(rail_drop_mm)), float(ledger.value(rings.ring_hidden_by_mm))
        rail = (rings.ring_shape("rail", hidden, -drop - wire / 2, made_of),)
    return HeadShape(
        outline=facts.outline,
        height_mm=height,
        opening_inset_mm=max(seats),
        claws=claws_made,
        rings=(*rail, base),
        walls=(),
        outer_key=outer_mm,
        foot_key=style.WIDTH_AT_FOOT,
        vees=vee,
    )


def clawed(cut: str) -> bool:
    """Always."""
    return True


def suits(cut: Cut) -> bool:
    """Every cut."""
    return True


def seams(choice: HeadChoice, facts: StoneFacts, alloy: Alloy) -> list[Seam]:
    """A bought head comes in one piece."""
    return []
