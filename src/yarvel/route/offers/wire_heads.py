"""Heads of wire and rings: baskets, paired corners, V claws."""

from __future__ import annotations

from typing import Any

from yarvel.figures.lookup import first_of
from yarvel.heads import basket, claws, legs, rings, style, vees
from yarvel.heads.rings import RING_WIRE
from yarvel.heads.shape import WireRing
from yarvel.heads.style import OF_WIRE
from yarvel.operations.lot import Lot
from yarvel.planning.compatibility import legs_of
from yarvel.planning.plan import Plan
from yarvel.route import lots
from yarvel.route.offer import HEAD, STOCK, Offers
from yarvel.shanks import basket_point, peg

CLAWS = ("claws",)

_LEAST_ROD_MM = 0.3
"""No wire is wound on a rod thinner than this: it is bent free-hand."""
_SEEN_MM = 0.005
"""What rounds to nothing is not countersunk."""
_RINGS = {rings.UPPER: rings.OF_UPPER, rings.LOWER: rings.OF_LOWER, rings.ONLY: rings.OF_UPPER}


def offer(offers: Offers) -> None:
    """Rings closed and grooved, claws bent, ring by ring soldered, sawn free, cleaned."""
    job = offers.plan.job
    if offers.comes != OF_WIRE or not offers.makes_head:
        return
    offers.stock("claws", metal=job.head.metal, facts=("cut",))
    ring_names = [ring.name for ring in offers.plan.shape.rings]
    if not ring_names:
        _crossed(offers)
        return
    for name in ring_names:
        _ring(offers, name, job.head.metal)
    _claws(offers)
    _joined(offers, ring_names)
    bearer = ring_names[0]
    if offers.plan[rings.countersink_mm] >= _SEEN_MM:
        offers.add(
            "countersink",
            _key(bearer),
            (bearer,),
            f"Countersink the {bearer} by {{head.countersink}} to the pavilion's angle.",
            "the stone lies on it without rocking",
            stage=HEAD,
            after=(f"solder-claws-to-{_key(bearer)}",),
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
            f"countersink-{_key(bearer)}",
            "narrow-claws-tabs",
            f"pickle-claws-to-{_key(ring_names[-1])}",
            f"solder-claws-to-{_key(ring_names[-1])}",
        ),
    )


def straighten_wire(offers: Offers, vees_of: str = "", claws_of_wire: bool = True) -> None:
    """The claws' wire, drawn hard and off a coil; and what Vs are made of, where there are any."""
    text = f"Anneal the {vees_of} of the Vs."
    if claws_of_wire:
        also = f" and the {vees_of} of the Vs; stretch the wire" if vees_of else " and stretch it"
        text = f"Anneal the claws' wire{also} straight."
    offers.add("anneal", "claws", CLAWS, text, stage=HEAD, after=("draw-wire-claws",))


