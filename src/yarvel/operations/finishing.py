"""Polished, looked at, released."""

from __future__ import annotations

from yarvel.operations.operation import OperationKind
from yarvel.operations.piece import BY_POLISH

KINDS = (
    OperationKind(
        "polish",
        "Polish",
        "polishing",
        ("polisher",),
        15,
        makes=("polished",),
        wears=BY_POLISH,
    ),
    OperationKind(
        "plate",
        "Plate",
        "plating",
        ("polisher",),
        15,
        wait_minutes=7.5,
        hazard="Plating bath: gloves and goggles, fume drawn off, acid never near cyanide.",
    ),
    OperationKind(
        "look-three-ways",
        "Look three ways",
        "bench",
        (
            "mounter",
            "setter",
            "lead",
        ),
        2,
    ),
    OperationKind(
        "release",
        "Release",
        "desk",
        (
            "front",
            "lead",
            "setter",
        ),
        2,
        last=True,
    ),
)
