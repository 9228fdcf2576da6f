"""Baskets of claws on rings: what wire baskets, V heads, paired corners and cast claws have in common."""

from __future__ import annotations

from functools import cached_property

import numpy as np

from yarvel.figures.figure import CHOSEN, COMMON_PRACTICE, FROM_MEMORY, GEOMETRY, Ledger, Number, figure
from yarvel.figures.rules import HouseRules
from yarvel.heads import claws, notches, rings, style, vees
from yarvel.heads.holding import enter_holding
from yarvel.heads.legs import drop_by_height_mm, footed_length_mm, hooks_of, to_peg_mm, under_length_mm
from yarvel.heads.places import POINT, ClawPosition, least_apart_mm
from yarvel.heads.reach import AlongBand, width_mm
from yarvel.heads.shape import Claws, HeadShape, Vees, closed_profile, thinned_to
from yarvel.heads.style import BegunHead, HeadChoice, StoneFacts, closing_over, height_mm, places_of
from yarvel.heads.vees import leg_mm, relief_hole_mm
from yarvel.metals.alloys import Alloy, head_mass_g
from yarvel.metals.wire import gauge_number
from yarvel.stones.cut import Girth, typical_slope


@figure(
    "head.splay",
    "Splay of the claws",
    "°",
    "min(σ₀, atan((1 − k)·r_c/H))",
    GEOMETRY,
    places=1,
    wanted_deg="σ₀",
    share="k",
    claw_radius_mm="r_c",
    height_mm="H",
)
def splay_deg(wanted_deg: Number, share: Number, claw_radius_mm: Number, height_mm: Number) -> Number:
    """Splay in degrees: as chosen, or less where the foot would grow narrower than its share of the head."""
    return np.minimum(wanted_deg, np.degrees(np.arctan((1 - share) * claw_radius_mm / np.maximum(height_mm, 1e-6))))


@figure(
    "head.width_at_foot",
    "Width over the foot, along the band",
    "mm",
    "max(2·(e_x + n_x·(w_f/2 − s − H·tan(σ))) + k_x·w_f, a − m·δ)",
    GEOMETRY,
    reach_mm="e_x",
    lean="n_x",
    edge="k_x",
    claw_mm="w_f",
    seat_mm="s",
    depth_mm="H",
    splay_deg="σ",
    size_mm="a",
    losses="m",
    inset_mm="δ",
)
def foot_width_mm(
    reach_mm: Number,
    lean: Number,
    edge: Number,
    claw_mm: Number,
    seat_mm: Number,
    depth_mm: Number,
    splay_deg: Number,
    size_mm: Number,
    losses: Number,
    inset_mm: Number,
) -> Number:
    """Width in mm along the band at the foot: over the claws, ``claw_mm`` thick there, or over the lower ring where
    that is wider, which lies ``inset_mm`` inside the stone's edge."""
    return np.maximum(
        width_mm(reach_mm, lean, edge, claw_mm, seat_mm, depth_mm, splay_deg), size_mm - losses * inset_mm
    )


@figure(
    "head.width_at_foot",
    "Width over the foot, along the band",
    "mm",
    "2·(e_x + n_x·(w_f/2 − s − H·tan(σ))) + k_x·w_f",
    GEOMETRY,
    reach_mm="e_x",
    lean="n_x",
    edge="k_x",
    claw_mm="w_f",
    seat_mm="s",
    depth_mm="H",
    splay_deg="σ",
)
def foot_over_claws_mm(
    reach_mm: Number, lean: Number, edge: Number, claw_mm: Number, seat_mm: Number, depth_mm: Number, splay_deg: Number
) -> Number:
    """Width in mm along the band over the claws' ends, ``claw_mm`` thick, where no ring lies at the foot."""
    return width_mm(reach_mm, lean, edge, claw_mm, seat_mm, depth_mm, splay_deg)


@figure(
    "head.opening_long",
    "Opening, lengthwise",
    "mm",
    "L − 2·ρ·w",
    GEOMETRY,
    length_mm="L",
    ratio="ρ",
    claw_mm="w",
    shown_in="head",
)
def opening_long_mm(length_mm: Number, ratio: Number, claw_mm: Number) -> Number:
    """Opening in mm along the stone's length."""
    return length_mm - 2 * ratio * claw_mm


