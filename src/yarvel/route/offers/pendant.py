"""A pendant's ring: made, closed and soldered before any stone is in."""

from __future__ import annotations

from yarvel.metals.alloys import alloy_of
from yarvel.operations.piece import BOUGHT, EXISTS
from yarvel.route import lots
from yarvel.route.offer import FIT, SOLDER, STOCK, Offers
from yarvel.shanks import pendant

_THREAD = "Hang it from a thread, the stone held in by wax; then wax and stone out again."
_NEAR_MM = 0.05
BAIL, BOUGHT_BAIL = ("hanging ring",), ("bail",)


def offer(offers: Offers) -> None:
    """Nothing where the head goes onto a shank, or stays on the ring that it hangs by."""
    job = offers.plan.job
    if job.shank is not None or pendant.wire_length_mm not in offers.plan.figures or offers.head_there:
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
        _THREAD + _stands(offers),
        "nothing of the ring shows from the front" if offers.plan.job.hangs_hidden else "the face is upright",
        stage=SOLDER,
        after=("pickle-hanging-ring",),
    )
    if pendant.BAIL_OPENING in offers.plan.figures:
        _bail(offers)


def _stands(offers: Offers) -> str:
    """Where the ring stands, once its height is known."""
    if pendant.HEIGHT not in offers.plan.figures:
        return ""
    if offers.plan.job.hangs_hidden:
        return " The ring stands behind the stone, its middle at {bail.height} over the foot."
    balanced = abs(offers.plan[pendant.HEIGHT] - offers.plan[pendant.CENTRE]) < _NEAR_MM
    return " The ring stands {bail.height} above the foot" + (", where the centre of mass lies." if balanced else ".")


def _bail(offers: Offers) -> None:
    """A bought bail: hooked in and closed by its joint, before the stone."""
    plan, job = offers.plan, offers.plan.job
    bail_g = plan[pendant.BAIL_MASS] if pendant.BAIL_MASS in plan.figures else 0.0
    volume = bail_g * 1000 / alloy_of(job.head.metal, plan.rules).density
    offers.stock("bail", metal=job.head.metal, facts=("cut", "closed"), shape="closed", origin=BOUGHT)
    offers.add(
        "pick-bought",
        "bail",
        BOUGHT_BAIL,
        "Choose the bail: {bail.opening} open for the chain, {bail.hook} through the ring."
        if pendant.BAIL_WIRE in plan.figures
        else "Choose the bail: {bail.opening} open for the chain; weigh it, and try it in the ring.",
        stage=STOCK,
        takes=(lots.bought(plan, "Bought bail", "bail", volume),) if volume else (),
    )
    offers.add(
        "close-bail",
        "bail",
        (*BOUGHT_BAIL, *BAIL),
        "Hook the bail into the ring and close it by its joint.",
        "ends touching, no gap that a chain slips through; it swings freely",
        stage=SOLDER,
        after=("pick-bought-bail", "look-three-ways-hanging"),
    )
    bail = None if job.fit is None or job.fit.bail is None else job.fit.bail.bought
    if bail is not None and bail.joint == pendant.SOLDERED:
        offers.solder(
            "bail-joint", "bail-joint", BOUGHT_BAIL, stage=SOLDER, makes=("joined",), after=("close-bail-bail",)
        )


def _made(offers: Offers) -> None:
    """The ring, drawn, rounded up and closed."""
    offers.stock("hanging ring", metal=offers.plan.job.head.metal, facts=("cut",))
    plan = offers.plan
    wire = plan[pendant.WIRE]
    stock = lots.wire(plan, "Hanging ring", "hanging ring", wire, plan[pendant.wire_length_mm])
    offers.add("draw-wire", "hanging-ring", BAIL, "Draw wire to {bail.wire}.", stage=STOCK, takes=(stock,))
    offers.add(
        "anneal", "hanging-ring", BAIL, "Anneal the hanging ring's wire.", stage=FIT, after=("draw-wire-hanging-ring",)
    )
    offers.bend(
        "hanging-ring",
        BAIL,
        "Round up {bail.wire_length} to {bail.inside} inside; its seam goes to the head.",
        "the chain's end goes through without force",
        wire / (offers.plan[pendant.INSIDE] + wire),
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
