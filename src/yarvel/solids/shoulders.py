"""Small rounds in the shoulders: what is drilled, carved and cut for them, and little bezels that are let in. Frame as
the head's; mm."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from manifold3d import Manifold, OpType
from numpy.typing import NDArray

from yarvel.shanks.band import Band
from yarvel.shanks.joinery import SmallRounds
from yarvel.solids.bodies import Fineness, capped, dusted, joined

Points = NDArray[np.float64]
_BEYOND_MM, _OVERLAP_MM = 2.0, 0.01
_STEP_DEG = 1.5


@dataclass(frozen=True)
class Shouldered:
    """A band with its small rounds' seats: the ``body``, bezels and all; volumes in mm³ of what was drilled out of it,
    carved off it and cut for the seats, of the bezels in it, and of what of them would stand in head or stone."""

    body: Manifold
    bored_mm3: float = 0.0
    carved_mm3: float = 0.0
    seats_mm3: float = 0.0
    bezels_mm3: float = 0.0
    of_bezels_mm3: float = 0.0
    in_head_mm3: float = 0.0


def shouldered(body: Manifold, band: Band, centre_mm: float, small: SmallRounds, fineness: Fineness) -> Shouldered:
    """The band (its finger's axis at a height over the seat) with the seats of its small rounds."""
    places = [_Place(band, centre_mm, angle) for angle in small.angles_deg]
    plain = float(body.volume())
    drilled = body - _all([place.rod(small.bore_mm / 2, 0.0, None, fineness) for place in places])
    if small.tube is not None:
        let = small.tube.let_mm
        drilled -= _all([place.rod(small.outer_mm / 2, -let, None, fineness) for place in places])
    carved = drilled if small.carving is None else drilled - _carved(band, centre_mm, small, places, fineness)
    seats = _all([_seat(place, small, fineness) for place in places])
    bored, cut = plain - float(drilled.volume()), float(drilled.volume()) - float(carved.volume())
    if small.tube is None:
        done = dusted(carved - seats)
        return Shouldered(done, bored, cut, float(carved.volume()) - float(done.volume()))
    uncut = _all([_tube(place, small, fineness) for place in places]) - carved
    tubes = uncut - seats
    done = dusted(carved + _all([_tube(place, small, fineness) for place in places]) - seats)
    return Shouldered(done, bored, cut, 0.0, float(tubes.volume()), float(uncut.volume()) - float(tubes.volume()))


@dataclass(frozen=True)
class _Place:
    """The middle of one small round on the band: everything stands along its own ray from the finger's axis."""

    band: Band
    centre_mm: float
    angle_deg: float

    @property
    def surface_mm(self) -> float:
        """Radius of the band's outside there."""
        return self.band.inside_radius + float(self.band.thickness_at(abs(self.angle_deg)))

    def rod(self, radius_mm: float, low_mm: float, high_mm: float | None, fineness: Fineness) -> Manifold:
        """A rod along the ray from a height over the surface to another (None: out of the metal); from inside the
        finger where ``low_mm`` is 0."""
        low = self.band.inside_radius - _BEYOND_MM if low_mm == 0.0 else self.surface_mm + low_mm
        high = self.surface_mm + (_BEYOND_MM if high_mm is None else high_mm)
        made = Manifold.cylinder(high - low, radius_mm, circular_segments=2 * fineness.wire)
        return self.stood(made.translate((0.0, 0.0, low)))

    def stood(self, body: Manifold) -> Manifold:
        """A body made along the z axis from the finger's middle, stood along the ray."""
        return body.rotate((0.0, self.angle_deg, 0.0)).translate((0.0, 0.0, self.centre_mm))


def _seat(place: _Place, small: SmallRounds, fineness: Fineness) -> Manifold:
    """A small stone as the seat is cut to it: straight down to its girdle, then its pavilion's cone."""
    top = _proud(small)
    girdle = place.surface_mm + top - small.sink_mm
    cone = Manifold.cylinder(small.pavilion_mm, 0.0, small.stone_mm / 2, 2 * fineness.wire)
    room = place.rod(small.stone_mm / 2, top - small.sink_mm, None, fineness)
    return room + place.stood(cone.translate((0.0, 0.0, girdle - small.pavilion_mm)))


def _proud(small: SmallRounds) -> float:
    """How far a little bezel's top stands over the band, mm."""
    return 0.0 if small.tube is None else small.tube.length_mm - small.tube.let_mm


def _tube(place: _Place, small: SmallRounds, fineness: Fineness) -> Manifold:
    """A little bezel in its hole, before its seat is cut: a hair wider and longer than the hole: they are one."""
    tube = small.tube
    assert tube is not None, "only little bezels are of tube"
    outside = place.rod(small.outer_mm / 2 + _OVERLAP_MM, -tube.let_mm - _OVERLAP_MM, _proud(small), fineness)
    return outside - place.rod(small.outer_mm / 2 - tube.wall_mm, 0.0, None, fineness)


def _carved(band: Band, centre_mm: float, small: SmallRounds, places: list[_Place], fineness: Fineness) -> Manifold:
    """What is cut down round the bezels on both sides: from the step at the head to past the last one, without the
    walls themselves and the necks between them."""
    carving = small.carving
    assert carving is not None, "only bezels out of the solid are carved"
    kept = [place.rod(small.outer_mm / 2, 0.0, None, fineness) for place in places]
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
