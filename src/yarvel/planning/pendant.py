"""How a pendant hangs: where its ring goes, whether it is clear of the stone and held, how it leans and turns."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np
from manifold3d import Manifold
from msgspec import Struct, field
from numpy.typing import NDArray

from yarvel.figures.figure import CHOSEN, GEOMETRY, Figure, Ledger
from yarvel.figures.rules import HouseRules
from yarvel.heads import places as placing
from yarvel.heads import style
from yarvel.heads.claws import LEAST_CLAWS, MOST_CLAWS, azimuths_deg
from yarvel.metals.alloys import alloy_of
from yarvel.planning.compute import species_of
from yarvel.planning.diagnostics.diagnostic import CAUTION, OK, STOP, Diagnostic
from yarvel.planning.plan import Plan, finished
from yarvel.shanks import pendant
from yarvel.shanks.methods import PENDANT
from yarvel.solids.build import STONE, Solids, ring_of_wire
from yarvel.solids.measure import centre_of_mass, middle_strip, reach_up_mm, rod_across, volume_mm3

CODES = ("hangs-straight", "hangs-turned", "ring-through-stone", "ring-meets-nothing")
_STEP_MM, _TOUCHES_MM3, _AT_TWELVE_DEG = 0.1, 1e-3, 8.0


class BodyReport(Struct, frozen=True):
    """Figures and calls that come from bodies, and volumes of their parts in mm³ by name."""

    figures: tuple[Figure, ...]
    diagnostics: tuple[Diagnostic, ...]
    volumes: Mapping[str, float] = field(default_factory=dict)


class Hung(Struct, frozen=True):
    """A ring at a ``height_mm`` over the seat, its foot ``reach_mm`` up from the axis, mm: whether it holds to metal
    there, and how much of it would stand in the stone, mm³."""

    height_mm: float
    reach_mm: float
    holds: bool
    in_stone_mm3: float

    @property
    def good(self) -> bool:
        """Whether it can be soldered on there, and stay."""
        return self.holds and self.in_stone_mm3 <= _TOUCHES_MM3


def is_pendant(plan: Plan) -> bool:
    """Whether the head hangs."""
    return plan.job.fit is not None and plan.job.fit.method == PENDANT


def hang(plan: Plan, made: Solids) -> Hung:
    """Where the ring goes: behind the stone, where asked to; at the height asked; else at that of the centre of mass,
    or as near to it as there is metal to hold it and no stone in its way."""
    if plan.job.hangs_hidden:
        return _behind(plan, made)
    fit = plan.job.fit
    asked = None if fit is None or fit.bail is None else fit.bail.height_mm
    wide = 1.1 * plan[pendant.WIRE]
    strips = middle_strip(made.bare_head, wide), middle_strip(made.parts[STONE], wide)
    if asked is not None:
        return _hung(plan, strips, asked - plan.shape.height_mm)
    middle = float(_centre(plan, made)[2])
    first = _hung(plan, strips, middle)
    if first.good:
        return first
    heights = np.arange(-plan.shape.height_mm + plan[pendant.WIRE] / 2, float(plan.stone.girdle_mm), _STEP_MM)
    for height in sorted(heights.tolist(), key=lambda level: abs(level - middle)):
        hung = _hung(plan, strips, float(height))
        if hung.good:
            return hung
    return first


def _hung(plan: Plan, strips: tuple[Manifold, Manifold], height: float) -> Hung:
    """A ring at a height; ``strips``: of head and stone, what lies within the ring's breadth."""
    inside, wire = plan[pendant.INSIDE], plan[pendant.WIRE]
    bare, stone = strips
    met = reach_up_mm(bare, height, wire)
    if met is None:
        return Hung(height, _outermost(plan), False, 0.0)
    ring = ring_of_wire(inside, wire, (met, height), fine=True)
    return Hung(height, met, volume_mm3(ring ^ bare) > _TOUCHES_MM3, volume_mm3(ring ^ stone))


