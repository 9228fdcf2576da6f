"""Marks out, hidden skins done."""

from __future__ import annotations

from yarvel.operations.operation import OperationKind
from yarvel.operations.piece import BY_POLISH

KINDS = (
    OperationKind(
        "clean-up",
        "Clean up",
        "bench",
        (
            "mounter",
            "setter",
        ),
        5,
        makes=("marks out",),
        takes_off=("sprue",),
    ),
    OperationKind(
        "polish-hidden",
        "Polish hidden",
        "polishing",
        ("polisher",),
        5,
        hazard="Dust drawn off, eyes covered.",
        makes=("hidden skins polished",),
        wears=BY_POLISH,
    ),
    OperationKind("tumble", "Tumble", "polishing", ("polisher",), 2, wait_minutes=45),
)
