"""The form of a head as plain geometry: what every drawing and check reads, whatever the style."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Polygon = NDArray[np.float64]
"""Closed outline, shape (n, 2), in mm; in a radial plane the columns are (r, z)."""


@dataclass(frozen=True)
class Claws:
    """``azimuths_deg`` one a claw; ``profile`` in the claw's radial plane; ``width`` across, in mm."""

    azimuths_deg: tuple[float, ...]
    profile: Polygon
    width: float
    tip_radius: float


@dataclass(frozen=True)
class WireRing:
    """A ring of round wire: mid-line ``radius`` at height ``z``, ``wire`` its diameter, all mm."""

    name: str
    radius: float
    z: float
    wire: float


@dataclass(frozen=True)
class Wall:
    """A body of revolution: ``profile`` is its section at one side."""

    name: str
    profile: Polygon


@dataclass(frozen=True)
class HeadShape:
    """A head around the z axis; z = 0 is the seat plane. ``opening_radius`` is the claws' inner face there.

    ``outer_key`` names the figure of its outside at the girdle, ``foot_key`` that of its width along the band at the
    foot.
    """

    height: float
    opening_radius: float
    claws: Claws | None
    rings: tuple[WireRing, ...]
    walls: tuple[Wall, ...]
    outer_key: str
    foot_key: str


@dataclass(frozen=True)
class Closing:
    """What a closed tip needs to be drawn, in mm: where the stone is and how far the metal covers it.

    ``run`` is radius lost per mm of depth under the girdle, ``crown_slope`` rise per mm inwards above it.
    """

    stone_radius: float
    girdle: float
    run: float
    crown_slope: float
    cover: float
    tip_thickness: float


_TURN = np.linspace(0, np.pi, 9)[1:-1]
_NOSE = np.column_stack([-np.cos(_TURN), np.sin(_TURN)])
_BEND = np.linspace(0, 1, 12)
_CURVE = np.column_stack([(1 - _BEND) ** 2, 2 * _BEND * (1 - _BEND), _BEND**2])


def closed_profile(inner: float, outer: float, lean: float, foot: float, closing: Closing) -> Polygon:
    """Section of a claw or wall closed over the crown, with its seat cut to the stone.

    ``inner`` and ``outer`` are the radii of its faces at z = 0; ``lean`` the radius both lose per mm of
    depth; ``foot`` the depth of its lower end. The loop runs from the foot's inner edge upwards.
    """
    radius, top = closing.stone_radius, closing.girdle
    lip = -max(radius - inner, 0.0) / max(closing.run - lean, 0.2)
    tip = np.array([radius - closing.cover, top + closing.cover * closing.crown_slope])
    along = np.array([-1.0, closing.crown_slope]) / np.hypot(1.0, closing.crown_slope)
    normal = np.array([-along[1] * -1.0, along[0] * -1.0])
    back = tip + normal * closing.tip_thickness
    centre = (tip + back) / 2
    half = closing.tip_thickness / 2
    nose = centre + half * (_NOSE[:, :1] * normal + _NOSE[:, 1:] * along)
    shoulder = np.array([outer + lean * top, top + 0.1 * closing.tip_thickness])
    knee = np.array([outer + lean * top, back[1] - (outer - back[0]) * closing.crown_slope * 0.55])
    knee[1] = max(knee[1], shoulder[1])
    curve = _CURVE @ np.array([back, knee, shoulder])
    start = np.array([[inner - lean * foot, -foot], [inner + lean * lip, lip], [radius, 0.0], [radius, top], tip])
    end = np.array([[outer, 0.0], [outer - lean * foot, -foot]])
    return np.vstack([start, nose, curve, end])
