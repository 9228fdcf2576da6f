"""Joints: held, soldered, fused, opened, pickled."""

from __future__ import annotations

from yarvel.operations import joint_states
from yarvel.operations.operation import HEAT, OperationKind
from yarvel.operations.piece import BY_HEAT

KINDS = (
    OperationKind(
        key="set-up",
        label="Set up",
        station="torch",
        skills=("mounter",),
        minutes=2,
        joint=joint_states.HELD,
    ),
    OperationKind(
        key="tack",
        label="Tack",
        station="laser",
        skills=("mounter",),
        minutes=2,
        hazard="Laser: closed, or with the eyewear of its class.",
        joint=joint_states.HELD,
    ),
    OperationKind(
        key="solder",
        label="Solder",
        station="torch",
        skills=("mounter",),
        minutes=3,
        each_minutes=1.5,
        hazard="Torch: eyes covered, flux fume drawn off; the block stays hot.",
        temper=HEAT,
        makes=("soldered",),
        loses=("clean",),
        joint=joint_states.SOLDERED,
        wears=BY_HEAT,
    ),
    OperationKind(
        key="fuse",
        label="Fuse",
        station="torch",
        skills=("mounter",),
        minutes=4,
        hazard="Torch: eyes covered, hair and sleeves back; let the block cool.",
        temper=HEAT,
        makes=("soldered",),
        loses=("clean",),
        joint=joint_states.FUSED,
        wears=BY_HEAT,
    ),
    OperationKind(
        key="unsolder",
        label="Unsolder",
        station="torch",
        skills=("mounter",),
        minutes=5,
        hazard="Old solder may hold cadmium: fume drawn off, never breathed.",
        temper=HEAT,
        makes=("head out",),
        loses=("clean",),
        joint=joint_states.OPEN,
        wears=BY_HEAT,
    ),
    OperationKind(
        key="pickle",
        label="Pickle",
        station="pickle",
        skills=("mounter",),
        minutes=1,
        wait_minutes=7.5,
        hazard="Pickle: acid into water, goggles, copper tongs.",
        makes=("clean",),
        joint=joint_states.LOOKED,
    ),
    OperationKind(key="close-bail", label="Close bail", station="bench", skills=("mounter",), minutes=2),
)
