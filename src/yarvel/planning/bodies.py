"""A plan as closed bodies, and what they tell that figures alone do not: clashes, contact, mass by volume."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np
from manifold3d import Manifold
from msgspec import Struct

from yarvel.figures.figure import GEOMETRY, Figure, FigureKey, FigureSpec
from yarvel.figures.rules import HouseRules
from yarvel.heads import notches, rings
from yarvel.heads.style import BOUGHT
from yarvel.heads.styles import STYLES
from yarvel.heads.vees import relief_hole_mm
from yarvel.metals.alloys import alloy_of
from yarvel.planning.compatibility import seat_at
from yarvel.planning.diagnostics.diagnostic import CAUTION, NOTE, OK, STOP, Diagnostic
from yarvel.planning.job import LOWEST
from yarvel.planning.pendant import BodyReport, hang, is_pendant, judge_pendant
from yarvel.planning.plan import HEAD_MASS, HEAD_VOLUME, SHANK_MASS, Plan
from yarvel.shanks import blanks, fitting, on_flat, pendant
from yarvel.shanks.methods import PENDANT
from yarvel.shanks.shoulders import FLUSH, first_mm
from yarvel.solids.build import HEAD, SHANK, STONE, Solids, build, with_hanging_ring
from yarvel.solids.measure import StoneClash, clash, corner_room_mm, loose_pieces, mass_g, volume_mm3
from yarvel.solids.shank import Seating
from yarvel.stones import cut
from yarvel.stones import stone as stones

CONTACT = FigureKey("seat.contact")
VOLUME_BODY = FigureKey("stone.volume_body")

_TOUCHES_MM3 = 1e-3
_STEP_MM, _MOST_STEPS = 0.1, 40


class Bodies(Struct, frozen=True):
    """What a judgement on closed bodies sees: the plan, its bodies, where they touch, and the house's rules."""

    plan: Plan
    made: Solids
    found: StoneClash
    rules: HouseRules


def seating_of(plan: Plan) -> Seating | None:
    """Where the head stands to its band; None without a band."""
    if plan.band is None or plan.joinery is None:
        return None
    return Seating(plan.band, -plan[fitting.PLANE_ABOVE_FINGER], plan.joinery, -plan.shape.height_mm)


def bodies(plan: Plan, fine: bool = True) -> Solids:
    """Build the plan's stone, head and, where there is one, shank."""
    solids = build(plan.shape, plan.facts, seating_of(plan), fine)
    if not is_pendant(plan):
        return solids
    hung = hang(plan, solids)
    return with_hanging_ring(solids, plan[pendant.INSIDE], plan[pendant.WIRE], (hung.reach_mm, hung.height_mm), fine)


def judge(plan: Plan, made: Solids, rules: HouseRules) -> BodyReport:
    """What the bodies tell of this plan."""
    stone_clash = clash(made, plan.facts)
    density = alloy_of(plan.job.head.metal, plan.rules).density
    figures = [
        _volume_figure(plan, HEAD_VOLUME, "Metal in the head", made.parts[HEAD]),
        _mass_figure(plan, HEAD_MASS, "Head's mass", made.parts[HEAD], density),
        _contact_figure(plan, stone_clash.contact_mm2),
        _volume_figure(plan, VOLUME_BODY, "Volume of the stone's body", made.parts[STONE]),
    ]
    if SHANK in made.parts and plan.job.shank is not None:
        metal = alloy_of(plan.job.shank.metal, plan.rules).density
        figures.append(_mass_figure(plan, SHANK_MASS, "Shank's mass", made.parts[SHANK], metal))
    hung = judge_pendant(plan, made, rules)
    figures += hung.figures
    calls = [call for examine in BODY_JUDGEMENTS.values() for call in examine(Bodies(plan, made, stone_clash, rules))]
    return BodyReport(tuple(figures), (*hung.diagnostics, *calls), volumes(plan, made))


