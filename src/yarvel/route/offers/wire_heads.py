"""Heads of wire and rings: baskets, paired corners, V claws."""

from __future__ import annotations

from yarvel.heads import paired_corner, v_claw, wire_basket
from yarvel.route.offer import HEAD, STOCK, Offers

STYLES = (wire_basket.STYLE, paired_corner.STYLE, v_claw.STYLE)
CLAWS = ("claws",)


def offer(offers: Offers) -> None:
    """Rings closed and grooved, claws bent, ring by ring soldered, sawn free, cleaned."""
    job = offers.plan.job
    if job.head.style not in STYLES:
        return
    offers.stock("claws", metal=job.head.metal, facts=("cut",))
    for which in ("upper", "lower"):
        if f"head.{which}_ring_wire_length" in offers.plan.figures:
            _ring(offers, which, job.head.metal)
    _claws(offers)
    _joined(offers)
    offers.add(
        "countersink",
        "upper-ring",
        ("upper ring",),
        "Countersink the upper ring by {head.countersink} to the pavilion's angle.",
        "the stone lies on it without rocking",
        stage=HEAD,
        after=("solder-claws-to-upper-ring",),
    )
    offers.add(
        "polish-hidden",
        "head",
        CLAWS,
        "Saw and file marks out of rings and insides, then polish what will be out of reach.",
        "no marks between the claws",
        stage=HEAD,
        after=(
            "saw-off-stays-claws",
            "countersink-upper-ring",
            "pickle-claws-to-lower-ring",
            "solder-claws-to-lower-ring",
        ),
    )


def _ring(offers: Offers, which: str, metal: str) -> None:
    name, target = f"{which} ring", f"{which}-ring"
    offers.stock(name, metal=metal, facts=("cut",))
    figures, ring = offers.plan.figures, (name,)
    offers.add("draw-wire", target, ring, "Draw wire to {head.ring_wire}.", stage=STOCK)
    offers.add(
        "anneal", target, ring, "Anneal the wire and stretch it straight.", stage=HEAD, after=(f"draw-wire-{target}",)
    )
    long = f"{{head.{which}_ring_wire_length}}"
    over = f"{{head.{which}_ring_outer}}"
    wound = f"head.{which}_ring_former" in figures
    shape = f"Bend {long} round"
    if "head.ring_turn" in figures:
        shape = f"Score {long} at every corner, bend it there by {{head.ring_turn}}, mitre to {{head.ring_mitre}}"
    elif wound:
        shape = f"Bend {long} on a rod of {{head.{which}_ring_former}}"
    wire = offers.plan["head.ring_wire"]
    offers.bend(
        target,
        ring,
        f"{shape}: {over} over all; the seam will lie under a claw.",
        "level on the plate, no light through the seam",
        wire / max(offers.plan[f"head.{which}_ring_outer"] - wire, wire),
        stage=HEAD,
        after=(f"anneal-{target}",),
    )
    offers.add(
        "fit-seam", target, ring, "File the ends true.", "no light", stage=HEAD, after=(f"bend-to-shape-{target}",)
    )
    offers.solder(
        f"{which.capitalize()} ring seam, to lie under a claw",
        f"{target}-seam",
        ring,
        stage=HEAD,
        makes=("closed",),
        shape="closed",
        after=(f"fit-seam-{target}",),
    )
    if wound:
        offers.add(
            "squeeze-to-outline",
            target,
            ring,
            f"Squeeze it to {over} by {{head.{which}_ring_long}}.",
            "it follows the stone's outline at an even distance",
            stage=HEAD,
            after=(f"pickle-{target}-seam",),
        )
    offers.add(
        "cut-grooves",
        target,
        ring,
        "A groove of {head.ring_groove} for every claw: saw start, then file.",
        "chords between neighbours as planned",
        stage=HEAD,
        count=len(offers.plan.shape.places),
        after=(f"pickle-{target}-seam", f"squeeze-to-outline-{target}"),
    )


def _claws(offers: Offers) -> None:
    places = len(offers.plan.shape.places)
    points = 0 if offers.plan.shape.vees is None else len(offers.plan.shape.vees.places)
    offers.add("draw-wire", "claws", CLAWS, "Draw wire to {head.claw}.", stage=STOCK)
    offers.add("anneal", "claws", CLAWS, "Anneal it and stretch it straight.", stage=HEAD, after=("draw-wire-claws",))
    if points:
        offers.add(
            "make-v-claw",
            "claws",
            CLAWS,
            "Score and fold strip of {head.claw} into Vs of {head.v_angle}, legs {head.v_leg}.",
            "its inside follows the stone's corner",
            stage=HEAD,
            count=points,
            after=("anneal-claws",),
        )
        offers.solder("Scored folds of the Vs", "folds", CLAWS, stage=HEAD, after=("make-v-claw-claws",))
    if places > points and "head.u_piece_length" in offers.plan.figures:
        offers.add(
            "bend-u",
            "claws",
            CLAWS,
            "Cut pieces of {head.u_piece_length}, bend each to a U: two claws and a stay.",
            "legs of one length, splayed {head.splay}",
            stage=HEAD,
            count=-(-(places - points) // 2),
            after=("anneal-claws",),
        )
    elif places > points:
        offers.add(
            "cut-length",
            "claws",
            CLAWS,
            "Cut each claw {head.claw_piece_length} long."
            if "head.claw_piece_length" in offers.plan.figures
            else "Cut each claw {head.claw_length} long.",
            "all of one length",
            stage=HEAD,
            count=places - points,
            after=("anneal-claws",),
        )


def _joined(offers: Offers) -> None:
    ready = ("bend-u-claws", "cut-length-claws", "make-v-claw-claws", "pickle-folds", "cut-grooves-upper-ring")
    offers.solder(
        "Claws to the upper ring",
        "claws-to-upper-ring",
        ("claws", "upper ring"),
        stage=HEAD,
        after=ready,
        makes=("joined",),
    )
    offers.add(
        "straighten-claws",
        "claws",
        CLAWS,
        "Straighten the claws now: the last chance.",
        "claws upright, evenly spaced from every side",
        stage=HEAD,
        after=("pickle-claws-to-upper-ring",),
    )
    offers.solder(
        "Claws to the lower ring",
        "claws-to-lower-ring",
        ("claws", "lower ring"),
        stage=HEAD,
        after=("straighten-claws-claws", "cut-grooves-lower-ring"),
        makes=("joined",),
    )
    if "head.u_piece_length" in offers.plan.figures:
        offers.add(
            "saw-off-stays",
            "claws",
            CLAWS,
            "Saw off the bottoms of the U's; file the claws flush with the lower ring.",
            "the foot stands level",
            stage=HEAD,
            count=-(-len(offers.plan.shape.places) // 2),
            after=("pickle-claws-to-upper-ring", "pickle-claws-to-lower-ring"),
        )