@figure(
    "head.outer_long",
    "Outside, lengthwise",
    "mm",
    "L + 2·w·(1 − ρ)",
    GEOMETRY,
    length_mm="L",
    ratio="ρ",
    claw_mm="w",
    shown_in="head",
)
def outer_long_mm(length_mm: Number, ratio: Number, claw_mm: Number) -> Number:
    """Outside in mm along the stone's length."""
    return length_mm + 2 * claw_mm * (1 - ratio)


@figure(
    "head.bridge",
    "Bridge of the U-piece",
    "mm",
    "o − 2·H·tan(σ) + w",
    GEOMETRY,
    places=1,
    opening_mm="o",
    height_mm="H",
    splay_deg="σ",
    claw_mm="w",
)
def bridge_mm(opening_mm: Number, height_mm: Number, splay_deg: Number, claw_mm: Number) -> Number:
    """Wire in mm across the foot between two opposite claws, middle to middle."""
    return opening_mm - 2 * height_mm * np.tan(np.radians(splay_deg)) + claw_mm


@figure("head.between_claws", "Daylight between neighbouring claws", "mm", "e − w", GEOMETRY, apart_mm="e", claw_mm="w")
def between_claws_mm(apart_mm: Number, claw_mm: Number) -> Number:
    """Gap in mm between neighbouring claws at the seat; negative where they would run into each other."""
    return apart_mm - claw_mm


@figure(
    "head.metal_volume",
    "Metal in the head",
    "mm³",
    "(N_c·π/4·w² + N_v·w_v·(2·b − w_v))·(l − a_f) + (l_u + l_l)·A_r",
    GEOMETRY,
    places=1,
    round_claws="N_c",
    claw_mm="w",
    vees="N_v",
    vee_mm="w_v",
    leg_mm="b",
    length_mm="l",
    allowance_mm="a_f",
    upper_mm="l_u",
    lower_mm="l_l",
    ring_mm2="A_r",
)
def metal_volume_mm3(
    round_claws: Number,
    claw_mm: Number,
    vees: Number,
    vee_mm: Number,
    leg_mm: Number,
    length_mm: Number,
    allowance_mm: Number,
    upper_mm: Number,
    lower_mm: Number,
    ring_mm2: float,
) -> Number:
    """Volume in mm³ of claws (less what is filed off), Vs (as right angles, ``vee_mm`` thick on average) and the
    rings, their section ``ring_mm2`` mm²."""
    section = round_claws * np.pi / 4 * claw_mm**2 + vees * vee_mm * (2 * leg_mm - vee_mm)
    return section * (length_mm - allowance_mm) + (upper_mm + lower_mm) * ring_mm2


