"""Metal that neither came back nor went into a piece, against what the house allows."""

from __future__ import annotations

from datetime import date

from yarvel.desk.reports.report import Answer, LeadingBar, Report, ReportLine
from yarvel.drawing.listing import Bar
from yarvel.figures.rules import HouseRules
from yarvel.metals.alloys import alloy_label
from yarvel.workshop.metal.fine_book import Balance
from yarvel.workshop.reports.report_store import Reported


def answer(found: Reported, rules: HouseRules, today: date) -> Answer:
    """Every metal that was issued, what is missing most first; a bar each, against the allowance."""
    alloys_issued = sorted(
        (alloy_use for alloy_use in found.metal if alloy_use.issued), key=lambda one: (-one.loss_share(), one.alloy)
    )
    limit = rules.loss_allowance
    lines = tuple(
        ReportLine(_texts(alloy_use, rules), behind=found.weighed.get(alloy_use.alloy, ()))
        for alloy_use in alloys_issued
    )
    bars = tuple(
        LeadingBar(_bar(alloy_use, rules), found.weighed.get(alloy_use.alloy, ())) for alloy_use in alloys_issued
    )
    return Answer(lines, bars, limit, f"{limit:.0%} allowed")


def _bar(one: Balance, rules: HouseRules) -> Bar:
    share = one.loss_share()
    return Bar(alloy_label(one.alloy, rules), max(share, 0.0), f"{share:.1%}", share > rules.loss_allowance)


def _texts(one: Balance, rules: HouseRules) -> tuple[str, ...]:
    back = one.returned + one.offcuts + one.filings
    masses = (one.issued, back, one.used, one.in_work, one.lost)
    word = "over the allowance" if one.loss_share() > rules.loss_allowance else "within it"
    return (alloy_label(one.alloy, rules), *(f"{mass:.2f}" for mass in masses), f"{one.loss_share():.1%}", word)


REPORT = Report(
    key="metal",
    title="Metal missing",
    heads=(
        "Metal",
        "Issued, g",
        "Came back, g",
        "In pieces, g",
        "In work, g",
        "Lost, g",
        "Of what was worked",
        "Stands",
    ),
    empty="Nothing was issued: metal is weighed out in the fine book (F9).",
    picture="Lost, share of what was worked",
    answer=answer,
)
