"""From stock to lengths: melting, casting, rolling, drawing, cutting."""

from __future__ import annotations

from yarvel.operations.operation import DRAW, OperationKind

KINDS = (
    OperationKind(
        key="melt-ingot",
        label="Melt ingot",
        station="torch",
        skills=("mounter",),
        minutes=15,
        wait_minutes=10,
        hazard="Molten metal: face and feet covered, a dry mould, fume drawn off.",
    ),
    OperationKind(
        key="cast-part",
        label="Cast part",
        station="outside",
        skills=("caster",),
        minutes=45,
        wait_minutes=10,
        hazard="Molten metal and casting dust: face covered, dust damped, never swept dry.",
        shape="cast",
        spares=("sprue",),
    ),
    OperationKind(
        key="roll",
        label="Roll",
        station="mill",
        skills=("mounter",),
        minutes=0,
        each_minutes=1,
        hazard="Rolls: fingers well away, nothing loose.",
        temper=DRAW,
    ),
    OperationKind(
        key="draw-wire",
        label="Draw wire",
        station="draw-bench",
        skills=("mounter",),
        minutes=3,
        each_minutes=1,
        hazard="Wire's end whips when it leaves the plate: face away.",
        temper=DRAW,
        shape="wire",
    ),
    OperationKind(
        key="pull-straight",
        label="Pull straight",
        station="draw-bench",
        skills=("mounter",),
        minutes=2,
        makes=("straight",),
    ),
    OperationKind(
        key="cut-length",
        label="Cut length",
        station="bench",
        skills=("mounter",),
        minutes=0,
        each_minutes=1,
        hazard="Cut ends fly: eyes covered.",
        makes=("cut",),
    ),
)
