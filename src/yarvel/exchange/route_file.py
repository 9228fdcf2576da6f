"""The route as part of the plan's document."""

from __future__ import annotations

from typing import Any

from yarvel.operations.joint_groups import key_of
from yarvel.operations.joint_states import STATES
from yarvel.operations.lot import Lot
from yarvel.operations.piece import FREE, Part, Piece
from yarvel.operations.stone_state import CENTRE
from yarvel.route.balance import RouteBalance, balances, taken
from yarvel.route.running import Route, RouteStep


def route_document(route: Route) -> list[dict[str, Any]]:
    """Operations in working order, each with the piece before it; a caution stands where it is first needed."""
    warned: set[str] = set()
    lines = []
    for step in route.steps:
        hazard = step.operation.kind.hazard
        lines.append(_line(step, hazard if hazard and hazard not in warned else None))
        warned.add(hazard)
    return lines


def _line(step: RouteStep, caution: str | None) -> dict[str, Any]:
    operation = step.operation
    kind, turns = operation.kind, operation.turns
    return {
        "kind": kind.key,
        "key": operation.key,
        "on": list(operation.on),
        "joints": list(dict.fromkeys(key_of(group) for group in operation.closes)),
        "count": operation.count,
        "text": operation.text,
        "look": operation.look,
        "figures": [figure.key for figure in operation.figures],
        "minutes": operation.minutes,
        "skills": list(kind.skills),
        "station": kind.station,
        "wait_minutes": kind.wait_minutes,
        "when": "look" if operation.maybe else "always",
        "by_turns": None if turns is None else {"with": list(turns.keys), "until": turns.until, "usual": turns.usual},
        "waits_for_reading": operation.waits,
        "caution": caution,
        "takes": [stock_line(lot) for lot in operation.takes],
        "gives": [stock_line(lot) for lot in operation.gives],
        "loss_g": sum(step.lost_g.values()),
        "state": _state(step.piece),
    }


def stock_line(lot: Lot) -> dict[str, Any]:
    """One lot; what has no length or section (a melt, a bought piece, solder) says null there."""
    return {
        "piece": lot.piece,
        "part": lot.part,
        "metal": lot.metal,
        "from": lot.source,
        "form": lot.form,
        "count": lot.count,
        "length_mm": lot.length_mm or None,
        "across_mm": lot.across_mm or None,
        "down_mm": lot.down_mm or None,
        "wall_mm": lot.wall_mm or None,
        "mass_g": lot.grams,
    }


def metal_document(route: Route) -> dict[str, Any]:
    """``parts`` and where each comes from; ``stock`` that has to be taken; ``balance``, whole and by metal."""
    by_metal = balances(route)
    own = {name: part for name, part in route.done.parts.items() if not part.host}
    return {
        "parts": {name: {"origin": part.origin, "metal": part.metal.key} for name, part in own.items()},
        "stock": [stock_line(lot) for lot in taken(route)],
        "balance": _balance(*by_metal.values()),
        "balance_by_metal": [
            {"metal": metal, **_balance(metal_balances)} for metal, metal_balances in by_metal.items()
        ],
    }


def _balance(*held: RouteBalance) -> dict[str, float]:
    return {
        "issue_g": sum(balance.issue_g for balance in held),
        "finished_g": sum(balance.finished_g for balance in held),
        "back_g": sum(balance.back_g for balance in held),
        "filings_g": sum(balance.filings_g for balance in held),
    }


def _state(piece: Piece) -> dict[str, Any]:
    stone = piece.stone_at(CENTRE)
    tips = stone.tips
    return {
        "stone": stone.state,
        "seat": sorted(stone.seat),
        "tips": {"length": tips.length, "section": tips.section, "lean": tips.lean, "end": tips.end},
        "stones": {place: stone_state.state for place, stone_state in piece.stones.items() if place != CENTRE},
        "joints": _joints(piece),
        "parts": {name: _part(part) for name, part in piece.parts.items()},
    }


def _joints(piece: Piece) -> dict[str, str]:
    """How far each group is; of groups that documents name by one key, the one that is least far."""
    joint_states_by_seam: dict[str, str] = {}
    for group, state in piece.joints.items():
        joint_states_by_seam[key_of(group)] = min(
            joint_states_by_seam.get(key_of(group), state), state, key=STATES.index
        )
    return joint_states_by_seam


def _part(part: Part) -> dict[str, Any]:
    """One part; what it is a zone of, its spares, marks and tension only where there are any."""
    document: dict[str, Any] = {"temper": part.temper, "shape": part.shape}
    if part.host:
        document["zone_of"] = part.host
    if part.spares:
        document["spares"] = sorted(part.spares)
    if part.marks:
        document["marks"] = sorted(key for key, _ in part.marks)
    if part.tension != FREE:
        document["tension"] = part.tension
    return document
