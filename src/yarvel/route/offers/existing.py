"""A ring that is there already: the old head out, its slot made ready; another size at the back."""

from __future__ import annotations

from typing import Any

from msgspec.structs import replace

from yarvel.operations.joint_groups import SHANK_SEAM
from yarvel.operations.piece import BY_POLISH, EXISTS
from yarvel.operations.stone_state import (
    ABSENT,
    BEARING,
    CENTRE,
    GUIDE,
    HOME,
    ROUNDED,
    THINNED,
    UPRIGHT,
    StoneState,
    Tips,
)
from yarvel.route import lots
from yarvel.route.offer import CLAWS, SHANK, SOLDER, TAKE_IN, Offers
from yarvel.shanks import resizing, slot

RING = ("shank",)
OLD = "old head"


def offer(offers: Offers) -> None:
    """Nothing where ring and head are made anew."""
    job = offers.plan.job
    if offers.head_there:
        stone_there = job.stone.state != ABSENT
        facts = ("soldered", "joined", "tops level", "marks out")
        shape = "joined" if job.shank is None or offers.exists else "head"
        offers.stock("head", metal=job.head.metal, facts=facts, shape=shape, origin=EXISTS)
        marks = frozenset({("girdle scribed", (BY_POLISH,))})
        offers.parts["head"] = replace(offers.parts["head"], marks=marks)
        tips = Tips(section=THINNED, lean=HOME if stone_there else UPRIGHT, end=ROUNDED)
        if offers.plan.shape.places:
            offers.zone(CLAWS, "head")
        offers.stones[CENTRE] = StoneState(job.stone.state, stone_there, frozenset({GUIDE, BEARING}), tips)
    if offers.replaces:
        offers.stock(OLD, metal=job.head.metal, facts=("joined",), shape="joined", origin=EXISTS)
    shank = job.shank
    if shank is None or not offers.exists:
        return
    facts = ("cut", "bent", "closed", "round")
    offers.stock("shank", metal=shank.metal, facts=facts, shape="closed", origin=EXISTS)
    if offers.replaces:
        offers.add(
            "measure-part",
            "old-head",
            RING,
            "Measure the old claws and the old height before the head goes.",
            "what was read stands on the docket",
            stage=TAKE_IN,
            after=("chart-wear-head",),
        )
        offers.add(
            "unsolder",
            "old-head",
            RING,
            "Open the old head's joints or saw it free; shield the shank's seam. The old head goes back to its owner.",
            "the band's ends are whole",
            stage=TAKE_IN,
            after=("measure-part-old-head",),
        )
        offers.add(
            "clean-slot",
            "old-head",
            RING,
            _slot_text(offers),
            "ends bright and level",
            stage=TAKE_IN,
            after=("unsolder-old-head",),
        )
    if resizing.change_mm in offers.plan.figures:
        _resized(offers)
    elif resizing.strain_percent in offers.plan.figures:
        _stretched(offers)


def _resized(offers: Offers) -> None:
    change = offers.plan[resizing.change_mm]
    what = "put in a piece of" if change > 0 else "take out"
    back = (SHANK_SEAM,)
    offers.add("anneal", "back", RING, "Anneal the back; keep the heat off the head.", stage=SHANK)
    offers.add(
        "mark-out",
        "back",
        RING,
        f"Size at the back: {what} {abs(change):.2f} mm; mark it.",
        joints=back,
        stage=SHANK,
        after=("anneal-back",),
    )
    offers.add(
        "saw-gap",
        "back",
        RING,
        "Saw at the back, at the mark.",
        "both ends square",
        joints=back,
        stage=SHANK,
        after=("mark-out-back", "anneal-back"),
        **_taken_out(offers, change),
    )
    offers.add(
        "fit-seam",
        "back",
        RING,
        "Fit the piece in, or the ends to each other.",
        "no light through the seam",
        joints=back,
        stage=SHANK,
        after=("saw-gap-back",),
        **_let_in(offers, change),
    )
    offers.solder(
        SHANK_SEAM, "back-seam", RING, stage=SOLDER, makes=("closed",), shape="closed", after=("fit-seam-back",)
    )
    offers.add(
        "check-size",
        "shank",
        RING,
        "Size: {shank.inside_circumference} round the inside; round up beside the head, never through it.",
        stage=SOLDER,
        after=("solder-back-seam",),
    )


def _stretched(offers: Offers) -> None:
    """Made larger with the metal that it has."""
    offers.add(
        "stretch",
        "shank",
        RING,
        "Stretch it by {resize.strain}, a little at a time, turned about between; the head supported, never pushed "
        "through. The band thins by {resize.thinner}.",
        "no crack at the seam, every stone tight",
        stage=SHANK,
        strain=float(offers.plan[resizing.strain_percent]) / 100,
    )
    offers.add(
        "check-size",
        "shank",
        RING,
        "Size: {shank.inside_circumference} round the inside.",
        stage=SOLDER,
        after=("stretch-shank",),
    )


def _let_in(offers: Offers, change: float) -> dict[str, Any]:
    """The piece that makes a ring larger, and what the file takes of it."""
    shank, band = offers.plan.job.shank, offers.plan.band
    if change <= 0 or shank is None or band is None:
        return {}
    across, down = float(band.width_at(180.0)), float(band.thickness_at(180.0))
    lot = lots.bar(
        offers.plan,
        "Piece for the size",
        shank.metal,
        max(band.width_mm, across),
        max(band.thickness_mm, down),
        change + offers.plan.rules.saw_allowance_mm,
    )
    return {"takes": (lot,), "off": {"shank": lot.volume_mm3 - band.section_mm2 * change}}


def _taken_out(offers: Offers, change: float) -> dict[str, Any]:
    """The piece that makes a ring smaller, two saw cuts within it."""
    shank, band = offers.plan.job.shank, offers.plan.band
    if change >= 0 or shank is None or band is None:
        return {}
    out = lots.bar(offers.plan, "Piece for the size", shank.metal, 1.0, band.section_mm2, -change)
    dust = min(2 * offers.plan.rules.saw_kerf_mm, -change) * band.section_mm2
    return {"gives": lots.back("Piece taken out", out, out.volume_mm3 - dust), "off": {"shank": dust}}


def _slot_text(offers: Offers) -> str:
    """The slot made ready, and by how much it differs from the new foot."""
    text = "Clear the old solder; level both ends by the finger and measure the slot at both."
    if slot.spare_mm not in offers.plan.figures:
        return text
    spare = offers.plan[slot.spare_mm]
    fitted = "open the slot to it" if spare > 0 else "close the slot onto it; solder bridges no gap"
    return f"{text} The new foot is {abs(spare):.2f} mm {'wider' if spare > 0 else 'narrower'} than it: {fitted}."
