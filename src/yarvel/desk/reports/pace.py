"""Times taken against the standard; the workshop's own pace is typed here."""

from __future__ import annotations

from datetime import date
from typing import TYPE_CHECKING

from yarvel.desk.reports.report import Answer, Line, Report
from yarvel.drawing.listing import Bar
from yarvel.figures.errors import StoreError
from yarvel.figures.rules import HouseRules
from yarvel.workshop.report_store import Reported
from yarvel.workshop.standards import Standard, label_of

if TYPE_CHECKING:
    from yarvel.workshop.store import Store

_PACE = 2
"""The column of the pace, which is typed there."""
_SLOW = 1.25
"""Times of standard from which a part of the work wants a look; our own choice."""


def answer(found: Reported, rules: HouseRules, today: date) -> Answer:
    """Every part of the work with what was taken over its standard, once enough times were recorded."""
    lines = (
        Line(_texts(standard, found.ratios.get(key), found.counts.get(key, 0)), None, key)
        for key, standard in found.standards.items()
    )
    bars = (Bar(label_of(key), ratio, f"{ratio:.2f}", ratio > _SLOW) for key, ratio in sorted(found.ratios.items()))
    return Answer(tuple(lines), tuple(bars), 1.0, "standard")


def _texts(standard: Standard, ratio: float | None, recorded: int) -> tuple[str, ...]:
    taken = ("", "") if ratio is None else (f"{ratio:.2f}", f"{ratio * standard.pace:.0f} %")
    return (standard.label, standard.skill, f"{standard.pace:g}", taken[0], str(recorded or ""), taken[1])


def keep(store: Store, key: str, label: str, text: str) -> str:
    """Another pace for tasks made from now on."""
    try:
        pace = float(text.strip().removesuffix("%").replace(",", "."))
    except ValueError as error:
        raise StoreError(f"{label}: {text!r} is no share: 10 to 1000 per cent of the standard.") from error
    store.tasks.keep_pace(key, pace)
    return f"{label}: {pace:g} % of the standard minutes, for tasks made from now on."


REPORT = Report(
    "pace",
    "Against standard",
    ("Operation", "Skill", "Standard, min", "Taken over standard", "Recorded", "By what was taken, min"),
    "No operations.",
    "Time taken over standard",
    answer,
    _PACE,
    keep,
)
