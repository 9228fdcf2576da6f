"""Times taken against the standard; the workshop's own pace is typed here."""

from __future__ import annotations

from datetime import date
from typing import TYPE_CHECKING

from yarvel.desk.reports.report import Answer, LeadingBar, Report, ReportLine
from yarvel.drawing.listing import Bar
from yarvel.figures.errors import StoreError
from yarvel.figures.rules import HouseRules
from yarvel.workshop.reports.report_store import Reported
from yarvel.workshop.work.standards import Learnt, Standard, label_of

if TYPE_CHECKING:
    from yarvel.workshop.store import Store

_PACE = 2
"""The column of the pace, which is typed there."""
_SLOW = 1.25
"""Times of standard from which a part of the work wants a look; our own choice."""


def answer(found: Reported, rules: HouseRules, today: date) -> Answer:
    """Every part of the work with what was taken over its standard, once enough times were recorded."""
    lines = (
        ReportLine(_texts(standard, found.learnt.get((key,))), key=key, behind=found.timed.get((key,), ()))
        for key, standard in found.standards.items()
    )
    paces = sorted((key[0], pace) for key, pace in found.learnt.items() if len(key) == 1)
    bars = (
        LeadingBar(Bar(label_of(key), pace.ratio, _told(pace), pace.ratio > _SLOW), found.timed.get((key,), ()))
        for key, pace in paces
    )
    return Answer(tuple(lines), tuple(bars), 1.0, "standard")


def _told(one: Learnt) -> str:
    return f"{one.ratio:.2f}, half between {one.low:.2f} and {one.high:.2f}"


def _texts(standard: Standard, one: Learnt | None) -> tuple[str, ...]:
    first = (standard.label, standard.skill, f"{standard.pace:g}")
    if one is None:
        return (*first, "", "", "", "")
    between = f"{one.low:.2f} – {one.high:.2f}"
    return (*first, f"{one.ratio:.2f}", between, str(one.count), f"{one.ratio * standard.pace:.0f} %")


def keep(store: Store, key: str, label: str, text: str) -> str:
    """Another pace for tasks made from now on."""
    try:
        pace = float(text.strip().removesuffix("%").replace(",", "."))
    except ValueError as error:
        raise StoreError(f"{label}: {text!r} is no share: 10 to 1000 per cent of the standard.") from error
    store.tasks.keep_pace(key, pace)
    return f"{label}: {pace:g} % of the standard minutes, for tasks made from now on."


REPORT = Report(
    key="pace",
    title="Against standard",
    heads=(
        "Operation",
        "Skill",
        "Pace, %",
        "Taken over standard",
        "Half of them between",
        "Recorded",
        "By what was taken",
    ),
    empty="No operations.",
    picture="Time taken over standard",
    answer=answer,
    edited=_PACE,
    edit=keep,
)