def volumes(plan: Plan, made: Solids) -> dict[str, float]:
    """Volumes in mm³ of what the head is put together from, before and after it is cut, and of the band: claws and what
    hangs below them, rings, wall; ``bare`` all in one, ``raw`` once finger and band are cut out of it, ``head`` with
    its seats, ``bail`` the ring that it hangs by; ``shank`` as it stays, without little ``bezels``; ``bored``,
    ``carved``, ``small seats`` and ``bezels' seats`` what small rounds in the shoulders take."""
    volume_by_part = {
        "claws": sum(map(volume_mm3, (*made.claws, *made.below))),
        "wall": sum(map(volume_mm3, made.walls)),
        "bare": volume_mm3(made.bare),
        "raw": volume_mm3(made.raw_head),
        "head": volume_mm3(made.bare_head),
    }
    volume_by_part |= {part.name: volume_mm3(body) for part, body in zip(plan.shape.rings, made.rings, strict=True)}
    if made.hanging_ring is not None:
        volume_by_part["bail"] = volume_mm3(made.parts[HEAD]) - volume_by_part["head"]
    if SHANK in made.parts and plan.band is not None:
        volume_by_part["shank"] = volume_mm3(made.parts[SHANK])
    if made.shoulders is not None:
        shoulders = made.shoulders
        volume_by_part |= {
            "bored": shoulders.bored_mm3,
            "carved": shoulders.carved_mm3,
            "small seats": shoulders.seats_mm3,
        }
        volume_by_part |= {"bezels": shoulders.bezels_mm3, "bezels' seats": shoulders.of_bezels_mm3}
        volume_by_part["shank"] -= shoulders.bezels_mm3
    return volume_by_part


def _volume_figure(plan: Plan, key: FigureKey, label: str, body: Manifold) -> Figure:
    """Metal or stone in a body, as far open as what drives it."""
    spec = FigureSpec(
        key=key.key, label=label, unit="mm³", formula="volume of the closed body", source=GEOMETRY, symbols={}, places=2
    )
    volume = volume_mm3(body)
    return Figure(spec, volume, _open_share(plan, key) * volume)


def _mass_figure(plan: Plan, key: FigureKey, label: str, body: Manifold, density_g_cm3: float) -> Figure:
    """What a body weighs, with its volume and its metal's density as the working."""
    spec = FigureSpec(key=key.key, label=label, unit="g", formula="V_b·ρ_m/1000", source=GEOMETRY, symbols={}, places=3)
    mass, inputs = mass_g(body, density_g_cm3), (volume_mm3(body), density_g_cm3)
    return Figure(spec, mass, _open_share(plan, key) * mass, ("V_b", "ρ_m"), inputs)


def _open_share(plan: Plan, key: FigureKey) -> float:
    """How far open a figure of a body is, as a share of it."""
    if key == VOLUME_BODY and cut.volume_mm3 in plan.figures:
        by_formula = plan.figures[cut.volume_mm3]
        return by_formula.plus_minus / by_formula.value
    return plan.open_shares.get(key, 0.0)


def _contact_figure(plan: Plan, contact: float) -> Figure:
    """Bearing of the stone: it grows with the notch's depth and with the seat's height up to the girdle's top."""
    depth, girdle = plan.figures.get(notches.SEAT_DEPTH), plan.figures[stones.GIRDLE]
    share = girdle.plus_minus / max(girdle.value, 1e-6)
    if depth is not None and depth.value > 0:
        share = float(np.hypot(min(share, 1.0) / 2, depth.plus_minus / depth.value))
    formula = "area of the head's surface on the stone's"
    return Figure(
        FigureSpec(
            key=CONTACT.key, label="Stone bears on", unit="mm²", formula=formula, source=GEOMETRY, symbols={}, places=2
        ),
        contact,
        share * contact,
    )


def _gallery(held: Bodies) -> list[Diagnostic]:
    """How much of the upper ring the pavilion takes, by volume."""
    stone_clash, rules = held.found, held.rules
    if stone_clash.ring_share <= 0 and stone_clash.rings_mm3 <= 0:
        return []
    share, limit = stone_clash.ring_share, rules.ring_taken_share
    level = OK if share <= limit else CAUTION
    message = (
        "What the countersink takes leaves the upper ring sound."
        if level == OK
        else "The pavilion takes so much of the upper ring that it opens under the press of the claws: drop the "
        "ring, or take thicker wire."
    )
    return [
        Diagnostic(
            code="gallery-cut-away",
            level=level,
            title="Upper ring under the pavilion",
            message=message,
            figure=share,
            limit=limit,
            unit="",
            about="upper-ring",
            of=rings.countersink_mm,
        )
    ]


