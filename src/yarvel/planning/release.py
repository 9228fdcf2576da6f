"""Checks before release by measurement: each measured value against the plan, who is out by how much, what to do."""

from __future__ import annotations

from typing import Any

import numpy as np
from msgspec import Struct

from yarvel.heads import claws, notches
from yarvel.heads.claws import towards
from yarvel.heads.levelling import MOVED_MM, eased, moved_words, seating, table_lean
from yarvel.heads.places import numbers
from yarvel.heads.spacing import from_chords
from yarvel.planning.diagnostics.diagnostic import CAUTION, OK, STOP
from yarvel.planning.plan import HEAD_MASS, SHANK_MASS, Plan
from yarvel.shanks import blanks
from yarvel.stones import weight

SIZE, WEIGHT, BEHIND, CHORDS, HEIGHTS, SEATS = "size", "weight", "behind", "chords", "heights", "seats"
CARAT_G = 0.2

_LIGHT_MM = 0.02
"""A gap that light shows through; from memory."""
_LEAST_CUT_MM = 0.005


class MeasuredCheck(Struct, frozen=True, kw_only=True):
    """One measured check: what is measured, in which unit, how many readings, what the plan says and how near it must
    be (None: judged otherwise)."""

    key: str
    label: str
    unit: str
    readings: tuple[str, ...]
    planned: float | None
    within: float | None
    low: float
    high: float


class CheckResult(Struct, frozen=True):
    """What a check found: ok, caution or stop, in a sentence, with the key of the part of the work to go back to."""

    key: str
    level: str
    message: str
    back_to: str = ""


def checks_of(plan: Plan) -> tuple[MeasuredCheck, ...]:
    """The checks that this plan can be measured by."""
    checks = (_size(plan), _weight(plan), *_of_claws(plan))
    return tuple(check for check in checks if check is not None)


def _size(plan: Plan) -> MeasuredCheck | None:
    if plan.band is None:
        return None
    return MeasuredCheck(
        key=SIZE,
        label="Inside diameter",
        unit="mm",
        readings=("",),
        planned=plan[blanks.INSIDE_DIAMETER],
        within=plan.rules.release_size_mm,
        low=8,
        high=30,
    )


def _weight(plan: Plan) -> MeasuredCheck | None:
    """By the bodies: a moment after the plan itself."""
    figures = plan.figures
    if HEAD_MASS not in figures:
        return None
    mass = sum(figures[key].value for key in (HEAD_MASS, SHANK_MASS) if key in figures)
    whole = mass + figures[weight.weight_model_ct].value * CARAT_G
    return MeasuredCheck(
        key=WEIGHT,
        label="Weight with the stone",
        unit="g",
        readings=("",),
        planned=whole,
        within=plan.rules.release_weight_share * whole,
        low=0.05,
        high=500,
    )


def _of_claws(plan: Plan) -> list[MeasuredCheck]:
    """One reading a claw each."""
    places = plan.shape.places

    def check(key: str, label: str, low: float, high: float, planned: float | None = None) -> MeasuredCheck:
        readings = tuple(str(number) for number in numbers(places))
        return MeasuredCheck(
            key=key, label=label, unit="mm", readings=readings, planned=planned, within=None, low=low, high=high
        )

    checks = []
    if places and plan.claw_mm is not None:
        checks.append(check(BEHIND, "Left behind the girdle", 0.01, 5, plan[notches.REMAINING]))
    if len(places) >= 3 and plan.facts.cut.is_round and plan.job.head.claw_places_deg is None:
        checks.append(check(CHORDS, "Chord to the next claw", 0.3, 60))
    if len(places) >= 3:
        checks.append(check(HEIGHTS, "Height of the table", 0, 60))
        checks.append(check(SEATS, "Height of each seat as cut", 0, 60))
    return checks