def _behind(plan: Plan, made: Solids) -> Hung:
    """The highest place under the stone's edge where nothing of the ring shows from the front, the chain goes through
    freely, and metal holds the ring."""
    inside, wire = plan[pendant.INSIDE], plan[pendant.WIRE]
    reach = hidden_to_mm(plan, wire) - inside - (2 - pendant.SINKS) * wire
    passes = wire + (plan[pendant.CHAIN_END] if pendant.CHAIN_END in plan.figures else inside / 2)
    metal, stone = middle_strip(made.bare_head, passes), middle_strip(made.parts[STONE], passes)
    free_mm = inside / 2 + (1 - pendant.SINKS) * wire
    middle = reach + free_mm
    lowest = -plan.shape.height_mm - inside / 2 - wire
    for height in np.arange(-wire / 2, lowest, -_STEP_MM / 2).tolist():
        opening = rod_across(free_mm, passes, (middle, height))
        if volume_mm3(opening ^ metal) > _TOUCHES_MM3 or volume_mm3(opening ^ stone) > _TOUCHES_MM3:
            continue
        ring = ring_of_wire(inside, wire, (reach, height), fine=True)
        hung = Hung(height, reach, volume_mm3(ring ^ metal) > _TOUCHES_MM3, volume_mm3(ring ^ stone))
        if hung.good:
            return hung
    return Hung(lowest, reach, False, 0.0)


def hidden_to_mm(plan: Plan, wire_mm: float) -> float:
    """How far up from the axis a wire may reach at 12 o'clock and not be seen from the front, mm."""
    edge = np.asarray(plan.shape.outline.inset(plan.rules.ring_hidden_mm))
    upper = edge[edge[:, 1] > 0]
    along, up = upper[np.argsort(upper[:, 0])].T
    return float(np.interp((-wire_mm / 2, 0.0, wire_mm / 2), along, up).min())


def _outermost(plan: Plan) -> float:
    """How far up from the axis a head reaches at its widest, mm."""
    out = max(float(part[:, 0].max()) for part in plan.shape.profiles)
    return float(plan.shape.outline.support(90.0)) + out


def _centre(plan: Plan, made: Solids) -> NDArray[np.float64]:
    density = alloy_of(plan.job.head.metal, plan.rules).density
    return centre_of_mass([(made.bare_head, density), (made.parts[STONE], species_of(plan.job, plan.rules).gravity)])


def judge_pendant(plan: Plan, made: Solids, rules: HouseRules) -> BodyReport:
    """How a pendant hangs by the ring that its bodies have."""
    fit = plan.job.fit
    if fit is None or not is_pendant(plan):
        return BodyReport((), ())
    x, y, z = (float(value) for value in _centre(plan, made))
    hung, foot = hang(plan, made), plan.shape.height_mm
    chosen = fit.bail is not None and fit.bail.height_mm is not None
    ledger = Ledger()
    centre, height = z + foot, hung.height_mm + foot
    by_body = "head and stone by their bodies, weighed by density"
    ledger.given(pendant.CENTRE, "Centre of mass above the foot", "mm", centre, GEOMETRY, formula=by_body)
    behind = plan.job.hangs_hidden
    where = "" if chosen else "at the centre of mass, or as near as metal holds it clear of the stone"
    where = "the highest place that the stone hides, with metal to hold it" if behind else where
    foot_from = "R_12 − h − d_b − 1.8·w_b" if behind else "by the head's body"
    ledger.given(pendant.HEIGHT, "Ring above the foot", "mm", height, CHOSEN if chosen else GEOMETRY, formula=where)
    ledger.given(pendant.REACH, "Ring's foot from the middle", "mm", hung.reach_mm, GEOMETRY, formula=foot_from)
    bears = ledger.enter(pendant.bears_mm, hung.reach_mm, plan[pendant.INSIDE], plan[pendant.WIRE])
    tilt = float(ledger.enter(pendant.tilt_deg, height, centre, bears, y))
    turn = float(ledger.enter(pendant.turn_deg, x, bears, y))
    open_mm = _open_mm(plan)
    widths = {pendant.CENTRE: open_mm, pendant.HEIGHT: 0.0 if chosen else open_mm}
    figures = tuple(finished(entry, widths.get(key, 0.0)) for key, entry in ledger.entries.items())
    straight = _leans_behind(tilt, rules) if behind else _straight(tilt, centre, chosen, rules)
    calls = [straight, _turned(plan, turn, rules)]
    if not hung.holds:
        calls.append(_hides_nowhere(plan) if behind else _held_by_nothing(plan))
    calls.append(_clear_of_stone(plan, hung))
    return BodyReport(figures, tuple(calls))


