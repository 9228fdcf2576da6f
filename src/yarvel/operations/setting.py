"""The stone in, level, held."""

from __future__ import annotations

from yarvel.operations.operation import BEND, Kind
from yarvel.operations.piece import ABSENT, HELD, IN_SEAT, LOOSE

KINDS = (
    Kind(
        "curve-claws",
        "Curve claws",
        "bench",
        (
            "mounter",
            "setter",
        ),
        0,
        each=2,
        hazard="Breaks.",
        temper=BEND,
        makes=("curved",),
    ),
    Kind(
        "seat-stone",
        "Seat stone",
        "setting-bench",
        ("setter",),
        2,
        needs=("seat cut",),
        stone=IN_SEAT,
        stone_before=(
            ABSENT,
            LOOSE,
        ),
    ),
    Kind(
        "lean-claws",
        "Lean claws",
        "setting-bench",
        ("setter",),
        0,
        each=0.5,
        temper=BEND,
        stone_before=(IN_SEAT,),
        makes=("touching",),
    ),
    Kind(
        "level-stone", "Level stone", "setting-bench", ("setter",), 2, stone_before=(IN_SEAT,), makes=("stone level",)
    ),
    Kind(
        "close-claws",
        "Close claws",
        "setting-bench",
        ("setter",),
        0,
        each=1,
        hazard="Stone breaks.",
        temper=BEND,
        needs=(
            "touching",
            "stone level",
        ),
        stone=HELD,
        stone_before=(LOOSE, IN_SEAT, HELD),
    ),
    Kind(
        "fold-vs",
        "Fold vs",
        "setting-bench",
        ("setter",),
        0,
        each=2,
        hazard="Corner.",
        temper=BEND,
        needs=("stone level",),
        stone=HELD,
        stone_before=(IN_SEAT,),
    ),
    Kind(
        "press-bezel",
        "Press bezel",
        "setting-bench",
        ("setter",),
        2,
        hazard="Tilted stone breaks.",
        temper=BEND,
        needs=("stone level",),
        stone=HELD,
        stone_before=(IN_SEAT,),
    ),
    Kind("push-edge", "Push edge", "setting-bench", ("setter",), 0, each=3, hazard="Knock on the stone."),
    Kind("burnish", "Burnish", "setting-bench", ("setter",), 0, each=1, stone_before=(HELD,), makes=("burnished",)),
    Kind(
        "trim-tips",
        "Trim tips",
        "setting-bench",
        ("setter",),
        0,
        each=1,
        hazard="Steel on stone.",
        stone_before=(HELD,),
        loses=("tips left long",),
    ),
    Kind("cup-tips", "Cup tips", "setting-bench", ("setter",), 0, each=0.5, stone_before=(HELD,)),
    Kind("cut-bright", "Cut bright", "setting-bench", ("setter",), 0, each=1),
)
