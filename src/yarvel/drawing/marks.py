"""What the calls are about, marked on the drawing: a ring round the place and the level's own shape beside it."""

from __future__ import annotations

from functools import cache

import numpy as np

from yarvel.drawing.model import SheetModel, band_top
from yarvel.drawing.primitives import Drawing, Points
from yarvel.drawing.view import View
from yarvel.heads.rings import ring_hidden_by_mm
from yarvel.planning.diagnostics.diagnostic import CAUTION, NOTE, OK, STOP

_RADIUS = 2.4
_LEVELS = (STOP, CAUTION)


def mark_calls(drawing: Drawing, model: SheetModel, highlight: str, front: View, section: View, plan: View) -> None:
    """Mark every stop and caution, and the highlighted call whatever its level."""
    seen: set[str] = set()
    for call in model.plan.diagnostics:
        if not call.about or (call.level not in _LEVELS and call.code != highlight):
            continue
        if call.about in seen and call.code != highlight:
            continue
        seen.add(call.about)
        place = _place(model, call.about, front, section, plan)
        if place is not None:
            _mark(drawing, place, call.level if call.level != OK else NOTE, call.code == highlight)


def _place(model: SheetModel, about: str, front: View, section: View, plan: View) -> tuple[float, float] | None:
    edge, head = model.section_edge, model.head
    rings = head.rings
    if about == "upper-ring" and head.walls:
        top = head.walls[0].profile[2]
        return section.at(edge + float(top[0]), float(top[1]))
    if about == "upper-ring" and rings and ring_hidden_by_mm in model.plan.figures:
        return section.at(edge - rings[0].inset_mm * model.section_stretch, rings[0].z_mm)
    if about in ("band", "gap") and model.band is not None:
        half = model.gap[1] / 2 if model.gap is not None else 0.0
        return front.at(half, band_top(model) - model.band.thickness_mm * 0.4)
    spots = {
        "notch": section.at(edge, 0.0),
        "claw": section.at(edge + model.out, -head.height_mm * 0.4),
        "tip": section.at(edge * 0.86, model.table_z * 0.9),
        "culet": front.at(0.0, model.culet_z),
        "stone": front.at(0.0, model.table_z * 0.6),
        "plan": plan.at(0.0, 0.0),
        "joints": front.at(0.0, -head.height_mm),
    }
    return spots.get(about)


def _mark(drawing: Drawing, at: tuple[float, float], level: str, strong: bool) -> None:
    role = f"mark-{level}"
    radius = _RADIUS * (1.5 if strong else 1.0)
    turn = np.linspace(0, 2 * np.pi, 33)
    drawing.line(np.column_stack([np.cos(turn), np.sin(turn)]) * radius + at, role)
    if strong:
        drawing.line(np.column_stack([np.cos(turn), np.sin(turn)]) * (radius + 0.9) + at, role)
    centre = np.array([at[0] + radius * 0.9, at[1] - radius * 0.9])
    drawing.area(level_shape(level) * 1.5 + centre, role, "paper")


@cache
def level_shape(level: str) -> Points:
    """Outline (n, 2) of a level's own shape, within −1 … 1, y down: stop a bar, caution a wedge, note a dot, ok a
    tick."""
    turn = np.linspace(0, 2 * np.pi, 17)[:-1]
    shapes = {
        STOP: np.array([(-1, -0.45), (1, -0.45), (1, 0.45), (-1, 0.45)]),
        CAUTION: np.array([(-1, -0.8), (1, -0.8), (0, 0.9)]),
        NOTE: np.column_stack([np.cos(turn), np.sin(turn)]) * 0.7,
        OK: np.array([(-0.9, 0.0), (-0.6, -0.3), (-0.25, 0.1), (0.6, -0.75), (0.9, -0.45), (-0.25, 0.7)]),
    }
    return shapes[level]
