"""The form of a head as plain geometry: what every drawing and check reads, whatever the style."""

from __future__ import annotations

from functools import cached_property

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from yarvel.figures.figure import FigureKey
from yarvel.heads.places import ClawPosition
from yarvel.stones.outline import Outline

Polygon = NDArray[np.float64]
"""Closed outline, shape (n, 2), in mm; the columns are (u, z): u outwards from the stone's edge, z up from the seat."""


class Claws(Struct, frozen=True):
    """Round claws at their ``places``; ``profile`` in a claw's own plane, square to the stone's edge; ``width_mm``
    across; ``tip_cover_mm`` how far the tip reaches over the crown, mm."""

    places: tuple[ClawPosition, ...]
    profile: Polygon
    width_mm: float
    tip_cover_mm: float


class Vees(Struct, frozen=True, kw_only=True):
    """Claws of V section over sharp points: ``profile`` as for claws, carried along both sides of the point for
    ``leg_mm`` mm; ``relief_mm`` is the diameter of the hole that keeps the stone's corner free, mm. A V leans in along
    its fold by ``lean`` a mm of depth, and its legs go with it: they keep their width. ``slotted``: rings reach out
    past it, and are cut open for it from outside."""

    places: tuple[ClawPosition, ...]
    profile: Polygon
    leg_mm: float
    relief_mm: float
    lean: float = 0.0
    slotted: bool = False

    def leant(self, heights_mm: Polygon) -> Polygon:
        """How far out from the stone's edge the V's own line lies at these heights (n,) over the seat, (n,) in mm: in,
        below it."""
        return self.lean * np.minimum(heights_mm, 0.0)

    def stations(self, place: ClawPosition, reach_mm: Polygon, heights_mm: Polygon) -> Polygon:
        """Points of one V at its three stations (end, corner, end), shape (3, n, 2) in mm: ``reach_mm`` (n,) out from
        the stone's edge at ``heights_mm`` (n,) over the seat."""
        path, ways = self.path(place)
        leant = np.broadcast_to(self.leant(heights_mm), np.shape(reach_mm))[None, :, None]
        own = np.asarray(reach_mm)[None, :, None] - leant
        moved: Polygon = path[:, None, :] + ways[1] * leant + ways[:, None, :] * own
        return moved

    def beyond(self, points: Polygon, z_mm: float) -> NDArray[np.bool_]:
        """Which of these points (n, 2), mm, lie outside the legs of a V at a height over the seat, (n,): where a ring
        that is slotted for it is cut away."""
        _, most = reach_at(self.profile, np.array([z_mm]))
        bits = np.zeros(len(points), dtype=np.bool_)
        for place in self.places:
            out = np.array(place.normal)
            along = np.array([-out[1], out[0]])
            legs = self.stations(place, most, np.array([z_mm]))[:, 0, :]
            legs = legs[np.argsort(legs @ along)]
            across = points @ along
            line = np.interp(across, legs @ along, legs @ out)
            within = (across >= legs[0] @ along) & (across <= legs[-1] @ along)
            bits |= within & (points @ out > line)
        return bits

    def path(self, place: ClawPosition) -> tuple[Polygon, Polygon]:
        """Contacts of one V on the stone's edge (end, corner, end), and how each moves per mm outwards, both (3, 2)."""
        ends, ways = [], []
        for side in (-1.0, 1.0):
            turn = np.radians(place.normal_deg + side * place.spread_deg)
            normal = np.array([np.cos(turn), np.sin(turn)])
            ends.append(
                np.array([place.x_mm, place.y_mm]) + np.array([-side * normal[1], side * normal[0]]) * self.leg_mm
            )
            ways.append(normal)
        middle = np.array(place.normal) / np.cos(np.radians(place.spread_deg))
        return np.array([ends[0], (place.x_mm, place.y_mm), ends[1]]), np.array([ways[0], middle, ways[1]])