def _open_mm(plan: Plan) -> float:
    """How far the readings leave the centre of mass open: with the height of the head, by half."""
    height = plan.figures.get(style.height_mm)
    return 0.0 if height is None else height.plus_minus / 2


def _straight(tilt: float, centre: float, chosen: bool, rules: HouseRules) -> Diagnostic:
    level = OK if abs(tilt) <= rules.hangs_within_deg else CAUTION
    side = "down" if tilt > 0 else "up"
    message = "The ring sits at the height of the centre of mass."
    if level != OK:
        message = f"Hung here, the face looks {side}: " + (
            "move the ring to the centre of mass." if chosen else "no nearer place holds the ring clear of the stone."
        )
    elif abs(tilt) > 0.05:
        message = "The ring sits near the height of the centre of mass."
    remedy: dict[str, Any] | None = {"fit": {"bail": {"height_mm": None}}} if level != OK and chosen else None
    label = f"Ring {centre:.2f} mm above the foot" if remedy else ""
    limit, title = rules.hangs_within_deg, "Hangs straight"
    return Diagnostic(
        code="hangs-straight",
        level=level,
        title=title,
        message=message,
        figure=abs(tilt),
        limit=limit,
        unit="°",
        about="stone",
        of=pendant.tilt_deg,
        remedy=remedy,
        remedy_label=label,
    )


def _leans_behind(tilt: float, rules: HouseRules) -> Diagnostic:
    """A hidden ring hangs behind the weight: the face looks down by so much."""
    level = OK if abs(tilt) <= rules.hangs_within_deg else CAUTION
    message = "Hung from behind the stone it still hangs straight."
    if level == CAUTION:
        message = (
            "Hung freely from behind the stone, the face looks down by this; worn, its foot rests on the chest. A "
            "smaller ring lies higher and leans less, one above the head hangs straight."
        )
    remedy: dict[str, Any] | None = {"fit": {"bail": {"place": None}}} if level == CAUTION else None
    title, limit, label = "Hangs straight", rules.hangs_within_deg, "Ring above the head" if remedy else ""
    return Diagnostic(
        code="hangs-straight",
        level=level,
        title=title,
        message=message,
        figure=abs(tilt),
        limit=limit,
        unit="°",
        about="stone",
        of=pendant.tilt_deg,
        remedy=remedy,
        remedy_label=label,
    )


def _hides_nowhere(plan: Plan) -> Diagnostic:
    """No metal behind the stone that a hidden ring could be soldered to, with its opening free."""
    remedy, label = {"fit": {"bail": {"place": None}}}, "Ring above the head"
    message = (
        "Nowhere behind the stone does metal hold a ring of this size with its opening free: a smaller ring, or one "
        "above the head."
    )
    code, title = "ring-meets-nothing", "Ring to the head"
    return Diagnostic(
        code=code, level=CAUTION, title=title, message=message, about="plan", remedy=remedy, remedy_label=label
    )


