"""How far claws reach along the band at a depth: which of them decides, and by what of it."""

from __future__ import annotations

from collections.abc import Sequence
from functools import cached_property, reduce

import numpy as np
from msgspec import Struct

from yarvel.figures.figure import Number
from yarvel.heads.places import POINT, ClawPosition
from yarvel.heads.style import StoneFacts

Reach = tuple[Number, Number, Number]
"""How far in mm from the middle some metal's contact lies along the band, how far it moves that way per mm outwards,
and its reach past its middle, as a share of half of it."""
Found = tuple[Reach, Number, Number]
"""A reach, with the metal there and the depth of its seat in mm."""


def reaches(facts: StoneFacts, place: ClawPosition, leg_mm: Number, seat_mm: Number) -> list[Reach]:
    """Where a claw may reach farthest along the band: a round one by its side, a V by its corner, which runs out by
    both of its sides, or by the end of a leg ``leg_mm`` long, which keeps square to its side as the V leans along its
    fold."""
    side = -1.0 if place.x_mm < 0 else 1.0
    at = facts.stretched(abs(place.x_mm), 0.0)[0]
    lean = side * place.normal[0] / float(np.cos(np.radians(place.spread_deg)))
    if place.kind != POINT:
        return [(at, lean, 1.0)]
    reached: list[Reach] = [(at, lean, abs(lean))]
    for turn in (-1.0, 1.0):
        way = np.radians(place.normal_deg + turn * place.spread_deg)
        out = side * float(np.cos(way))
        end = at + side * turn * -float(np.sin(way)) * leg_mm
        reached.append((end + (lean - out) * seat_mm, lean, 2 * out - lean))
    return reached


class OverClaws(Struct, frozen=True):
    """Width over the claws along the band at a depth; reach, metal and seat depth of the claw that decides; mm."""

    width_mm: Number
    reach: Reach
    metal_mm: Number
    seat_mm: Number

    @property
    def of_figure(self) -> tuple[Number, Number, Number, Number, Number]:
        """Reach, metal and seat depth as the figures of the foot's width take them."""
        return *self.reach, self.metal_mm, self.seat_mm


class AlongBand(Struct, frozen=True, dict=True, kw_only=True):
    """The claws of a head as they lie along the band: ``claw_mm`` thick at the seat, Vs ``vee_foot_mm`` at the foot;
    all of one seat depth; mm."""

    facts: StoneFacts
    places: tuple[ClawPosition, ...]
    claw_mm: float
    vee_foot_mm: float
    seat_mm: Number
    leg_mm: float

    def over(self, depth_mm: Number, height_mm: Number, splay_deg: Number) -> OverClaws:
        """Width over them at a depth, of a head of this height, and what decides."""
        metals, seats = self._metals(depth_mm, height_mm), (self.seat_mm,) * len(self.places)
        return over_claws(self.facts, self.places, metals, seats, depth_mm, splay_deg, self.leg_mm)

    def width_mm(self, depth_mm: Number, height_mm: Number, splay_deg: Number) -> Number:
        """That width alone, mm."""
        if self._thin_below:
            return self.over(depth_mm, height_mm, splay_deg).width_mm
        return widest(self._alike, depth_mm, splay_deg)

    @cached_property
    def _thin_below(self) -> bool:
        return self.vee_foot_mm != self.claw_mm and any(place.kind == POINT for place in self.places)

    @cached_property
    def _alike(self) -> list[Found]:
        """Where they may reach farthest, as thick at every depth."""
        each = (self.claw_mm,) * len(self.places), (self.seat_mm,) * len(self.places)
        return unlike(self.facts, self.places, *each, self.leg_mm)

    def _metals(self, depth_mm: Number, height_mm: Number) -> list[Number]:
        thinner = (self.claw_mm - self.vee_foot_mm) * depth_mm / np.maximum(height_mm, 1e-6)
        vee = self.claw_mm - thinner
        return [vee if place.kind == POINT else self.claw_mm for place in self.places]