class WireRing(Struct, frozen=True, kw_only=True):
    """A ring of round wire, or of what is ``angular``: square wire, or strip. The middle of its section lies
    ``inset_mm`` from the stone's edge at height ``z_mm``; it is ``across_mm`` from inside to outside and ``high_mm``
    from foot to top; mm."""

    name: str
    inset_mm: float
    z_mm: float
    across_mm: float
    high_mm: float
    angular: bool = False

    @property
    def top_mm(self) -> float:
        """Its top over the seat, mm."""
        return self.z_mm + self.high_mm / 2

    @property
    def foot_mm(self) -> float:
        """Its underside over the seat, mm."""
        return self.z_mm - self.high_mm / 2

    @property
    def outside_inset_mm(self) -> float:
        """How far in mm its outside lies inside the stone's edge."""
        return self.inset_mm - self.across_mm / 2

    @property
    def area_mm2(self) -> float:
        """Its section, mm²."""
        return self.across_mm * self.high_mm * (1.0 if self.angular else np.pi / 4)

    @property
    def section(self) -> Polygon:
        """Its section (n, 2) about its middle, mm, counter-clockwise."""
        half = np.array([self.across_mm, self.high_mm]) / 2
        if self.angular:
            return half * [(1, -1), (1, 1), (-1, 1), (-1, -1)]
        turn = np.arange(_CIRCLE) * 2 * np.pi / _CIRCLE
        return np.column_stack([np.cos(turn), np.sin(turn)]) * half


_CIRCLE = 32


class Hooks(Struct, frozen=True):
    """Legs bent in below a head, as bars of round wire at a height ``z_mm`` over the seat: each from under its claw to
    its inner end, ((x, y), (x, y)); ``wire_mm`` thick; mm."""

    bars: tuple[tuple[tuple[float, float], tuple[float, float]], ...]
    z_mm: float
    wire_mm: float


class Wall(Struct, frozen=True):
    """A wall all round: ``profile`` is its section, square to the stone's edge."""

    name: str
    profile: Polygon


class HeadShape(Struct, frozen=True, eq=False, dict=True, kw_only=True):
    """A head around the z axis; z = 0 is the seat plane. Everything is placed from the stone's ``outline`` (in the
    head's frame, x along the band); ``opening_inset_mm`` is how far the inner face lies inside the stone's edge there.

    ``on_legs`` says that no ring lies at its foot: its claws end free, or in the ``hooks`` that they are bent to.
    ``outer_key`` names the figure of its outside at the girdle, ``foot_key`` that of its width along the band at the
    foot."""

    outline: Outline
    height_mm: float
    opening_inset_mm: float
    claws: Claws | None
    rings: tuple[WireRing, ...]
    walls: tuple[Wall, ...]
    outer_key: FigureKey
    foot_key: FigureKey
    vees: Vees | None = None
    on_legs: bool = False
    hooks: Hooks | None = None

    @cached_property
    def places(self) -> tuple[ClawPosition, ...]:
        """Places of all claws, counter-clockwise."""
        both = [part.places for part in (self.claws, self.vees) if part is not None]
        return tuple(sorted((place for some in both for place in some), key=lambda place: place.azimuth_deg))

    @property
    def profiles(self) -> list[Polygon]:
        """Sections of claws, Vs and walls, each (n, 2): radius from the stone's edge and height over the seat, mm."""
        clawed = [part.profile for part in (self.claws, self.vees) if part is not None]
        return clawed + [wall.profile for wall in self.walls]


class ClosedTip(Struct, frozen=True):
    """What a closed tip needs to be drawn, in mm: where the stone is and how far the metal covers it.

    ``run`` is the way in per mm of depth under the girdle, ``crown_slope`` rise per mm inwards above it.
    """

    girdle_mm: float
    run: float
    crown_slope: float
    cover_mm: float
    tip_thickness_mm: float


_TURN = np.linspace(0, np.pi, 9)[1:-1]
_NOSE = np.column_stack([-np.cos(_TURN), np.sin(_TURN)])
_BEND = np.linspace(0, 1, 12)
_CURVE = np.column_stack([(1 - _BEND) ** 2, 2 * _BEND * (1 - _BEND), _BEND**2])


