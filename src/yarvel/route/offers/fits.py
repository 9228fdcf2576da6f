"""How head and shank come together, by the fit's method; and the joint between them."""

from __future__ import annotations

from typing import Any

from yarvel.metals import bending
from yarvel.metals.joints import WELDED
from yarvel.operations.joint_groups import SHANK_SEAM
from yarvel.operations.piece import SPRUNG, WANTED
from yarvel.planning.work_methods import OPEN_RING, TACK, WELD
from yarvel.route import lots
from yarvel.route.offer import FIT, SOLDER, Offers
from yarvel.shanks import basket_point, fish_mouth, inset, let_in, on_flat, peg, resizing, slot, split_shoulder

RING = ("shank",)
BRANCHES = ("branches",)
HEAD_GROUPS = ("head-to-shank", "ends-to-head", "branches-to-bezel")
_ROUND = ("round-up-shank", "check-size-shank")

_SPRINGS = " The ring is under tension and springs open where it is heated: torch on the head's side only."


def offer(offers: Offers) -> None:
    """Nothing for a pendant."""
    fit = offers.plan.job.fit
    if offers.plan.job.shank is None or offers.one_piece:
        return
    if offers.exists and offers.head_there:
        return
    method = on_flat.METHOD if fit is None else fit.method
    if offers.replaces:
        _into_old(offers, method)
    else:
        {
            inset.METHOD: _inset,
            on_flat.METHOD: _on_flat,
            let_in.METHOD: _let_in,
            fish_mouth.METHOD: _fish_mouth,
            peg.METHOD: _peg,
            basket_point.METHOD: _point,
            split_shoulder.METHOD: _split,
        }[method](offers)
    _tacked(offers)
    sprung = fit is not None and fit.ring == OPEN_RING
    for group in HEAD_GROUPS:
        offers.solder(
            group,
            "head-to-shank",
            ("shank", offers.grip),
            stage=SOLDER,
            makes=("in the shank",),
            tension=SPRUNG if sprung else "",
            more=_SPRINGS if sprung else "",
            shape="joined",
            after=("offer-part-head", "pickle-shank-seam", "pickle-back-seam", "tack-loose-head"),
        )
    offers.add(
        "look-three-ways",
        "head",
        RING,
        "Look from the front, from the side and straight down before you go on.",
        "head upright and along the band as planned",
        stage=SOLDER,
        after=("pickle-head-to-shank",),
    )
    if offers.replaces and resizing.FROM_DIAMETER not in offers.plan.figures:
        offers.add(
            "check-size",
            "shank",
            RING,
            "Size measured: {shank.inside_circumference} round the inside, as it came in.",
            stage=SOLDER,
            after=("look-three-ways-head",),
        )


def _tacked(offers: Offers) -> None:
    """A head that will not stand by itself is tacked, so that it can come out again."""
    setting = offers.plan.job.setting
    asked = None if setting is None else setting.tack
    joint = next((offers.joints[group] for group in HEAD_GROUPS if group in offers.joints), None)
    if joint is None or asked == WELD or joint[0].grade == WELDED:
        return
    offers.add(
        "tack",
        "loose-head",
        ("shank", offers.grip),
        "Tack the head by laser, so that it can come out again."
        if asked == TACK
        else "Only where it does not stand by itself: tack it by laser, so that it can come out again.",
        "straight from the front, the side and straight down",
        joints=_at(offers),
        stage=SOLDER,
        after=("offer-part-head",),
        maybe=asked != TACK,
    )


def _at(offers: Offers) -> tuple[str, ...]:
    """The groups of joints between head and shank."""
    return tuple(group for group in HEAD_GROUPS if group in offers.joints)


def _offered(offers: Offers, after: tuple[str, ...]) -> None:
    offers.add(
        "offer-part",
        "head",
        ("shank", offers.grip),
        "Offer the head to the shank.",
        "it stands by itself, no light in the joint",
        joints=_at(offers),
        stage=FIT,
        after=(*after, "polish-hidden-head", "polish-hidden-tube"),
        off={offers.grip: max(offers.volumes["bare"] - offers.volumes["raw"], 0.0)} if offers.volumes else {},
        leaves=_shank_left(offers),
    )

    cut = [
        operation.key
        for operation in offers.operations
        if operation.kind.key in _CUTS and operation.joints and operation.stage == FIT
    ]
    if cut:
        offers.by_turns((cut[-1], "offer-part-head"), "it stands by itself, no light in the joint", _TURNS)