def _turned(plan: Plan, turn: float, rules: HouseRules) -> Diagnostic:
    """A stone whose heavier end lies to one side of the ring turns that end down."""
    level = OK if abs(turn) <= rules.hangs_within_deg else CAUTION
    message = "Its weight hangs under the ring."
    remedy: dict[str, Any] | None = None
    if level != OK:
        message = f"Its weight lies to the {'right' if turn > 0 else 'left'} of the ring: it turns in its own plane."
        remedy = {"head": {"stone_axis": "along-finger"}} if plan.facts.along_band else None
        remedy = remedy or ({"head": {"claw_places_deg": None}} if plan.job.head.claw_places_deg is not None else None)
    label = "" if remedy is None else "Stone upright" if plan.facts.along_band else "Claws back to their usual places"
    title, limit = "Turns in its plane", rules.hangs_within_deg
    return Diagnostic(
        code="hangs-turned",
        level=level,
        title=title,
        message=message,
        figure=abs(turn),
        limit=limit,
        unit="°",
        about="stone",
        of=pendant.turn_deg,
        remedy=remedy,
        remedy_label=label,
    )


def _clear_of_stone(plan: Plan, hung: Hung) -> Diagnostic:
    """The ring against the stone."""
    level = OK if hung.in_stone_mm3 <= _TOUCHES_MM3 else STOP
    message = "The ring passes the stone freely."
    remedy, label = None, ""
    if level != OK:
        message = "The ring would stand in the stone: it needs metal at 12 o'clock that reaches past the stone's edge."
        remedy, label = _claw_at_twelve(plan)
    title, amount, code = "Ring and stone", hung.in_stone_mm3, "ring-through-stone"
    return Diagnostic(
        code=code,
        level=level,
        title=title,
        message=message,
        figure=amount,
        limit=_TOUCHES_MM3,
        unit="mm³",
        about="stone",
        of=pendant.HEIGHT,
        remedy=remedy,
        remedy_label=label,
    )


def _held_by_nothing(plan: Plan) -> Diagnostic:
    """No metal at the top at the ring's height: a claw at 12 offers some."""
    remedy, label = _claw_at_twelve(plan)
    message = (
        "At the ring's height the head has no metal at 12 o'clock to solder to: turn a claw there, or hang it higher "
        "or lower."
    )
    return Diagnostic(
        code="ring-meets-nothing",
        level=CAUTION,
        title="Ring to the head",
        message=message,
        about="plan",
        remedy=remedy,
        remedy_label=label,
    )


def _claw_at_twelve(plan: Plan) -> tuple[dict[str, Any] | None, str]:
    """The patch that brings a claw to 12 o'clock: turned, or one more or less."""
    if not plan.shape.places or plan.shape.walls:
        return None, ""
    now, cut = len(plan.shape.places), plan.facts.cut
    other = "in-line" if plan.job.head.orientation == "square" else "square"
    if cut.is_round:
        for count in (now, now + 1, now - 1):
            for turned in (plan.job.head.orientation, other):
                azimuths = azimuths_deg(count, turned) if LEAST_CLAWS <= count <= MOST_CLAWS else []
                if any(_near_twelve(azimuth) for azimuth in azimuths):
                    patch = {"claws": count, "orientation": turned, "claw_places_deg": None}
                    return {"head": patch}, "Turn a claw to 12" if count == now else f"{count} claws, one at 12"
        return None, ""
    fewest = max(LEAST_CLAWS, placing.least_claws(plan.shape.outline))
    for count in (now, now + 1, now - 1, now + 2):
        if fewest <= count <= MOST_CLAWS:
            places = placing.places(plan.shape.outline, count, plan.job.head.orientation, cut.cornered)
            if any(_near_twelve(place.azimuth_deg) for place in places):
                return {"head": {"claws": count, "claw_places_deg": None}}, f"{count} claws, one at 12"
    return None, ""


def _near_twelve(azimuth_deg: float) -> bool:
    return abs(azimuth_deg % 360 - 90.0) < _AT_TWELVE_DEG
