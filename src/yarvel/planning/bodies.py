"""A plan as closed bodies, and what they tell that figures alone do not: clashes, contact, mass by volume."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from yarvel.figures.figure import CHOSEN, GEOMETRY, Figure, FigureSpec, Ledger
from yarvel.figures.rules import HouseRules
from yarvel.heads.claws import azimuths_deg
from yarvel.metals.alloys import alloy_of
from yarvel.planning.calls.call import CAUTION, NOTE, OK, STOP, Call
from yarvel.planning.compute import species_of
from yarvel.planning.plan import HEAD_MASS, HEAD_VOLUME, SHANK_MASS, Plan, finished
from yarvel.shanks import hanging
from yarvel.shanks.methods import PENDANT
from yarvel.solids.build import HEAD, SHANK, STONE, Solids, build, with_hanging_ring
from yarvel.solids.measure import Clash, centre_of_mass, clash, corner_room_mm, mass_g, reach_up_mm, volume_mm3
from yarvel.solids.shank import Seating

_TOUCHES_MM3 = 1e-3
_STEP_MM, _MOST_STEPS = 0.1, 40


@dataclass(frozen=True)
class Report:
    """Figures and calls that come from bodies."""

    figures: tuple[Figure, ...]
    calls: tuple[Call, ...]


def seating_of(plan: Plan) -> Seating | None:
    """Where the head stands to its band; None without a band."""
    if plan.band is None or plan.joinery is None:
        return None
    return Seating(plan.band, -plan["seat.plane_above_finger"], plan.joinery, -plan.shape.height)


def bodies(plan: Plan, fine: bool = True) -> Solids:
    """Build the plan's stone, head and, where there is one, shank."""
    made = build(plan.shape, plan.facts, seating_of(plan), fine)
    if not is_pendant(plan):
        return made
    height = _ring_height(plan, made) - plan.shape.height
    reach = reach_up_mm(made.parts[HEAD], height, plan["bail.wire"])
    foot = _outermost(plan) if reach is None else reach
    return with_hanging_ring(made, plan["bail.inside"], plan["bail.wire"], (foot, height), fine)


def _ring_height(plan: Plan, made: Solids) -> float:
    """Height of a pendant's ring above the foot, mm: as asked, or at the centre of mass."""
    fit = plan.job.fit
    asked = None if fit is None or fit.bail is None else fit.bail.height_mm
    return float(_centre(plan, made)[2]) + plan.shape.height if asked is None else asked


def is_pendant(plan: Plan) -> bool:
    """Whether the head hangs."""
    return plan.job.fit is not None and plan.job.fit.method == PENDANT


def _outermost(plan: Plan) -> float:
    """How far up from the axis a head reaches at its widest, mm."""
    out = max(float(part[:, 0].max()) for part in plan.shape.profiles)
    return float(plan.shape.outline.support(90.0)) + out


def _centre(plan: Plan, made: Solids) -> NDArray[np.float64]:
    density = alloy_of(plan.job.head.metal, plan.rules).density
    return centre_of_mass([(made.bare_head, density), (made.parts[STONE], species_of(plan.job).gravity)])


def judge(plan: Plan, made: Solids, rules: HouseRules) -> Report:
    """What the bodies tell of this plan."""
    found = clash(made, plan.facts)
    density = alloy_of(plan.job.head.metal, plan.rules).density
    figures = [
        _figure(plan, HEAD_VOLUME, "Metal in the head", "mm³", volume_mm3(made.parts[HEAD]), "V_b"),
        _figure(plan, HEAD_MASS, "Head's mass", "g", mass_g(made.parts[HEAD], density), "V_b·ρ_m/1000"),
        _contact_figure(plan, found.contact),
        _figure(plan, "stone.volume_body", "Volume of the stone's body", "mm³", volume_mm3(made.parts[STONE]), "V_b"),
    ]
    if SHANK in made.parts and plan.job.shank is not None:
        metal = alloy_of(plan.job.shank.metal, plan.rules).density
        figures.append(_figure(plan, SHANK_MASS, "Shank's mass", "g", mass_g(made.parts[SHANK], metal), "V_b·ρ_m/1000"))
    hung = _hanging(plan, made, rules)
    figures += hung.figures
    calls = [
        *hung.calls,
        *_gallery(found, rules),
        *_lower(plan, made),
        *_contact(plan, found, rules),
        *_band(plan, made),
        *_corners(plan, made, rules),
    ]
    return Report(tuple(figures), tuple(calls))