_CUTS = ("fit-ends", "file-flat", "trim-base", "drill", "notch-shoulders")

_TURNS = 2
"""How often a head is usually offered until it fits; from memory."""


def _shank_left(offers: Offers) -> dict[tuple[str, ...], float]:
    """To what a new shank is filed, sawn or drilled where the head goes, mm³; seats of small rounds come later."""
    if "shank" not in offers.volumes or offers.exists:
        return {}
    return {RING: offers.volumes["shank"] + offers.volumes.get("small seats", 0.0)}


def _inset(offers: Offers) -> None:
    if offers.plan.job.fit is not None and offers.plan.job.fit.ring == OPEN_RING:
        _open_c(offers)
        return
    if inset.MARK_HALF not in offers.plan.figures:
        offers.add(
            "drill",
            "shank",
            RING,
            "Saw and file a hole of {shank.gap_outside} outside, {shank.gap_inside} inside; {shank.beside_head} stays.",
            "the head drops in without force, foot flush with the inside",
            joints=_at(offers),
            stage=FIT,
            leaves=_shank_left(offers),
            after=_ROUND,
        )
        _offered(offers, ("drill-shank",))
        return
    _sawn(offers)


def _into_old(offers: Offers, method: str) -> None:
    """Another head where an old one was: its place is made ready, nothing is marked or sawn."""
    inset_head = method == inset.METHOD
    offers.add(
        "fit-ends",
        "slot",
        RING,
        "File both ends of the slot to the new head's outline."
        if inset_head
        else "File the old place to the new head's foot, no more than it asks.",
        "no light between head and ends, the foot flush with the inside" if inset_head else "it stands without rocking",
        joints=_at(offers),
        stage=FIT,
        after=("clean-slot-old-head",),
        off={"shank": _widened(offers)},
    )
    _offered(offers, ("fit-ends-slot", "trim-base-head", "saw-off-stays-claws"))


def _open_c(offers: Offers) -> None:
    """A ring that only its head closes: bent short, its ends filed to the head, never closed without it."""
    offers.add(
        "fit-ends",
        "gap",
        RING,
        "The ring stays an open C: file both ends to the head's outline, {shank.hollow_limit} from the middle and no "
        "farther.",
        "no light between head and ends, the foot flush with the inside; on size with the head in",
        joints=_at(offers),
        stage=FIT,
        after=("bend-to-shape-shank", "measure-part-collet"),
        leaves=_shank_left(offers),
    )
    _offered(offers, ("fit-ends-gap", "saw-off-stays-claws", "trim-base-head"))


def _sawn(offers: Offers) -> None:
    """The gap of a closed ring: annealed, marked, sawn, its ends fitted."""
    offers.add(
        "anneal",
        "before-sawing",
        RING,
        "Anneal: a ring rounded up cold snaps open when it is sawn.",
        stage=FIT,
        after=_ROUND,
    )
    offers.add(
        "mark-out",
        "gap",
        RING,
        "Scribe {shank.hollow_limit} each side of the middle: the limit that hollowing may reach. Mark "
        "{shank.mark_half} inside and {shank.mark_half_outside} outside, each side of the middle.",
        joints=_at(offers),
        stage=FIT,
        after=("anneal-before-sawing", "measure-part-collet", "check-size-shank"),
    )
    offers.add(
        "saw-gap",
        "gap",
        RING,
        "Saw the whole piece out, from the inside mark to the outside mark.",
        "both cuts inside the scribed limit; the ring still on size",
        joints=_at(offers),
        takes_out=(SHANK_SEAM,),
        stage=FIT,
        after=("mark-out-gap", "anneal-before-sawing"),
        **_sawn_out(offers),
    )
    offers.add(
        "fit-ends",
        "gap",
        RING,
        "Hollow both ends by {shank.hollow} to the head's outline."
        if offers.plan.figures[inset.hollow_mm].value > 0.005
        else "File both ends straight to the head's sides.",
        "no light between head and ends, the foot flush with the inside",
        joints=_at(offers),
        stage=FIT,
        leaves=_shank_left(offers),
        after=("saw-gap-gap",),
    )
    _offered(offers, ("fit-ends-gap", "saw-off-stays-claws", "trim-base-head"))


