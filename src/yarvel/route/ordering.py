"""Putting operations in order: constraints first, stages only where nothing else decides, otherwise as offered."""

from __future__ import annotations

import heapq

from yarvel.figures.errors import JobError, Problem
from yarvel.operations.operation import HEAT, Operation

UNIVERSAL = (
    ("level-tops", "scribe-girdle"),
    ("scribe-girdle", "guide-cut"),
    ("guide-cut", "relieve-corner"),
    ("relieve-corner", "clear-keel"),
    ("guide-cut", "cut-seat"),
    ("clear-keel", "cut-seat"),
    ("clean-up", "seat-stone"),
    ("thin-tips", "seat-stone"),
    ("seat-stone", "lean-claws"),
    ("lean-claws", "level-stone"),
    ("level-stone", "close-claws"),
    ("level-stone", "fold-vs"),
    ("level-stone", "press-bezel"),
    ("close-claws", "round-tips"),
    ("press-bezel", "burnish"),
)
"""Kinds of which the first comes before the second wherever both occur: common practice. Besides: every torch before
the stone is placed."""


def in_order(operations: list[Operation]) -> list[Operation]:
    """Operations in working order (Kahn's algorithm with a queue by stage and place).

    Raises
    ------
    JobError : what is asked to come before itself, by keys.
    """
    before = _before(operations)
    places = {operation.key: (operation.stage, place) for place, operation in enumerate(operations)}
    by_key = {operation.key: operation for operation in operations}
    waits = {key: len(needed) for key, needed in before.items()}
    follows: dict[str, list[str]] = {key: [] for key in before}
    for key, held in before.items():
        for earlier in held:
            follows[earlier].append(key)
    ready = [(places[key], key) for key, count in waits.items() if count == 0]
    heapq.heapify(ready)
    ordered = []
    while ready:
        _, key = heapq.heappop(ready)
        ordered.append(by_key[key])
        for later in follows[key]:
            waits[later] -= 1
            if waits[later] == 0:
                heapq.heappush(ready, (places[later], later))
    if len(ordered) < len(operations):
        stuck = ", ".join(sorted(key for key, count in waits.items() if count > 0))
        raise JobError([Problem("route", f"each of these is to come before another of them: {stuck}", "an order")])
    return ordered


def _before(operations: list[Operation]) -> dict[str, set[str]]:
    """For each operation the keys of those that come before it."""
    by_kind: dict[str, set[str]] = {}
    torches: set[str] = set()
    for operation in operations:
        by_kind.setdefault(operation.kind.key, set()).add(operation.key)
        if operation.kind.temper == HEAT:
            torches.add(operation.key)
    known = {key: operation.key for operation in operations for key in (operation.key, *operation.stands_for)}
    needs_by_key = {operation.key: {known[key] for key in operation.after if key in known} for operation in operations}
    for first, then in UNIVERSAL:
        for key in by_kind.get(then, ()):
            needs_by_key[key] |= by_kind.get(first, set())
    for key in by_kind.get("seat-stone", ()):
        needs_by_key[key] |= torches
    return needs_by_key