def _crossed(offers: Offers) -> None:
    """Two U's, halved into each other, soldered where they cross, cut to length."""
    plan = offers.plan
    us = claw_lots(plan)
    offers.add("draw-wire", "claws", CLAWS, "Draw wire to {head.claw}.", stage=STOCK, takes=us)
    straighten_wire(offers)
    offers.add(
        "bend-u",
        "claws",
        CLAWS,
        f"Cut {_in_pieces(len(us) and us[0].count)} of {{head.u_piece_length}}: bend each to a U, two claws and a bar "
        "of {head.bridge} between them.",
        "legs of one length, splayed {head.splay}",
        stage=HEAD,
        count=len(us) and us[0].count,
        after=("anneal-claws",),
    )
    offers.add(
        "file-to-shape",
        "crossing",
        CLAWS,
        "File each bar half through at its middle, {head.halved}: one from above, the other from below.",
        "both bars lie in one plane, the claws evenly spaced",
        stage=HEAD,
        count=2,
        after=("bend-u-claws",),
    )
    offers.solder("crossing", "crossing", CLAWS, stage=HEAD, after=("file-to-shape-crossing",), makes=("joined",))
    _straightened(offers, "pickle-crossing")
    section = lots.round_mm2(plan[claws.CLAW])
    ends = max(us[0].length_mm - 2 * plan[claws.claw_length_mm] - plan[basket.bridge_mm], 0.0) * us[0].count
    dust = min(2 * plan.rules.saw_kerf_mm * us[0].count, ends) * section
    offers.add(
        "saw-off-stays",
        "claws",
        CLAWS,
        "Saw the claws to one length, {head.claw_length} from the foot.",
        "the tops stand level",
        stage=HEAD,
        count=2,
        after=("straighten-claws-claws",),
        gives=lots.back("Ends of the U's", us[0], ends * section - dust, us[0].count),
        off={"claws": dust},
    )
    offers.add(
        "polish-hidden",
        "head",
        CLAWS,
        "Saw and file marks out of bars and insides, then polish what will be out of reach.",
        "no marks between the claws",
        stage=HEAD,
        after=("saw-off-stays-claws",),
    )


def _straightened(offers: Offers, after: str) -> None:
    """The last chance to straighten the claws."""
    offers.add(
        "straighten-claws",
        "claws",
        CLAWS,
        "Straighten the claws now: the last chance.",
        "claws upright, evenly spaced from every side",
        stage=HEAD,
        after=(after,),
    )


def _key(ring: str) -> str:
    """A ring's name within keys of operations and groups."""
    return ring.replace(" ", "-")


def _ring(offers: Offers, name: str, metal: str) -> None:
    target = _key(name)
    offers.stock(name, metal=metal, facts=("cut",))
    figures, ring = offers.plan.figures, (name,)
    outer, over_long, formed, former, cut, turn, mitre = _RINGS[name]
    length = cut if cut in figures else formed
    wire = offers.plan[RING_WIRE]
    wire_ring = first_of(ring_part for ring_part in offers.plan.shape.rings if ring_part.name == name)
    _ring_stock(offers, wire_ring, offers.plan[length])
    long, over = f"{{{length.key}}}", f"{{{outer.key}}}"
    shape = f"Bend {long} round"
    scores = _scores(offers, name)
    if turn in figures:
        shape = (
            f"Score {long} from inside at {scores} corner{'s' * (scores > 1)} by the template and fold it to the "
            f"outline, by {{{turn.key}}} where it turns most; its ends, mitred to {{{mitre.key}}}, meet there, the last"
            if scores
            else f"Bend {long} to the outline, both ends mitred to {{{mitre.key}}} where they meet at the point"
        )
    elif former in figures and offers.plan[former] > _LEAST_ROD_MM:
        shape = f"Wind {long} on a rod of {{{former.key}}}"
    offers.bend(
        target,
        ring,
        f"{shape}: {over} over all{'' if turn in figures else '; the seam will lie under a claw'}.",
        "level on the plate, no light through the seam",
        wire / max(offers.plan[outer] - wire, wire),
        stage=HEAD,
        after=(f"anneal-{target}",),
    )
    offers.closed(
        f"{target}-seam",
        target,
        ring,
        stage=HEAD,
        off={name: offers.plan.rules.saw_allowance_mm * wire_ring.area_mm2},
    )
    if former in figures:
        offers.add(
            "squeeze-to-outline",
            target,
            ring,
            f"Squeeze it to {over} by {{{over_long.key}}}.",
            "it follows the stone's outline at an even distance",
            stage=HEAD,
            after=(f"pickle-{target}-seam",),
        )
    _stood_in(offers, name, target)


