"""Numbers of the claws, set outside them in the plan view, clear of lines, band and one another."""

from __future__ import annotations

import numpy as np

from yarvel.drawing.metrics import CAP_HEIGHT, text_width
from yarvel.drawing.model import SheetModel
from yarvel.drawing.view import SMALL, View
from yarvel.heads.places import ClawPosition, numbers
from yarvel.shanks import shoulders

_CLEAR = 0.5


def claw_numbers(view: View, model: SheetModel, lines: list[float]) -> None:
    """Set a label beside every claw; ``lines`` are the paper x of extension lines that run down from the middle.

    One that would lie on another, or on stones in the band, is left out: where that claw stands is plain enough.
    """
    placed: list[tuple[float, float, float]] = []
    rise = SMALL * CAP_HEIGHT / 2
    for place, number in zip(model.head.places, numbers(model.head.places), strict=True):
        text = str(number)
        half = text_width(text, SMALL) / 2
        x, y = _outside(view, model, place, half, rise)
        if model.hanging_ring is not None and place.normal[1] > 0.9 and abs(x - view.at(0, 0)[0]) < half + 1.5:
            continue
        if model.band is not None and abs(x - view.at(0, 0)[0]) > half:
            y = _off_band_edges(view, model.band.width_mm / 2, y, rise)
        if (
            model.band is not None
            and shoulders.first_mm in model.plan.figures
            and _in_band(view, model.band.width_mm / 2, y, rise)
        ):
            continue
        if y + rise > view.at(0, 0)[1] - 0.3:
            step = _CLEAR if place.normal[0] >= 0 else -_CLEAR
            while any(abs(x - line) < half + 0.7 for line in lines):
                x += step
        if not any(
            abs(x - other) < half + wide + _CLEAR and abs(y - level) < 2 * rise + _CLEAR
            for other, level, wide in placed
        ):
            placed.append((x, y, half))
            view.drawing.text((x, y + rise), text, SMALL, "middle", "text-quiet")


def _outside(view: View, model: SheetModel, place: ClawPosition, half: float, rise: float) -> tuple[float, float]:
    """Middle of a label just outside its claw, beside the centre line rather than on it."""
    cos, sin = place.normal
    out = model.out / float(np.cos(np.radians(place.spread_deg)))
    x, y = view.at(place.x_mm + out * cos, place.y_mm + out * sin)
    x, y = x + (1.2 + half) * cos, y - (1.2 + rise) * sin
    middle = view.at(0, 0)[0]
    if abs(place.x_mm) > 0.02 * model.half_x and abs(x - middle) < half + _CLEAR:
        x = middle + float(np.sign(place.x_mm)) * (half + _CLEAR)
    return x, y


def _off_band_edges(view: View, half: float, y: float, rise: float) -> float:
    """A label's middle moved off the band's edge where that would run through it."""
    for edge in (view.at(0, half)[1], view.at(0, -half)[1]):
        if abs(y - edge) < rise + _CLEAR:
            away = 1.0 if y >= edge else -1.0
            return edge + away * (rise + _CLEAR)
    return y


def _in_band(view: View, half: float, y: float, rise: float) -> bool:
    return view.at(0, half)[1] - rise - _CLEAR < y < view.at(0, -half)[1] + rise + _CLEAR
