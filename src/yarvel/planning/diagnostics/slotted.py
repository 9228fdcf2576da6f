"""A new head in an old head's slot: too wide, too narrow, or out of level."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from yarvel.figures.errors import JobError
from yarvel.heads import bought, style
from yarvel.planning import sampling
from yarvel.planning.compute import compute
from yarvel.planning.diagnostics.diagnostic import CAUTION, NOTE, OK, Diagnostic, Situation
from yarvel.shanks import inset, slot

WIDTH, LEVEL = "slot-and-head", "slot-worn"
CODES = (WIDTH, LEVEL)

_WIDEST_DEG, _WITHIN_DEG = 30.0, 0.05
"""How far claws are splayed at the most, as a job accepts it; how near the splay is found."""


def examine(situation: Situation) -> list[Diagnostic]:
    """The head's foot against the slot; the two ends against each other."""
    if not situation.has(slot.spare_mm):
        return []
    spare, play = situation[slot.spare_mm], situation.rules.slot_play_mm
    calls = [_width(situation, spare, play)]
    if situation.has(slot.lower_left_mm):
        lower, limit = situation[slot.lower_left_mm], situation.rules.worn_ends_mm
        side = "left" if lower > 0 else "right"
        level = OK if abs(lower) <= limit else CAUTION
        calls.append(
            Diagnostic(
                code=LEVEL,
                level=level,
                title="Ends of the slot",
                message="Both ends stand equally high."
                if level == OK
                else f"Wear has left the {side} end lower: squared to the ends, the head would lean to the "
                f"{side}. "
                "Level it by the finger's circle, not by the ends, and build the low end up.",
                figure=abs(lower),
                limit=limit,
                unit="mm",
                about="gap",
                of=slot.lower_left_mm,
            )
        )
    return calls


_LEAST_LEFT_MM = 1.0
"""What stays of a head under its seat at the least, mm."""


def _width(situation: Situation, spare: float, play: float) -> Diagnostic:
    if abs(spare) <= play:
        return Diagnostic(
            code=WIDTH,
            level=OK,
            title="Head in the slot",
            message="The foot fills the slot: solder has nothing to bridge.",
            figure=spare,
            limit=play,
            unit="mm",
            about="gap",
            of=slot.spare_mm,
        )
    splay = splay_for_slot(situation, play)
    remedy = None if splay is None else {"head": {"splay_deg": splay}}
    label = "" if splay is None else f"Splay {splay:.1f}°, which stands in this slot"
    if spare > 0:
        return Diagnostic(
            code=WIDTH,
            level=NOTE,
            title="Head in the slot",
            message=f"The foot is wider than the slot: open it by {situation[slot.open_each_mm]:.2f} mm on each side; "
            "springing it open would change the size.",
            figure=spare,
            limit=play,
            unit="mm",
            about="gap",
            of=slot.open_each_mm,
            remedy=remedy,
            remedy_label=label,
        )
    return _narrow(situation, spare, play, remedy, label)


def _narrow(situation: Situation, spare: float, play: float, remedy: dict[str, Any] | None, label: str) -> Diagnostic:
    """The foot is narrower than the slot."""
    narrow = "The foot is narrower than the slot, and solder bridges no gap:"
    flares = situation.has(slot.trim_mm) and situation[slot.trim_mm] <= situation[style.height_mm] - _LEAST_LEFT_MM
    trim = situation[slot.trim_mm] if flares else 0.0
    wide = f"trim the base by {trim:.2f} mm, where the head is as wide as the slot, or " if flares else ""
    last = "" if flares else ", or choose a head that fills it"
    if flares:
        trimmed = situation[bought.trimmed_height_mm] if situation.has(bought.trimmed_height_mm) else None
        sold = None if trimmed is None else trimmed + (situation.job.head.trim_mm or 0.0)
        total = round((situation.job.head.trim_mm or 0.0) + trim, 2)
        if sold is not None and situation.can_set("trim_mm") and total <= sold - _LEAST_LEFT_MM:
            remedy, label = {"head": {"trim_mm": total}}, f"Trim the base by {total:.2f} mm"
    return Diagnostic(
        code=WIDTH,
        level=CAUTION,
        title="Head in the slot",
        message=f"{narrow} {wide}close the slot and make the size up at the back{last}.",
        figure=spare,
        limit=play,
        unit="mm",
        about="gap",
        of=slot.trim_mm if flares else slot.spare_mm,
        remedy=remedy,
        remedy_label=label,
    )


def splay_for_slot(situation: Situation, play_mm: float) -> float | None:
    """The splay in degrees, to a tenth, at which the foot fills the slot as it is; None where no splay does, or where
    the head's is not to be chosen. A wider splay makes a narrower foot, at the height that the seat then asks for."""
    job = situation.job
    if job.fit is None or job.fit.slot is None or not situation.can_set("splay_deg"):
        return None
    from scipy.optimize import brentq  # heavy, and rarely asked for

    wanted = job.fit.slot.inside_mm

    def over(splay: float) -> float:
        tried = replace(job, head=replace(job.head, splay_deg=splay))
        computed = compute(tried, situation.rules, sampling.nominal(job.stone), job.stone.across_mm)
        return float(computed.ledger.value(inset.gap_inside_mm)) - wanted

    try:
        if over(0.0) < -play_mm or over(_WIDEST_DEG) > play_mm:
            return None
        found = brentq(over, 0.0, _WIDEST_DEG, xtol=_WITHIN_DEG) if over(0.0) * over(_WIDEST_DEG) < 0 else 0.0
    except JobError:
        return None
    splay = round(float(found), 1)
    return splay if abs(over(splay)) <= play_mm else None
