"""Worn claws: what was found on each, what it calls for, and how fast it wears."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date, timedelta

from msgspec import Struct
from msgspec.structs import replace

from yarvel.figures.rules import HouseRules

SOUND, WORN_TIP, BENT, CRACKED, THIN_SIDE, MISSING, NEIGHBOUR, LOOSE, LIFTED = (
    "sound",
    "worn-tip",
    "bent",
    "cracked",
    "thin-side",
    "missing",
    "neighbour",
    "loose",
    "lifted",
)

FINDINGS: dict[str, str] = {
    SOUND: "sound",
    WORN_TIP: "worn tip",
    BENT: "bent",
    CRACKED: "cracked",
    THIN_SIDE: "thin side",
    MISSING: "missing",
    NEIGHBOUR: "worn by a neighbour band",
    LOOSE: "loose on the stone",
    LIFTED: "lifted off the crown",
}
"""What may be found on a claw: a key that stays, and what it is called."""
FORMER_FINDINGS: dict[str, str] = {
    "worn tip": WORN_TIP,
    "thin side": THIN_SIDE,
    "worn by a neighbour band": NEIGHBOUR,
}
"""By what findings were named in charts before they had keys; others were named as their keys. Never changed."""
LEAVE, TIGHTEN, RE_TIP, NEW_CLAW = "leave", "tighten", "re-tip", "new-claw"

WORK: dict[str, str] = {LEAVE: "leave", TIGHTEN: "tighten", RE_TIP: "re-tip", NEW_CLAW: "new claw"}
"""What a claw may call for, least first: a key that stays, and what it is called."""


def excludes(one: str, other: str) -> bool:
    """Whether two findings cannot be on one claw: what is missing is neither worn, bent nor loose."""
    return one != other and MISSING in (one, other)


class ClawFound(Struct, frozen=True):
    """What was found on one claw, and what ``also``; measures in mm, None where not taken: ``width`` across, ``tip``
    what is left over the crown, ``behind`` what is left behind the girdle."""

    finding: str = SOUND
    width: float | None = None
    tip: float | None = None
    behind: float | None = None
    also: tuple[str, ...] = ()

    @property
    def findings(self) -> tuple[str, ...]:
        """All that was found; nothing on a sound one."""
        return tuple(key for key in (self.finding, *self.also) if key != SOUND)

    def having(self, findings: Iterable[str]) -> ClawFound:
        """The same claw with these things found on it; of one that is missing nothing else is found, or measured."""
        keys = tuple(findings)
        if MISSING in keys:
            return ClawFound(MISSING)
        first, *others = keys or (SOUND,)
        return replace(self, finding=first, also=tuple(others))


class ClawVerdict(Struct, frozen=True):
    """What a claw calls for, and why."""

    work: str
    reason: str


def least_tip_mm(width_mm: float, rules: HouseRules) -> float:
    """Tip in mm under which a claw is re-tipped: about a third of its width, or the house's least (common practice)."""
    return max(rules.retip_share * width_mm, rules.retip_mm)


def judge_claw(found: ClawFound, width_mm: float, rules: HouseRules) -> ClawVerdict:
    """What one claw calls for; ``width_mm`` stands in where its own was not measured. The heaviest reason decides, the
    first of equals."""
    order = tuple(WORK)
    verdicts = [_judge(found.having((key,)), width_mm, rules) for key in found.findings or (SOUND,)]
    return max(verdicts, key=lambda verdict: order.index(verdict.work))


def _judge(found: ClawFound, width_mm: float, rules: HouseRules) -> ClawVerdict:
    """By one finding, and what was measured."""
    wide = found.width if found.width is not None else width_mm
    least, half = least_tip_mm(wide, rules), (1 - rules.notch_stop) * wide
    if found.finding == MISSING:
        return ClawVerdict(NEW_CLAW, "missing")
    if found.finding == CRACKED:
        return ClawVerdict(NEW_CLAW, "cracked: it opens at the next knock, re-tipping does not reach the crack")
    if found.behind is not None and found.behind < half:
        return ClawVerdict(
            NEW_CLAW,
            f"only {found.behind:.2f} of {wide:.2f} mm left behind the girdle: cut past half, it fails sideways",
        )
    if found.finding == THIN_SIDE and found.behind is None:
        return ClawVerdict(NEW_CLAW, "overcut to a thin side; measure what is left behind the girdle")
    if found.tip is not None and found.tip < least:
        return ClawVerdict(RE_TIP, f"{found.tip:.2f} mm of tip left, under {least:.2f}")
    if found.finding in (WORN_TIP, NEIGHBOUR) and found.tip is None:
        return ClawVerdict(RE_TIP, f"{FINDINGS[found.finding]}; measure the tip, it may still be over {least:.2f} mm")
    if found.finding in (BENT, LIFTED, LOOSE):
        what = "bent off the stone" if found.finding == BENT else FINDINGS[found.finding]
        return ClawVerdict(TIGHTEN, f"{what}, metal sound")
    if found.finding in (WORN_TIP, NEIGHBOUR, THIN_SIDE):
        return ClawVerdict(LEAVE, "worn, but enough is left: look again at the next inspection")
    return ClawVerdict(LEAVE, "sound")


def wear_mm_a_year(earlier: date, tip_then_mm: float, later: date, tip_now_mm: float) -> float | None:
    """How much tip in mm is lost in a year between two measurements; None where the dates tell nothing."""
    days = (later - earlier).days
    return None if days < 14 else (tip_then_mm - tip_now_mm) * 365.25 / days


def next_inspection(today: date, tip_mm: float, least_mm: float, wear: float | None, rules: HouseRules) -> date:
    """When to look again: before the tip reaches the least, half of the time to there, at the latest after the house's
    longest interval."""
    longest = timedelta(days=round(rules.inspect_after_months * 30.44))
    if wear is None or wear <= 0:
        return today + longest
    left_days = max(tip_mm - least_mm, 0.0) / wear * 365.25
    return today + min(timedelta(days=max(round(left_days / 2), 1)), longest)