def over_claws(
    facts: StoneFacts,
    places: tuple[ClawPosition, ...],
    metals_mm: Sequence[Number],
    seats_mm: Sequence[Number],
    depth_mm: Number,
    splay_deg: Number,
    leg_mm: Number,
) -> OverClaws:
    """Width over the claws along the band at a depth in mm, each with its own metal there and its own seat depth, mm.
    The gap is marked from the middle to both sides, so the farther side counts."""
    contacts = unlike(facts, places, metals_mm, seats_mm, leg_mm)
    each = [width_mm(*reach, metal, seat, depth_mm, splay_deg) for reach, metal, seat in contacts]
    if not any(np.ndim(width) for width in each):  # one head, not a column of samples: no need of arrays
        rounded = [round(float(width), 6) for width in each]
        at = rounded.index(max(rounded))
        return OverClaws(float(each[at]), *contacts[at])
    widths = np.stack(np.broadcast_arrays(*each))
    outer = np.argmax(np.round(widths, 6), axis=0)

    def picked(values: Sequence[Number]) -> Number:
        """Of each sample the value of the claw that decides there."""
        every = np.stack(np.broadcast_arrays(*values, widths[0]))[:-1]
        chosen: Number = np.take_along_axis(every, outer[None], axis=0)[0]
        return chosen if np.ndim(chosen) else float(chosen)

    reach = tuple(picked([contact[part] for contact, _, _ in contacts]) for part in range(3))
    metal, seat = picked([metal for _, metal, _ in contacts]), picked([seat for _, _, seat in contacts])
    return OverClaws(picked(list(widths)), (reach[0], reach[1], reach[2]), metal, seat)


def widest(found: Sequence[Found], depth_mm: Number, splay_deg: Number) -> Number:
    """The greatest width in mm along the band at a depth of what :func:`unlike` found."""
    widths = [width_mm(*reach, metal, seat, depth_mm, splay_deg) for reach, metal, seat in found]
    return reduce(np.maximum, widths) if any(isinstance(width, np.ndarray) for width in widths) else max(widths)


def unlike(
    facts: StoneFacts,
    places: tuple[ClawPosition, ...],
    metals_mm: Sequence[Number],
    seats_mm: Sequence[Number],
    leg_mm: Number,
) -> list[Found]:
    """Where claws may reach farthest, with their metal and seat depth: of claws that mirror one another, the first."""
    columns = any(isinstance(seat, np.ndarray) for seat in seats_mm)
    least: Number = np.min(np.broadcast_arrays(*seats_mm), axis=0) if columns else min(seats_mm)
    contacts_by_kind: dict[object, list[Found]] = {}
    for place, metal, seat in zip(places, metals_mm, seats_mm, strict=True):
        of_metal, of_seat = (
            id(measure) if isinstance(measure, np.ndarray) else float(measure) for measure in (metal, seat)
        )
        alike = (place.mirrored, of_metal, of_seat)
        if alike not in contacts_by_kind:
            contacts_by_kind[alike] = [(reach, metal, seat) for reach in reaches(facts, place, leg_mm, least)]
    return [contact for contacts in contacts_by_kind.values() for contact in contacts]


def width_mm(
    reach_mm: Number, lean: Number, edge: Number, claw_mm: Number, seat_mm: Number, depth_mm: Number, splay_deg: Number
) -> Number:
    """Width in mm over the claws along the band at a depth: the outermost contacts lie ``reach_mm`` out from the
    middle and move ``lean`` along the band per mm outwards; ``edge`` is how far the claw reaches past its middle there,
    as a share of half its metal: 1 where it is round."""
    middle = claw_mm / 2 - seat_mm - depth_mm * np.tan(np.radians(splay_deg))
    return 2 * (reach_mm + lean * middle) + edge * claw_mm
