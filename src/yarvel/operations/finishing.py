"""Polished, looked at, released."""

from __future__ import annotations

from yarvel.operations.operation import OperationKind
from yarvel.operations.piece import BY_POLISH

KINDS = (
    OperationKind(
        key="polish",
        label="Polish",
        station="polishing",
        skills=("polisher",),
        minutes=15,
        makes=("polished",),
        wears=BY_POLISH,
    ),
    OperationKind(
        key="plate",
        label="Plate",
        station="plating",
        skills=("polisher",),
        minutes=15,
        wait_minutes=7.5,
        hazard="Plating bath: gloves and goggles, fume drawn off, acid never near cyanide.",
    ),
    OperationKind(
        key="look-three-ways",
        label="Look three ways",
        station="bench",
        skills=(
            "mounter",
            "setter",
            "lead",
        ),
        minutes=2,
    ),
    OperationKind(
        key="release",
        label="Release",
        station="desk",
        skills=(
            "front",
            "lead",
            "setter",
        ),
        minutes=2,
        last=True,
    ),
)