def _lower(held: Bodies) -> list[Diagnostic]:
    """Stone or keel against the lower ring."""
    plan, solids = held.plan, held.made
    if len(solids.rings) < 2:
        return []
    taken = volume_mm3(solids.rings[-1] ^ solids.parts[STONE])
    level = STOP if taken > _TOUCHES_MM3 else OK
    message = (
        "The pavilion passes the lower ring freely."
        if level == OK
        else "The pavilion stands in the lower ring and lifts the stone off its seats: raise the seat or widen the "
        "foot."
    )
    raised, label = _raised_over_ring(plan, solids) if level == STOP else (None, "")
    return [
        Diagnostic(
            code="pavilion-in-lower-ring",
            level=level,
            title="Pavilion and lower ring",
            message=message,
            figure=taken,
            limit=_TOUCHES_MM3,
            unit="mm³",
            about="culet",
            of=rings.lower_ring_outer_mm,
            remedy=raised,
            remedy_label=label,
        )
    ]


def _raised_over_ring(plan: Plan, made: Solids) -> tuple[dict[str, Any] | None, str]:
    """The patch that raises the seat until the pavilion passes the lower ring."""
    if fitting.PLANE_ABOVE_FINGER not in plan.figures or STYLES[plan.job.head.style].COMES == BOUGHT:
        return None, ""
    for step in range(1, _MOST_STEPS):
        up = step * _STEP_MM
        if volume_mm3(made.rings[-1].translate((0.0, 0.0, -up)) ^ made.parts[STONE]) <= _TOUCHES_MM3 / 2:
            height = round(plan[fitting.PLANE_ABOVE_FINGER] + 1.1 * up + 0.05, 2)
            patch = seat_at(plan.job, height)
            return patch, f"Seat {height:.2f} mm above the finger" if patch else ""
    return None, ""


def _contact(held: Bodies) -> list[Diagnostic]:
    """Bearing of the stone on metal, a claw."""
    plan, stone_clash, rules = held.plan, held.found, held.rules
    count = len(plan.shape.places)
    if not count:
        return []
    each, limit = stone_clash.contact_mm2 / count, rules.contact_mm2
    level = OK if each >= limit else NOTE
    message = (
        "Every claw bears on a fair piece of the stone."
        if level == OK
        else "Each claw bears on very little of the stone: a knock bruises metal or stone there."
    )
    return [
        Diagnostic(
            code="little-contact",
            level=level,
            title="Bearing a claw",
            message=message,
            figure=each,
            limit=limit,
            unit="mm²",
            about="notch",
            of=CONTACT,
        )
    ]


def _corners(held: Bodies) -> list[Diagnostic]:
    """Sharp corners of the stone against the metal around them, once seats and relief holes are cut."""
    plan, solids, rules = held.plan, held.made, held.rules
    vees = plan.shape.vees
    if vees is None:
        return []
    spots = np.array([(place.x_mm, place.y_mm, 0.0) for place in vees.places])
    free, limit = corner_room_mm(solids.parts[HEAD], spots), 0.5 * rules.corner_relief_mm
    level = OK if free >= limit else CAUTION
    message = (
        "Every corner lies free of metal."
        if level == OK
        else "A corner of the stone lies against metal and chips when the V is closed: open its relief."
    )
    return [
        Diagnostic(
            code="corner-room",
            level=level,
            title="Room round the corners",
            message=message,
            figure=free,
            limit=limit,
            unit="mm",
            about="notch",
            of=relief_hole_mm,
        )
    ]


