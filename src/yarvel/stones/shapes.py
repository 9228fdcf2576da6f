"""Outlines that several cuts share, made from length and width; the culet is the origin."""

from __future__ import annotations

import numpy as np

from yarvel.stones.cut import Girth
from yarvel.stones.outline import Outline, Points, curve

PARTS = 72
"""Points on a curved outline: straight pieces between them stay within a thousandth of the curve's radius."""


def superellipse(girth: Girth, power: float) -> Outline:
    """|x|ᵖ + |y|ᵖ = 1 stretched to length and width; 2 is an ellipse, more is squarer."""
    turn = np.arange(PARTS) * 2 * np.pi / PARTS
    cos, sin = np.cos(turn), np.sin(turn)
    radius = (np.abs(cos) ** power + np.abs(sin) ** power) ** (-1 / power)
    return Outline(np.column_stack([radius * cos * girth.width_mm / 2, radius * sin * girth.length_mm / 2]))


def cut_corners(girth: Girth) -> Outline:
    """A rectangle whose corners are cut at 45°, each cut ``corner`` mm long; sharp where that is nothing."""
    half_w, half_l = girth.width_mm / 2, girth.length_mm / 2
    leg = min(girth.corner_mm / np.sqrt(2), 0.8 * min(half_w, half_l))
    if leg < 1e-6:
        return Outline(np.array([(half_w, half_l), (-half_w, half_l), (-half_w, -half_l), (half_w, -half_l)]))
    corner = [(half_w, half_l - leg), (half_w - leg, half_l)]
    right = [*corner, *[(-x, y) for x, y in corner[::-1]]]
    return Outline(curve([*right, *[(-x, -y) for x, y in right]]))


def boxed(points: Points, girth: Girth, culet: tuple[float, float] = (0.0, 0.0)) -> Points:
    """Points (n, 2) stretched to length (along y) and width (along x) in mm; ``culet`` is where the origin lies
    before."""
    size = np.ptp(points, axis=0)
    result: Points = (points - culet) * (girth.width_mm, girth.length_mm) / size
    return result
