"""Marks out, hidden skins done."""

from __future__ import annotations

from yarvel.operations.operation import OperationKind
from yarvel.operations.piece import BY_POLISH

KINDS = (
    OperationKind(
        key="clean-up",
        label="Clean up",
        station="bench",
        skills=(
            "mounter",
            "setter",
        ),
        minutes=5,
        makes=("marks out",),
        takes_off=("sprue",),
    ),
    OperationKind(
        key="polish-hidden",
        label="Polish hidden",
        station="polishing",
        skills=("polisher",),
        minutes=5,
        hazard="Dust drawn off, eyes covered.",
        makes=("hidden skins polished",),
        wears=BY_POLISH,
    ),
    OperationKind(key="tumble", label="Tumble", station="polishing", skills=("polisher",), minutes=2, wait_minutes=45),
)