def _ring_stock(offers: Offers, made: WireRing, long_mm: float) -> None:
    """What a ring is bent from, drawn or rolled, so long in mm, and annealed."""
    target, ring, section = _key(made.name), (made.name,), offers.plan.job.head.ring_section
    piece, wire = made.name.capitalize(), offers.plan[RING_WIRE]
    kind, what = ("draw-wire" if section == rings.ROUND else "roll"), "wire"
    if section == rings.STRIP:
        stock = lots.strip(offers.plan, piece, made.name, made.high_mm, wire, long_mm)
        text, what = "Roll sheet to {head.ring_wire} and cut a strip {head.ring_high} wide from it.", "strip"
    elif section == rings.SQUARE:
        stock = lots.square_wire(offers.plan, piece, made.name, wire, long_mm)
        text = "Roll square wire of {head.ring_wire}."
    else:
        stock = lots.wire(offers.plan, piece, made.name, wire, long_mm)
        text = "Draw wire to {head.ring_wire}."
    text = f"{text[:-1]}: {stock.length_mm:.1f} mm of it."
    offers.add(kind, target, ring, text, stage=STOCK, takes=(stock,))
    straight = f"Anneal the {what} and stretch it straight."
    offers.add("anneal", target, ring, straight, stage=HEAD, after=(f"{kind}-{target}",))


def _scores(offers: Offers, name: str) -> int:
    """At how many corners a ring is scored: at all but the one where its ends meet."""
    ring = first_of(ring_part for ring_part in offers.plan.shape.rings if ring_part.name == name)
    return max(len(rings.pieces_mm(offers.plan.shape.outline, ring.inset_mm, ring.across_mm)) - 1, 0)


def _stood_in(offers: Offers, name: str, target: str) -> None:
    """Where the claws stand in a ring: grooves filed into it, or holes drilled through it."""
    ring, after = (name,), (f"pickle-{target}-seam", f"squeeze-to-outline-{target}")
    vees = 0 if offers.plan.shape.vees is None else len(offers.plan.shape.vees.places)
    posts = len(offers.plan.shape.places) - vees
    if offers.plan.job.head.posts == rings.DRILLED:
        grooved = _grooved(offers, name)
        if vees:
            offers.add(
                "cut-grooves",
                target,
                ring,
                "For each V a slot sawn into the corner from outside, {head.v_slot} deep, as wide as the V and at its "
                "slant: a V goes into no hole.",
                stage=HEAD,
                count=vees,
                after=after,
                off={name: grooved if not posts else 0.0},
            )
        if not posts:
            return
        offers.add(
            "drill",
            target,
            ring,
            f"Pilot, then {{head.claw}}, through the wire's middle at every {'round claw' if vees else 'place'}, at "
            "the slant of {head.splay}: in {head.drill_offset} outside the middle at the top, out as much inside it "
            "below.",
            "posts that are stood in the holes lean alike from every side",
            stage=HEAD,
            count=posts,
            after=after,
            off={name: grooved},
        )
        return
    offers.add(
        "cut-grooves",
        target,
        ring,
        "A groove of {head.ring_groove} for every claw: saw start, then file.",
        "chords between neighbours as planned",
        stage=HEAD,
        count=len(offers.plan.shape.places),
        after=after,
        off={name: _grooved(offers, name)},
    )


def _grooved(offers: Offers, name: str) -> float:
    """What the grooves of one ring take of it: where claws and rings overlap, mm³; 0 while the plan is not weighed."""
    volumes = offers.volumes
    if not volumes:
        return 0.0
    every = sum(volumes[ring.name] for ring in offers.plan.shape.rings)
    whole = volumes["claws"] + volumes["wall"] + every
    return max(whole - volumes["bare"], 0.0) * volumes[name] / every


