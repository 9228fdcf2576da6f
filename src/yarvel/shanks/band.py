"""A band: its section from the head to the back, which may change along the ring."""

from __future__ import annotations

from collections.abc import Callable
from functools import cached_property, lru_cache
from typing import Any

import numpy as np
from msgspec import Struct
from msgspec.structs import replace

from yarvel.figures.figure import Number

CROWN = {"flat": 0.0, "square": 0.0, "half-round": 0.8, "court": 0.35}
"""How much of a profile's thickness is rounded, as half an ellipse over its width; the rest stands upright. From
memory."""
FILL = {profile: 1 - crown * (1 - np.pi / 4) for profile, crown in CROWN.items()}
"""Share of width times thickness that a profile fills."""
PROFILES = tuple(FILL)


class BandStation(Struct, frozen=True):
    """The section at an angle from the head (0) towards the back (180), alike on both sides; mm. None: as it runs on
    between its neighbours."""

    turn_deg: float
    width_mm: float | None = None
    thickness_mm: float | None = None
    profile: str | None = None


class Band(Struct, frozen=True, dict=True, kw_only=True):
    """A band: sizes in mm at the head, ``back_…`` opposite it where it is another there; ``profile`` flat, half-round,
    court or square. What stands ``between`` is given by stations; from one to the next, width, thickness and the
    share of it that is rounded change evenly along the arc."""

    inside_diameter_mm: float
    width_mm: float
    thickness_mm: float
    profile: str
    back_width_mm: float | None = None
    back_thickness_mm: float | None = None
    back_profile: str | None = None
    between: tuple[BandStation, ...] = ()

    @property
    def inside_radius(self) -> float:
        """Radius of the finger side, mm."""
        return self.inside_diameter_mm / 2

    @property
    def outside_radius(self) -> float:
        """Radius over the middle of the band at the head, mm."""
        return self.inside_diameter_mm / 2 + self.thickness_mm

    @cached_property
    def back(self) -> BandStation:
        """The section opposite the head."""
        return BandStation(
            180.0,
            self.width_mm if self.back_width_mm is None else self.back_width_mm,
            self.thickness_mm if self.back_thickness_mm is None else self.back_thickness_mm,
            self.profile if self.back_profile is None else self.back_profile,
        )

    @cached_property
    def stations(self) -> tuple[BandStation, ...]:
        """All sections that are given, from the head to the back."""
        return (BandStation(0.0, self.width_mm, self.thickness_mm, self.profile), *self.between, self.back)

    @cached_property
    def tapers(self) -> bool:
        """Whether it is not the same all round."""
        return bool(self.between) or self.back != replace(self.stations[0], turn_deg=180.0)

    @property
    def rounded(self) -> bool:
        """Whether it is rounded anywhere."""
        return any(station.profile is not None and CROWN[station.profile] > 0 for station in self.stations)

    def outside_at(self, across_mm: Number) -> Number:
        """Radius in mm of the band's outside at the head, this far in mm from the middle of its width."""
        crown = CROWN[self.profile] * self.thickness_mm
        share = np.minimum(np.abs(across_mm) / (self.width_mm / 2), 1.0)
        radius: Number = self.outside_radius - crown * (1 - np.sqrt(1 - share**2))
        return radius

    def width_at(self, turn_deg: Number) -> Number:
        """Width in mm at an angle round the finger, 0 at the head, 180 opposite."""
        return self._at("width_mm", turn_deg)

    def thickness_at(self, turn_deg: Number) -> Number:
        """Thickness in mm at an angle round the finger, 0 at the head, 180 opposite."""
        return self._at("thickness_mm", turn_deg)

    def crown_at(self, turn_deg: Number) -> Number:
        """Share of the thickness that is rounded at an angle round the finger, 0 at the head, 180 opposite."""
        return self._at("profile", turn_deg)

    def _at(self, name: str, turn_deg: Number) -> Number:
        turns, values = _nodes(self, name)
        number: Number = np.interp(np.abs(turn_deg), turns, values)
        return number

    def fill_at(self, turn_deg: Number) -> Number:
        """Share of width times thickness that is metal, at an angle round the finger."""
        return 1 - self.crown_at(turn_deg) * (1 - np.pi / 4)

    def area_at(self, turn_deg: Number) -> Number:
        """Area in mm² of the section at an angle round the finger."""
        return self.fill_at(turn_deg) * self.width_at(turn_deg) * self.thickness_at(turn_deg)

    @property
    def widest(self) -> tuple[float, float]:
        """The greatest width and the greatest thickness that it has anywhere, mm."""
        turns = np.array([station.turn_deg for station in self.stations])
        return float(np.max(self.width_at(turns))), float(np.max(self.thickness_at(turns)))

    @cached_property
    def mean_thickness(self) -> float:
        """Mean thickness in mm along the band."""
        return self._mean(self.thickness_at)

    @cached_property
    def section_mm2(self) -> float:
        """Mean area of the section, mm²."""
        return self._mean(self.area_at)

    @cached_property
    def volume_mm3(self) -> float:
        """Volume of the whole closed ring, mm³: every section times the way of its centroid (Pappus)."""

        def swept(turn: Number) -> Number:
            crown = self.crown_at(turn)
            upright, round_part = 1 - crown, crown * np.pi / 4
            middle = (upright**2 / 2 + round_part * (upright + 4 * crown / (3 * np.pi))) / (upright + round_part)
            return self.area_at(turn) * (self.inside_radius + middle * self.thickness_at(turn))

        return 2 * np.pi * self._mean(swept)

    def _mean(self, value_at: Callable[[Number], Number]) -> float:
        """The mean of a value along the arc: from station to station, where it runs on smoothly."""
        turns, lengths = self._spots
        return float(((np.asarray(value_at(turns)) @ _GAUSS[1]) / 2) @ lengths) / 180.0

    @cached_property
    def _spots(self) -> tuple[Any, Any]:
        """Where round the finger a mean is taken, and how far it is from station to station, °."""
        ends = np.array([station.turn_deg for station in self.stations])
        lengths = ends[1:] - ends[:-1]
        return ends[:-1, None] + lengths[:, None] * (_GAUSS[0] + 1) / 2, lengths


_SPOTS = (0.1834346424956498, 0.5255324099163290, 0.7966664774136267, 0.9602898564975363)
_WEIGHTS = (0.3626837833783620, 0.3137066458778873, 0.2223810344533745, 0.1012285362903763)
_GAUSS = np.array([*_SPOTS, *np.negative(_SPOTS)]), np.array([*_WEIGHTS, *_WEIGHTS])
"""``_SPOTS``, ``_WEIGHTS``: spots and weights of Gauss and Legendre's rule of eight spots: Abramowitz and Stegun,
Handbook of Mathematical Functions, table 25.4."""


@lru_cache(maxsize=256)
def _nodes(band: Band, name: str) -> tuple[Any, Any]:
    """Angles and values at which a measure is given; a profile as the share of it that is rounded."""
    given = [(station.turn_deg, getattr(station, name)) for station in band.stations]
    kept = [(turn, CROWN[value] if name == "profile" else value) for turn, value in given if value is not None]
    turns, values = np.array(kept, dtype=float).T
    return turns, values