def _hanging(plan: Plan, made: Solids, rules: HouseRules) -> Report:
    """Where a pendant's ring goes so that it hangs straight, and how it leans where the ring is elsewhere."""
    fit = plan.job.fit
    if fit is None or not is_pendant(plan):
        return Report((), ())
    middle = _centre(plan, made)
    centre = float(middle[2]) + plan.shape.height
    chosen = fit.bail.height_mm if fit.bail is not None else None
    height = _ring_height(plan, made)
    met = reach_up_mm(made.bare_head, height - plan.shape.height, plan["bail.wire"])
    ledger = Ledger()
    ledger.given(
        "bail.centre",
        "Centre of mass above the foot",
        "mm",
        centre,
        GEOMETRY,
        formula="head and stone by their bodies, weighed by density",
    )
    ledger.given(
        "bail.height",
        "Ring above the foot",
        "mm",
        height,
        GEOMETRY if chosen is None else CHOSEN,
        formula="" if chosen is not None else "at the centre of mass",
    )
    foot = _outermost(plan) if met is None else met
    ledger.given("bail.reach", "Ring's foot from the middle", "mm", foot, GEOMETRY, formula="by the head's body")
    tilt = float(ledger.enter(hanging.tilt_deg, height, centre, foot - float(middle[1]), plan["bail.inside"]))
    level = OK if abs(tilt) <= rules.hangs_within_deg else CAUTION
    side = "down" if tilt > 0 else "up"
    call = Call(
        "hangs-straight",
        level,
        "Hangs straight",
        "The ring sits at the height of the centre of mass."
        if level == OK
        else f"Hung here, the face looks {side}: move the ring to the centre of mass.",
        abs(tilt),
        rules.hangs_within_deg,
        "°",
        "stone",
        "bail.tilt",
        {"fit": {"bail": {"height_mm": None}}} if level != OK else None,
        f"Ring {centre:.2f} mm above the foot" if level != OK else "",
    )
    figures = tuple(finished(entry, 0.0) for entry in ledger.entries.values())
    return Report(figures, (call,) if met is not None else (call, _hangs_from_nothing(plan)))


def _hangs_from_nothing(plan: Plan) -> Call:
    """No metal at the top at the ring's height: a claw turned to 12 offers some."""
    other = "in-line" if plan.job.head.orientation == "square" else "square"
    turned = plan.facts.cut.is_round and any(
        abs(azimuth - 90.0) < 1e-6 for azimuth in azimuths_deg(len(plan.shape.places) or 4, other)
    )
    return Call(
        "ring-meets-nothing",
        CAUTION,
        "Ring to the head",
        "At the ring's height the head has no metal at 12 "
        "o'clock to solder to: turn a claw there, or hang it higher or lower.",
        about="plan",
        remedy={"head": {"orientation": other, "claw_places_deg": None}} if turned else None,
        remedy_label="Turn a claw to 12" if turned else "",
    )


def _figure(plan: Plan, key: str, label: str, unit: str, value: float, formula: str) -> Figure:
    """A figure of a body, as far open as what drives it."""
    share = plan.open_shares.get(key, 0.0)
    if key == "stone.volume_body" and "stone.volume" in plan.figures:
        by_formula = plan.figures["stone.volume"]
        share = by_formula.plus_minus / by_formula.value
    return Figure(FigureSpec(key, label, unit, formula, GEOMETRY, {}, 3 if unit == "g" else 2), value, share * value)


def _contact_figure(plan: Plan, contact: float) -> Figure:
    """Bearing of the stone: it grows with the notch's depth and with the seat's height up to the girdle's top."""
    depth, girdle = plan.figures.get("seat.depth"), plan.figures["stone.girdle"]
    share = girdle.plus_minus / max(girdle.value, 1e-6)
    if depth is not None and depth.value > 0:
        share = float(np.hypot(min(share, 1.0) / 2, depth.plus_minus / depth.value))
    formula = "area of the head's surface on the stone's"
    return Figure(
        FigureSpec("seat.contact", "Stone bears on", "mm²", formula, GEOMETRY, {}, 2), contact, share * contact
    )


