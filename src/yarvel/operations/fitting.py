"""Head and shank brought together."""

from __future__ import annotations

from yarvel.operations import joint_states
from yarvel.operations.operation import OperationKind
from yarvel.operations.piece import BY_FILE, BY_HAND, BY_HEAT, BY_POLISH

KINDS = (
    OperationKind(
        key="mark-out",
        label="Mark out",
        station="bench",
        skills=("mounter",),
        minutes=3,
        marks="marked",
        lost_by=(BY_FILE, BY_HEAT, BY_POLISH, BY_HAND),
        joint=joint_states.MARKED,
    ),
    OperationKind(
        key="lay-out-stones",
        label="Lay out stones",
        station="bench",
        skills=("mounter",),
        minutes=5,
        hazard="Wax and stone off before heat.",
    ),
    OperationKind(
        key="saw-gap",
        label="Saw gap",
        station="bench",
        skills=("mounter",),
        minutes=5,
        hazard="Never cutters.",
        makes=("sawn open",),
        shape="sawn-open",
        needs=("closed",),
        loses=("closed",),
        annealed=True,
        by_mark="marked",
        uses_up=True,
        opens=True,
        joint=joint_states.CUT,
    ),
    OperationKind(
        key="fit-ends",
        label="Fit ends",
        station="bench",
        skills=("mounter",),
        minutes=15,
        joint=joint_states.CUT,
    ),
    OperationKind(
        key="clean-slot",
        label="Clean slot",
        station="bench",
        skills=("mounter",),
        minutes=5,
        needs=("head out",),
        makes=("slot clean",),
    ),
    OperationKind(
        key="offer-part",
        label="Offer part",
        station="bench",
        skills=("mounter",),
        minutes=1,
        joint=joint_states.FITS,
    ),
)