def _on_flat(offers: Offers) -> None:
    offers.add(
        "file-flat",
        "shank",
        RING,
        "File a flat of {shank.flat_depth} at the middle; {shank.left_under_flat} stays under it.",
        "the foot stands without rocking, no light under it",
        joints=_at(offers),
        stage=FIT,
        leaves=_shank_left(offers),
        after=_ROUND,
    )
    _offered(offers, ("file-flat-shank", "saw-off-stays-claws", "trim-base-head"))


def _let_in(offers: Offers) -> None:
    """A floor filed across the band between two hollowed ends, or sunk into a band that is wider than the head."""
    sunk = inset.beside_head_mm in offers.plan.figures
    if not sunk:
        offers.add(
            "mark-out",
            "recess",
            RING,
            "Scribe {shank.let_limit} each side of the middle: the limit that hollowing may reach. Mark "
            "{shank.let_mark} each side of the middle.",
            "both marks square across the band",
            joints=_at(offers),
            stage=FIT,
            after=(*_ROUND, "measure-part-collet"),
        )
    offers.add(
        "file-flat",
        "recess",
        RING,
        "Sink a hole with a flat floor to the head's outline, {shank.let_depth} deep at the middle; "
        "{shank.left_under_let} stays under it, {shank.beside_head} on each side."
        if sunk
        else "Saw down inside the marks and file a level floor {shank.let_depth} below the band's top; "
        "{shank.left_under_let} stays under it. Hollow both ends to the head's outline.",
        "the foot stands on the floor without rocking, no light between head and ends",
        joints=_at(offers),
        stage=FIT,
        leaves=_shank_left(offers),
        after=(*_ROUND, "mark-out-recess"),
    )
    _offered(offers, ("file-flat-recess", "trim-base-head"))


def _fish_mouth(offers: Offers) -> None:
    offers.add(
        "trim-base",
        "saddle",
        (offers.grip,),
        "Wrap the fish-mouth template round the foot and scribe it; file the foot hollow to the line, deepest "
        "{shank.saddle_depth}, with a round file of the band's curve.",
        "no light between foot and band, no rocking; the head stands square from the front and the side",
        joints=_at(offers),
        stage=FIT,
    )
    _offered(offers, ("trim-base-saddle", *_ROUND))


def _peg(offers: Offers) -> None:
    offers.add(
        "drill",
        "shank",
        RING,
        "Dimple, pilot {shank.hole_pilot}, then {shank.hole}, {shank.hole_depth} deep, square to the band; touch the "
        "mouth with a round bur of {shank.hole_bur}, so that solder has room; cut the peg to {shank.peg_length}.",
        "the head stands square from the front and the side; {shank.beside_hole} left beside the hole",
        joints=_at(offers),
        stage=FIT,
        leaves=_shank_left(offers),
        after=_ROUND,
    )
    offers.add(
        "trim-base",
        "saddle",
        (offers.grip,),
        "File the base hollow by {shank.saddle_depth} to the band's curve.",
        "no rocking, no light under the base",
        joints=_at(offers),
        stage=FIT,
        after=("trim-base-head",),
    )
    _offered(offers, ("drill-shank", "trim-base-saddle"))


