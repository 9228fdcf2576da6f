"""Why heads come back."""

from __future__ import annotations

from datetime import date

from yarvel.desk.reports.report import Answer, LeadingBar, Report, ReportLine
from yarvel.drawing.listing import Bar
from yarvel.figures.rules import HouseRules
from yarvel.heads.styles import STYLES
from yarvel.heads.wear import FINDINGS
from yarvel.workshop.reports.records import CAUSE_LABELS, Cause, causes
from yarvel.workshop.reports.report_store import Reported

_MOST_BARS = 8


def answer(found: Reported, rules: HouseRules, today: date) -> Answer:
    """Returns by cause and head, the most frequent first."""
    rows = causes(found.charted)
    bars = (
        LeadingBar(Bar(f"{_cause_of(cause)}: {_head_of(cause)}", cause.heads, str(cause.heads)), cause.dockets)
        for cause in rows[:_MOST_BARS]
    )
    lines = (ReportLine(_texts(cause), key=f"{cause.cause} {cause.style}", behind=cause.dockets) for cause in rows)
    return Answer(tuple(lines), tuple(bars))


def _texts(cause: Cause) -> tuple[str, ...]:
    claws = ", ".join(f"{count} {FINDINGS[finding]}" for finding, count in cause.claws)
    return (_cause_of(cause), _head_of(cause), str(cause.heads), claws)


def _cause_of(cause: Cause) -> str:
    return CAUSE_LABELS.get(cause.cause, cause.cause)


def _head_of(cause: Cause) -> str:
    return STYLES[cause.style].LABEL if cause.style in STYLES else cause.style


REPORT = Report(
    key="back",
    title="Why heads come back",
    heads=("Cause", "Head", "Heads", "Claws"),
    empty="No claw chart yet: open a docket that came back and press Ctrl+J.",
    picture="Heads that came back, by cause",
    answer=answer,
)