def _claws(offers: Offers) -> None:
    plan = offers.plan
    places = len(plan.shape.places)
    points = 0 if plan.shape.vees is None else len(plan.shape.vees.places)
    lots_found = claw_lots(plan)
    wire = tuple(lot for lot in lots_found if lot.form == lots.ROUND)
    if wire:
        offers.add("draw-wire", "claws", CLAWS, "Draw wire to {head.claw}.", stage=STOCK, takes=wire)
    flat = "" if not points else "square wire" if plan.job.head.v_from == vees.SOLID else "strip"
    straighten_wire(offers, flat, bool(wire))
    if points:
        _vees(offers, lots_found, points, places)
    if places > points and claws.u_piece_length_mm in offers.plan.figures:
        offers.add(
            "bend-u",
            "claws",
            CLAWS,
            f"Cut {_in_pieces(-(-(places - points) // 2))} of {{head.u_piece_length}}: bend each to a U, two claws "
            "and a stay.",
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
            _single(offers),
            "all of one length",
            stage=HEAD,
            count=places - points,
            after=("anneal-claws",),
        )


def _vees(offers: Offers, found: tuple[Lot, ...], points: int, places: int) -> None:
    """Vs folded of strip and flowed, or filed out of square wire: no fold, no solder in the corner, more filings."""
    solid = offers.plan.job.head.v_from == vees.SOLID
    stock = tuple(lot for lot in found if lot.piece == _VEES)
    offers.add(
        "make-v-claw",
        "claws",
        CLAWS,
        "Scribe the V of {head.v_angle} on the end of square wire of {head.v_solid}, which it is held by; saw and file "
        "its inside out down to legs of {head.v_outside_leg} outside, {head.claw} thick"
        + (" at the top and {head.v_foot} at the foot" if vees.V_FOOT in offers.plan.figures else "")
        + ", then saw it off to length."
        if solid
        else "Scribe the fold line on {head.v_width} wide strip of {head.claw} sheet, score it no deeper than "
        "{head.guide_line} at first, then to half, and fold to {head.v_angle}.",
        "both legs alike, {head.v_leg} along the stone; the corner sharp, its inside follows the stone's",
        stage=HEAD,
        count=points,
        after=("anneal-claws",),
        takes=stock,
        leaves={CLAWS: offers.volumes["claws"]} if offers.volumes and points == places else {},
    )
    if not solid:
        offers.solder("v-folds", "folds", CLAWS, stage=HEAD, after=("make-v-claw-claws",))


_VEES = "Vs"


def _single(offers: Offers) -> str:
    """What is said of claws that are cut one by one."""
    if basket_point.claw_piece_length_mm not in offers.plan.figures:
        return "Cut each claw {head.claw_length} long."
    legs = legs_of(offers.plan.job)
    where = {style.UNDER: "it comes to lie under the ring", style.PEG_LEGS: "it closes on the peg"}.get(legs)
    bent = "" if where is None else f" Bend {{head.under_length}} of it square, beyond the claw's inner side: {where}."
    return f"Cut each claw {{head.claw_piece_length}} long.{bent}"


