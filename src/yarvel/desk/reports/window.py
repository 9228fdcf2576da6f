"""Reports: late or at risk, why heads come back, times against standard; as CSV, promises as a calendar."""

from __future__ import annotations

from collections.abc import Callable
from datetime import UTC, date, datetime
from pathlib import Path
from typing import Any

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import (
    QAbstractItemView,
    QFileDialog,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QTableWidget,
    QTableWidgetItem,
    QTabWidget,
    QVBoxLayout,
    QWidget,
)

from yarvel.exchange.report_file import write_calendar, write_report
from yarvel.figures.rules import HouseRules
from yarvel.heads.styles import STYLES
from yarvel.workshop.dockets import Docket
from yarvel.workshop.reports import causes, due
from yarvel.workshop.tasks import Task

Ask = Callable[[Callable[[Any], Any], Callable[[Any], None]], None]
_EVERY = 100_000
_HEADS = {
    "Late and at risk": ("Docket", "Customer", "Item", "Promised", "Stands", "Working days", "To do, min", "State"),
    "Why heads come back": ("Cause", "Head", "Heads", "Claws"),
    "Against standard": ("Operation", "Standard, min", "Taken over standard", "Recorded"),
}
_EMPTY = {
    "Late and at risk": "No open docket.",
    "Why heads come back": "No claw chart yet: open a docket that came back and press Ctrl+J.",
    "Against standard": "Not enough times yet: five finished tasks of one operation, started and stopped on the board.",
}


class ReportsWindow(QWidget):
    """Three tables made anew from the store each time the window is opened."""

    docket_wanted = Signal(int)
    told = Signal(str)

    def __init__(self, ask: Ask, rules: Callable[[], HouseRules], today: date, parent: QWidget | None = None) -> None:
        super().__init__(parent, Qt.WindowType.Window)
        self._ask, self._rules, self._today = ask, rules, today
        self.setWindowTitle("Reports")
        self.resize(1280, 800)
        self.tables: dict[str, QTableWidget] = {}
        self._empty: dict[str, QLabel] = {}
        self._dockets: list[Docket] = []
        self._ids: list[int] = []
        self.tabs = QTabWidget(self)
        for name, heads in _HEADS.items():
            self._add_table(name, heads)
        self.csv = QPushButton("This table as CSV…", self)
        self.csv.setObjectName("reports.csv")
        self.csv.clicked.connect(self._on_csv)
        self.calendar = QPushButton("Promised dates as a calendar…", self)
        self.calendar.setObjectName("reports.calendar")
        self.calendar.clicked.connect(self._on_calendar)
        below = QHBoxLayout()
        below.addWidget(self.csv)
        below.addWidget(self.calendar)
        below.addStretch(1)
        whole = QVBoxLayout(self)
        whole.addWidget(self.tabs, 1)
        whole.addLayout(below)

    def _add_table(self, name: str, heads: tuple[str, ...]) -> None:
        page = QWidget(self)
        column = QVBoxLayout(page)
        empty = QLabel(_EMPTY[name], page)
        empty.setProperty("quiet", True)
        table = QTableWidget(0, len(heads), page)
        table.setAccessibleName(name)
        table.setHorizontalHeaderLabels(list(heads))
        table.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        table.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        table.verticalHeader().hide()
        table.horizontalHeader().setStretchLastSection(True)
        column.addWidget(empty)
        column.addWidget(table, 1)
        self.tables[name], self._empty[name] = table, empty
        self.tabs.addTab(page, name)
        if name == "Late and at risk":
            table.cellDoubleClicked.connect(lambda row, _column: self.docket_wanted.emit(self._ids[row]))

    def reload(self) -> None:
        """Ask the store, and show what it knows now."""
        def work(store: Any) -> tuple[list[Docket], list[Task], dict[str, float], dict[str, Any]]:
            return (store.dockets(limit=_EVERY), store.tasks.tasks(), store.tasks.against_standard(),
                    store.tasks.operations())

        self._ask(work, self._on_loaded)

    def _on_loaded(self, found: tuple[list[Docket], list[Task], dict[str, float], dict[str, Any]]) -> None:
        self._dockets, tasks, ratios, operations = found
        rows = due(self._dockets, tasks, self._today, self._rules().bench_hours)
        self._ids = [row.docket.id for row in rows]
        self._fill("Late and at risk", [
            (row.docket.number, row.docket.customer, row.docket.item,
             "" if row.docket.promised_on is None else row.docket.promised_on.isoformat(), row.standing,
             "" if row.days_left is None else str(row.days_left), f"{row.minutes_left:.0f}", row.docket.state)
            for row in rows])
        self._fill("Why heads come back", [
            (cause.cause, STYLES[cause.style].LABEL if cause.style in STYLES else cause.style, str(cause.heads),
             ", ".join(f"{count} {finding}" for finding, count in cause.claws)) for cause in causes(self._dockets)])
        counts = {name: sum(task.operation == name and task.taken > 0 and task.state == "done" for task in tasks)
                  for name in ratios}
        self._fill("Against standard", [(name, f"{operations[name].minutes:.0f}", f"{ratio:.2f}", str(counts[name]))
                                        for name, ratio in sorted(ratios.items())])

    def _fill(self, name: str, rows: list[tuple[str, ...]]) -> None:
        table = self.tables[name]
        table.setRowCount(len(rows))
        for row, texts in enumerate(rows):
            for column, text in enumerate(texts):
                table.setItem(row, column, QTableWidgetItem(text))
        table.resizeColumnsToContents()
        self._empty[name].setVisible(not rows)

    def _rows(self, name: str) -> list[list[str]]:
        table = self.tables[name]
        items = [[table.item(row, column) for column in range(table.columnCount())] for row in range(table.rowCount())]
        return [["" if item is None else item.text() for item in row] for row in items]

    def _on_csv(self) -> None:
        name = self.tabs.tabText(self.tabs.currentIndex())
        self._write(f"{name.lower()}.csv", "CSV (*.csv)", lambda target: write_report(_HEADS[name], self._rows(name),
                                                                                     target))

    def _on_calendar(self) -> None:
        self._write("promised.ics", "Calendar (*.ics)", lambda target: write_calendar(
            self._dockets, datetime.now(UTC), target))

    def _write(self, suggested: str, kind: str, write: Callable[[Path], None]) -> None:
        name, _ = QFileDialog.getSaveFileName(self, "Write to", suggested, kind)
        if not name:
            return
        try:
            write(Path(name))
        except OSError as error:
            self.told.emit(f"It could not be written: {error.strerror or error}. Choose another folder.")
        else:
            self.told.emit(f"Written to {name}")
