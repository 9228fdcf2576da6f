"""Every report: one module each, one line here."""

from __future__ import annotations

from yarvel.desk.reports import back, hands, late, metal, pace, worth
from yarvel.desk.reports.report import Report

REPORTS: dict[str, Report] = {
    made.key: made for made in (late.REPORT, back.REPORT, pace.REPORT, hands.REPORT, metal.REPORT, worth.REPORT)
}
