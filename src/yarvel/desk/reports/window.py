"""Reports in their window: each as a table with its bars, as CSV and on paper; promises as a calendar."""

from __future__ import annotations

from collections.abc import Callable
from datetime import UTC, date, datetime, time, timedelta
from functools import partial
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import (
    QAbstractItemView,
    QHBoxLayout,
    QPushButton,
    QTableWidget,
    QTableWidgetItem,
    QTabWidget,
    QVBoxLayout,
    QWidget,
)

from yarvel.desk.asking import Ask
from yarvel.desk.reports.bars_view import BarsView
from yarvel.desk.reports.register import REPORTS
from yarvel.desk.reports.report import Answer, Line, Report
from yarvel.desk.reports.rows import holding, in_order
from yarvel.desk.widgets.fields import QuietCombo
from yarvel.desk.widgets.manners import close_on_keys, open_at
from yarvel.desk.widgets.plain_table import plain_table
from yarvel.desk.widgets.rows_on_demand import PAGE, RowsOnDemand, fit_columns
from yarvel.desk.widgets.table_out import MOST_PRINTED, ask_and_write, print_rows
from yarvel.desk.widgets.words import Line as TextLine
from yarvel.desk.widgets.words import Words
from yarvel.exchange.report_file import write_calendar, write_report
from yarvel.figures.errors import StoreError
from yarvel.figures.rules import HouseRules
from yarvel.workshop.clock import kept
from yarvel.workshop.report_store import OpenDocket, reported

if TYPE_CHECKING:
    from yarvel.workshop.store import Store


PERIODS: tuple[tuple[str, int | None], ...] = (
    ("all that is known", None),
    ("the last week", 7),
    ("four weeks", 28),
    ("a quarter", 91),
    ("a year", 365),
)
"""Over which time is told what is over; how many days that are."""
_USUAL_DAYS = 365
_NO_ROWS = "No row holds these words."


class _Page(QWidget):
    """One report: what stands in the place of its rows while there are none, its table, its bars. A press on a head
    sorts by it, once more the other way round; ``shown`` are the rows as they stand."""

    docket_wanted = Signal(int)
    customer_wanted = Signal(str)
    typed = Signal(str, str, str)

    def __init__(self, report: Report, colours: dict[str, str], parent: QWidget) -> None:
        super().__init__(parent)
        self.report, self.answer = report, Answer((), ())
        self.shown: tuple[Line, ...] = ()
        self._words, self._column, self._falling = "", -1, False
        self._empty = Words(report.empty, self)
        self._empty.setProperty("quiet", True)
        self.table: QTableWidget = plain_table(self, report.heads, report.title)
        self.bars = BarsView(report.picture, colours, self)
        column = QVBoxLayout(self)
        column.addWidget(self._empty)
        column.addWidget(self.table, 1)
        column.addWidget(self.bars)
        self.table.cellDoubleClicked.connect(self._on_opened)
        header = self.table.horizontalHeader()
        header.setSectionsClickable(True)
        header.sectionClicked.connect(self._on_head)
        self._rows: RowsOnDemand | None = None
        if report.edited is None:
            self._rows = RowsOnDemand(self.table, lambda first, count, then: then(self._texts(first, count)))
        else:
            typing = QAbstractItemView.EditTrigger.DoubleClicked | QAbstractItemView.EditTrigger.EditKeyPressed
            self.table.setEditTriggers(typing)
            self.table.itemChanged.connect(self._on_typed)

    def show_answer(self, answer: Answer) -> None:
        """Rows and bars anew."""
        self.answer = answer
        self.bars.show_bars(answer.bars, answer.limit, answer.limit_text)
        self._show_rows()

    def show_words(self, words: str) -> None:
        """Only rows in which every word stands."""
        self._words = words
        self._show_rows()

    def _on_head(self, column: int) -> None:
        self._falling = column == self._column and not self._falling
        self._column = column
        order = Qt.SortOrder.DescendingOrder if self._falling else Qt.SortOrder.AscendingOrder
        self.table.horizontalHeader().setSortIndicatorShown(True)
        self.table.horizontalHeader().setSortIndicator(column, order)
        self._show_rows()

    def _show_rows(self) -> None:
        held = holding(self.answer.lines, self._words)
        self.shown = held if self._column < 0 else in_order(held, self._column, self._falling)
        if self._rows is None:
            self._fill()
        else:
            self._rows.show_first(self._texts(0, PAGE), len(self.shown))
        self._empty.setText(_NO_ROWS if self.answer.lines else self.report.empty)
        self._empty.setVisible(not self.shown)

    def _texts(self, first: int, count: int) -> list[tuple[str, ...]]:
        return [line.texts for line in self.shown[first : first + count]]

    def _fill(self) -> None:
        self.table.blockSignals(True)
        self.table.setRowCount(len(self.shown))
        for row, line in enumerate(self.shown):
            for column, text in enumerate(line.texts):
                item = QTableWidgetItem(text)
                if column != self.report.edited:
                    item.setFlags(item.flags() & ~Qt.ItemFlag.ItemIsEditable)
                self.table.setItem(row, column, item)
        self.table.blockSignals(False)
        fit_columns(self.table)

    def _on_opened(self, row: int, _column: int) -> None:
        line = self.shown[row]
        if line.docket_id is not None:
            self.docket_wanted.emit(line.docket_id)
        elif line.customer:
            self.customer_wanted.emit(line.customer)

    def _on_typed(self, item: QTableWidgetItem) -> None:
        line = self.shown[item.row()]
        self.typed.emit(line.key, line.texts[0], item.text())


