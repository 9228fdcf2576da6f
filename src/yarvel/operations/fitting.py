"""Head and shank brought together."""

from __future__ import annotations

from yarvel.operations.operation import Kind

KINDS = (
    Kind("mark-out", "Mark out", "bench", ("mounter",), 3, makes=("marked",)),
    Kind("lay-out-stones", "Lay out stones", "bench", ("mounter",), 5, hazard="Wax and stone off before heat."),
    Kind(
        "saw-gap",
        "Saw gap",
        "bench",
        ("mounter",),
        5,
        hazard="Never cutters.",
        needs=(
            "closed",
            "annealed",
            "marked",
        ),
        makes=("sawn open",),
        loses=(
            "closed",
            "marked",
        ),
        shape="sawn-open",
    ),
    Kind("fit-ends", "Fit ends", "bench", ("mounter",), 15, makes=("fitted",)),
    Kind("clean-slot", "Clean slot", "bench", ("mounter",), 5, needs=("head out",), makes=("slot clean",)),
    Kind("offer-part", "Offer part", "bench", ("mounter",), 1, makes=("offered",)),
)
