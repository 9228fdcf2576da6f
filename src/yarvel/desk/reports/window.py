"""Reports: late or at risk, why heads come back, times against standard; as CSV, promises as a calendar."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import UTC, date, datetime
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import (
    QAbstractItemView,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QTableWidget,
    QTableWidgetItem,
    QTabWidget,
    QVBoxLayout,
    QWidget,
)

from yarvel.desk.asking import Ask
from yarvel.desk.reports.bars_view import BarsView
from yarvel.desk.widgets.manners import close_on_keys, open_at
from yarvel.desk.widgets.plain_table import plain_table
from yarvel.desk.widgets.rows_on_demand import PAGE, RowsOnDemand, fit_columns
from yarvel.desk.widgets.table_out import MOST_PRINTED, ask_and_write, print_rows, texts_of
from yarvel.desk.widgets.words import Words
from yarvel.drawing.listing import Bar
from yarvel.exchange.report_file import write_calendar, write_report
from yarvel.figures.errors import StoreError
from yarvel.figures.rules import HouseRules
from yarvel.heads.styles import STYLES
from yarvel.heads.wear import FINDINGS
from yarvel.workshop.dockets import STATES
from yarvel.workshop.report_store import Reported, reported
from yarvel.workshop.reports import CAUSE_LABELS, Cause, Due, Week, causes, due, promised_by_week
from yarvel.workshop.standards import STANDARDS, Standard, label_of

if TYPE_CHECKING:
    from yarvel.workshop.store import Store

_LATE, _BACK, _TIMES = "Late and at risk", "Why heads come back", "Against standard"
_MOST_BARS = 8
_STANDARD = 2
"""The column of the standard minutes, which are typed there."""
_SLOW = 1.25
"""Times of standard from which an operation wants a look; our own choice."""
_BARS = {_LATE: "Hours promised, by week", _BACK: "Heads that came back, by cause", _TIMES: "Time taken over standard"}
_HEADS = {
    _LATE: ("Docket", "Customer", "Item", "Promised", "Stands", "Working days", "To do, min", "State"),
    _BACK: ("Cause", "Head", "Heads", "Claws"),
    _TIMES: ("Operation", "Skill", "Standard, min", "Taken over standard", "Recorded", "By what was taken, min"),
}
_EMPTY = {
    _LATE: "No open docket.",
    _BACK: "No claw chart yet: open a docket that came back and press Ctrl+J.",
    _TIMES: "No operations.",
}


@dataclass(frozen=True)
class _Told:
    """All that is shown, worked out beside the window."""

    found: Reported
    dues: list[Due]
    weeks: list[Week]
    causes: list[Cause]


class ReportsWindow(QWidget):
    """Three tables with their bars, made anew from the store each time the window is opened."""

    docket_wanted = Signal(int)
    told = Signal(str)

    def __init__(
        self,
        ask: Ask,
        look: Ask,
        rules: Callable[[], HouseRules],
        colours: dict[str, str],
        today: date,
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent, Qt.WindowType.Window)
        self._ask, self._look, self._rules, self._colours, self._today = ask, look, rules, colours, today
        self.setWindowTitle("Reports")
        open_at(self, 1280, 800)
        close_on_keys(self)
        self.tables: dict[str, QTableWidget] = {}
        self.bars: dict[str, BarsView] = {}
        self._empty: dict[str, QLabel] = {}
        self._due: list[Due] = []
        self.tabs = QTabWidget(self)
        for name, heads in _HEADS.items():
            self._add_table(name, heads)
        below = QHBoxLayout()
        self.csv = self._button("csv", "This table as CSV…", self._on_csv)
        self.printed = self._button("print", "Print this table…", self._on_print)
        self.calendar = self._button("calendar", "Promised dates as a calendar…", self._on_calendar)
        for button in (self.csv, self.printed, self.calendar):
            below.addWidget(button)
        below.addStretch(1)
        whole = QVBoxLayout(self)
        whole.addWidget(self.tabs, 1)
        whole.addLayout(below)

    def _button(self, name: str, text: str, act: Callable[[], None]) -> QPushButton:
        button = QPushButton(text, self)
        button.setObjectName(f"reports.{name}")
        button.clicked.connect(lambda _checked=False: act())
        return button

    def _add_table(self, name: str, heads: tuple[str, ...]) -> None:
        page = QWidget(self)
        column = QVBoxLayout(page)
        empty = Words(_EMPTY[name], page)
        empty.setProperty("quiet", True)
        table = plain_table(page, heads, name)
        if name == _TIMES:
            table.setEditTriggers(
                QAbstractItemView.EditTrigger.DoubleClicked | QAbstractItemView.EditTrigger.EditKeyPressed
            )
            table.itemChanged.connect(self._on_pace)
        shown = BarsView(_BARS[name], self._colours, page)
        column.addWidget(empty)
        column.addWidget(table, 1)
        column.addWidget(shown)
        self.tables[name], self._empty[name], self.bars[name] = table, empty, shown
        self.tabs.addTab(page, name)
        if name == _LATE:
            self._late = RowsOnDemand(
                table,
                lambda first, count, then: then([due_row(row) for row in self._due[first : first + count]]),
            )
            table.cellDoubleClicked.connect(lambda row, _column: self.docket_wanted.emit(self._due[row].docket.id))

    def reload(self) -> None:
        """Ask the store, and show what it knows now."""
        today, hours = self._today, self._rules().bench_hours

        def work(store: Store) -> _Told:
            found = reported(store)
            dues = due(found.open, found.work, today, hours)
            return _Told(found, dues, promised_by_week(dues, today), causes(found.charted))

        self._look(work, self._on_loaded)

    def _on_loaded(self, told: _Told) -> None:
        found, self._due, weeks, found_causes = told.found, told.dues, told.weeks, told.causes
        rules = self._rules()
        self._late.show_first([due_row(row) for row in self._due[:PAGE]], len(self._due))
        self._empty[_LATE].setVisible(not self._due)
        hours = max(found.benches, 1) * rules.bench_hours * 5
        self.bars[_LATE].show_bars(
            [
                Bar(f"week of {week.start:%d %b}", week.hours, f"{week.hours:.1f} h", week.hours > hours)
                for week in weeks
            ],
            hours,
            f"{max(found.benches, 1)} benches, {hours:.0f} h a week",
        )
        self._fill(_BACK, [cause_row(cause) for cause in found_causes])
        self.bars[_BACK].show_bars(
            [
                Bar(f"{_cause_of(cause)}: {_head_of(cause)}", cause.heads, str(cause.heads))
                for cause in found_causes[:_MOST_BARS]
            ]
        )
        self._fill(
            _TIMES,
            [
                standard_row(standard, found.ratios.get(key), found.counts.get(key, 0))
                for key, standard in found.standards.items()
            ],
            editable=_STANDARD,
        )
        self.bars[_TIMES].show_bars(
            [Bar(label_of(key), ratio, f"{ratio:.2f}", ratio > _SLOW) for key, ratio in sorted(found.ratios.items())],
            1.0,
            "standard",
        )

    def _fill(self, name: str, rows: list[tuple[str, ...]], editable: int = -1) -> None:
        table = self.tables[name]
        table.blockSignals(True)
        table.setRowCount(len(rows))
        for row, texts in enumerate(rows):
            for column, text in enumerate(texts):
                item = QTableWidgetItem(text)
                if column != editable:
                    item.setFlags(item.flags() & ~Qt.ItemFlag.ItemIsEditable)
                table.setItem(row, column, item)
        table.blockSignals(False)
        fit_columns(table)
        self._empty[name].setVisible(not rows)

    def _on_pace(self, item: QTableWidgetItem) -> None:
        """Somebody typed another pace: it counts for tasks made from now on."""
        head = self.tables[_TIMES].item(item.row(), 0)
        label = "" if head is None else head.text()
        key = next((key for key, one in STANDARDS.items() if one.label == label), label)
        try:
            pace = float(item.text().strip().removesuffix("%").replace(",", "."))
        except ValueError:
            self.told.emit(f"{label}: {item.text()!r} is no share: 10 to 1000 per cent of the standard.")
            self.reload()
            return

        def work(store: Any) -> str:
            try:
                store.tasks.keep_pace(key, pace)
            except StoreError as error:
                return str(error)
            return f"{label}: {pace:g} % of the standard minutes, for tasks made from now on."

        def done(text: str) -> None:
            self.told.emit(text)
            self.reload()

        self._ask(work, done)

    @property
    def shown(self) -> str:
        """The name of the table in front."""
        return self.tabs.tabText(self.tabs.currentIndex())

    def _on_csv(self) -> None:
        heads, rows = self._all_rows()
        self._tell(
            ask_and_write(
                self, f"{self.shown.lower()}.csv", "CSV (*.csv)", lambda target: write_report(heads, rows, target)
            )
        )

    def _on_print(self) -> None:
        heads, rows = self._all_rows()
        print_rows(self, heads, rows[:MOST_PRINTED], self.shown, self._today)

    def _all_rows(self) -> tuple[list[str], list[list[str]]]:
        """The table in front, whole: also what nobody has scrolled to."""
        heads, rows = texts_of(self.tables[self.shown])
        return heads, [list(due_row(row)) for row in self._due] if self.shown == _LATE else rows

    def _on_calendar(self) -> None:
        self._tell(
            ask_and_write(
                self,
                "promised.ics",
                "Calendar (*.ics)",
                lambda target: write_calendar([one.docket for one in self._due], datetime.now(UTC), target),
            )
        )

    def _tell(self, text: str) -> None:
        if text:
            self.told.emit(text)


def due_row(row: Due) -> tuple[str, ...]:
    """One open docket as texts."""
    docket = row.docket
    promised = "" if docket.promised_on is None else docket.promised_on.isoformat()
    return (
        docket.number,
        docket.customer,
        docket.item,
        promised,
        row.standing,
        "" if row.days_left is None else str(row.days_left),
        f"{row.minutes_left:.0f}",
        STATES[docket.state],
    )


def standard_row(standard: Standard, ratio: float | None, recorded: int) -> tuple[str, ...]:
    """One part of the work as texts; what was taken counts once enough times were recorded."""
    taken = ("", "") if ratio is None else (f"{ratio:.2f}", f"{ratio * standard.pace:.0f} %")
    return (standard.label, standard.skill, f"{standard.pace:g}", taken[0], str(recorded or ""), taken[1])


def _cause_of(cause: Cause) -> str:
    return CAUSE_LABELS.get(cause.cause, cause.cause)


def cause_row(cause: Cause) -> tuple[str, ...]:
    """One cause of returns as texts."""
    return (
        _cause_of(cause),
        _head_of(cause),
        str(cause.heads),
        ", ".join(f"{count} {FINDINGS[finding]}" for finding, count in cause.claws),
    )


def _head_of(cause: Cause) -> str:
    return STYLES[cause.style].LABEL if cause.style in STYLES else cause.style
