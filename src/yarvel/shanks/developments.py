"""Developments: curves in space laid flat, to be cut from paper and wrapped round metal."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from yarvel.shanks.blanks import sagitta_mm

Points = NDArray[np.float64]


def saddle_on_tube(outside_radius: float, tube_radius: float, count: int = 241) -> Points:
    """Where a tube meets a band, unrolled: (count, 2) of way round the tube's outside and depth below the crest, mm.

    The tube stands square on a band of ``outside_radius``; the way is counted from along the band. Source: geometry,
    z(θ) = R_o − √(R_o² − (r·cos θ)²).
    """
    turn = np.linspace(0.0, 2 * np.pi, count)
    depth = np.asarray(sagitta_mm(outside_radius, 2 * tube_radius * np.cos(turn)))
    return np.column_stack([tube_radius * turn, depth])


def saddle_on_cone(outside_radius: float, foot_radius: float, half_angle_deg: float, count: int = 241) -> Points:
    """Where a collet meets a band: (count, 2) of azimuth in degrees and slant in mm from the plane of the collet's
    lowest points up to the band, along the cone's outside. ``foot_radius`` is the cone's in that plane.

    Solved for each azimuth by halving: the point at slant s lies s·cos α up and (r_f + s·sin α)·cos θ along the band.
    """
    turn = np.linspace(0.0, 2 * np.pi, count)
    sin, cos = np.sin(np.radians(half_angle_deg)), np.cos(np.radians(half_angle_deg))
    crest = float(sagitta_mm(outside_radius, 2 * foot_radius))
    low, high = np.zeros(count), np.full(count, crest / cos)
    for _ in range(50):
        middle = (low + high) / 2
        along = np.minimum(np.abs((foot_radius + middle * sin) * np.cos(turn)), outside_radius)
        under = middle * cos < crest - np.asarray(sagitta_mm(outside_radius, 2 * along))
        low, high = np.where(under, middle, low), np.where(under, high, middle)
    return np.column_stack([np.degrees(turn), (low + high) / 2])


def sector(inner_radius: float, angle_deg: float, azimuths_deg: Points, slant: Points) -> Points:
    """Points of a developed cone: (n, 2) for azimuths round the cone and slants above its foot, the sector opening
    upwards about the y axis, mm."""
    turn = np.radians(90.0 + (0.5 - azimuths_deg / 360.0) * angle_deg)
    radius = inner_radius + slant
    return np.column_stack([radius * np.cos(turn), radius * np.sin(turn)])
