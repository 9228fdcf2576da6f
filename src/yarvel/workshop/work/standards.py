"""The workshop's own pace: how long its people take over each part of the work, as a share of the standard minutes."""

from __future__ import annotations

import math
import statistics
from collections.abc import Mapping

from msgspec import Struct

from yarvel.route.card import LABELS
from yarvel.workshop.work.errands import PREFIX, USUAL, errand_of, stands_for

SKILLS = ("mounting", "setting", "polishing", "checking")
_SKILLS = {
    "take-in": "checking",
    "seat": "setting",
    "set": "setting",
    "tighten": "setting",
    "finish": "polishing",
    "clean": "polishing",
    "release": "checking",
}
LEAST_PACE, MOST_PACE = 10.0, 1000.0


class Standard(Struct, frozen=True):
    """One part of the work: its key, what it is called, the skill that it wants, and the workshop's ``pace`` over it in
    per cent of the operations' standard minutes."""

    key: str
    label: str
    skill: str
    pace: float = 100.0


STANDARDS: dict[str, Standard] = {
    key: Standard(key, label, _SKILLS.get(key, "mounting")) for key, label in LABELS.items()
} | {errand.operation: Standard(errand.operation, f"Send out: {errand.label}", "checking") for errand in USUAL}


def base_of(key: str) -> str:
    """The part that a key stands for; one that occurs again counts as the first."""
    if going := errand_of(key):
        return f"{PREFIX}{going}"
    return key if key in STANDARDS else key.rsplit("-", 1)[0]


def label_of(key: str) -> str:
    """What a part of the work is called; a key that nobody knows is its own name."""
    standard = STANDARDS.get(base_of(key))
    if done_there := stands_for(key):
        return f"Outworker: {', '.join(label_of(part).casefold() for part in done_there)}"
    return key if standard is None else standard.label if key in STANDARDS else f"{standard.label}, once more"


def skill_of(key: str) -> str:
    """The skill that a part of the work wants; "" where nobody knows it."""
    standard = STANDARDS.get(base_of(key))
    return "" if standard is None else standard.skill


def may_be_given_out(key: str) -> bool:
    """Whether an outworker could do a part: work at the bench, not what is checked or packed here."""
    return skill_of(key) not in ("", "checking")


def with_pace(changed: Mapping[str, float]) -> dict[str, Standard]:
    """All parts, with the workshop's own pace."""
    return {
        key: Standard(key, standard.label, standard.skill, float(changed.get(key, standard.pace)))
        for key, standard in STANDARDS.items()
    }


class Learnt(Struct, frozen=True):
    """What was taken over standard: the median, between which two values half of it lies, how many times were recorded,
    and the spread of its logarithm (a robust one: from the quartiles of a normal distribution)."""

    ratio: float
    low: float
    high: float
    count: int

    @property
    def spread(self) -> float:
        """Of the logarithm, as simulated executions take it."""
        return math.log(self.high / self.low) / _QUARTILES if self.low > 0 else 0.0


_QUARTILES = 1.349
"""A normal distribution's quartiles are 1.349 standard deviations apart (geometry of the distribution)."""


def learnt(times: list[tuple[float, float]], least: int = 5) -> Learnt | None:
    """Times against standard, with their spread; None for fewer than ``least`` of them."""
    ratio = learned(times, least)
    if ratio is None:
        return None
    ratios = sorted(taken / standard for standard, taken in times if standard > 0)
    low, _, high = statistics.quantiles(ratios, n=4, method="inclusive")
    return Learnt(ratio, low, high, len(ratios))


def learned(times: list[tuple[float, float]], least: int = 5) -> float | None:
    """Times against standard: the median of taken over standard minutes; None for fewer than ``least`` of them."""
    ratios = sorted(taken / standard for standard, taken in times if standard > 0)
    if len(ratios) < least:
        return None
    middle = len(ratios) // 2
    return ratios[middle] if len(ratios) % 2 else (ratios[middle - 1] + ratios[middle]) / 2
