"""From stock to lengths: melting, casting, rolling, drawing, cutting."""

from __future__ import annotations

from yarvel.operations.operation import DRAW, OperationKind

KINDS = (
    OperationKind(
        "melt-ingot",
        "Melt ingot",
        "torch",
        ("mounter",),
        15,
        wait_minutes=10,
        hazard="Molten metal: face and feet covered, a dry mould, fume drawn off.",
    ),
    OperationKind(
        "cast-part",
        "Cast part",
        "outside",
        ("caster",),
        45,
        wait_minutes=10,
        hazard="Molten metal and casting dust: face covered, dust damped, never swept dry.",
        shape="cast",
        spares=("sprue",),
    ),
    OperationKind(
        "roll",
        "Roll",
        "mill",
        ("mounter",),
        0,
        each_minutes=1,
        hazard="Rolls: fingers well away, nothing loose.",
        temper=DRAW,
    ),
    OperationKind(
        "draw-wire",
        "Draw wire",
        "draw-bench",
        ("mounter",),
        3,
        each_minutes=1,
        hazard="Wire's end whips when it leaves the plate: face away.",
        temper=DRAW,
        shape="wire",
    ),
    OperationKind("pull-straight", "Pull straight", "draw-bench", ("mounter",), 2, makes=("straight",)),
    OperationKind(
        "cut-length",
        "Cut length",
        "bench",
        ("mounter",),
        0,
        each_minutes=1,
        hazard="Cut ends fly: eyes covered.",
        makes=("cut",),
    ),
)
