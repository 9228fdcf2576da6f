"""Times taken against the standard by whose hands and by which stone: where a standard fits nobody, or not all."""

from __future__ import annotations

from datetime import date

from yarvel.desk.reports.report import Answer, LeadingBar, Report, ReportLine
from yarvel.drawing.listing import Bar
from yarvel.figures.rules import HouseRules
from yarvel.stones.cuts import CUTS
from yarvel.workshop.reports.report_store import Reported
from yarvel.workshop.work.standards import label_of

_MOST_BARS = 12


def answer(found: Reported, rules: HouseRules, today: date) -> Answer:
    """Every part of the work by person and by cut, what differs most from that part's usual first."""
    rows = []
    for key, learnt_pace in found.learnt.items():
        usual = found.learnt.get(key[:1])
        if len(key) == 1 or usual is None or not key[-1]:
            continue
        whose = key[1] if len(key) == 2 else CUTS[key[2]].label if key[2] in CUTS else key[2]
        rows.append(
            (
                abs(learnt_pace.ratio - usual.ratio),
                label_of(key[0]),
                whose,
                learnt_pace,
                usual,
                found.timed.get(key, ()),
            )
        )
    rows.sort(key=lambda row: (-row[0], row[1], row[2]))
    lines = tuple(
        ReportLine(
            (
                part,
                whose,
                f"{learnt_pace.ratio:.2f}",
                f"{learnt_pace.low:.2f} – {learnt_pace.high:.2f}",
                f"{usual.ratio:.2f}",
                str(learnt_pace.count),
            ),
            behind=ids,
        )
        for _, part, whose, learnt_pace, usual, ids in rows
    )
    bars = tuple(
        LeadingBar(
            Bar(f"{part}, {whose}", learnt_pace.ratio, f"{learnt_pace.ratio:.2f}", learnt_pace.ratio > usual.high), ids
        )
        for _, part, whose, learnt_pace, usual, ids in rows[:_MOST_BARS]
    )
    return Answer(lines, bars, 1.0, "standard")


REPORT = Report(
    key="hands",
    title="By hands and stone",
    heads=("Operation", "Hands or stone", "Taken over standard", "Half of them between", "All together", "Recorded"),
    empty="Not enough times yet: five of one operation by one person, or on one cut.",
    picture="Time taken over standard, what differs most first",
    answer=answer,
)