def _band(held: Bodies) -> list[Diagnostic]:
    """Stone against the band beside it."""
    plan, solids = held.plan, held.made
    if SHANK not in solids.parts:
        return []
    seating = seating_of(plan)
    if seating is None:
        return []
    taken = volume_mm3(solids.raw_shank ^ solids.parts[STONE]) if solids.raw_shank is not None else 0.0
    level = STOP if taken > _TOUCHES_MM3 else OK
    message = (
        "The stone stays clear of the band."
        if level == OK
        else "The stone stands in the band beside the head: raise the seat, or let the head take a wider gap."
    )
    higher = plan[fitting.PLANE_ABOVE_FINGER]
    if level == STOP and solids.raw_shank is not None:
        for step in range(1, _MOST_STEPS):
            higher = round(plan[fitting.PLANE_ABOVE_FINGER] + step * _STEP_MM + 0.05, 2)
            lower = solids.raw_shank.translate((0.0, 0.0, -step * _STEP_MM))
            if volume_mm3(lower ^ solids.parts[STONE]) <= _TOUCHES_MM3 / 2:
                break
    remedy = seat_at(plan.job, higher) if level == STOP and plan.job.head.height_mm is None else None
    return [
        Diagnostic(
            code="stone-in-band",
            level=level,
            title="Stone and band",
            message=message,
            figure=taken,
            limit=_TOUCHES_MM3,
            unit="mm³",
            about="band",
            of=blanks.THICKNESS,
            remedy=remedy,
            remedy_label=f"Seat {higher:.2f} mm above the finger" if remedy else "",
        )
    ]


def _whole(held: Bodies) -> list[Diagnostic]:
    """Head and band, each in one piece as they are cut."""
    plan, solids = held.plan, held.made
    pieces = {name: loose_pieces(solids.parts[name]) for name in (HEAD, SHANK) if name in solids.parts}
    worst = max(pieces, key=lambda name: abs(pieces[name] - 1))
    level = OK if pieces[worst] == 1 else STOP
    message = "Head and band hold together as they are cut."
    if level == STOP:
        message = (
            f"Cut like this the {worst} falls into {pieces[worst]} pieces: a smaller head, a wider band, or "
            "another way to fit it."
        )
    fit = plan.job.fit
    flat = level == STOP and fit is not None and fit.method not in (on_flat.METHOD, PENDANT)
    remedy = (
        {"fit": {"method": on_flat.METHOD, "height": LOWEST, "split_mm": None}, "head": {"legs": None}}
        if flat
        else None
    )
    title, label = "In one piece", "On a flat instead" if flat else ""
    about = "band" if SHANK in pieces else "claw"
    return [
        Diagnostic(
            code="falls-apart",
            level=level,
            title=title,
            message=message,
            figure=float(pieces[worst]),
            limit=1.0,
            unit="",
            about=about,
            of=None,
            remedy=remedy,
            remedy_label=label,
        )
    ]


_A_STROKE_MM3 = 0.02
"""What a stroke of the file takes; from memory."""


def _little_bezels(held: Bodies) -> list[Diagnostic]:
    """Little bezels that stand out of the band, against a head that hangs over its shoulders."""
    shoulders, shank = held.made.shoulders, held.plan.job.shank
    if shoulders is None or shank is None or not shoulders.bezels_mm3:
        return []
    taken = shoulders.in_head_mm3
    level = STOP if taken > _A_STROKE_MM3 else OK
    message = "The little bezels stand clear of the head."
    if level == STOP:
        message = "The head hangs over the shoulders, and the little bezels would stand in it: set them flush."
    remedy: dict[str, Any] | None = {"shank": {"shoulder": {"setting": FLUSH}}} if level == STOP else None
    code, title, label = "bezel-in-head", "Little bezels and head", "Set them flush" if remedy else ""
    return [
        Diagnostic(
            code=code,
            level=level,
            title=title,
            message=message,
            figure=taken,
            limit=_A_STROKE_MM3,
            unit="mm³",
            about="band",
            of=first_mm,
            remedy=remedy,
            remedy_label=label,
        )
    ]


BODY_JUDGEMENTS: dict[str, Callable[[Bodies], list[Diagnostic]]] = {
    "gallery-cut-away": _gallery,
    "pavilion-in-lower-ring": _lower,
    "little-contact": _contact,
    "stone-in-band": _band,
    "corner-room": _corners,
    "falls-apart": _whole,
    "bezel-in-head": _little_bezels,
}
"""Judgements on closed bodies by the code of their call; those on what hangs: ``pendant.CODES``."""
