"""What comes in: charted, taken apart, measured, picked."""

from __future__ import annotations

from yarvel.operations.operation import OperationKind
from yarvel.operations.stone_state import ABSENT, UPRIGHT

KINDS = (
    OperationKind(
        "chart-wear",
        "Chart wear",
        "desk",
        (
            "front",
            "lead",
            "setter",
        ),
        5,
    ),
    OperationKind(
        "take-stone-out",
        "Take stone out",
        "setting-bench",
        ("setter",),
        5,
        hazard="Stone chips.",
        stone=ABSENT,
        level=False,
        tips=(("lean", UPRIGHT),),
    ),
    OperationKind(
        "measure-stone",
        "Measure stone",
        "desk",
        (
            "front",
            "lead",
        ),
        3,
    ),
    OperationKind("measure-part", "Measure part", "bench", ("mounter",), 2),
    OperationKind(
        "pick-bought",
        "Pick bought",
        "desk",
        (
            "front",
            "lead",
        ),
        5,
    ),
)
