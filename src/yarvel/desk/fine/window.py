"""The fine book: metal in and out as it is weighed, balances of people and dockets, the end of the month."""

from __future__ import annotations

from collections.abc import Callable
from itertools import pairwise
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import (
    QFileDialog,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QScrollArea,
    QTableWidget,
    QTabWidget,
    QVBoxLayout,
    QWidget,
)

from yarvel.clock import here, today
from yarvel.desk.fine.balance_view import BalanceView
from yarvel.desk.fine.month_end import MonthEnd
from yarvel.desk.papers.table_out import MOST_PRINTED, print_rows, texts_of, write_rows
from yarvel.desk.storing.asking import Ask, DoAct
from yarvel.desk.widgets.choice import Choice
from yarvel.desk.widgets.fields import mark_wrong
from yarvel.desk.widgets.manners import close_on_keys, open_at
from yarvel.desk.widgets.plain_table import open_by, plain_table
from yarvel.desk.widgets.row_filter import RowFilter
from yarvel.desk.widgets.rows_on_demand import Row, RowsOnDemand, fill_rows, fit_columns
from yarvel.desk.widgets.words import LineField, Words
from yarvel.figures.rules import HouseRules
from yarvel.metals.alloys import alloy_label, alloys_of
from yarvel.workshop.acts import WAITS, ReverseLine, WeighMetal
from yarvel.workshop.metal.fine_book import KINDS, Balance, FineEntry
from yarvel.workshop.metal.fine_store import LINE_COLUMNS
from yarvel.workshop.metal.fine_sums import BALANCE_COLUMNS, Overview, docket_balances, overview
from yarvel.workshop.people.person import Person

if TYPE_CHECKING:
    from yarvel.workshop.store import Store

_ALL = 10_000_000
_LINES = ("When", "What", "Metal", "Mass, g", "Who", "Docket", "Note", "By")
_BALANCE = ("Of", "Metal", "Issued", "Back", "Offcuts", "Filings", "Used", "Open", "Share", "")
_EMPTY = (
    "No line yet. Weigh the metal, say who takes it, press Enter. What was bought comes first, so that the safe is not "
    "in debt."
)


