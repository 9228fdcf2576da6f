"""Developments: curves in space laid flat, to be cut from paper and wrapped round metal."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from yarvel.shanks.band import Band

Points = NDArray[np.float64]


def saddle_on_tube(band: Band, tube_radius_mm: float, count: int = 241) -> Points:
    """Where a tube meets a band, unrolled: (count, 2) of way round the tube's outside and depth below the crest, mm.

    The tube stands square on the band's middle; the way is counted from along the band. Source: geometry,
    z(θ) = R_o − √(R(r·sin θ)² − (r·cos θ)²), R the band's outside as far across.
    """
    turn = np.linspace(0.0, 2 * np.pi, count)
    return np.column_stack(
        [tube_radius_mm * turn, depth_under(band, tube_radius_mm * np.cos(turn), tube_radius_mm * np.sin(turn))]
    )


def depth_under(band: Band, along: Points, across: Points) -> Points:
    """How far in mm a band's outside lies below its crest, at places (n,) along and across it, mm from its middle;
    shape of the places."""
    radius = np.asarray(band.outside_at(across))
    depth: Points = band.outside_radius - np.sqrt(np.maximum(radius**2 - np.asarray(along) ** 2, 0.0))
    return depth


def saddle_on_cone(band: Band, foot_radius_mm: float, half_angle_deg: float, count: int = 241) -> Points:
    """Where a collet meets a band: (count, 2) of azimuth in degrees and slant in mm from the plane of the collet's
    lowest points up to the band, along the cone's outside. ``foot_radius_mm`` is the cone's in that plane.

    Solved for each azimuth by halving: the point at slant s lies s·cos α up, (r_f + s·sin α)·cos θ along the band and
    (r_f + s·sin α)·sin θ across it.
    """
    turn = np.linspace(0.0, 2 * np.pi, count)
    sin, cos = np.sin(np.radians(half_angle_deg)), np.cos(np.radians(half_angle_deg))
    deep = depth_under(band, foot_radius_mm * np.cos(turn), foot_radius_mm * np.sin(turn))
    crest = float(deep.max())
    low, high = np.zeros(count), np.full(count, crest / cos)
    for _ in range(50):
        middle = (low + high) / 2
        reach = foot_radius_mm + middle * sin
        along = np.minimum(np.abs(reach * np.cos(turn)), band.outside_radius)
        under = middle * cos < crest - depth_under(band, along, reach * np.sin(turn))
        low, high = np.where(under, middle, low), np.where(under, high, middle)
    return np.column_stack([np.degrees(turn), (low + high) / 2])


def sector(inner_radius_mm: float, angle_deg: float, azimuths_deg: Points, slant: Points) -> Points:
    """Points of a developed cone: (n, 2) for azimuths round the cone and slants above its foot, the sector opening
    upwards about the y axis, mm."""
    turn = np.radians(90.0 + (0.5 - azimuths_deg / 360.0) * angle_deg)
    radius = inner_radius_mm + slant
    return np.column_stack([radius * np.cos(turn), radius * np.sin(turn)])