def closed_profile(inner_mm: float, outer_mm: float, lean: float, foot_mm: float, closing: ClosedTip) -> Polygon:
    """Section (n, 2), mm, of a claw or wall closed over the crown, with its seat cut to the stone.

    ``inner_mm`` and ``outer_mm`` are its faces at z = 0, outwards from the stone's edge; ``lean`` what both come in per
    mm of depth; ``foot_mm`` the depth of its lower end. The loop runs from the foot's inner edge upwards.
    """
    top = closing.girdle_mm
    # where the pavilion, coming in by run a mm, meets the leaning inner face: there the seat's lower edge lies
    lip = -max(-inner_mm, 0.0) / max(closing.run - lean, 0.2)
    tip = np.array([-closing.cover_mm, top + closing.cover_mm * closing.crown_slope])
    along = np.array([-1.0, closing.crown_slope]) / np.hypot(1.0, closing.crown_slope)
    # along the crown towards the table; the normal points away from the stone, so the tip's back lies outside
    normal = np.array([-along[1] * -1.0, along[0] * -1.0])
    back = tip + normal * closing.tip_thickness_mm
    centre = (tip + back) / 2
    half = closing.tip_thickness_mm / 2
    nose = centre + half * (_NOSE[:, :1] * normal + _NOSE[:, 1:] * along)
    shoulder = np.array([outer_mm + lean * top, top + 0.1 * closing.tip_thickness_mm])
    # a quadratic curve from the tip's back to the outside, its knee never under the shoulder (metal would fold)
    knee = np.array([outer_mm + lean * top, back[1] - (outer_mm - back[0]) * closing.crown_slope * 0.55])
    knee[1] = max(knee[1], shoulder[1])
    curve = _CURVE @ np.array([back, knee, shoulder])
    start = np.array([[inner_mm - lean * foot_mm, -foot_mm], [inner_mm + lean * lip, lip], [0.0, 0.0], [0.0, top], tip])
    end = np.array([[outer_mm, 0.0], [outer_mm - lean * foot_mm, -foot_mm]])
    return np.vstack([start, nose, curve, end])


def thinned_to(profile: Polygon, foot_mm: float) -> Polygon:
    """A :func:`closed_profile` (n, 2) whose outside runs in below the seat until it is ``foot_mm`` thick at its foot,
    mm."""
    polygon = profile.copy()
    polygon[-1, 0] = profile[0, 0] + foot_mm
    return polygon


def area_mm2(section: Polygon) -> float:
    """Area in mm² of a section's loop (n, 2)."""
    x, z = section.T
    return float(abs(np.sum(x * np.roll(z, -1) - np.roll(x, -1) * z))) / 2


_PRESSED_MM = 0.02


def uncut(profile: Polygon) -> Polygon:
    """A :func:`closed_profile` (n, 2) before its seat is cut: its inner face runs straight up and on under the tip, a
    hair into the crown, so that taking the stone away leaves the true seat."""
    foot, lip, _, _, tip = profile[:5]
    rise = (lip[1] - foot[1]) or 1e-9
    inner = lip[0] + (lip[0] - foot[0]) / rise * -lip[1]
    inside = np.array([foot, (inner, 0.0), (tip[0], tip[1] - _PRESSED_MM)])
    return np.vstack([inside, profile[5:]])


def reach_at(profile: Polygon, heights: Polygon) -> tuple[Polygon, Polygon]:
    """Least and greatest u in mm of a section (n, 2) at these heights (k,), each (k,); heights are held a hair inside
    the section's ends."""
    heights = np.clip(heights, profile[:, 1].min() + 1e-9, profile[:, 1].max() - 1e-9)
    start, end = profile, np.concatenate((profile[1:], profile[:1]))
    rise = end[:, 1] - start[:, 1]
    level = np.abs(rise) < 1e-12
    share = (heights[:, None] - start[None, :, 1]) / np.where(level, 1.0, rise)[None, :]
    crossing = (share >= 0) & (share <= 1) & ~level[None, :]
    reach = start[None, :, 0] + share * (end - start)[None, :, 0]
    return (
        np.minimum.reduce(reach, axis=1, where=crossing, initial=np.inf),
        np.maximum.reduce(reach, axis=1, where=crossing, initial=-np.inf),
    )
