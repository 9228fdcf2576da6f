"""Figures that can be typed over: which change of the job makes a figure take the value typed."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from yarvel.heads.styles import STYLES
from yarvel.planning.plan import Plan

Patch = dict[str, Any]
_Maker = Callable[[Plan, float], Patch]


def _stone(name: str) -> _Maker:
    return lambda plan, value: {"stone": {name: value}}


def _shank(name: str) -> _Maker:
    return lambda plan, value: {"shank": {name: value}}


def _head(name: str) -> _Maker:
    return lambda plan, value: {"head": {name: value}}


def _metal(plan: Plan) -> float:
    """What the notch is cut into: the claw, or the wall as it is met at the girdle, in mm."""
    return next(plan[key] for key in ("head.claw", "head.wall_across", "head.wall") if key in plan.figures)


def _reads(plan: Plan, field: str) -> bool:
    return field in STYLES[plan.job.head.style].FIELDS


def _opening(plan: Plan, value: float) -> Patch:
    """A bought head's opening is what it is; any other follows from its notch."""
    if _reads(plan, "opening_mm"):
        return {"head": {"opening_mm": value}}
    return _notch((plan["stone.mean_diameter"] - value) / 2 / _metal(plan))


def _notch(ratio: float) -> Patch:
    return {"head": {"notch_ratio": round(ratio, 4)}}


def _raise_seat(key: str) -> _Maker:
    """The seat's height that brings another height to the value typed."""
    return lambda plan, value: {"fit": {"height": round(
        plan["seat.plane_above_finger"] + value - plan[key], 4)}}


_MAKERS: dict[str, _Maker] = {
    "stone.mean_diameter": lambda plan, value: {"stone": {"diameters_mm": [value]}},
    "stone.depth": _stone("depth_mm"),
    "stone.girdle": _stone("girdle_mm"),
    "stone.crown_height": _stone("crown_height_mm"),
    "stone.pavilion_depth": _stone("pavilion_depth_mm"),
    "head.claw": _head("claw_mm"),
    "head.wall": _head("wall_mm"),
    "head.ring_wire": _head("ring_mm"),
    "head.ring_drop": _head("ring_drop_mm"),
    "head.splay": _head("splay_deg"),
    "head.tube_length": _head("height_mm"),
    "head.inner_opening": _opening,
    "head.collet_outer": lambda plan, value: _notch(1 - (value - plan["stone.mean_diameter"]) / 2 / _metal(plan)),
    "head.included_angle": _head("included_angle_deg"),
    "head.made_for": _head("made_for_mm"),
    "head.outer_over_claws": lambda plan, value: _notch(1 - (value - plan["stone.mean_diameter"]) / 2 / _metal(plan)),
    "head.tube_outer": lambda plan, value: _notch(1 - (value - plan["stone.mean_diameter"]) / 2 / _metal(plan)),
    "seat.depth": lambda plan, value: _notch(value / _metal(plan)),
    "seat.remaining": lambda plan, value: _notch(1 - value / _metal(plan)),
    "seat.notch_ratio": lambda plan, value: _notch(value),
    "seat.plane_above_finger": _raise_seat("seat.plane_above_finger"),
    "seat.table_above_finger": _raise_seat("seat.table_above_finger"),
    "seat.culet_above_finger": _raise_seat("seat.culet_above_finger"),
    "seat.culet_clearance": _raise_seat("seat.culet_clearance"),
    "seat.ring_above_finger": lambda plan, value: {"head": {"ring_drop_mm": round(
        plan["seat.plane_above_finger"] - value, 4)}},
    "shank.width": _shank("width_mm"),
    "shank.thickness": _shank("thickness_mm"),
}


_NOTCHES = ("head.inner_opening", "head.outer_over_claws", "head.tube_outer", "head.collet_outer", "seat.depth",
            "seat.remaining", "seat.notch_ratio")
_FIELDS = {"head.claw": "claw_mm", "head.wall": "wall_mm", "head.ring_wire": "ring_mm", "head.splay": "splay_deg",
           "head.ring_drop": "ring_drop_mm", "head.tube_length": "height_mm"}
NOTCH_RANGE, HEIGHT_RANGE = (0.05, 0.9), (1.0, 25.0)
"""What a job accepts; a drag stops there (a test holds both against the job's own ranges)."""


def dragged_to(plan: Plan, key: str, value: float) -> Patch:
    """As :func:`typed_over`, but a value beyond what a job accepts goes as far as it may."""
    patch = typed_over(plan, key, value)
    for part, name, (low, high) in (("head", "notch_ratio", NOTCH_RANGE), ("fit", "height", HEIGHT_RANGE)):
        if name in patch.get(part, {}):
            patch[part][name] = min(max(patch[part][name], low), high)
    return patch


def can_type_over(plan: Plan, key: str) -> bool:
    """Whether a figure of this plan can be typed over."""
    if key in _NOTCHES and not _reads(plan, "notch_ratio"):
        return key == "head.inner_opening" and _reads(plan, "opening_mm")
    if key in _FIELDS and not _reads(plan, _FIELDS[key]):
        return False
    raised = key.endswith(("_finger", "clearance")) and key != "seat.ring_above_finger"
    if raised and plan.job.head.height_mm is not None and _reads(plan, "height_mm"):
        return False
    if key == "seat.culet_clearance" and "shank.gap_inside" not in plan.figures:
        return False
    if key.startswith("seat.") and key.endswith(("_finger", "clearance")):
        return key in _MAKERS and "seat.plane_above_finger" in plan.figures
    return key in _MAKERS and key in plan.figures


def typed_over(plan: Plan, key: str, value: float) -> Patch:
    """The merge patch for the job after which the figure has this value (KeyError where it cannot be typed)."""
    return _MAKERS[key](plan, value)
