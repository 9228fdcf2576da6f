"""The fine book: metal in and out as it is weighed, balances of people and dockets, the end of the month."""

from __future__ import annotations

from datetime import date

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import (
    QComboBox,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QTableWidget,
    QTableWidgetItem,
    QTabWidget,
    QVBoxLayout,
    QWidget,
)

from yarvel.desk.asking import Ask, DoAct
from yarvel.desk.widgets.fields import mark_wrong
from yarvel.desk.widgets.plain_table import plain_table
from yarvel.desk.widgets.table_out import print_table, write_table
from yarvel.desk.widgets.words import Line, Words
from yarvel.figures.rules import HouseRules
from yarvel.metals.alloys import ALLOYS
from yarvel.workshop.acts import WAITS, WeighMetal
from yarvel.workshop.fine_book import KINDS, Balance, FineEntry, balances, month
from yarvel.workshop.tasks import Person

_LINES = ("When, UTC", "What", "Metal", "Mass, g", "Who", "Docket", "Note", "By")
_BALANCE = ("Of", "Metal", "Issued", "Back", "Offcuts", "Filings", "Used", "Open", "Share", "")
_MONTH = ("Metal", "At the start", *KINDS, "At the end", "At benches")


class FineBookWindow(QWidget):
    """A line to weigh into, and what the lines come to."""

    told = Signal(str)

    def __init__(self, ask: Ask, act: DoAct, rules: HouseRules, today: date, parent: QWidget | None = None) -> None:
        super().__init__(parent, Qt.WindowType.Window)
        self._ask, self._act, self._rules, self._today = ask, act, rules, today
        self.setWindowTitle("The fine book")
        self.resize(1280, 800)
        self.kind = _combo(self, "What happened", [(kind, kind.capitalize()) for kind in KINDS])
        self.alloy = _combo(self, "Metal", [(alloy.key, alloy.label) for alloy in ALLOYS.values()])
        self.person = _combo(self, "Who", [])
        self.mass, self.docket, self.note = (
            self._line(name, hint) for name, hint in (("mass", "grams"), ("docket", "number"), ("note", ""))
        )
        self.add = QPushButton("Write it down", self)
        self.add.setObjectName("fine.add")
        self.add.clicked.connect(self._on_add)
        self._problem = Words(self)
        self._problem.setProperty("problem", True)
        self._problem.setObjectName("fine.problem")
        self.month = Line(f"{today:%Y-%m}", self)
        self.month.setObjectName("fine.month")
        self.month.setAccessibleName("Month, year-month")
        self.month.textEdited.connect(lambda _text: self._show())
        self.lines, self.people, self.dockets, self.months = (
            plain_table(self, [head[:1].upper() + head[1:] for head in heads], name)
            for heads, name in (
                (_LINES, "Lines"),
                (_BALANCE, "Balance of people"),
                (_BALANCE, "Balance of dockets"),
                (_MONTH, "Month"),
            )
        )
        self.entries: list[FineEntry] = []
        self._empty = Words(
            "No line yet. Weigh the metal, say who takes it, press Enter. What was bought comes "
            "first, so "
            "that the safe is not in debt.",
            self,
        )
        self._empty.setProperty("quiet", True)
        self._lay_out()
        self.mass.returnPressed.connect(self._on_add)
        self.reload()

    def _line(self, name: str, hint: str) -> QLineEdit:
        edit = Line(self)
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
        month = QWidget(self)
        column_of = QVBoxLayout(month)
        column_of.addWidget(self.month)
        column_of.addWidget(self.months)
        tabs = QTabWidget(self)
        for widget, word in (
            (self.lines, "Lines"),
            (self.people, "People"),
            (self.dockets, "Dockets"),
            (month, "Month's end"),
        ):
            tabs.addTab(widget, word)
        self.tabs = tabs
        below = QHBoxLayout()
        for name, text, act in (
            ("csv", "This list as CSV…", self._on_csv),
            ("print", "Print this list…", self._on_print),
        ):
            button = QPushButton(text, self)
            button.setObjectName(f"fine.{name}")
            button.clicked.connect(lambda _checked=False, act=act: act())
            below.addWidget(button)
        below.addStretch(1)
        whole = QVBoxLayout(self)
        whole.addLayout(grid)
        whole.addWidget(self._problem)
        whole.addWidget(self._empty)
        whole.addWidget(tabs, 1)
        whole.addLayout(below)

    @property
    def shown(self) -> tuple[QTableWidget, str]:
        """The list in front and what it is called."""
        row = self.tabs.currentIndex()
        words = self.tabs.tabText(row)
        name = f"{words} {self.month.text().strip()}" if row == 3 else f"Fine book, {words.lower()}"
        return (self.lines, self.people, self.dockets, self.months)[row], name

    def _on_csv(self) -> None:
        self._problem.setText(write_table(self, *self.shown))

    def _on_print(self) -> None:
        print_table(self, *self.shown, self._today)

    def reload(self) -> None:
        """Ask the store for all lines."""
        self._ask(lambda store: (store.people.all(), store.fine.entries()), self._on_loaded)

    def _on_loaded(self, found: tuple[list[Person], list[FineEntry]]) -> None:
        people, self.entries = found
        held = self.person.currentData()
        self.person.clear()
        self.person.addItem("–", None)
        for person in people:
            self.person.addItem(person.name, person.id)
        self.person.setCurrentIndex(max(self.person.findData(held), 0))
        self._show()

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

        self._act(WeighMetal(kind, alloy, mass, person, docket, note), self._on_added)

    def _on_added(self, wrong: str) -> None:
        self._problem.setText(wrong)
        if not wrong or WAITS in wrong:
            self.mass.clear()
            self.note.clear()
            self.reload()

    def _show(self) -> None:
        self._empty.setVisible(not self.entries)
        _fill(
            self.lines,
            [
                (
                    f"{entry.at:%Y-%m-%d %H:%M}",
                    entry.kind,
                    _metal(entry.alloy),
                    f"{entry.mass:.3f}",
                    entry.person,
                    entry.docket,
                    entry.note,
                    entry.by,
                )
                for entry in reversed(self.entries)
            ],
        )
        for table, by in ((self.people, "person"), (self.dockets, "docket")):
            _fill(table, [self._balance(balance) for balance in balances(self.entries, by)])
        try:
            year, number = (int(part) for part in self.month.text().strip().split("-"))
            rows = month(self.entries, year, number)
        except ValueError:
            mark_wrong(self.month, True)
            return
        mark_wrong(self.month, False)
        _fill(
            self.months,
            [
                (
                    _metal(row.alloy),
                    f"{row.opening:.2f}",
                    *(f"{row.moved[kind]:.2f}" for kind in KINDS),
                    f"{row.closing:.2f}",
                    f"{row.at_benches:.2f}",
                )
                for row in rows
            ],
        )

    def _balance(self, balance: Balance) -> tuple[str, ...]:
        share, limit = balance.loss_share(), self._rules.loss_allowance
        word = "over the allowance" if balance.used > 0 and share > limit else "" if balance.used > 0 else "in work"
        return (
            balance.of,
            _metal(balance.alloy),
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


def _metal(key: str) -> str:
    return ALLOYS[key].label if key in ALLOYS else key


def _combo(parent: QWidget, name: str, choices: list[tuple[object, str]]) -> QComboBox:
    combo = QComboBox(parent)
    combo.setAccessibleName(name)
    for value, text in choices:
        combo.addItem(text, value)
    return combo


def _fill(table: QTableWidget, rows: list[tuple[str, ...]]) -> None:
    table.setRowCount(len(rows))
    for row, texts in enumerate(rows):
        for column, text in enumerate(texts):
            item = QTableWidgetItem(text)
            if column > 0 and text[-1:].isdigit() and text.replace(".", "").replace("-", "").isdigit():
                item.setTextAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
            table.setItem(row, column, item)
    table.resizeColumnsToContents()
