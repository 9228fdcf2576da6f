"""Joints: held, soldered, fused, opened, pickled."""

from __future__ import annotations

from yarvel.operations.operation import HEAT, Kind

KINDS = (
    Kind("set-up", "Set up", "torch", ("mounter",), 2, makes=("held",)),
    Kind("tack", "Tack", "laser", ("mounter",), 2, hazard="Laser: closed, or with the eyewear of its class."),
    Kind(
        "solder",
        "Solder",
        "torch",
        ("mounter",),
        3,
        each=1.5,
        hazard="Torch: eyes covered, flux fume drawn off; the block stays hot.",
        temper=HEAT,
        bars=("sprung",),
        makes=("soldered",),
        loses=("clean",),
    ),
    Kind(
        "fuse",
        "Fuse",
        "torch",
        ("mounter",),
        4,
        hazard="Torch: eyes covered, hair and sleeves back; let the block cool.",
        temper=HEAT,
        bars=("sprung",),
        makes=("soldered",),
        loses=("clean",),
    ),
    Kind(
        "unsolder",
        "Unsolder",
        "torch",
        ("mounter",),
        5,
        hazard="Old solder may hold cadmium: fume drawn off, never breathed.",
        temper=HEAT,
        makes=("head out",),
        loses=("clean",),
    ),
    Kind(
        "pickle",
        "Pickle",
        "pickle",
        ("mounter",),
        1,
        wait=7.5,
        hazard="Pickle: acid into water, goggles, copper tongs.",
        makes=("clean",),
    ),
    Kind("close-bail", "Close bail", "bench", ("mounter",), 2),
)