def judge(plan: Plan, check: MeasuredCheck, values: tuple[float, ...]) -> CheckResult | None:
    """What readings tell; None while not all are taken."""
    if len(values) != len(check.readings):
        return None
    if check.key in (SIZE, WEIGHT):
        return _against(check, values[0])
    if check.key == BEHIND:
        return _behind(plan, values)
    if check.key == CHORDS:
        return _spacing(plan, values)
    return _rest(plan, values) if check.key == SEATS else _level(plan, values)


def _against(check: MeasuredCheck, value: float) -> CheckResult:
    planned, within = check.planned or 0.0, check.within or 0.0
    off = value - planned
    if abs(off) <= within:
        return CheckResult(check.key, OK, f"{value:.2f} {check.unit}, planned {planned:.2f}: within {within:.2f}.")
    word = "over" if off > 0 else "under"
    if check.key == SIZE:
        change = abs(off) * np.pi
        how = f"take {change:.2f} mm out at the back" if off > 0 else f"put {change:.2f} mm in at the back, or stretch"
        return CheckResult(check.key, STOP, f"{abs(off):.2f} mm {word} size: {how}.", "fit")
    return CheckResult(
        check.key,
        CAUTION,
        f"{abs(off):.2f} g {word} the plan's {planned:.2f}: weigh again, then look what was made thicker or thinner "
        "than planned.",
        "finish",
    )


def _behind(plan: Plan, values: tuple[float, ...]) -> CheckResult:
    """Contact of 30 to 50 %: what is left behind the girdle, claw by claw."""
    claw, rules = plan[claws.CLAW], plan.rules
    cut = [1 - value / claw for value in values]
    names = [f"claw {number}" for number in numbers(plan.shape.places)]
    over = [name for name, share in zip(names, cut, strict=True) if share > rules.notch_stop + 1e-9]
    if over:
        return CheckResult(
            BEHIND, STOP, f"Cut past half at {', '.join(over)}: these claws fail sideways. New claws.", "head"
        )
    shallow = [name for name, share in zip(names, cut, strict=True) if share < rules.notch_least - 1e-9]
    if shallow:
        return CheckResult(
            BEHIND,
            STOP,
            f"Hardly cut at {', '.join(shallow)}: the stone does not sit there. Open the seat.",
            "seat",
        )
    return CheckResult(BEHIND, OK, f"Notches of {min(cut):.0%} to {max(cut):.0%} of the claw.")


def _spacing(plan: Plan, values: tuple[float, ...]) -> CheckResult:
    try:
        spacing = from_chords(np.array(values))
    except ValueError as error:
        return CheckResult(CHORDS, CAUTION, f"These chords make no head: {error}. Measure again.")
    names = [f"claw {number}" for number in numbers(plan.shape.places)]
    worst = int(np.argmax(np.abs(spacing.out_deg)))
    out, limit = spacing.out_deg[worst], plan.rules.release_spacing_deg
    if abs(out) <= limit:
        return CheckResult(CHORDS, OK, f"Claws evenly spaced: none out by more than {abs(out):.1f}°.")
    way = "clockwise" if out > 0 else "counter-clockwise"
    moved = abs(out) * np.pi / 180 * spacing.radius_mm
    return CheckResult(
        CHORDS,
        CAUTION,
        f"{names[worst].capitalize()} stands out by {abs(out):.1f}°: move it {moved:.2f} mm {way}.",
        "set",
    )


def _level(plan: Plan, values: tuple[float, ...]) -> CheckResult:
    spots = np.array([(place.x_mm, place.y_mm) for place in plan.shape.places])
    lean, limit = table_lean(spots, np.array(values)), plan.rules.level_within_deg
    moved = moved_words(lean) if lean.unsteady_mm >= MOVED_MM else ""
    if lean.tilt_deg <= limit and moved:
        return CheckResult(HEIGHTS, CAUTION, moved, "seat")
    if lean.tilt_deg <= limit:
        return CheckResult(HEIGHTS, OK, f"Table level within {lean.tilt_deg:.1f}°.")
    high = int(np.argmax(lean.take_off_mm))
    name = f"claw {numbers(plan.shape.places)[high]}"
    return CheckResult(
        HEIGHTS,
        STOP,
        f"Low towards {towards(lean.low_deg)} by {lean.tilt_deg:.1f}°: ease the claw there, take the seat at {name} "
        f"down by {lean.take_off_mm[high]:.2f} mm.{f' {moved}' if moved else ''}",
        "seat",
    )


