"""Measured checks before release: readings against the plan, a sentence each, and a way back for what fails."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

from PySide6.QtWidgets import QGridLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from yarvel.clock import today
from yarvel.desk.widgets.fields import GaugeEdit, mark_wrong
from yarvel.desk.widgets.fold import Fold
from yarvel.desk.widgets.words import LineField, Words
from yarvel.planning.diagnostics.diagnostic import OK
from yarvel.planning.documents import Document
from yarvel.planning.release import CheckResult, MeasuredCheck, checks_of, findings, readings_in
from yarvel.workshop.dockets.records import IN_WORK

if TYPE_CHECKING:
    from yarvel.desk.stations.station import Station


def in_order(names: Sequence[str]) -> list[int]:
    """Places of readings as they are asked for: claws by their numbers, clockwise, whatever order they are kept in."""
    return sorted(range(len(names)), key=lambda place: int(names[place] or 0))


class MeasuredChecks(QWidget):
    """A fold a check, its readings inside, what they tell under them; a failed one is sent back with a reason."""

    def __init__(self, station: Station) -> None:
        super().__init__(station)
        self.session = station.session
        self.edits: dict[tuple[str, int], GaugeEdit] = {}
        self._folds: dict[str, Fold] = {}
        self._told: dict[str, QLabel] = {}
        self._wrong: set[str] = set()
        self._shape: tuple[tuple[str, tuple[str, ...]], ...] = ()
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.setSpacing(4)
        self._back = QWidget(self)
        grid = QGridLayout(self._back)
        grid.setContentsMargins(0, 0, 0, 0)
        self.reason = LineField(self._back)
        self.reason.setObjectName("checks.reason")
        self.reason.setPlaceholderText("why, and what to do")
        self.reason.setAccessibleName("Why it goes back")
        self.whom = LineField(self._back)
        self.whom.setObjectName("checks.whom")
        self.whom.setPlaceholderText("to whom")
        self.whom.setAccessibleName("To whom it goes back")
        self.send = QPushButton("Send it back to the bench", self._back)
        self.send.setObjectName("checks.send_back")
        self.send.clicked.connect(self._on_send)
        grid.addWidget(self.reason, 0, 0, 1, 2)
        grid.addWidget(self.whom, 1, 0)
        grid.addWidget(self.send, 1, 1)
        for edit in (self.reason, self.whom):
            edit.textEdited.connect(self._on_back_text)

    def refresh(self) -> None:
        """Fields as the plan's checks want them; what was read; what it tells."""
        plan, docket = self.session.plan, self.session.docket
        wanted = () if plan is None else checks_of(plan)
        shape = tuple((check.key, check.readings) for check in wanted)
        if shape != self._shape:
            self._shape = shape
            self._build(wanted)
        measured = {} if docket is None else docket.measured
        findings_by_key = {} if plan is None else {finding.key: finding for finding in findings(plan, measured)}
        for check in wanted:
            for place, value in enumerate(readings_in(measured, check)):
                edit = self.edits[check.key, place]
                if not edit.hasFocus():
                    edit.setText("" if value is None else f"{value:g}")
            self._tell(check, findings_by_key.get(check.key))
        failed = [finding for finding in findings_by_key.values() if finding.level != OK]
        self._back.setVisible(bool(failed))
        if failed and not self.reason.isModified():
            self.reason.setText(failed[0].message)
            self.reason.setCursorPosition(0)
        self._on_back_text()

    def _build(self, wanted: tuple[MeasuredCheck, ...]) -> None:
        self._column.removeWidget(self._back)
        while (item := self._column.takeAt(0)) is not None:
            if (widget := item.widget()) is not None:
                widget.hide()
                widget.deleteLater()
        self.edits, self._folds, self._told = {}, {}, {}
        for check in wanted:
            fold = Fold(f"{check.label}, {check.unit}", self)
            grid = QGridLayout()
            for row, place in enumerate(in_order(check.readings)):
                at = check.readings[place]
                edit = GaugeEdit(fold.inside)
                edit.setObjectName(f"measured.{check.key}.{place}")
                edit.setAccessibleName(f"{check.label}{f' at {at}' if at else ''}, {check.unit}")
                if check.planned is not None:
                    edit.setPlaceholderText(f"{check.planned:.2f}")
                edit.textEdited.connect(lambda _text, check=check: self._on_read(check))
                grid.addWidget(Words(f"at {at}" if at else "", fold.inside), row // 2, 2 * (row % 2))
                grid.addWidget(edit, row // 2, 2 * (row % 2) + 1)
                self.edits[check.key, place] = edit
            fold.column.addLayout(grid)
            words = Words(fold.inside)
            words.setWordWrap(True)
            words.setObjectName(f"measured.{check.key}.told")
            fold.column.addWidget(words)
            self._folds[check.key], self._told[check.key] = fold, words
            self._column.addWidget(fold)
        self._column.addWidget(self._back)

    def _tell(self, check: MeasuredCheck, finding: CheckResult | None) -> None:
        label = self._told[check.key]
        wrong = check.key in self._wrong
        label.setProperty("problem", wrong or (finding is not None and finding.level != OK))
        label.style().unpolish(label)
        label.style().polish(label)
        accepted = f"Accepted: {check.low:g} to {check.high:g} {check.unit}"
        label.setText(accepted if wrong else "" if finding is None else finding.message)
        if finding is not None:
            self._folds[check.key].open()

    def _on_read(self, check: MeasuredCheck) -> None:
        """All readings of a check, as they stand; what is no number between its bounds is marked and left out."""
        docket = self.session.docket
        if docket is None:
            return
        values: list[float | None] = []
        wrong = False
        for place in range(len(check.readings)):
            edit = self.edits[check.key, place]
            text = edit.text().strip().replace(",", ".")
            value: float | None = None
            bad = False
            if text:
                try:
                    value = float(text)
                    bad = not check.low <= value <= check.high
                except ValueError:
                    bad = True
            mark_wrong(edit, bad)
            wrong = wrong or bad
            values.append(None if bad else value)
        self._wrong.add(check.key) if wrong else self._wrong.discard(check.key)
        measured: Document = {**docket.measured, check.key: values}
        if not any(value is not None for value in values):
            measured.pop(check.key)
        self.session.set_column("measured", measured, act="typing what was measured")
        self.refresh()

    def _on_back_text(self) -> None:
        self.send.setEnabled(bool(self.reason.text().strip() and self.whom.text().strip()))

    def _on_send(self) -> None:
        """Back to the bench: why, to whom and when stand with the docket, which is in work again."""
        docket = self.session.docket
        if docket is None:
            return
        sent_back = docket.measured.get("sent_back")
        line = {"why": self.reason.text().strip(), "to": self.whom.text().strip(), "at": today().isoformat()}
        self.session.set_column(
            "measured", {**docket.measured, "sent_back": [*(sent_back if isinstance(sent_back, list) else []), line]}
        )
        self.session.set_column("state", IN_WORK)
        self.reason.setModified(False)
        self.whom.clear()