class ReportsWindow(QWidget):
    """Every report of the register, made anew from the store each time the window is opened."""

    docket_wanted = Signal(int)
    customer_wanted = Signal(str)
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
        self._ask, self._look, self._rules, self._today = ask, look, rules, today
        self.setWindowTitle("Reports")
        open_at(self, 1280, 800)
        close_on_keys(self)
        self._open: list[OpenDocket] = []
        self.tabs = QTabWidget(self)
        self.pages: dict[str, _Page] = {}
        for key, report in REPORTS.items():
            page = _Page(report, colours, self)
            page.docket_wanted.connect(self.docket_wanted)
            page.customer_wanted.connect(self.customer_wanted)
            page.typed.connect(partial(self._on_typed, report))
            self.pages[key] = page
            self.tabs.addTab(page, report.title)
        below = QHBoxLayout()
        self.csv = self._button("csv", "This table as CSV…", self._on_csv)
        self.printed = self._button("print", "Print this table…", self._on_print)
        self.calendar = self._button("calendar", "Promised dates as a calendar…", self._on_calendar)
        for button in (self.csv, self.printed, self.calendar):
            below.addWidget(button)
        below.addStretch(1)
        whole = QVBoxLayout(self)
        whole.addLayout(self._above())
        whole.addWidget(self.tabs, 1)
        whole.addLayout(below)

    def _above(self) -> QHBoxLayout:
        """Over which time, and of which words."""
        self.period = QuietCombo(self)
        self.period.setObjectName("reports.period")
        self.period.setAccessibleName("Over which time")
        for label, days in PERIODS:
            self.period.addItem(label, days)
        self.period.setCurrentIndex(self.period.findData(_USUAL_DAYS))
        self.period.activated.connect(lambda _row: self.reload())
        self.words = TextLine(self)
        self.words.setObjectName("reports.words")
        self.words.setAccessibleName("Words that the rows hold")
        self.words.setPlaceholderText("rows that hold …")
        self.words.textChanged.connect(self._on_words)
        row = QHBoxLayout()
        row.addWidget(Words("What is done, over", self))
        row.addWidget(self.period)
        row.addWidget(self.words, 1)
        return row

    def _on_words(self, words: str) -> None:
        for page in self.pages.values():
            page.show_words(words)

    def _button(self, name: str, text: str, act: Callable[[], None]) -> QPushButton:
        button = QPushButton(text, self)
        button.setObjectName(f"reports.{name}")
        button.clicked.connect(lambda _checked=False: act())
        return button

    @property
    def _shown(self) -> _Page:
        """The report in front."""
        return list(self.pages.values())[self.tabs.currentIndex()]

    def reload(self) -> None:
        """Ask the store, and show what it knows now."""
        today, rules, days = self._today, self._rules(), self.period.currentData()
        since = None if days is None else kept(datetime.combine(today, time())) - timedelta(days=days)

        def work(store: Store) -> tuple[list[OpenDocket], dict[str, Answer]]:
            found = reported(store, since)
            return found.open, {key: report.answer(found, rules, today) for key, report in REPORTS.items()}

        self._look(work, self._on_loaded)

    def _on_loaded(self, told: tuple[list[OpenDocket], dict[str, Answer]]) -> None:
        self._open, answers = told
        for key, answer in answers.items():
            self.pages[key].show_answer(answer)

    def _on_typed(self, report: Report, key: str, label: str, text: str) -> None:
        edit = report.edit
        if edit is None:
            return

        def work(store: Store) -> str:
            try:
                return edit(store, key, label, text)
            except StoreError as error:
                return str(error)

        def done(said: str) -> None:
            self.told.emit(said)
            self.reload()

        self._ask(work, done)

    def _on_csv(self) -> None:
        page = self._shown
        rows = [line.texts for line in page.shown]  # whole: also what nobody has scrolled to
        name = f"{page.report.title.lower()}.csv"
        self._tell(
            ask_and_write(self, name, "CSV (*.csv)", lambda target: write_report(page.report.heads, rows, target))
        )

    def _on_print(self) -> None:
        page = self._shown
        rows = [line.texts for line in page.shown[:MOST_PRINTED]]
        print_rows(self, page.report.heads, rows, page.report.title, self._today)

    def _on_calendar(self) -> None:
        self._tell(
            ask_and_write(
                self,
                "promised.ics",
                "Calendar (*.ics)",
                lambda target: write_calendar(self._open, datetime.now(UTC), target),
            )
        )

    def _tell(self, text: str) -> None:
        if text:
            self.told.emit(text)