def _point(offers: Offers) -> None:
    claws, lowest = (offers.grip,), offers.plan.shape.rings[-1]
    offers.add(
        "bevel-legs",
        "claws",
        claws,
        f"Leave {{head.below_ring}} below the {lowest.name}; bevel the insides {{head.claw_bevel}} to each side.",
        stage=FIT,
        leaves={offers.head_parts: offers.volumes["bare"]} if offers.volumes else {},
        count=len(offers.plan.shape.places),
        after=("pickle-claws-to-lower-ring", "pickle-claws-to-ring", "saw-off-stays-claws"),
    )
    offers.add(
        "bend-legs",
        "claws",
        claws,
        f"Bend the legs until they meet, {{shank.point_depth}} below the {lowest.name}, at {{shank.point_angle}}; "
        "grind the last {shank.hole_depth} of the bundle to a sharp cone, {shank.hole} across at its shoulder.",
        "the triangles between the claws look alike from every side",
        stage=FIT,
        count=len(offers.plan.shape.places),
        after=("bevel-legs-claws",),
    )
    offers.solder("point", "point", claws, stage=FIT, after=("bend-legs-claws",))
    offers.add(
        "drill",
        "shank",
        RING,
        "Drill a blind hole of {shank.hole}, {shank.hole_depth} deep; {shank.beside_hole} stays on each side.",
        "the point stands in it square from the front and the side",
        joints=_at(offers),
        stage=FIT,
        leaves=_shank_left(offers),
        after=_ROUND,
    )
    _offered(offers, ("drill-shank", "pickle-point"))


_GRIPPED = " {shank.ring_gripped} of its height lies in them; flatten only the top of the branches."

_BASKET = ("saw-off-stays-claws", "pickle-claws-to-lower-ring", "pickle-claws-to-ring")
"""The last of making a basket."""


def _split(offers: Offers) -> None:
    tips = "tips lie {shank.tip_side} from the middle"
    gripped = "ring" if split_shoulder.ring_gripped_mm in offers.plan.figures else "bezel"
    offers.add(
        "split-shoulders",
        "shank",
        RING,
        "Saw the band along its middle from both ends to {shank.split_from} from the head's middle; each branch "
        "{shank.branch} wide before filing.",
        "both cuts end on one line, branches alike",
        zones=((BRANCHES[0], RING[0]),),
        stage=FIT,
        after=("bend-to-shape-shank",),
    )
    offers.add("anneal", "branches", BRANCHES, "Anneal the shoulders.", stage=FIT, after=("split-shoulders-shank",))
    offers.add(
        "spread-branches",
        "shank",
        BRANCHES,
        "Spread every branch {shank.spread} to its side"
        + (f"; {tips}." if offers.plan[split_shoulder.tip_side_mm] > 0 else "."),
        "no crack at the end of the saw cut; all four tips level",
        tension=WANTED,
        stage=FIT,
        strain=bending.spread_strain,
        after=("anneal-branches",),
    )
    offers.add(
        "notch-shoulders",
        "shank",
        BRANCHES,
        f"File a notch of {{shank.bezel_notch}} into every tip to the {gripped}'s curve."
        + (_GRIPPED if gripped == "ring" else ""),
        f"the {gripped} is held by all four notches without solder, square and level",
        joints=_at(offers),
        stage=FIT,
        leaves=_shank_left(offers),
        after=("spread-branches-shank", "pickle-strip-seam", "cut-length-tube", *_BASKET),
    )
    _offered(offers, ("notch-shoulders-shank",))


def _sawn_out(offers: Offers) -> dict[str, Any]:
    """The piece of the band between the marks, and two saw cuts within it."""
    plan, shank, band = offers.plan, offers.plan.job.shank, offers.plan.band
    if shank is None or band is None:
        return {}
    long = plan[inset.MARK_HALF] + plan[inset.MARK_HALF_OUTSIDE]
    area = float(band.area_at(0.0))
    out = lots.bar(plan, "Shank", shank.metal, 1.0, area, long)
    dust = min(2 * plan.rules.saw_kerf_mm, long) * area
    return {"gives": lots.back("Piece sawn out with its seam", out, out.volume_mm3 - dust), "off": {"shank": dust}}


def _widened(offers: Offers) -> float:
    """What is filed off the ends of a slot that is too narrow, mm³."""
    plan, band = offers.plan, offers.plan.band
    if band is None or slot.spare_mm not in plan.figures:
        return 0.0
    return max(plan[slot.spare_mm], 0.0) * float(band.area_at(0.0))
