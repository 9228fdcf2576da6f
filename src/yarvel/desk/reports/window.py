"""Reports in their window: each as a table with its bars, as CSV and on paper; promises as a calendar."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from datetime import datetime, time, timedelta
from functools import cached_property, partial
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt, QTimer, Signal
from PySide6.QtGui import QKeySequence, QShortcut
from PySide6.QtWidgets import (
    QHBoxLayout,
    QPushButton,
    QTableWidget,
    QTabWidget,
    QVBoxLayout,
    QWidget,
)

from yarvel import clock
from yarvel.clock import here, kept, now
from yarvel.desk.papers.table_out import MOST_PRINTED, ask_and_write, print_rows
from yarvel.desk.reports.bars_view import BarsView
from yarvel.desk.reports.register import REPORTS
from yarvel.desk.reports.report import Answer, Report, ReportLine
from yarvel.desk.reports.sorted_rows import SortedRows
from yarvel.desk.storing.asking import Ask
from yarvel.desk.widgets.choice import Choice
from yarvel.desk.widgets.manners import close_on_keys, open_at
from yarvel.desk.widgets.plain_table import choose_row
from yarvel.desk.widgets.words import LineField, Words
from yarvel.exchange.report_file import write_calendar, write_report
from yarvel.figures.errors import StoreError
from yarvel.figures.rules import HouseRules
from yarvel.workshop.dockets.records import STATES
from yarvel.workshop.reports.report_store import MOST_BEHIND, OpenDocket, dockets_behind, reported

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
_BEHIND_HEADS = ("Docket", "Promised", "State", "Customer", "Item")


class _Page(QWidget):
    """One report: its rows, its bars, and in the rows' place, where a bar or a row that counts several was pressed, the
    dockets behind it."""

    docket_wanted = Signal(int)
    customer_wanted = Signal(str)
    behind_wanted = Signal(str, object)
    typed = Signal(str, str, str)

    def __init__(self, report: Report, colours: dict[str, str], parent: QWidget) -> None:
        super().__init__(parent)
        self.report, self.answer, self._colours = report, Answer((), ()), colours
        self._column = QVBoxLayout(self)
        self._words = ""

    @cached_property
    def rows(self) -> SortedRows:
        """The report's rows; made when there is something to show, so that no window waits for eight tables."""
        report = self.report
        sorted_rows = SortedRows(report.title, report.heads, report.empty, self, report.edited)
        sorted_rows.opened.connect(self._on_opened)
        sorted_rows.typed.connect(lambda held, text: self.typed.emit(held.key, held.texts[0], text))
        self._column.insertWidget(0, sorted_rows, 1)
        return sorted_rows

    @cached_property
    def bars(self) -> BarsView:
        """The report's picture, under its rows; made as they are."""
        bars_view = BarsView(self.report.picture, self._colours, self)
        bars_view.pressed.connect(self._on_bar)
        self._column.addWidget(bars_view)
        return bars_view

    @cached_property
    def behind(self) -> SortedRows:
        """The dockets behind a bar or a row, with what they are and the way back; made when it is first wanted."""
        sorted_rows = SortedRows(
            f"{self.report.title}, dockets behind", _BEHIND_HEADS, "These are not here any more.", self
        )
        sorted_rows.opened.connect(lambda held: self.docket_wanted.emit(held.docket_id))
        self.back = QPushButton("Back to all rows", self)
        self.back.setObjectName(f"reports.{self.report.key}.back")
        self.back.setToolTip("Back to all rows (Alt+Left)")
        self.back.clicked.connect(self.show_all)
        returning = QShortcut(QKeySequence("Alt+Left"), self, self.show_all)
        returning.setContext(Qt.ShortcutContext.WidgetWithChildrenShortcut)
        self._of, self._above = Words(self), QWidget(self)
        line = QHBoxLayout(self._above)
        line.setContentsMargins(0, 0, 0, 0)
        line.addWidget(self._of, 1)
        line.addWidget(self.back)
        for widget in (sorted_rows, self._above):
            widget.hide()  # a layout shows what is not hidden on purpose
        self._column.insertWidget(0, self._above)
        self._column.insertWidget(2, sorted_rows, 1)
        return sorted_rows

    @property
    def _turned(self) -> bool:
        """Whether the dockets behind something are looked at."""
        return "behind" in self.__dict__ and not self.behind.isHidden()

    @property
    def table(self) -> QTableWidget:
        """The report's own table."""
        return self.rows.table

    @property
    def shown(self) -> tuple[ReportLine, ...]:
        """The report's rows as they stand."""
        return self.rows.shown

    @property
    def front(self) -> SortedRows:
        """What is looked at: the report's rows, or the dockets behind some of them."""
        return self.behind if self._turned else self.rows

    def show_answer(self, answer: Answer) -> None:
        """Rows and bars anew."""
        self.answer = answer
        self.bars.show_bars([bar.bar for bar in answer.bars], answer.limit, answer.limit_text)
        self.rows.show_lines(answer.lines)

    def show_words(self, words: str) -> None:
        """Only rows in which every word stands."""
        self._words = words
        self.rows.show_words(words)
        if self._turned:
            self.behind.show_words(words)

    def show_behind(self, what: str, held: Sequence[OpenDocket], count: int) -> None:
        """The dockets behind a bar or a row, in its place; ``count`` of them are counted there."""
        lines = tuple(ReportLine(_behind_texts(docket), docket.id) for docket in held)
        some = f"the newest {len(lines)} of {count}" if count > MOST_BEHIND else f"{len(lines)}"
        self.behind.title = f"{self.report.title}, {what}"
        self.behind.show_words(self._words)
        self.behind.show_lines(lines)
        self._of.setText(f"{what}: {some} {'docket' if some == '1' else 'dockets'}")
        self._show_front(behind=True)
        self.behind.table.setFocus()
        choose_row(self.behind.table, 0)

    def show_all(self) -> None:
        """Back to the report's rows."""
        if self._turned:
            self._show_front(behind=False)
            self.rows.table.setFocus()

    def _show_front(self, behind: bool) -> None:
        self._above.setVisible(behind)
        self.behind.setVisible(behind)
        self.rows.setVisible(not behind)

    def _on_opened(self, line: ReportLine) -> None:
        if line.docket_id is not None:
            self.docket_wanted.emit(line.docket_id)
        elif line.customer:
            self.customer_wanted.emit(line.customer)
        elif line.behind:
            self.behind_wanted.emit(" ".join(line.texts[:2]), line.behind)

    def _on_bar(self, number: int) -> None:
        bar = self.answer.bars[number]
        if bar.customer:
            self.customer_wanted.emit(bar.customer)
        elif bar.behind:
            self.behind_wanted.emit(bar.bar.label, bar.behind)


