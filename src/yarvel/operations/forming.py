"""Shanks and rings: bent, closed, rounded, filed, split."""

from __future__ import annotations

from yarvel.operations.operation import BEND, HEAT, Kind

KINDS = (
    Kind(
        "anneal",
        "Anneal",
        "torch",
        ("mounter",),
        3,
        wait=10,
        hazard="Torch: eyes covered, hair and sleeves back; let the block cool.",
        temper=HEAT,
        bars=("sprung",),
        makes=("annealed",),
        loses=("clean",),
    ),
    Kind(
        "bend-to-shape",
        "Bend to shape",
        "bench",
        ("mounter",),
        5,
        temper=BEND,
        needs=("cut",),
        makes=("bent",),
        loses=("annealed",),
        shape="open",
    ),
    Kind("fit-seam", "Fit seam", "bench", ("mounter",), 5, needs=("bent",), makes=("seam fits",)),
    Kind(
        "round-up",
        "Round up",
        "bench",
        ("mounter",),
        3,
        temper=BEND,
        needs=("closed",),
        makes=("round",),
        loses=("annealed", "marked"),
        bars=("in the shank",),
    ),
    Kind(
        "squeeze-to-outline",
        "Squeeze to outline",
        "bench",
        ("mounter",),
        3,
        temper=BEND,
        needs=("closed",),
        makes=("outlined",),
        loses=("annealed",),
        bars=("joined",),
    ),
    Kind("check-size", "Check size", "bench", ("mounter",), 1, makes=("sized",)),
    Kind("file-to-shape", "File to shape", "bench", ("mounter",), 10, loses=("marked",)),
    Kind("file-flat", "File flat", "bench", ("mounter",), 5, makes=("fitted",)),
    Kind(
        "split-shoulders",
        "Split shoulders",
        "bench",
        ("mounter",),
        15,
        needs=("bent",),
        makes=("split",),
        shape="split",
    ),
    Kind(
        "spread-branches", "Spread branches", "bench", ("mounter",), 5, temper=BEND, needs=("split",), makes=("spread",)
    ),
    Kind("notch-shoulders", "Notch shoulders", "bench", ("mounter",), 10, needs=("spread",), makes=("fitted",)),
)
