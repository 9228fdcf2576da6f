"""Claws applied to a hidden collet: the collet driven and grooved, fitted to its ring, and only then the claws."""

from __future__ import annotations

from yarvel.heads import applied_collet, claws, style, tapered_collet
from yarvel.heads.style import APPLIED
from yarvel.route import lots
from yarvel.route.offer import HEAD, SOLDER, STOCK, Offers
from yarvel.route.offers.wire_heads import CLAWS, straighten_wire

_COLLET = ("collet",)


def offer(offers: Offers) -> None:
    """Tube cut, driven, grooved; wire drawn and cut; claws soldered once the collet is in."""
    if offers.comes != APPLIED or not offers.makes_head:
        return
    plan, metal = offers.plan, offers.plan.job.head.metal
    loose = plan.job.shank is None and plan.job.fit is None
    offers.stock("collet", metal=metal, shape="tube", facts=("closed", *(("soldered",) if loose else ())))
    offers.stock("claws", metal=metal, facts=("cut",))
    outside, long = plan[tapered_collet.blank_outer_mm], plan[tapered_collet.blank_length_mm]
    tube = lots.tube(plan, "Collet, driven from tube", "collet", metal, outside, plan[style.HEAD_WALL], long)
    offers.add(
        "cut-length",
        "collet",
        _COLLET,
        "Cut {collet.blank_length} of tube of {collet.blank_outer}, wall {head.wall}; ends square. Or from sheet of "
        "{head.wall}: {collet.pattern_inner_radius} and {collet.pattern_outer_radius}, {collet.pattern_angle_deg}.",
        stage=STOCK,
        takes=(tube,),
        off={"collet": tube.volume_mm3 * plan.rules.saw_allowance_mm / tube.length_mm},
    )
    offers.add("anneal", "collet", _COLLET, "Anneal the tube.", stage=HEAD, after=("cut-length-collet",))
    offers.add(
        "drive-collet",
        "collet",
        _COLLET,
        "Drive it into the block a little at a time until it measures {collet.foot_diameter} at the foot and "
        "{collet.top_diameter} at the top; {collet.height} high. The stone hides all of it.",
        "even all round, the stone reaches past its top on every side",
        stage=HEAD,
        after=("anneal-collet",),
    )
    offers.add(
        "cut-grooves",
        "collet",
        _COLLET,
        "A groove of {head.ring_groove} for every claw, down the outside: saw start, then file.",
        "chords between neighbours as planned, all upright",
        stage=HEAD,
        count=len(plan.shape.places),
        after=("drive-collet-collet",),
        off={"collet": _grooved(offers)},
    )
    offers.add(
        "countersink",
        "collet",
        _COLLET,
        "Countersink its top by {collet.countersink} to the pavilion's angle.",
        "the stone's pavilion passes it freely",
        stage=HEAD,
        after=("cut-grooves-collet",),
    )
    _claws(offers)


def _claws(offers: Offers) -> None:
    plan, many = offers.plan, len(offers.plan.shape.places)
    wire = lots.wire(plan, "Claws", "claws", plan[claws.CLAW], plan[claws.claw_length_mm], many)
    offers.add("draw-wire", "claws", CLAWS, "Draw wire to {head.claw}.", stage=STOCK, takes=(wire,))
    straighten_wire(offers)
    offers.add(
        "cut-length",
        "claws",
        CLAWS,
        "Cut each claw {head.claw_length} long; bevel its end where it runs out on the collet.",
        "all of one length",
        stage=HEAD,
        count=many,
        after=("anneal-claws",),
    )
    offers.solder(
        "claws-to-collet",
        "claws-to-collet",
        ("claws", "collet"),
        stage=SOLDER,
        after=("cut-length-claws", "cut-grooves-collet", "countersink-collet", "pickle-head-to-shank"),
        makes=("joined",),
        more=" Each in its groove, down to {head.claw_down} below the girdle's line.".replace(
            "{head.claw_down}", plan.figures[applied_collet.claw_down_mm].text()
        ),
    )


def _grooved(offers: Offers) -> float:
    """What the grooves take of the collet: where claws and wall overlap, mm³; 0 while the plan is not weighed."""
    volumes = offers.volumes
    return max(volumes["claws"] + volumes["wall"] - volumes["bare"], 0.0) if volumes else 0.0