class Basket(BegunHead, frozen=True, kw_only=True):
    """A basket begun for one stone; ``leg_mm`` is that of its Vs, 0 without."""

    facts: StoneFacts
    rules: HouseRules
    places: tuple[ClawPosition, ...]
    claw_mm: float
    ring: rings.RingStock
    drop_mm: float
    opening_mm: Number
    seat_mm: Number
    leg_mm: float

    @property
    def gallery_height(self) -> Number:
        """Drop of the upper ring and that ring; a second one, and daylight between them; legs that are bent in below,
        and where they cross under the culet room for it, in mm."""
        second = self.ring.high_mm * (1 + self.rules.rings_apart_share) if self.choice.rings > 1 else 0.0
        own = self.drop_mm + self.ring.high_mm + second + self.lift
        if not self.floor_mm or self.facts.cut.domed:
            return own
        return np.maximum(own, self.facts.stone.pavilion_depth_mm + self.rules.culet_clearance_mm + self.floor_mm)

    @property
    def least_height(self) -> Number:
        """The rings touching one another and the foot, in mm."""
        return self.drop_mm + self.ring.high_mm * self.choice.rings + self.lift

    @property
    def _drop_follows(self) -> bool:
        """Whether the only ring lies where legs bent in below carry it: nobody chose its drop."""
        return self.choice.bent_in and self.choice.rings == 1 and self.choice.ring_drop_mm is None

    @property
    def lift(self) -> float:
        """How far in mm the lowest ring's underside lies above the foot: on two rings as chosen, on legs that are bent
        in by their wire."""
        chosen = (self.choice.ring_lift_mm or 0.0) if self.choice.rings > 1 else 0.0
        return max(chosen, self.claw_mm) if self.choice.bent_in else chosen

    @property
    def floor_mm(self) -> Number:
        """The legs' wire in mm where they close on a peg, else nothing."""
        return self.claw_mm if self.choice.legs == style.PEG_LEGS else 0.0

    @property
    def fixed_height(self) -> Number | None:
        """Down to the underside of the only ring, in mm, where the claws run on from there to a point; with the legs
        bent in under it where its drop is chosen; else None: a basket is made to its height."""
        if self.choice.rings > 1 or self.choice.legs == style.FLUSH:
            return None
        return None if self.choice.bent_in and self.choice.ring_drop_mm is None else self.gallery_height

    def ring_drop(self, height_mm: Number) -> Number | None:
        """Upper ring's top below the girdle, mm; an only one that stands on legs bent in follows the height."""
        if self._drop_follows:
            return drop_by_height_mm(height_mm, self.claw_mm, self.ring.high_mm)
        return self.drop_mm

    @property
    def claw_radius(self) -> Number:
        """Half the width between the claws' centres across the stone at the seat plane, mm."""
        return self.opening_mm / 2 + self.claw_mm / 2

    def splay(self, height_mm: Number) -> Number:
        """Splay in degrees at this height."""
        wanted = self.rules.splay_deg if self.choice.splay_deg is None else self.choice.splay_deg
        return splay_deg(wanted, self.rules.foot_share, self.claw_radius, height_mm)

    @cached_property
    def along(self) -> AlongBand:
        """The claws as they lie along the band."""
        foot = _vee_foot_mm(self.choice, self.claw_mm)
        return AlongBand(
            facts=self.facts,
            places=self.places,
            claw_mm=self.claw_mm,
            vee_foot_mm=foot,
            seat_mm=self.seat_mm,
            leg_mm=self.leg_mm,
        )

    def width_at(self, depth_mm: Number, height_mm: Number) -> Number:
        """Width in mm along the band at a depth below the seat, its lower ring counted at the foot."""
        splay = self.splay(height_mm)
        over = self.along.width_mm(depth_mm, height_mm, splay)
        if self.choice.rings == 1 or np.any(depth_mm < height_mm):
            return over
        size, losses = rings.along_band(self.facts)
        return np.maximum(over, size - losses * self._lower_inset(height_mm, splay))

    def _lower_inset(self, height_mm: Number, splay_deg: Number) -> Number:
        """How far in mm the lower ring's outside lies inside the stone's edge, at this height."""
        drawn = height_mm - self.lift
        sections = self.ring.across_mm, self.ring.high_mm
        return rings.lower_inset_mm(self.seat_mm, drawn, splay_deg, *sections, self._groove)

    @property
    def _groove(self) -> Number:
        """The share of the ring's wire that a claw's groove takes; a drilled post stands in its middle."""
        drilled = self.choice.posts == rings.DRILLED
        return rings.axis_share(self.claw_mm, self.ring.across_mm) if drilled else self.rules.groove_share

    @property
    def claw_count(self) -> int:
        """How many claws it has."""
        return len(self.places)

    def foot_circle(self, height_mm: Number) -> Number:
        """Mean distance in mm of the claws' middles from the axis at the foot."""
        inwards = self.claw_mm / 2 - self.seat_mm - height_mm * np.tan(np.radians(self.splay(height_mm)))
        total: Number = 0.0
        for place in self.places:
            x, y = self.facts.stretched(place.x_mm, place.y_mm)
            moved = inwards / np.cos(np.radians(place.spread_deg))
            total = total + np.hypot(x + moved * place.normal[0], y + moved * place.normal[1])
        return total / len(self.places)

    def enter(self, ledger: Ledger, seat_height_mm: Number, free_mm: Number, alloy: Alloy) -> None:
        """Enter rings, claw and U-piece lengths, holding, mass."""
        rules = self.rules
        ledger.enter(height_mm, seat_height_mm)
        splay = enter_splay(ledger, self, seat_height_mm)
        if self._drop_follows:
            ledger.enter(drop_by_height_mm, seat_height_mm, self.claw_mm, self.ring.high_mm)
        upper, lower = self._enter_rings(ledger, seat_height_mm, splay)
        under = self._enter_legs(ledger, seat_height_mm, splay)
        length = self._enter_claws(ledger, seat_height_mm, splay, under) + under
        count, points = len(self.places), sum(place.kind == POINT for place in self.places)
        volume = ledger.enter(
            metal_volume_mm3,
            float(count - points),
            self.claw_mm,
            float(points),
            (self.claw_mm + _vee_foot_mm(self.choice, self.claw_mm)) / 2,
            self.leg_mm,
            length,
            rules.file_allowance_mm,
            upper,
            lower,
            self.ring.area_mm2,
        )
        ledger.enter(head_mass_g, volume, alloy.density)

    def _enter_rings(self, ledger: Ledger, height: Number, splay: Number) -> tuple[Number, Number]:
        """The foot's width and the rings; returns the wire of the upper and of the lower one, mm."""
        size, losses = rings.along_band(self.facts)
        share, drawn_mm = self._groove, height - self.lift
        inset = self._lower_inset(height, splay)
        claws_at = *self.along.over(height, height, splay).of_figure, height, splay
        if self.choice.rings > 1:
            ledger.enter(foot_width_mm, *claws_at, size, losses, inset)
        else:
            ledger.enter(foot_over_claws_mm, *claws_at)
        return rings.enter_rings(
            ledger,
            self.facts,
            self.seat_mm,
            drawn_mm,
            splay,
            self.ring,
            ledger.value(rings.RING_DROP),
            share,
            self.choice.rings,
        )

    def _enter_legs(self, ledger: Ledger, height: Number, splay: Number) -> Number:
        """How far legs that are bent in below reach beyond their claws, mm; 0 for any others."""
        if self.choice.legs == style.UNDER:
            sections = self.ring.across_mm, self.ring.high_mm
            return ledger.enter(under_length_mm, self._groove, *sections, self.claw_mm, splay)
        if self.choice.legs == style.PEG_LEGS:
            peg = self.rules.peg_mm if self.choice.peg_mm is None else self.choice.peg_mm
            return ledger.enter(to_peg_mm, self.foot_circle(height), self.claw_mm, peg)
        return 0.0

    def _enter_claws(self, ledger: Ledger, height: Number, splay: Number, under_mm: Number) -> Number:
        """Claws from foot to tip, how they hold and bend; returns the length of one, without what is bent in, mm."""
        length = self.enter_length(ledger, height, splay)
        drilled = self.choice.posts == rings.DRILLED
        if drilled:
            ledger.enter(rings.drill_offset_mm, self.ring.high_mm, splay)
            if any(place.kind == POINT for place in self.places):
                ledger.enter(rings.v_slot_mm, self.ring.across_mm, self.claw_mm)
        else:
            ledger.enter(rings.ring_groove_mm, self.rules.groove_share, self.ring.across_mm)
        if self.choice.ring_section == rings.STRIP:
            share = self.rules.groove_share
            ledger.enter(rings.deepest_groove_mm, share, self.ring.across_mm, self.ring.high_mm, splay)
        single = drilled or any(place.kind == POINT for place in self.places)
        if not single and self.choice.legs != style.PEG_LEGS:
            enter_us(ledger, self, length, height, splay)
        elif self.choice.bent_in:
            ledger.enter(footed_length_mm, length, under_mm)
        enter_hold(ledger, self)
        return length

    def enter_length(self, ledger: Ledger, height_mm: Number, splay_deg: Number) -> Number:
        """Enter how far tips reach over the crown, and a claw's length from foot to tip, mm, which it returns."""
        rules, stone = self.rules, self.facts.stone
        share, way = rules.tip_cover_share, rules.tip_to_table_share
        cover = ledger.enter(claws.tip_cover_mm, self.claw_mm, share, way, stone.table_share, stone.diameter)
        return ledger.enter(
            claws.claw_length_mm,
            height_mm,
            splay_deg,
            stone.girdle_mm,
            cover,
            self.facts.crown_angle_deg,
            rules.bend_allowance_mm,
            rules.file_allowance_mm,
        )