def _joined(offers: Offers, made: list[str]) -> None:
    """Claws to the first ring, straightened while they can be, then to the second where there is one."""
    bearer, lowest = _key(made[0]), _key(made[-1])
    offers.solder(
        f"claws-to-{bearer}",
        f"claws-to-{bearer}",
        ("claws", made[0]),
        stage=HEAD,
        after=(
            "bend-u-claws",
            "cut-length-claws",
            "make-v-claw-claws",
            "pickle-folds",
            f"cut-grooves-{bearer}",
            f"drill-{bearer}",
        ),
        makes=("joined",),
    )
    _straightened(offers, f"pickle-claws-to-{bearer}")
    if len(made) > 1:
        offers.solder(
            f"claws-to-{lowest}",
            f"claws-to-{lowest}",
            ("claws", made[1]),
            stage=HEAD,
            after=("straighten-claws-claws", f"cut-grooves-{lowest}", f"drill-{lowest}"),
            makes=("joined",),
        )
    foot = "flush with the lower ring" if len(made) > 1 else "to one length"
    under = legs_of(offers.plan.job) == style.UNDER
    if legs_of(offers.plan.job) == style.PEG_LEGS:
        _peg(offers, lowest)
    if claws.u_piece_length_mm in offers.plan.figures:
        offers.add(
            "saw-off-stays",
            "claws",
            CLAWS,
            "Saw the bottoms of the U's out, {head.under_length} left of them inwards from every claw: what stays lies "
            "under the ring and is its foot."
            if under
            else f"Saw off the bottoms of the U's; file the claws {foot}.",
            "the foot stands level, no light between it and the ring" if under else "the foot stands level",
            stage=HEAD,
            count=-(-len(offers.plan.shape.places) // 2),
            after=("straighten-claws-claws", f"pickle-claws-to-{lowest}"),
            **_stays(offers),
        )


def _peg(offers: Offers, lowest: str) -> None:
    """The peg that the legs close on: cut, stood between their ends, soldered."""
    plan = offers.plan
    long = plan[peg.peg_length_mm] + plan[claws.CLAW]
    offers.add(
        "draw-wire",
        "peg",
        CLAWS,
        "Draw wire to {shank.peg} for the peg.",
        stage=STOCK,
        takes=(lots.wire(plan, "Peg", "claws", plan[peg.PEG], long),),
    )
    offers.solder(
        "peg",
        "peg",
        CLAWS,
        stage=HEAD,
        after=(f"pickle-claws-to-{lowest}", "straighten-claws-claws", "draw-wire-peg"),
    )


def claw_lots(plan: Plan) -> tuple[Lot, ...]:
    """Claws as they are cut: U-pieces, single ones, Vs of strip."""
    figures, claw = plan.figures, plan[claws.CLAW]
    points = 0 if plan.shape.vees is None else len(plan.shape.vees.places)
    rest = len(plan.shape.places) - points
    lots_made = []
    if claws.u_piece_length_mm in figures and rest:
        lots_made.append(
            lots.wire(plan, "Claws as U-pieces", "claws", claw, plan[claws.u_piece_length_mm], -(-rest // 2))
        )
    elif rest:
        key = (
            basket_point.claw_piece_length_mm if basket_point.claw_piece_length_mm in figures else claws.claw_length_mm
        )
        lots_made.append(lots.wire(plan, "Claws", "claws", claw, plan[key], rest))
    if points:
        below = plan[basket_point.BELOW_RING] if basket_point.BELOW_RING in figures else 0.0
        long = plan[claws.claw_length_mm] + below
        solid = vees.solid_mm in figures
        wide, thick = (plan[vees.solid_mm],) * 2 if solid else (plan[vees.flat_width_mm], claw)
        if plan.volumes and not rest:  # no V has more metal than its strip or its wire
            long = max(long, plan.volumes["claws"] / (points * wide * thick))
        if solid:
            lots_made.append(lots.square_wire(plan, _VEES, "claws", wide, long, points))
        else:
            lots_made.append(lots.strip(plan, _VEES, "claws", wide, claw, long, points))
    return tuple(lots_made)


def _stays(offers: Offers) -> dict[str, Any]:
    """Bottoms of the U's: what comes back, and two saw cuts each to dust."""
    plan = offers.plan
    us = first_of(lot for lot in claw_lots(plan) if lot.piece == "Claws as U-pieces")
    section, count = lots.round_mm2(plan[claws.CLAW]), us.count
    odd = 2 * count - len(plan.shape.places)
    stays = plan[legs.under_length_mm] if legs.under_length_mm in plan.figures else 0.0
    bottom = max(us.length_mm - 2 * (plan[claws.claw_length_mm] + stays), 0.0)
    dust = min(2 * plan.rules.saw_kerf_mm, bottom) * section * count
    spare = odd * plan[claws.claw_length_mm] * section
    return {
        "gives": lots.back("Bottoms of the U's", us, bottom * section * count - dust + spare, count),
        "off": {"claws": dust},
    }


def _in_pieces(count: int) -> str:
    return "one piece" if count == 1 else f"{count} pieces"
