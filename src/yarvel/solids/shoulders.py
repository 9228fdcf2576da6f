"""Small rounds in the shoulders: what is drilled, carved and cut for them, and little bezels that are let in. Frame as
the head's; mm."""

from __future__ import annotations

import numpy as np
from manifold3d import CrossSection, Manifold, OpType
from msgspec import Struct
from numpy.typing import NDArray

from yarvel.shanks.band import Band
from yarvel.shanks.joinery import SmallRounds
from yarvel.solids.bodies import Fineness, capped, dusted, joined

Points = NDArray[np.float64]
_BEYOND_MM, _OVERLAP_MM = 2.0, 0.01
_STEP_DEG = 1.5


class Shouldered(Struct, frozen=True, kw_only=True):
    """A band with its small rounds' seats: the ``body``, bezels and all; volumes in mm³ of what was drilled out of it,
    carved off it and cut for the seats, of the bezels in it, and of what of them would stand in head or stone."""

    body: Manifold
    bored_mm3: float = 0.0
    carved_mm3: float = 0.0
    seats_mm3: float = 0.0
    bezels_mm3: float = 0.0
    of_bezels_mm3: float = 0.0
    in_head_mm3: float = 0.0


def shouldered(
    body: Manifold, over: Manifold, band: Band, centre_mm: float, small: SmallRounds, fineness: Fineness
) -> Shouldered:
    """The band (its finger's axis at a height over the seat) with the seats of its small rounds, band and bezels
    without what of them would stand in ``over``, the head and its stone. What is worked off is measured on the arc of
    the band that holds the small rounds: all round it is the same."""
    places = [_Place(band, centre_mm, angle) for angle in small.angles_deg]
    arc = body.trim_by_plane((0, 0, 1), min(place.lowest_mm for place in places) - small.outer_mm)
    bores, seats = (_all([body_of(place, small, fineness) for place in places]) for body_of in (_hole, _seat))
    off = None if small.carving is None else _carved(band, centre_mm, small, places, fineness)
    worked = [body, over, bores, seats, *(() if off is None else (off,))]
    done = Manifold.batch_boolean(worked, OpType.Subtract)
    bored = float((arc ^ (bores - over)).volume())
    carved = 0.0 if off is None else float((arc ^ (off - over - bores)).volume())
    if small.tube is None:
        gone = [over, bores, *(() if off is None else (off,))]
        cut = float((arc ^ Manifold.batch_boolean([seats, *gone], OpType.Subtract)).volume())
        return Shouldered(body=dusted(done), bored_mm3=bored, carved_mm3=carved, seats_mm3=cut)
    each = [_tube(place, small, fineness) for place in places]
    tubes = _all(each)
    seated = tubes - seats
    off_tubes, inside = float(tubes.volume() - seated.volume()), 0.0
    if any(_meet(over, tube) for tube in each):
        inside, seated = float((seated ^ over).volume()), seated - over
    plain, filled = float(done.volume()), dusted(done + seated)
    return Shouldered(
        body=filled,
        bored_mm3=bored,
        carved_mm3=carved,
        seats_mm3=0.0,
        bezels_mm3=float(filled.volume()) - plain,
        of_bezels_mm3=off_tubes,
        in_head_mm3=inside,
    )


def _meet(one: Manifold, other: Manifold) -> bool:
    """Whether the boxes round two bodies meet."""
    (low, high), (low_too, high_too) = (np.array(body.bounding_box()).reshape(2, 3) for body in (one, other))
    return not bool(np.any((high < low_too) | (high_too < low)))


class _Place(Struct, frozen=True):
    """The middle of one small round on the band: everything stands along its own ray from the finger's axis."""

    band: Band
    centre_mm: float
    angle_deg: float

    @property
    def surface_mm(self) -> float:
        """Radius of the band's outside there."""
        return self.band.inside_radius + float(self.band.thickness_at(abs(self.angle_deg)))

    @property
    def lowest_mm(self) -> float:
        """Height over the seat below which nothing of what is drilled or let in there lies."""
        ends = np.array([self.band.inside_radius - _BEYOND_MM, self.surface_mm + _BEYOND_MM])
        return self.centre_mm + float((ends * np.cos(np.radians(self.angle_deg))).min())

    def rod(self, radius_mm: float, fineness: Fineness) -> Manifold:
        """A rod along the ray, from inside the finger out of the metal."""
        low, high = self.within_mm(radius_mm), self.surface_mm + _BEYOND_MM
        return self.turned([(0.0, low), (radius_mm, low), (radius_mm, high), (0.0, high)], fineness)

    def within_mm(self, radius_mm: float) -> float:
        """Radius at which a flat end of this radius in mm lies inside the finger."""
        return float(np.sqrt(max(self.band.inside_radius**2 - radius_mm**2, 0.0))) - _OVERLAP_MM

    def turned(self, section: list[tuple[float, float]], fineness: Fineness) -> Manifold:
        """A body turned about the ray from half its section (distance from the ray, radius from the finger's axis)."""
        body = CrossSection([np.array(section)]).revolve(fineness.wire)
        return body.rotate((0.0, self.angle_deg, 0.0)).translate((0.0, 0.0, self.centre_mm))