def enter_us(ledger: Ledger, made: Basket, length_mm: Number, height_mm: Number, splay_deg: Number) -> Number:
    """Enter the U's that two claws each are bent from; returns the wire across their foot, mm."""
    bridge = ledger.enter(bridge_mm, made.opening_mm, height_mm, splay_deg, made.claw_mm)
    ledger.enter(claws.u_piece_length_mm, length_mm, bridge, made.rules.handling_mm)
    return bridge


def enter_hold(ledger: Ledger, made: Basket) -> None:
    """Enter how the claws hold, how near they stand, and how they bend."""
    enter_arcs(ledger, made.choice, made.places, made.facts, made.leg_mm)
    outwards = made.claw_mm / 2 - float(np.mean(made.seat_mm))
    ledger.enter(between_claws_mm, least_apart_mm(made.places, outwards), made.claw_mm)
    claws.enter_bending(ledger, made.claw_mm, made.seat_mm, made.rules)


def enter_splay(ledger: Ledger, made: Basket, height_mm: Number) -> Number:
    """Enter the splay of a basket of this height, mm; returns it, in degrees."""
    wanted = made.rules.splay_deg if made.choice.splay_deg is None else made.choice.splay_deg
    return ledger.enter(splay_deg, wanted, made.rules.foot_share, made.claw_radius, height_mm)


