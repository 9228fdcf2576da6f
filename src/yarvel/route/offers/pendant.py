"""A pendant's ring: made, closed and soldered before any stone is in."""

from __future__ import annotations

from yarvel.operations.piece import EXISTS
from yarvel.route import lots
from yarvel.route.offer import FIT, SOLDER, STOCK, Offers
from yarvel.shanks import hanging

BAIL = ("hanging ring",)


def offer(offers: Offers) -> None:
    """Nothing where the head goes onto a shank, or stays on the ring that it hangs by."""
    job = offers.plan.job
    if job.shank is not None or hanging.wire_length_mm not in offers.plan.figures or offers.head_there:
        return
    if job.way:
        facts = ("cut", "closed")
        offers.stock("hanging ring", metal=job.head.metal, facts=facts, shape="closed", origin=EXISTS)
    else:
        _made(offers)
    offers.solder(
        "bail-to-head",
        "hanging-ring",
        ("hanging ring", offers.grip),
        stage=SOLDER,
        makes=("joined",),
        after=("pickle-hanging-ring-seam", "polish-hidden-head"),
    )
    offers.add(
        "look-three-ways",
        "hanging",
        BAIL,
        "Hang it from a thread, the stone held in by wax; then wax and stone out again. The ring stands {bail.height} "
        "above the foot, where the centre of mass lies."
        if hanging.HEIGHT in offers.plan.figures
        else "Hang it from a thread, the stone held in by wax; then wax and stone out again.",
        "the face is upright",
        stage=SOLDER,
        after=("pickle-hanging-ring",),
    )


def _made(offers: Offers) -> None:
    """The ring, drawn, rounded up and closed."""
    offers.stock("hanging ring", metal=offers.plan.job.head.metal, facts=("cut",))
    plan = offers.plan
    wire = plan[hanging.WIRE]
    stock = lots.wire(plan, "Hanging ring", "hanging ring", wire, plan[hanging.wire_length_mm])
    offers.add("draw-wire", "hanging-ring", BAIL, "Draw wire to {bail.wire}.", stage=STOCK, takes=(stock,))
    offers.add("anneal", "hanging-ring", BAIL, "Anneal it.", stage=FIT, after=("draw-wire-hanging-ring",))
    offers.bend(
        "hanging-ring",
        BAIL,
        "Round up {bail.wire_length} to {bail.inside} inside; its seam goes to the head.",
        "the chain's end goes through without force",
        wire / (offers.plan[hanging.INSIDE] + wire),
        stage=FIT,
        after=("anneal-hanging-ring",),
    )
    offers.solder(
        "bail-seam",
        "hanging-ring-seam",
        BAIL,
        stage=FIT,
        makes=("closed",),
        shape="closed",
        after=("bend-to-shape-hanging-ring",),
    )