def _hole(place: _Place, small: SmallRounds, fineness: Fineness) -> Manifold:
    """What is drilled: the bore through the band, and for a little bezel the hole that it is let into."""
    bore, high = small.bore_mm / 2, place.surface_mm + _BEYOND_MM
    low = place.within_mm(bore)
    if small.tube is None:
        return place.rod(bore, fineness)
    outer, floor = small.outer_mm / 2, max(place.surface_mm - small.tube.let_mm, low + _OVERLAP_MM)
    steps = [(0.0, low), (bore, low), (bore, floor), (outer, floor), (outer, high), (0.0, high)]
    return place.turned(steps, fineness)


def _seat(place: _Place, small: SmallRounds, fineness: Fineness) -> Manifold:
    """A small stone as the seat is cut to it: straight down to its girdle, then its pavilion's cone."""
    girdle = place.surface_mm + _proud(small) - small.sink_mm
    radius, high = small.stone_mm / 2, place.surface_mm + _BEYOND_MM
    steps = [(0.0, girdle - small.pavilion_mm), (radius, girdle), (radius, high), (0.0, high)]
    return place.turned(steps, fineness)


def _proud(small: SmallRounds) -> float:
    """How far a little bezel's top stands over the band, mm."""
    return 0.0 if small.tube is None else small.tube.length_mm - small.tube.let_mm


def _tube(place: _Place, small: SmallRounds, fineness: Fineness) -> Manifold:
    """A little bezel in its hole, before its seat is cut; a hair wider and longer than the hole, so that band and bezel
    are one."""
    tube = small.tube
    assert tube is not None, "only little bezels are of tube"
    inner, outer = small.outer_mm / 2 - tube.wall_mm, small.outer_mm / 2 + _OVERLAP_MM
    low, high = place.surface_mm - tube.let_mm - _OVERLAP_MM, place.surface_mm + _proud(small)
    return place.turned([(inner, low), (outer, low), (outer, high), (inner, high)], fineness)


def _carved(band: Band, centre_mm: float, small: SmallRounds, places: list[_Place], fineness: Fineness) -> Manifold:
    """What is cut down round the bezels on both sides: from the step at the head to past the last one, without the
    walls themselves and the necks between them."""
    carving = small.carving
    assert carving is not None, "only bezels out of the solid are carved"
    kept = [place.rod(small.outer_mm / 2, fineness) for place in places]
    cut = []
    for way in (-1.0, 1.0):
        angles = sorted(abs(angle) for angle in small.angles_deg if angle * way > 0)
        start, end = carving.from_deg, carving.to_deg
        cut.append(_sector(band, centre_mm, (way * start, way * end), band.widest[0], carving.down_mm))
        if len(angles) > 1:
            kept.append(_sector(band, centre_mm, (way * angles[0], way * angles[-1]), carving.neck_mm / 2, None))
    return _all(cut) - _all(kept)


def _sector(
    band: Band, centre_mm: float, turn_deg: tuple[float, float], half_mm: float, down_mm: float | None
) -> Manifold:
    """A piece round the finger between two angles, ``half_mm`` to each side, from so far below the band's outside
    (None: from inside the finger) out of the metal."""
    count = max(int(abs(turn_deg[1] - turn_deg[0]) / _STEP_DEG) + 2, 3)
    rows = []
    for turn in np.linspace(*turn_deg, count):
        outside = band.inside_radius + float(band.thickness_at(abs(turn)))
        low = band.inside_radius - _BEYOND_MM if down_mm is None else outside - down_mm
        reach = np.array([(low, -half_mm), (outside + _BEYOND_MM, -half_mm), (outside + _BEYOND_MM, half_mm)])
        section = np.vstack([reach, [(low, half_mm)]])
        angle = np.radians(turn)
        rows.append(
            np.column_stack([section[:, 0] * np.sin(angle), section[:, 1], centre_mm + section[:, 0] * np.cos(angle)])
        )
    return joined(np.stack(rows), capped(section))


def _all(bodies: list[Manifold]) -> Manifold:
    return Manifold.batch_boolean(bodies, OpType.Add)