def enter_arcs(
    ledger: Ledger, choice: HeadChoice, places: tuple[ClawPosition, ...], facts: StoneFacts, leg_mm: float
) -> None:
    """Enter how the claws hold: the open arc of even ones, the judgement of any others; ``leg_mm`` that of Vs, mm."""
    if facts.cut.is_round and choice.claw_places_deg is None:
        claws.enter_arcs(ledger, len(places))
    else:
        enter_holding(ledger, places, facts, leg_mm)


def begin_basket(
    ledger: Ledger,
    choice: HeadChoice,
    facts: StoneFacts,
    rules: HouseRules,
    places: tuple[ClawPosition, ...] | None = None,
) -> Basket:
    """Claw, notch and opening, which do not depend on the height; ``places`` where the style has its own."""
    stone = facts.stone
    places = places_of(choice, facts) if places is None else places
    claw = choice.claw_mm
    if claw is None:
        claw = claws.usual_wire_mm(facts.nominal_diameter_mm, len(places), rules, facts.narrowest, choice.soft)
        claw = min(claw, max(vees.most_metal_mm(facts.outline, places, rules), LEAST_V_MM))
    ratio = rules.notch_target if choice.notch_ratio is None else choice.notch_ratio
    drilled = choice.posts == rings.DRILLED
    usual = claw + rings.ROUND_A_POST_MM if drilled else claw * rules.ring_wire_share
    ring = choice.ring_mm if choice.ring_mm is not None else claws.through_plate_mm(usual, rules)
    stock = rings.stock_of(choice, rules, ring)
    drop = _usual_drop(facts, rules, ratio * claw, ring) if choice.ring_drop_mm is None else choice.ring_drop_mm
    ledger.given(claws.CLAW, "Claw wire", "mm", claw, COMMON_PRACTICE if choice.claw_mm is None else CHOSEN)
    strip = stock.section == rings.STRIP
    called = "Strip, from inside to outside" if strip else "Ring wire"
    ledger.given(rings.RING_WIRE, called, "mm", ring, FROM_MEMORY if choice.ring_mm is None else CHOSEN)
    if strip:
        origin = FROM_MEMORY if choice.ring_high_mm is None else CHOSEN
        ledger.given(rings.RING_HIGH, "Strip, high", "mm", stock.high_mm, origin)
    dropped = COMMON_PRACTICE if choice.ring_drop_mm is None else CHOSEN
    ledger.given(rings.RING_DROP, "Upper ring's top below the girdle", "mm", drop, dropped)
    if choice.ring_lift_mm and choice.rings > 1:
        ledger.given(rings.RING_LIFT, "Lower ring above the foot", "mm", choice.ring_lift_mm, CHOSEN)
    ledger.enter(gauge_number, claw)
    opening = ledger.enter(notches.claw_opening_mm, stone.diameter, ratio, claw)
    ledger.enter(notches.outer_over_claws_mm, stone.diameter, ratio, claw)
    if not facts.cut.is_round:
        ledger.enter(opening_long_mm, stone.length_mm, ratio, claw)
        ledger.enter(outer_long_mm, stone.length_mm, ratio, claw)
    seat = ledger.enter(notches.claw_depth_mm, ratio, claw)
    ledger.enter(notches.notch_ratio, stone.diameter, opening, claw)
    ledger.enter(notches.first_cut_mm, rules.first_cut_ratio, claw)
    ledger.enter(notches.claw_left_mm, claw, seat)
    leg = vees.enter_vees(ledger, facts, places, claw, seat, rules, choice.school, choice.v_from)
    foot = vees.foot_mm(choice.v_from, choice.v_foot_mm, claw)
    if foot is not None and leg:
        ledger.given(vees.V_FOOT, "V, thick at its foot", "mm", foot, CHOSEN, shown_in="head")
    return Basket(
        choice=choice,
        facts=facts,
        rules=rules,
        places=places,
        claw_mm=claw,
        ring=stock,
        drop_mm=drop,
        opening_mm=opening,
        seat_mm=seat,
        leg_mm=leg,
    )


