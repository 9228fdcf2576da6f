"""Culet and finger: whether the stone's point stays clear of what lies below it, whatever the readings hide."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np

from yarvel.heads.style import BOUGHT
from yarvel.planning import sampling
from yarvel.planning.as_built import as_built, half_widths
from yarvel.planning.compatibility import seat_at
from yarvel.planning.compute import compute
from yarvel.planning.diagnostics.diagnostic import CAUTION, OK, STOP, Diagnostic, Situation
from yarvel.planning.job import LOWEST, FitJob, StoneJob
from yarvel.shanks import fitting
from yarvel.stones.stone import DEPTH, PAVILION_DEPTH

CODE = "culet-reaches-finger"
CODES = (CODE,)
CLEARANCE = fitting.CULET_CLEARANCE
_BELOW = {
    "inset": "the finger",
    "split-shoulder": "the finger",
    "on-flat": "the band under the flat",
    "let-in": "the floor of its recess",
    "basket-point": "the claws where they meet",
}
_GAIN_SAMPLES = 400
_STEP_MM = 0.05


def examine(situation: Situation) -> list[Diagnostic]:
    """The least clearance that the readings allow against the house's least; none by the plan's own is a stop."""
    if not situation.has(CLEARANCE):
        return []
    figure, limit = situation.figures[CLEARANCE], situation.rules.culet_least_mm
    clearance, least = round(figure.value, 6), round(figure.value - figure.plus_minus, 6)
    level = STOP if clearance <= 0 else CAUTION if least < limit else OK
    over_wires = figure.spec == fitting.over_floor_mm.spec
    below = "the wires under it" if over_wires else _BELOW.get(situation.method or "", "the band")
    message = f"A culet that reaches {below} lifts the stone off its seat or cuts the finger."
    remedy, label = (None, "") if level == OK else _higher(situation, clearance, figure.plus_minus)
    if level != OK and clearance + figure.plus_minus >= limit:
        message = (
            f"{figure.text()} by the plan, but the readings leave {figure.plus_minus:.2f} either way. "
            f"{_by_reading(situation)}{message}"
        )
    return [
        Diagnostic(
            code=CODE,
            level=level,
            title="Culet clearance, at least",
            message=message,
            figure=least,
            limit=limit,
            unit="mm",
            about="culet",
            of=CLEARANCE,
            remedy=remedy,
            remedy_label=label,
        )
    ]


def _by_reading(situation: Situation) -> str:
    """What reading more would gain, worked out as if the reading were what is assumed now."""
    stone = situation.job.stone
    depth, pavilion = round(situation[DEPTH], 2), round(situation[PAVILION_DEPTH], 2)
    said = []
    if stone.depth_mm is None:
        said.append(f"Read the depth: that leaves {_left(situation, replace(stone, depth_mm=depth)):.2f}.")
    if stone.pavilion_depth_mm is None:
        both = replace(stone, depth_mm=stone.depth_mm or depth, pavilion_depth_mm=pavilion)
        said.append(f"Read girdle to culet as well: that leaves {_left(situation, both):.2f}.")
    return "".join(f"{text} " for text in said)


def _left(situation: Situation, read: StoneJob) -> float:
    """Half-width in mm of what a stone read like this would leave of the clearance."""
    job = replace(situation.job, stone=read)
    computed = compute(job, situation.rules, sampling.nominal(read), read.across_mm)
    stones = compute(
        job, situation.rules, sampling.sampled(read, situation.rules, _GAIN_SAMPLES), read.across_mm, computed.shape
    )
    widths = half_widths(computed, as_built(computed, stones, situation.rules), _GAIN_SAMPLES)
    return widths.get(CLEARANCE, 0.0)


def _higher(situation: Situation, clearance: float, plus_minus: float) -> tuple[dict[str, Any] | None, str]:
    """The patch that raises the seat until it is clear, and what its button says."""
    rules, head, fit = situation.rules, situation.job.head, situation.job.fit or FitJob()
    missing = rules.culet_least_mm + plus_minus - clearance
    up = float(np.ceil((missing + 0.01) / _STEP_MM) * _STEP_MM)
    if (
        situation.style.COMES == BOUGHT and fit.height == LOWEST
    ):  # else the seat is where it is typed, whatever the head
        if head.trim_mm and head.trim_mm >= missing:
            return {"head": {"trim_mm": round(max(head.trim_mm - up, 0.0), 2)}}, f"Trim {up:.2f} mm less"
        if head.height_tip_mm is not None:
            tip = round(head.height_tip_mm - (head.trim_mm or 0.0) + up, 2)
            return {"head": {"height_tip_mm": tip, "trim_mm": None}}, f"A head {tip:.2f} mm from foot to tip instead"
        if head.height_mm is None:
            return None, ""
        taller = round(head.height_mm - (head.trim_mm or 0.0) + up, 2)
        return {"head": {"height_mm": taller, "trim_mm": None}}, f"A head {taller:.2f} mm high instead"
    if plus_minus <= rules.culet_clearance_mm - rules.culet_least_mm and (
        fit.height != LOWEST or head.height_mm is not None
    ):
        return {"head": {"height_mm": None}, "fit": {"height": LOWEST}}, "Raise the seat to clear"
    if head.height_mm is not None:
        return {"head": {"height_mm": round(head.height_mm + up, 2)}}, f"{up:.2f} mm more of tube"
    height = float(np.ceil((situation[fitting.PLANE_ABOVE_FINGER] + missing + 0.01) / _STEP_MM) * _STEP_MM)
    patch = seat_at(situation.job, round(height, 2))
    return patch, f"Seat {height:.2f} mm above the finger" if patch else ""