def _gallery(found: Clash, rules: HouseRules) -> list[Call]:
    """How much of the upper ring the pavilion takes, by volume."""
    if found.ring_share <= 0 and found.rings <= 0:
        return []
    share, limit = found.ring_share, rules.ring_taken_share
    level = OK if share <= limit else CAUTION
    message = (
        "What the countersink takes leaves the upper ring sound."
        if level == OK
        else "The pavilion takes so much of the upper ring that it opens under the press of the claws: drop the "
        "ring, or take thicker wire."
    )
    return [
        Call(
            "gallery-cut-away",
            level,
            "Upper ring under the pavilion",
            message,
            share,
            limit,
            "",
            "upper-ring",
            "head.countersink",
        )
    ]


def _lower(plan: Plan, made: Solids) -> list[Call]:
    """Stone or keel against the lower ring."""
    if len(made.rings) < 2:
        return []
    taken = volume_mm3(made.rings[-1] ^ made.parts[STONE])
    level = STOP if taken > _TOUCHES_MM3 else OK
    message = (
        "The pavilion passes the lower ring freely."
        if level == OK
        else "The pavilion stands in the lower ring and lifts the stone off its seats: raise the seat or widen the "
        "foot."
    )
    raised, label = _raised_over_ring(plan, made) if level == STOP else (None, "")
    return [
        Call(
            "pavilion-in-lower-ring",
            level,
            "Pavilion and lower ring",
            message,
            taken,
            _TOUCHES_MM3,
            "mm³",
            "culet",
            "head.lower_ring_outer",
            raised,
            label,
        )
    ]


def _raised_over_ring(plan: Plan, made: Solids) -> tuple[dict[str, Any] | None, str]:
    """The patch that raises the seat until the pavilion passes the lower ring."""
    if "seat.plane_above_finger" not in plan.figures or plan.job.head.style == "bought":
        return None, ""
    for step in range(1, _MOST_STEPS):
        up = step * _STEP_MM
        if volume_mm3(made.rings[-1].translate((0.0, 0.0, -up)) ^ made.parts[STONE]) <= _TOUCHES_MM3 / 2:
            height = round(plan["seat.plane_above_finger"] + 1.1 * up + 0.05, 2)
            return {"fit": {"height": height}}, f"Seat {height:.2f} mm above the finger"
    return None, ""


def _contact(plan: Plan, found: Clash, rules: HouseRules) -> list[Call]:
    """Bearing of the stone on metal, a claw."""
    count = len(plan.shape.places)
    if not count:
        return []
    each, limit = found.contact / count, rules.contact_mm2
    level = OK if each >= limit else NOTE
    message = (
        "Every claw bears on a fair piece of the stone."
        if level == OK
        else "Each claw bears on very little of the stone: a knock bruises metal or stone there."
    )
    return [Call("little-contact", level, "Bearing a claw", message, each, limit, "mm²", "notch", "seat.contact")]


def _corners(plan: Plan, made: Solids, rules: HouseRules) -> list[Call]:
    """Sharp corners of the stone against the metal around them, once seats and relief holes are cut."""
    vees = plan.shape.vees
    if vees is None:
        return []
    spots = np.array([(place.x, place.y, 0.0) for place in vees.places])
    free, limit = corner_room_mm(made.parts[HEAD], spots), 0.5 * rules.corner_relief_mm
    level = OK if free >= limit else CAUTION
    message = (
        "Every corner lies free of metal."
        if level == OK
        else "A corner of the stone lies against metal and chips when the V is closed: open its relief."
    )
    return [
        Call("corner-room", level, "Room round the corners", message, free, limit, "mm", "notch", "head.relief_hole")
    ]


def _band(plan: Plan, made: Solids) -> list[Call]:
    """Stone against the band beside it."""
    if SHANK not in made.parts:
        return []
    seating = seating_of(plan)
    if seating is None:
        return []
    taken = volume_mm3(made.raw_shank ^ made.parts[STONE]) if made.raw_shank is not None else 0.0
    level = STOP if taken > _TOUCHES_MM3 else OK
    message = (
        "The stone stays clear of the band."
        if level == OK
        else "The stone stands in the band beside the head: raise the seat, or let the head take a wider gap."
    )
    higher = round(plan["seat.plane_above_finger"] + 0.5, 1)
    remedy = {"fit": {"height": higher}} if level == STOP and plan.job.head.height_mm is None else None
    return [
        Call(
            "stone-in-band",
            level,
            "Stone and band",
            message,
            taken,
            _TOUCHES_MM3,
            "mm³",
            "band",
            "shank.thickness",
            remedy,
            f"Seat {higher:.1f} mm up" if remedy else "",
        )
    ]