def _vee_foot_mm(choice: HeadChoice, claw_mm: float) -> float:
    """How thick its Vs are at the foot, mm."""
    thin = vees.foot_mm(choice.v_from, choice.v_foot_mm, claw_mm)
    return claw_mm if thin is None else thin


LEAST_V_MM = 0.5
"""A V of thinner metal is not made, however small its stone; from memory."""


def _usual_drop(facts: StoneFacts, rules: HouseRules, seat: float, ring: float) -> float:
    """The house's drop of the upper ring, or more where a steep pavilion would take over half of its wire."""
    if facts.cut.domed:
        return rules.dome_drop_mm
    if facts.cut.is_round:
        return rules.ring_drop_mm
    width, length = sorted(facts.outline.size)
    run = typical_slope(facts.cut, Girth(length, width, facts.cut.corner * width, facts.cut.narrow * width))
    lean = float(np.tan(np.radians(rules.splay_deg)))
    needed = (seat + (0.5 - rules.groove_share) * ring) / max(run - lean, 0.2) - 0.4 * ring
    most = max(0.5 * facts.cut.pavilion * width, rules.ring_drop_mm)
    return float(np.ceil(np.clip(needed, rules.ring_drop_mm, most) * 20 - 1e-6) / 20)


def basket_shape(
    ledger: Ledger, choice: HeadChoice, facts: StoneFacts, rules: HouseRules, places: tuple[ClawPosition, ...]
) -> HeadShape:
    """Claws and Vs closed over the crown, and the rings."""
    claw, wire, drop, height, splay, cover, seat = (
        float(ledger.value(key))
        for key in (
            claws.CLAW,
            rings.RING_WIRE,
            rings.RING_DROP,
            style.height_mm,
            splay_deg,
            claws.tip_cover_mm,
            notches.SEAT_DEPTH,
        )
    )
    lift = float(ledger.value(rings.RING_LIFT)) if rings.RING_LIFT in ledger.entries else 0.0
    if choice.bent_in:
        lift = max(lift, claw)
    closing = closing_over(facts, cover, claw * rules.tip_thinned_share)
    lean = float(np.tan(np.radians(splay)))
    profile = closed_profile(-seat, claw - seat, lean, height, closing)
    plain = tuple(place for place in places if place.kind != POINT)
    pointed = tuple(place for place in places if place.kind == POINT)
    claws_made = Claws(plain, profile, claw, cover) if plain else None
    hooks = hooks_of(ledger, choice, plain, rules, claw, seat, height, lean)
    vee = None
    if pointed:
        leg, relief = float(ledger.value(leg_mm)), float(ledger.value(relief_hole_mm))
        foot = vees.foot_mm(choice.v_from, choice.v_foot_mm, claw)
        tapered = profile if foot is None else thinned_to(profile, foot)
        vee = Vees(
            places=pointed,
            profile=tapered,
            leg_mm=leg,
            relief_mm=relief,
            lean=lean,
            slotted=choice.posts == rings.DRILLED,
        )
    return HeadShape(
        outline=facts.outline,
        height_mm=height,
        opening_inset_mm=seat,
        claws=claws_made,
        rings=rings.ring_shapes(ledger, rings.stock_of(choice, rules, wire), drop, height - lift),
        walls=(),
        outer_key=notches.outer_over_claws_mm,
        foot_key=style.WIDTH_AT_FOOT,
        vees=vee,
        on_legs=rings.lower_ring_inset_mm not in ledger.entries,
        hooks=hooks,
    )
