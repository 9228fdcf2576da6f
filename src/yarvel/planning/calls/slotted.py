"""A new head in an old head's slot: too wide, too narrow, or out of level."""

from __future__ import annotations

from dataclasses import replace

from yarvel.figures.errors import JobError
from yarvel.heads import bought, style
from yarvel.planning import sampling
from yarvel.planning.calls.call import CAUTION, NOTE, OK, Call, Situation
from yarvel.planning.compute import compute
from yarvel.shanks import inset, slot

WIDTH, LEVEL = "slot-and-head", "slot-worn"
CODES = (WIDTH, LEVEL)
_WIDEST_DEG, _WITHIN_DEG = 30.0, 0.05
"""How far claws are splayed at the most, as a job accepts it; how near the splay is found."""


def examine(situation: Situation) -> list[Call]:
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
            Call(
                LEVEL,
                level,
                "Ends of the slot",
                "Both ends stand equally high."
                if level == OK
                else f"Wear has left the {side} end lower: squared to the ends, the head would lean to the "
                f"{side}. "
                "Level it by the finger's circle, not by the ends, and build the low end up.",
                abs(lower),
                limit,
                "mm",
                "gap",
                slot.lower_left_mm,
            )
        )
    return calls


_LEAST_LEFT_MM = 1.0
"""What stays of a head under its seat at the least, mm."""


def _width(situation: Situation, spare: float, play: float) -> Call:
    if abs(spare) <= play:
        return Call(
            WIDTH,
            OK,
            "Head in the slot",
            "The foot fills the slot: solder has nothing to bridge.",
            spare,
            play,
            "mm",
            "gap",
            slot.spare_mm,
        )
    splay = splay_for_slot(situation, play)
    remedy = None if splay is None else {"head": {"splay_deg": splay}}
    label = "" if splay is None else f"Splay {splay:.1f}°, which stands in this slot"
    if spare > 0:
        return Call(
            WIDTH,
            NOTE,
            "Head in the slot",
            f"The foot is wider than the slot: open it by {situation[slot.open_each_mm]:.2f} mm on each side; "
            "springing it open would change the size.",
            spare,
            play,
            "mm",
            "gap",
            slot.open_each_mm,
            remedy,
            label,
        )
    narrow = "The foot is narrower than the slot, and solder bridges no gap:"
    flares = situation.has(slot.trim_mm) and situation[slot.trim_mm] <= situation[style.height_mm] - _LEAST_LEFT_MM
    if not flares:
        told = f"{narrow} close the slot and make the size up at the back, or choose a head that fills it."
        return Call(WIDTH, CAUTION, "Head in the slot", told, spare, play, "mm", "gap", slot.spare_mm, remedy, label)
    trim = situation[slot.trim_mm]
    made = situation[bought.trimmed_height_mm] if situation.has(bought.trimmed_height_mm) else None
    made = None if made is None else made + (situation.job.head.trim_mm or 0.0)
    total = round((situation.job.head.trim_mm or 0.0) + trim, 2)
    room = made is not None and situation.can_set("trim_mm") and total <= made - _LEAST_LEFT_MM
    return Call(
        WIDTH,
        CAUTION,
        "Head in the slot",
        f"{narrow} trim the base by {trim:.2f} mm, where the head is as wide as the slot, or close the slot and make "
        "the size up at the back.",
        spare,
        play,
        "mm",
        "gap",
        slot.trim_mm,
        {"head": {"trim_mm": total}} if room else remedy,
        f"Trim the base by {total:.2f} mm" if room else label,
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
        made = compute(tried, situation.rules, sampling.nominal(job.stone), job.stone.across_mm)
        return float(made.ledger.value(inset.gap_inside_mm)) - wanted

    try:
        if over(0.0) < -play_mm or over(_WIDEST_DEG) > play_mm:
            return None
        found = brentq(over, 0.0, _WIDEST_DEG, xtol=_WITHIN_DEG) if over(0.0) * over(_WIDEST_DEG) < 0 else 0.0
    except JobError:
        return None
    splay = round(float(found), 1)
    return splay if abs(over(splay)) <= play_mm else None