def _rest(plan: Plan, values: tuple[float, ...]) -> CheckResult:
    """How the stone will rest on seats as they are cut: still or rocking, which carry it, where light shows, which to
    take down and by how much."""
    spots, at = np.array([(place.x_mm, place.y_mm) for place in plan.shape.places]), numbers(plan.shape.places)
    seats = seating(spots, np.array(values), plan.facts.outline.middle)
    if not seats.rests:
        return CheckResult(
            SEATS, STOP, "The stone tips off: its middle is not between its seats. More claws, or others.", "head"
        )
    level = max(rest.tilt_deg for rest in seats.rests) <= plan.rules.level_within_deg
    widest = max(gap for rest in seats.rests for gap in rest.gaps_mm)
    if level and widest < _LIGHT_MM:
        return CheckResult(SEATS, OK, f"The stone will rest still and level on every seat, within {widest:.2f} mm.")
    most = np.max([rest.gaps_mm for rest in seats.rests], axis=0)
    carrying = [number for number, gap in sorted(zip(at, most.tolist(), strict=True)) if gap < _LIGHT_MM]
    about = f"about {_claws(carrying)}" if len(carrying) > 1 else "on its seats"
    lean = f"leaning {seats.tilt_deg:.1f}° towards {towards(seats.low_deg)}" if seats.tilt_deg >= 0.05 else "level"
    if seats.rocks and seats.rock_mm >= _LIGHT_MM:
        how = (
            f"The stone will rock {about} by {seats.rock_mm:.2f} mm at the others, "
            f"{seats.rock_deg:.1f}° to either side, {lean} in the middle of it."
        )
    else:
        gaps = _by_claw(at, seats.rests[0].gaps_mm, "{gap:.2f} mm under claw {number}")
        light = f" Light shows: {gaps}." if gaps else ""
        how = f"The stone will rest on {_claws(carrying)}, {lean}.{light}"
    cuts = eased(spots, np.array(values), plan.rules.level_within_deg / 2)
    down = _by_claw(at, cuts, "claw {number} by {gap:.2f} mm")
    return CheckResult(SEATS, CAUTION, f"{how} Take the seats down at {down}; then it sits still and level.", "seat")


def _claws(claws: list[int]) -> str:
    return "claws " + " and ".join(filter(None, (", ".join(map(str, claws[:-1])), *map(str, claws[-1:]))))


def _by_claw(at: tuple[int, ...], lengths: tuple[float, ...], words: str) -> str:
    """Claws by their numbers with a length each that can be seen; "" where there is none."""
    pairs = sorted(zip(at, lengths, strict=True))
    return ", ".join(words.format(number=number, gap=gap) for number, gap in pairs if gap >= _LEAST_CUT_MM)


def readings_in(measured: dict[str, Any], check: MeasuredCheck) -> tuple[float | None, ...]:
    """What a docket holds of a check's readings, in its unit, None where nothing was read yet."""
    values = measured.get(check.key)
    rows: list[Any] = values if isinstance(values, list) else []
    return tuple(
        float(rows[place]) if place < len(rows) and isinstance(rows[place], int | float) else None
        for place in range(len(check.readings))
    )


def findings(plan: Plan, measured: dict[str, Any]) -> list[CheckResult]:
    """All findings of what was measured whole."""
    findings_made = []
    for check in checks_of(plan):
        values = readings_in(measured, check)
        whole = tuple(value for value in values if value is not None)
        finding = judge(plan, check, whole) if len(whole) == len(values) else None
        if finding is not None:
            findings_made.append(finding)
    return findings_made