class FineBookWindow(QWidget):
    """A line to weigh into, and what the lines come to."""

    told = Signal(str)
    docket_wanted = Signal(str)

    def __init__(
        self,
        ask: Ask,
        look: Ask,
        act: DoAct,
        rules: HouseRules,
        colours: dict[str, str],
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent, Qt.WindowType.Window)
        self._look, self._act, self._rules = look, act, rules
        self._ask = ask
        self.setWindowTitle("The fine book")
        open_at(self, 1280, 800)
        close_on_keys(self)
        self.by_eye = BalanceView(colours, self)
        self.month_end = MonthEnd(ask, look, lambda: self._rules, self)
        self.kind = _combo(self, "What happened", [(kind, label.capitalize()) for kind, label in KINDS.items()])
        self.alloy = _combo(self, "Metal", [(alloy.key, alloy.label) for alloy in alloys_of(rules).values()])
        self.person = _combo(self, "Who", [])
        self.mass, self.docket, self.note = (
            self._line(name, hint) for name, hint in (("mass", "grams"), ("docket", "number"), ("note", ""))
        )
        self.mass.setProperty("reads", "g")
        self.add = QPushButton("Write it down", self)
        self.add.setObjectName("fine.add")
        self.add.clicked.connect(self._on_add)
        self._problem = Words(self)
        self._problem.setProperty("problem", True)
        self._problem.setObjectName("fine.problem")
        self.month_end.told.connect(self._problem.setText)
        self.lines, self.people, self.dockets = (
            plain_table(self, [head[:1].upper() + head[1:] for head in heads], name)
            for heads, name in (
                (_LINES, "Lines"),
                (_BALANCE, "Balance of people"),
                (_BALANCE, "Balance of dockets"),
            )
        )
        self._all_lines = RowsOnDemand(self.lines, self._fetch_lines, self.reload, tuple(LINE_COLUMNS))
        self._all_dockets = RowsOnDemand(self.dockets, self._fetch_dockets, self.reload, BALANCE_COLUMNS)
        self.words = RowFilter(self, self.people, self.month_end.table, rest=True)
        self.words.setObjectName("fine.words")
        self.words.asked.connect(self.reload)
        open_by(self.lines, _LINES.index("Docket"), self.docket_wanted.emit)
        open_by(self.dockets, _BALANCE.index("Of"), self.docket_wanted.emit)
        self.ready = False
        self._empty = Words(_EMPTY, self)
        self._empty.setProperty("quiet", True)
        self._lay_out()
        for line in (self.mass, self.docket, self.note):
            line.returnPressed.connect(self._on_add)
        typed = (self.kind, self.alloy, self.mass, self.person, self.docket, self.note, self.add)
        for before, after in pairwise(typed):
            self.setTabOrder(before, after)

    def _line(self, name: str, hint: str) -> QLineEdit:
        edit = LineField(self)
        edit.setObjectName(f"fine.{name}")
        edit.setAccessibleName(name.capitalize())
        edit.setPlaceholderText(hint)
        return edit

    def _lay_out(self) -> None:
        grid = QGridLayout()
        for column, (word, widget) in enumerate(
            (
                ("What", self.kind),
                ("Metal", self.alloy),
                ("Mass, g", self.mass),
                ("Who", self.person),
                ("Docket", self.docket),
                ("Note", self.note),
            )
        ):
            title = Words(word, self)
            title.setBuddy(widget)
            grid.addWidget(title, 0, column)
            grid.addWidget(widget, 1, column)
        grid.addWidget(self.add, 1, 6)
        grid.setColumnStretch(5, 1)
        people = QWidget(self)
        eye = QVBoxLayout(people)
        eye.addWidget(_scrolled(self.by_eye, self), 1)
        eye.addWidget(self.people, 1)
        tabs = QTabWidget(self)
        for widget, word in (
            (self.lines, "Lines"),
            (people, "People"),
            (self.dockets, "Dockets"),
            (self.month_end, "Month's end"),
        ):
            tabs.addTab(widget, word)
        self.tabs = tabs
        below = QHBoxLayout()
        for name, text, act in (
            ("csv", "This list as CSV…", self._on_csv),
            ("print", "Print this list…", self._on_print),
            ("reverse", "Take the chosen line back", self._on_reverse),
        ):
            button = QPushButton(text, self)
            button.setObjectName(f"fine.{name}")
            button.clicked.connect(lambda _checked=False, act=act: act())
            below.addWidget(button)
        self._reverse = button  # of the three the last: it is for lines only
        tabs.currentChanged.connect(lambda place: self._reverse.setVisible(place == 0))
        below.addStretch(1)
        whole = QVBoxLayout(self)
        whole.addLayout(grid)
        whole.addWidget(self._problem)
        whole.addWidget(self._empty)
        whole.addWidget(self.words)
        whole.addWidget(tabs, 1)
        whole.addLayout(below)

    def _on_reverse(self) -> None:
        """A mistyped line is taken back by a line; the note says why."""
        row = self.lines.currentRow()
        if row < 0 or not self.lines.selectedItems():
            self._problem.setText("Choose the line that was mistyped; the note may say why.")
            return
        seen = tuple(texts_of(self.lines)[1][row])

        def done(problem: str) -> None:
            self._problem.setText(problem)
            if not problem:
                self.note.clear()
            self.reload()

        def take(found: list[FineEntry]) -> None:
            if not found or _entry_row(found[0], self._rules) != seen:  # somebody has written a line meanwhile
                self._problem.setText("The book has grown meanwhile: choose the line again.")
                self.reload()
                return
            self._act(ReverseLine(found[0].id, self.note.text().strip()), done)

        order, words = self._all_lines.order, self.words.words
        self._look(lambda store: store.fine.page(row, 1, order, words), take)

    @property
    def shown(self) -> tuple[QTableWidget, str]:
        """The list in front and what it is called."""
        row = self.tabs.currentIndex()
        words = self.tabs.tabText(row)
        name = f"{words} {self.month_end.name}" if row == 3 else f"Fine book, {words.lower()}"
        return (self.lines, self.people, self.dockets, self.month_end.table)[row], name

    def _on_csv(self) -> None:
        """The whole list, also what nobody has scrolled to."""
        name, _ = QFileDialog.getSaveFileName(self, "Write to", f"{self.shown[1].lower()}.csv", "CSV (*.csv)")
        if name:
            heads = texts_of(self.shown[0])[0]
            self._with_all(lambda rows: self._problem.setText(write_rows(heads, rows, Path(name))))

    def _on_print(self) -> None:
        table, title = self.shown
        heads = texts_of(table)[0]
        self._with_all(lambda rows: print_rows(self, heads, rows[:MOST_PRINTED], title, today()))

    def _with_all(self, then: Callable[[list[Row]], None]) -> None:
        """All rows of the list in front."""
        table = self.shown[0]
        by_line, by_docket, words = self._all_lines.order, self._all_dockets.order, self.words.words
        if table is self.lines:
            self._look(
                lambda store: store.fine.page(limit=_ALL, order=by_line, words=words),
                lambda found: then([_entry_row(entry, self._rules) for entry in found]),
            )
        elif table is self.dockets:
            self._look(
                lambda store: docket_balances(store, limit=_ALL, order=by_docket, words=words),
                lambda found: then([self._balance(balance_row) for balance_row in found]),
            )
        else:
            then([tuple(row) for row in texts_of(table)[1]])

    def reload(self, rules: HouseRules | None = None) -> None:
        """Ask the store for the newest lines and what they all come to; by other rules than before, and with the alloys
        that they know, where some are given."""
        if rules is not None and rules != self._rules:
            self._rules, chosen_alloy = rules, self.alloy.currentData()
            self.alloy.clear()
            for alloy in alloys_of(rules).values():
                self.alloy.addItem(alloy.label, alloy.key)
            self.alloy.setCurrentIndex(max(self.alloy.findData(chosen_alloy), 0))
        lines, balances = self._all_lines.wanted, self._all_dockets.wanted
        by_line, by_docket, words = self._all_lines.order, self._all_dockets.order, self.words.words

        def work(store: Store) -> tuple[list[Person], Overview, list[FineEntry], list[Balance]]:
            newest = store.fine.page(limit=lines, order=by_line, words=words)
            dockets = docket_balances(store, limit=balances, order=by_docket, words=words)
            return store.people.all(), overview(store), newest, dockets

        self._look(work, self._on_loaded)
        self.month_end.reload()

    def _on_loaded(self, found: tuple[list[Person], Overview, list[FineEntry], list[Balance]]) -> None:
        people, sums, newest, dockets = found
        chosen_person = self.person.currentData()
        self.person.clear()
        self.person.addItem("–", None)
        for person in people:
            self.person.addItem(person.name, person.id)
        only = not self.ready and len(people) == 1  # who works alone need not say so
        self.person.setCurrentIndex(1 if only else max(self.person.findData(chosen_person), 0))
        self._empty.setVisible(not sums.lines)
        self._all_lines.show_first([_entry_row(entry, self._rules) for entry in newest], sums.lines)
        self._all_dockets.show_first([self._balance(balance) for balance in dockets], sums.dockets)
        _fill(self.people, [self._balance(balance) for balance in sums.people])
        self.by_eye.show_balances(sums.people, self._rules)
        self.ready = True

    def _fetch_lines(self, first: int, count: int, then: Callable[[list[Row]], None]) -> None:
        order, words = self._all_lines.order, self.words.words
        self._look(
            lambda store: store.fine.page(first, count, order, words),
            lambda found: then([_entry_row(entry, self._rules) for entry in found]),
        )

    def _fetch_dockets(self, first: int, count: int, then: Callable[[list[Row]], None]) -> None:
        order, words = self._all_dockets.order, self.words.words
        self._look(
            lambda store: docket_balances(store, first, count, order, words),
            lambda found: then([self._balance(balance) for balance in found]),
        )

    def suggest(self, alloy: str, mass: float, docket: str) -> None:
        """Fill in what a docket takes, to be weighed and written down."""
        self.kind.setCurrentIndex(self.kind.findData("issued"))
        self.alloy.setCurrentIndex(self.alloy.findData(alloy))
        self.mass.setText(f"{mass:.2f}")
        self.docket.setText(docket)
        self.mass.setFocus()
        self.mass.selectAll()

    def _on_add(self) -> None:
        text = self.mass.text().strip().replace(",", ".").replace("−", "-")
        try:
            mass = float(text)
        except ValueError:
            mark_wrong(self.mass, True)
            self._problem.setText(f"{self.mass.text()!r} is no mass. Accepted: 0.001 to 20000 g")
            return
        mark_wrong(self.mass, False)
        self._problem.setText("")
        kind, alloy, person = self.kind.currentData(), self.alloy.currentData(), self.person.currentData()
        docket, note = self.docket.text().strip(), self.note.text().strip()

        self._act(
            WeighMetal(kind=kind, alloy=alloy, mass_g=mass, person_id=person, docket_number=docket, note=note),
            self._on_added,
        )

    def _on_added(self, wrong: str) -> None:
        self._problem.setText(wrong)
        if not wrong or WAITS in wrong:
            self.mass.clear()
            self.note.clear()
            self.reload()

    def _balance(self, balance: Balance) -> tuple[str, ...]:
        share, limit = balance.loss_share(), self._rules.loss_allowance
        over, part = balance.used > 0 and share > limit, balance.used > 0 and balance.in_work > 0.005
        word = "over the allowance" if over else "in part in work" if part else "" if balance.used > 0 else "in work"
        return (
            balance.of,
            alloy_label(balance.alloy, self._rules),
            *(
                f"{value:.2f}"
                for value in (
                    balance.issued,
                    balance.returned,
                    balance.offcuts,
                    balance.filings,
                    balance.used,
                    balance.open,
                )
            ),
            f"{share:.1%} of {limit:.0%}",
            word,
        )


def _entry_row(entry: FineEntry, rules: HouseRules) -> Row:
    """One line of the book as texts."""
    return (
        f"{here(entry.at):%Y-%m-%d %H:%M}",
        KINDS[entry.kind],
        alloy_label(entry.alloy, rules),
        f"{entry.mass:.3f}",
        entry.person,
        entry.docket,
        entry.note,
        entry.by,
    )


def _scrolled(view: QWidget, parent: QWidget) -> QScrollArea:
    """A view that may be higher than its room."""
    area = QScrollArea(parent)
    area.setWidget(view)
    area.setWidgetResizable(True)
    area.setFrameShape(QScrollArea.Shape.NoFrame)
    area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    return area


def _combo(parent: QWidget, name: str, choices: list[tuple[object, str]]) -> Choice:
    combo = Choice(parent)
    combo.setAccessibleName(name)
    for value, text in choices:
        combo.addItem(text, value)
    return combo


def _fill(table: QTableWidget, rows: list[Row]) -> None:
    """A table of few rows, whole."""
    fill_rows(table, 0, rows)
    fit_columns(table)
