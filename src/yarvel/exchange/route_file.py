"""The route as part of the plan's document."""

from __future__ import annotations

from typing import Any

from yarvel.metals.joints import GROUP_KEYS
from yarvel.operations.piece import Piece
from yarvel.route.running import Route, Step


def route_document(route: Route) -> list[dict[str, Any]]:
    """Operations in working order, each with the piece before it; a caution stands where it is first needed."""
    warned: set[str] = set()
    lines = []
    for step in route.steps:
        hazard = step.operation.kind.hazard
        lines.append(_line(step, hazard if hazard and hazard not in warned else None))
        warned.add(hazard)
    return lines


def _line(step: Step, caution: str | None) -> dict[str, Any]:
    operation = step.operation
    kind = operation.kind
    return {
        "kind": kind.key,
        "key": operation.key,
        "on": list(operation.on),
        "joints": list(dict.fromkeys(GROUP_KEYS[group] for group in operation.joints)),
        "count": operation.count,
        "text": operation.text,
        "look": operation.look,
        "figures": list(operation.figures),
        "minutes": operation.minutes,
        "skills": list(kind.skills),
        "station": kind.station,
        "wait_minutes": kind.wait,
        "when": "look" if operation.maybe else "always",
        "caution": caution,
        "state": _state(step.piece),
    }


def _state(piece: Piece) -> dict[str, Any]:
    parts = {name: {"temper": part.temper, "shape": part.shape} for name, part in piece.parts.items()}
    return {"stone": piece.stone, "parts": parts}
