"""The seat: levelled, scribed, cut, tried."""

from __future__ import annotations

from yarvel.operations.operation import Kind
from yarvel.operations.piece import HELD

KINDS = (
    Kind(
        "offer-stone",
        "Offer stone",
        "bench",
        (
            "mounter",
            "setter",
        ),
        1,
        hazard="Drop it.",
    ),
    Kind(
        "level-tops",
        "Level tops",
        "bench",
        (
            "mounter",
            "setter",
        ),
        2,
        makes=("tops level",),
    ),
    Kind("scribe-girdle", "Scribe girdle", "setting-bench", ("setter",), 3, makes=("girdle scribed",)),
    Kind(
        "guide-cut",
        "Guide cut",
        "setting-bench",
        ("setter",),
        0,
        each=1,
        hazard="Bur: it climbs at the first touch; eyes covered, hands braced.",
        needs=("girdle scribed",),
        makes=("guided",),
    ),
    Kind(
        "cut-seat",
        "Cut seat",
        "setting-bench",
        ("setter",),
        0,
        each=2,
        hazard="Bur: eyes covered, hands braced.",
        needs=("girdle scribed",),
        makes=("seat cut",),
        loses=("marks out",),
    ),
    Kind(
        "relieve-corner",
        "Relieve corner",
        "setting-bench",
        ("setter",),
        0,
        each=2,
        hazard="Do not come through.",
        needs=("guided",),
        makes=("corner free",),
    ),
    Kind(
        "clear-keel",
        "Clear keel",
        "setting-bench",
        ("setter",),
        0,
        each=2,
        needs=("corner free",),
        makes=("keel clear",),
    ),
    Kind("skim-gallery", "Skim gallery", "setting-bench", ("setter",), 3, makes=("gallery skimmed",)),
    Kind(
        "bevel-overhang",
        "Bevel overhang",
        "bench",
        (
            "mounter",
            "setter",
        ),
        0,
        each=2,
    ),
    Kind("lean-out", "Lean out", "setting-bench", ("setter",), 1),
    Kind(
        "thin-tips",
        "Thin tips",
        "bench",
        (
            "mounter",
            "setter",
        ),
        0,
        each=1,
        makes=("tips thinned",),
    ),
    Kind(
        "round-tips",
        "Round tips",
        "setting-bench",
        ("setter",),
        0,
        each=1,
        hazard="Steel on stone.",
        stone_before=(HELD,),
        makes=("tips rounded",),
    ),
    Kind("press-test", "Press test", "setting-bench", ("setter",), 1),
    Kind("clamp-level", "Clamp level", "setting-bench", ("setter",), 2),
)
