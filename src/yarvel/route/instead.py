"""Kinds of operations that can stand for one another, and what is then said."""

from __future__ import annotations

from msgspec.structs import replace

from yarvel.figures.errors import Problem
from yarvel.operations.operation import Operation
from yarvel.operations.register import REGISTER

INSTEAD: dict[str, dict[str, str]] = {
    "level-tops": {"clamp-level": "Hold the mount in a clamp and level it by eye, from the front and the side."},
    "cut-grooves": {"drill": "Drill for every claw at the slant of the splay: pilot first, then the wire's size."},
    "squeeze-to-outline": {"bend-to-shape": "Bend it to the outline, corner by corner, and mitre where it turns."},
    "round-tips": {"cup-tips": "Round and press every tip with a cup bur or beader, a little over the claw's width."},
    "burnish": {"polish": "Polish it bright instead of burnishing."},
    "roll": {"file-to-shape": "File the stock to its section."},
    "polish-hidden": {"tumble": "Tumble the head before it is fitted: its skins are bright where no wheel reaches."},
    "anneal": {"pull-straight": "Pull it straight as it is; it stays hard."},
}
"""By kind: what can be done instead. Common practice; what follows from it, the running of the route says."""


def known_methods(operations: list[Operation], methods: dict[str, str]) -> tuple[dict[str, str], tuple[Problem, ...]]:
    """What of the wanted kinds this route can do; and what names an operation that it has not, or a kind that cannot
    stand for its own."""
    known = {operation.key: operation for operation in operations}
    good, wrong = {}, []
    for key, kind in methods.items():
        path = f"route.methods.{key}"
        if key not in known:
            wrong.append(Problem(path, f"this work has no operation {key!r}", f"one of: {', '.join(known)}"))
        elif kind not in (others := INSTEAD.get(known[key].kind.key, {})):
            said = ", ".join(others) or "nothing: there is one way of it"
            wrong.append(Problem(path, f"{kind} cannot stand for {known[key].kind.key}", said))
        else:
            good[key] = kind
    return good, tuple(wrong)


def replaced(operations: list[Operation], methods: dict[str, str]) -> list[Operation]:
    """Operations with the kinds that somebody wants instead."""
    return [
        _other(operation, methods[operation.key]) if operation.key in methods else operation for operation in operations
    ]


def usual_kind(operation: Operation) -> str:
    """The kind that an operation is by itself, also where another stands for it now."""
    return next((kind for kind in INSTEAD if operation.key.startswith(f"{kind}-")), operation.kind.key)


def ways_of(operation: Operation) -> tuple[str, ...]:
    """The kinds that an operation can be, its own first."""
    usual = usual_kind(operation)
    return (usual, *INSTEAD.get(usual, {}))


def _other(one: Operation, kind: str) -> Operation:
    """The operation by another kind: it makes what that kind makes, and takes and leaves the metal that it did."""
    return replace(one, kind=REGISTER[kind], text=INSTEAD[one.kind.key][kind], makes=(*one.makes, *one.kind.makes))
