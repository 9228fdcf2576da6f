"""Collets and tubes: driven from tube, bent from strip, or cut off."""

from __future__ import annotations

import math
from typing import Any

from yarvel.figures.figure import FigureKey
from yarvel.heads import driven_tube, notches, seats, style, tapered_collet, tube
from yarvel.heads.style import DRIVEN, OF_TUBE
from yarvel.planning.diagnostics import sawn_joint
from yarvel.route import lots
from yarvel.route.offer import CLAWS, HEAD, SOLDER, STOCK, Offers
from yarvel.shanks import fish_mouth, inset, let_in, on_flat

_FOLLOWS = (
    tapered_collet.foot_diameter_mm,
    tapered_collet.collet_height_mm,
    tapered_collet.saw_depth_mm,
    inset.MARK_HALF,
    inset.MARK_HALF_OUTSIDE,
    inset.hollow_mm,
    inset.hollow_limit_mm,
    on_flat.flat_depth_mm,
    let_in.DEPTH,
    let_in.MARK,
    let_in.limit_mm,
    fish_mouth.saddle_depth_mm,
    seats.line_from_top_mm,
    seats.line_from_foot_mm,
    notches.SEAT_DEPTH,
)
"""Figures that a driven collet as it was measured changes: no two come out alike."""
_CUT = (
    "Cut {collet.blank_length} of tube of {collet.blank_outer}, wall {head.wall}; ends square. Or from sheet of "
    "{head.wall}: the pattern's radii {collet.pattern_inner_radius} and {collet.pattern_outer_radius}, "
    "{collet.pattern_angle_deg}, its seam closed hard."
)
_CUT_IN_HAND = (
    "Cut {collet.blank_length} of the tube in hand, {collet.blank_outer} outside, wall {collet.tube_wall}; ends square."
)
_DRIVE = (
    "Drive it into the block a little at a time, annealed between, until the foot is {collet.foot_diameter}; stop "
    "early and look. Overdriving cannot be undone; {collet.stretch_left} of stretch is left."
)
_DRIVE_IN_HAND = (
    "From above into the hole of {collet.block_hole} of the {head.included_angle} block, a little at a time, annealed "
    "between, until the foot is {collet.foot_diameter} and {collet.height} of its height is left; stop early and look. "
    "Overdriving cannot be undone."
)


def offer(offers: Offers) -> None:
    """The wall before any seat; a collet's claws are sawn once it is in the shank."""
    if not offers.makes_head:
        return
    if offers.comes == DRIVEN:
        _collet(offers)
    elif offers.comes == OF_TUBE:
        _tube(offers)


def _collet(offers: Offers) -> None:
    wall = ("collet",)
    job = offers.plan.job
    loose, in_hand = job.shank is None and job.fit is None, job.head.tube is not None
    offers.stock(
        "collet", metal=job.head.metal, shape="tube", facts=("soldered",) if loose else ()
    )  # no joint to await
    offers.add(
        "cut-length",
        "collet",
        wall,
        _CUT_IN_HAND if in_hand else _CUT,
        stage=STOCK,
        **_tube_lot(
            offers, "Collet, driven from tube", "collet", tapered_collet.blank_outer_mm, tapered_collet.blank_length_mm
        ),
    )
    offers.add("anneal", "collet", wall, "Anneal the tube.", stage=HEAD, after=("cut-length-collet",))
    offers.add(
        "drive-collet",
        "collet",
        wall,
        _DRIVE_IN_HAND if in_hand else _DRIVE,
        "foot even all round, no fold",
        stage=HEAD,
        after=("anneal-collet",),
    )
    offers.add(
        "punch-rim",
        "collet",
        wall,
        "Open the rim with the punch to {collet.top_diameter} outside, never past the stone.",
        "the stone sits on the rim, slightly proud, and does not drop in",
        stage=HEAD,
        after=("drive-collet-collet",),
    )
    offers.add(
        "measure-part",
        "collet",
        wall,
        "Measure the made collet: foot, top, height and wall; the ring is marked by it.",
        reads=_FOLLOWS if offers.plan.job.head.made is None else (),
        stage=HEAD,
        after=("punch-rim-collet",),
    )
    _sawn(offers, wall)


