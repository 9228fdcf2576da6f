"""Station: checks. What is looked at before release, to tick."""

from __future__ import annotations

from PySide6.QtWidgets import QCheckBox, QVBoxLayout, QWidget

from yarvel.desk.stations.measured_checks import MeasuredChecks
from yarvel.desk.stations.station import MISSING, Station
from yarvel.desk.widgets.words import Words
from yarvel.planning.diagnostics.diagnostic import CAUTION, NOTE, OK
from yarvel.planning.documents import Document
from yarvel.planning.plan import Plan
from yarvel.planning.release import CheckResult, findings
from yarvel.route.checks import Check, checks


class ChecksStation(Station):
    """What is measured and what is looked at before release."""

    TITLE = "Checks"

    def build(self) -> None:
        """Measured checks first, then those of the eye."""
        self.measured = MeasuredChecks(self)
        self.column.addWidget(self.measured)
        self._box = QWidget(self)
        self._rows = QVBoxLayout(self._box)
        self._rows.setContentsMargins(0, 0, 0, 0)
        self._rows.setSpacing(2)
        self._shown: tuple[Check, ...] = ()
        self.column.addWidget(self._box)

    def _wanted(self) -> tuple[Check, ...]:
        return () if self.session.plan is None else checks(self.session.plan)

    def _ticked(self) -> set[str]:
        docket = self.session.docket
        return set() if docket is None else set(docket.ticks)

    def refresh(self) -> None:
        """A row a check; a check whose figure has changed since it was ticked is open again."""
        self.measured.refresh()
        wanted = self._wanted()
        if wanted != self._shown:
            self._shown = wanted
            while (item := self._rows.takeAt(0)) is not None:
                if (widget := item.widget()) is not None:
                    widget.deleteLater()
            for check in wanted:
                self._rows.addWidget(self._row(check))
        for place, check in enumerate(wanted):
            row = self._rows.itemAt(place)
            box = None if row is None else row.widget()
            tick = box.findChild(QCheckBox) if box is not None else None
            if tick is not None:
                tick.setChecked(check.mark in self._ticked())

    def _row(self, check: Check) -> QWidget:
        row = QWidget(self._box)
        column = QVBoxLayout(row)
        column.setContentsMargins(0, 0, 0, 0)
        box = QCheckBox(row)
        box.setAccessibleName(check.text)
        box.clicked.connect(lambda ticked: self._on_tick(check.mark, ticked))
        label = Words(check.text, row)
        label.setWordWrap(True)
        label.setBuddy(box)
        column.setDirection(QVBoxLayout.Direction.LeftToRight)
        column.addWidget(box)
        column.addWidget(label, 1)
        return row

    def _on_tick(self, mark: str, ticked: bool) -> None:
        ticks = [tick for tick in (self.session.docket.ticks if self.session.docket else ()) if tick != mark]
        self.session.set_column("ticks", (*ticks, mark) if ticked else tuple(ticks))

    def telling(self) -> str:
        """How many of how many."""
        wanted = self._wanted()
        failed = len(self._failed())
        more = f" · {failed} failed" if failed else ""
        ticked = f"{len(self._ticked() & {check.mark for check in wanted})} of {len(wanted)} ticked{more}"
        return ticked if wanted else "waits for the stone"

    def _failed(self) -> list[CheckResult]:
        plan, docket = self.session.plan, self.session.docket
        return (
            []
            if plan is None or docket is None
            else [finding for finding in findings(plan, docket.measured) if finding.level != OK]
        )

    def state(self) -> str:
        """Done once all are ticked."""
        wanted = self._wanted()
        if not wanted:
            return MISSING
        if self._failed():
            return CAUTION
        return OK if self._ticked() >= {check.mark for check in wanted} else NOTE


def unticked(plan: Plan, ticks: tuple[str, ...], measured: Document) -> list[str]:
    """Checks of a plan that are still open: not ticked, or measured and failed."""
    failed = [finding.message for finding in findings(plan, measured) if finding.level != OK]
    return [check.text for check in checks(plan) if check.mark not in ticks] + failed
