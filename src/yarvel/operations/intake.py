"""What comes in: charted, taken apart, measured, picked."""

from __future__ import annotations

from yarvel.operations.operation import OperationKind
from yarvel.operations.stone_state import ABSENT, UPRIGHT

KINDS = (
    OperationKind(
        key="chart-wear",
        label="Chart wear",
        station="desk",
        skills=(
            "front",
            "lead",
            "setter",
        ),
        minutes=5,
    ),
    OperationKind(
        key="take-stone-out",
        label="Take stone out",
        station="setting-bench",
        skills=("setter",),
        minutes=5,
        hazard="Stone chips.",
        stone=ABSENT,
        level=False,
        tips=(("lean", UPRIGHT),),
    ),
    OperationKind(
        key="measure-stone",
        label="Measure stone",
        station="desk",
        skills=(
            "front",
            "lead",
        ),
        minutes=3,
    ),
    OperationKind(key="measure-part", label="Measure part", station="bench", skills=("mounter",), minutes=2),
    OperationKind(
        key="pick-bought",
        label="Pick bought",
        station="desk",
        skills=(
            "front",
            "lead",
        ),
        minutes=5,
    ),
)
