"""The shank, made anew: stock, bent, closed where it is a closed ring, rounded up, on size."""

from __future__ import annotations

from yarvel.metals import bending
from yarvel.operations.joint_groups import SHANK_SEAM
from yarvel.route import lots
from yarvel.route.offer import SHANK, STOCK, Offers
from yarvel.shanks import blanks

RING = ("shank",)
_SQUARE = ("flat", "square")


def offer(offers: Offers) -> None:
    """Nothing for a pendant, a ring that is there already, or one that is cast with its head."""
    shank, band = offers.plan.job.shank, offers.plan.band
    if shank is None or band is None or offers.exists or offers.one_piece:
        return
    offers.stock("shank", metal=shank.metal)
    wide = max(band.width_mm, float(band.width_at(180.0)))
    thick = max(band.thickness_mm, float(band.thickness_at(180.0)))
    offers.add("roll", "shank", RING, f"Roll square stock down to {wide:.2f} by {thick:.2f} mm.", stage=STOCK)
    offers.add(
        "cut-length",
        "shank",
        RING,
        "Cut {shank.cut_length} of it.",
        "ends square",
        stage=STOCK,
        after=("roll-shank",),
        takes=(lots.bar(offers.plan, "Shank", shank.metal, wide, thick, offers.plan[blanks.cut_length_mm]),),
    )
    offers.add("anneal", "shank", RING, "Anneal: rolled hard, it cracks on its outside.", stage=SHANK)
    offers.add(
        "bend-to-shape",
        "shank",
        RING,
        "Bend it round over {shank.inside_diameter}.",
        "no cracks on its outside",
        stage=SHANK,
        strain=bending.band_strain,
        after=("cut-length-shank", "anneal-shank"),
    )
    if SHANK_SEAM in offers.joints:
        _closed(offers, wide * thick * offers.plan.rules.saw_allowance_mm)
    _shaped(offers)


def _shaped(offers: Offers) -> None:
    """Rolled square, filed to its profile and its taper."""
    band = offers.plan.band
    if band is None or (band.profile in _SQUARE and not band.tapers):
        return
    back = f" at the head, {band.width_at(180.0):.2f} by {band.thickness_at(180.0):.2f} at the back"
    told = f"File it {band.profile}" if band.profile not in _SQUARE else "File its taper"
    size = f"{band.width_mm:.2f} by {band.thickness_mm:.2f} mm{back if band.tapers else ''}"
    offers.add(
        "file-to-shape",
        "shank",
        RING,
        f"{told}: {size}; the inside stays as it is.",
        "both shoulders alike, edges even",
        stage=SHANK,
        after=("bend-to-shape-shank", "round-up-shank", "check-size-shank"),
        leaves={RING: band.volume_mm3} if SHANK_SEAM in offers.joints else {},
    )


def _closed(offers: Offers, allowance: float) -> None:
    """A closed ring: its seam, round, on size; ``allowance`` what the file takes of its ends, mm³."""
    offers.closed(
        SHANK_SEAM,
        "shank",
        RING,
        "File the ends true; sprung a little past each other they press together.",
        "no light through the seam",
        stage=SHANK,
        off={"shank": allowance},
    )
    offers.add(
        "round-up",
        "shank",
        RING,
        "Round it up on the mandrel.",
        "no light between ring and mandrel",
        stage=SHANK,
        after=("pickle-shank-seam",),
        shape="closed",
    )
    offers.add(
        "check-size",
        "shank",
        RING,
        "Size: {shank.inside_circumference} round the inside.",
        stage=SHANK,
        after=("round-up-shank",),
    )
