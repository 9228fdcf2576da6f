"""Head and shank brought together."""

from __future__ import annotations

from yarvel.operations import joint_states
from yarvel.operations.operation import OperationKind
from yarvel.operations.piece import BY_FILE, BY_HAND, BY_HEAT, BY_POLISH

KINDS = (
    OperationKind(
        "mark-out",
        "Mark out",
        "bench",
        ("mounter",),
        3,
        marks="marked",
        lost_by=(BY_FILE, BY_HEAT, BY_POLISH, BY_HAND),
        joint=joint_states.MARKED,
    ),
    OperationKind(
        "lay-out-stones", "Lay out stones", "bench", ("mounter",), 5, hazard="Wax and stone off before heat."
    ),
    OperationKind(
        "saw-gap",
        "Saw gap",
        "bench",
        ("mounter",),
        5,
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
        "fit-ends",
        "Fit ends",
        "bench",
        ("mounter",),
        15,
        joint=joint_states.CUT,
    ),
    OperationKind("clean-slot", "Clean slot", "bench", ("mounter",), 5, needs=("head out",), makes=("slot clean",)),
    OperationKind(
        "offer-part",
        "Offer part",
        "bench",
        ("mounter",),
        1,
        joint=joint_states.FITS,
    ),
)