def _behind_texts(docket: OpenDocket) -> tuple[str, ...]:
    promised = "" if docket.promised_on is None else docket.promised_on.isoformat()
    return (docket.number, promised, STATES[docket.state], docket.customer, docket.item)


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
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent, Qt.WindowType.Window)
        self._ask, self._look, self._rules = ask, look, rules
        self.setWindowTitle("Reports")
        open_at(self, 1280, 800)
        close_on_keys(self)
        self._open: list[OpenDocket] = []
        self._answers: dict[str, Answer] = {}
        self._stale: list[str] = []
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.timeout.connect(lambda: self._show(self._stale[0]))
        self.tabs = QTabWidget(self)
        self.pages: dict[str, _Page] = {}
        for key, report in REPORTS.items():
            page = _Page(report, colours, self)
            page.docket_wanted.connect(self.docket_wanted)
            page.customer_wanted.connect(self.customer_wanted)
            page.behind_wanted.connect(partial(self._on_behind, page))
            page.typed.connect(partial(self._on_typed, report))
            self.pages[key] = page
            self.tabs.addTab(page, report.title)
        self.tabs.currentChanged.connect(lambda _place: self._show(self._shown.report.key))
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
        self.period = Choice(self)
        self.period.setObjectName("reports.period")
        self.period.setAccessibleName("Over which time")
        for label, days in PERIODS:
            self.period.addItem(label, days)
        self.period.setCurrentIndex(self.period.findData(_USUAL_DAYS))
        self.period.activated.connect(lambda _row: self.reload())
        self.words = LineField(self)
        self.words.setObjectName("reports.words")
        self.words.setAccessibleName("Words that the rows hold")
        self.words.setPlaceholderText("rows that hold …")
        self.words.textChanged.connect(self._on_words)
        row = QHBoxLayout()
        row.addWidget(Words("What is done, over", self))
        row.addWidget(self.period)
        row.addWidget(self.words, 1)
        return row

    def _on_words(self, _words: str) -> None:
        self._stale = list(REPORTS)
        self._show(self._shown.report.key)

    def _show(self, key: str) -> None:
        """A report as it is known now; then the others, one after the other, so that keys are answered meanwhile."""
        if key in self._stale:
            self._stale.remove(key)
            answer = self._answers.pop(key, None)
            if answer is not None:
                self.pages[key].show_answer(answer)
            self.pages[key].show_words(self.words.text())
        if self._stale:
            self._later.start(0)

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
        today, rules, days = clock.today(), self._rules(), self.period.currentData()
        since = None if days is None else kept(datetime.combine(today, time())) - timedelta(days=days)

        def work(store: Store) -> tuple[list[OpenDocket], dict[str, Answer]]:
            found = reported(store, since)
            return found.open, {key: report.answer(found, rules, today) for key, report in REPORTS.items()}

        self._look(work, self._on_loaded)

    def _on_loaded(self, told: tuple[list[OpenDocket], dict[str, Answer]]) -> None:
        self._open, self._answers = told
        self._stale = list(REPORTS)
        self._show(self._shown.report.key)

    def _on_behind(self, page: _Page, what: str, ids: tuple[int, ...]) -> None:
        def show(held: list[OpenDocket]) -> None:
            page.show_behind(what, held, len(ids))

        self._look(lambda store: dockets_behind(store, ids), show)

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
        front = self._shown.front
        rows = front.texts()
        name = f"{front.title.lower()}.csv"
        self._tell(ask_and_write(self, name, "CSV (*.csv)", lambda target: write_report(front.heads, rows, target)))

    def _on_print(self) -> None:
        front = self._shown.front
        print_rows(self, front.heads, front.texts()[:MOST_PRINTED], front.title, clock.today())

    def _on_calendar(self) -> None:
        self._tell(
            ask_and_write(
                self,
                "promised.ics",
                "Calendar (*.ics)",
                lambda target: write_calendar(self._open, here(now()), target),
            )
        )

    def _tell(self, text: str) -> None:
        if text:
            self.told.emit(text)
