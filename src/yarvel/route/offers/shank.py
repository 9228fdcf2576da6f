"""The shank, made anew: stock, bent, closed where it is a closed ring, rounded up, on size."""

from __future__ import annotations

import math

from yarvel.metals import bending
from yarvel.operations.joint_groups import SHANK_SEAM
from yarvel.route import lots
from yarvel.route.offer import SHANK, STOCK, Offers
from yarvel.shanks import blanks
from yarvel.shanks.band import Band, BandStation

RING = ("shank",)


def offer(offers: Offers) -> None:
    """Nothing for a pendant, a ring that is there already, or one that is cast with its head."""
    shank, band = offers.plan.job.shank, offers.plan.band
    if shank is None or band is None or offers.exists or offers.one_piece:
        return
    offers.stock("shank", metal=shank.metal)
    wide, thick = band.widest
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
    if band is None or not (band.rounded or band.tapers):
        return
    alike = band.back.profile == band.profile and not any(section.profile for section in band.between)
    shape_text = "File its sections" if not alike else f"File it {band.profile}" if band.rounded else "File its taper"
    size = f"{band.width_mm:.2f} by {band.thickness_mm:.2f} mm"
    if band.tapers:
        size = "; ".join(section_text(band, station, not alike) for station in band.stations)
    offers.add(
        "file-to-shape",
        "shank",
        RING,
        f"{shape_text}: {size}; the inside stays as it is.",
        "both shoulders alike, edges even",
        stage=SHANK,
        after=("bend-to-shape-shank", "round-up-shank", "check-size-shank"),
        leaves={RING: band.volume_mm3} if SHANK_SEAM in offers.joints else {},
    )


def section_text(band: Band, station: BandStation, profile: bool) -> str:
    """The band's section at a station, where it stands, as the file wants it; with its profile where that changes."""
    turn = station.turn_deg
    where = {0.0: "at the head", 180.0: "at the back"}.get(turn)
    if where is None:
        along = math.radians(turn) * (band.inside_radius + float(band.thickness_at(turn)))
        where = f"at {turn:g}° on both sides, {along:.1f} mm from the head's middle round the outside"
    size = f"{float(band.width_at(turn)):.2f} by {float(band.thickness_at(turn)):.2f} mm"
    shape = f", {station.profile}" if profile and station.profile else ""
    return f"{size}{shape} {where}"


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