def _sawn(offers: Offers, wall: tuple[str, ...]) -> None:
    """Claws out of the wall, once it is in its ring; a zone of it from then on."""
    if tapered_collet.saw_depth_mm in offers.plan.figures:
        offers.add(
            "saw-claws",
            "collet",
            wall,
            "Only now: saw the claws, {collet.saw_depth} below the girdle's line and no deeper.",
            "every cut ends above the joint, all of one depth",
            stage=SOLDER,
            count=len(offers.plan.shape.places),
            zones=((CLAWS, "collet"),),
            after=("pickle-head-to-shank", "pickle-hanging-ring"),
            harms=tuple(
                call.title.lower() for call in offers.plan.diagnostics if call.code == sawn_joint.CODE and call.open
            ),
        )
        offers.add(
            "narrow-claws",
            "collet",
            wall,
            "Open every cut to a V with a three-square file, narrow the claws towards their tips.",
            "claws alike, the Vs down to the end of the cuts",
            stage=SOLDER,
            count=len(offers.plan.shape.places),
            after=("saw-claws-collet",),
            leaves={wall: offers.volumes["raw"]} if offers.volumes else {},
        )


def _tube_lot(offers: Offers, piece: str, part: str, outside: FigureKey, length: FigureKey) -> dict[str, Any]:
    """A length of tube, and what the file takes of its ends."""
    plan = offers.plan
    wall = plan[driven_tube.TUBE_WALL if driven_tube.TUBE_WALL in plan.figures else style.HEAD_WALL]
    long = plan[length]
    if plan.volumes:  # a rim that is closed over has a little more metal than its straight wall: so has its tube
        long = max(long, plan.volumes["wall"] / (math.pi * (plan[outside] - wall) * wall))
    lot = lots.tube(plan, piece, part, plan.job.head.metal, plan[outside], wall, long)
    return {"takes": (lot,), "off": {part: lot.volume_mm3 * plan.rules.saw_allowance_mm / lot.length_mm}}


def _tube(offers: Offers) -> None:
    wall = ("tube",)
    strip = "strip-seam" in offers.joints
    offers.stock("tube", metal=offers.plan.job.head.metal, shape="strip" if strip else "tube")
    if strip:
        plan = offers.plan
        high, long = plan[tube.tube_length_mm], plan[tube.strip_length_mm]
        stock = lots.strip(plan, "Strip of the bezel", "tube", high, plan[style.HEAD_WALL], long)
        offers.add(
            "cut-length",
            "tube",
            wall,
            "Cut a strip of {head.strip_length} by {head.tube_length}, {head.wall} thick.",
            stage=STOCK,
            takes=(stock,),
        )
        offers.add("anneal", "tube", wall, "Anneal the strip.", stage=HEAD, after=("cut-length-tube",))
        wall_mm = offers.plan[style.HEAD_WALL]
        offers.bend(
            "tube",
            wall,
            "Bend it round the stone's outline.",
            "the stone drops on its ledge without force",
            wall_mm / max(offers.plan[tube.tube_outer_mm] - wall_mm, wall_mm),
            stage=HEAD,
            after=("anneal-tube",),
        )
        offers.closed(
            "strip-seam",
            "tube",
            wall,
            seam="strip-seam",
            stage=HEAD,
            off={"tube": stock.volume_mm3 * plan.rules.saw_allowance_mm / stock.length_mm},
        )
    else:
        offers.add(
            "cut-length",
            "tube",
            wall,
            "Cut {head.tube_length} of tube of {head.tube_outer}, wall {head.wall}; both ends square.",
            "it stands upright on the plate",
            stage=STOCK,
            **_tube_lot(offers, "Tube", "tube", tube.tube_outer_mm, tube.tube_length_mm),
        )
    offers.add(
        "polish-hidden",
        "tube",
        wall,
        "Polish what will be out of reach.",
        stage=HEAD,
        after=("cut-length-tube", "pickle-strip-seam"),
    )
