"""A ring that is there already: the old head out, its slot made ready; another size at the back."""

from __future__ import annotations

from yarvel.metals.joints import SHANK_SEAM
from yarvel.route.offer import SHANK, SOLDER, TAKE_IN, Offers

RING = ("shank",)


def offer(offers: Offers) -> None:
    """Nothing where the ring is made anew."""
    shank, fit = offers.plan.job.shank, offers.plan.job.fit
    if shank is None or not offers.exists:
        return
    facts = ("cut", "bent", "seam fits", "closed", "round")
    offers.stock("shank", metal=shank.metal, facts=facts, shape="closed")
    if fit is not None and fit.slot is not None:
        offers.add(
            "measure-part",
            "old-head",
            RING,
            "Measure the old claws and the old height before the head goes.",
            "what was read stands on the docket",
            stage=TAKE_IN,
        )
        offers.add(
            "unsolder",
            "old-head",
            RING,
            "Open the old head's joints or saw it free; shield the shank's seam.",
            "the band's ends are whole",
            stage=TAKE_IN,
            after=("measure-part-old-head",),
        )
        offers.add(
            "clean-slot",
            "old-head",
            RING,
            "Clear the old solder; level both ends by the finger and measure the slot at both.",
            "ends bright and level",
            stage=TAKE_IN,
            after=("unsolder-old-head",),
        )
    if "resize.change" in offers.plan.figures:
        _resized(offers)


def _resized(offers: Offers) -> None:
    change = offers.plan["resize.change"]
    what = "to let in" if change > 0 else "to take out"
    offers.add("mark-out", "back", RING, f"Mark {abs(change):.2f} mm {what} at the back.", stage=SHANK)
    offers.add("anneal", "back", RING, "Anneal the back; keep the heat off the head.", stage=SHANK)
    offers.add(
        "saw-gap",
        "back",
        RING,
        "Saw at the back, at the mark.",
        "both ends square",
        stage=SHANK,
        after=("mark-out-back", "anneal-back"),
    )
    offers.add(
        "fit-seam",
        "back",
        RING,
        "Fit the piece in, or the ends to each other.",
        "no light through the seam",
        stage=SHANK,
        after=("saw-gap-back",),
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
