"""Every report: one module each, one line here."""

from __future__ import annotations

from yarvel.desk.reports import back, calls, done, hands, late, metal, pace, worth
from yarvel.desk.reports.report import Report

_ROOMS = (late, back, calls, pace, hands, metal, worth, done)
REPORTS: dict[str, Report] = {room.REPORT.key: room.REPORT for room in _ROOMS}
