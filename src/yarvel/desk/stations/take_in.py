"""Station: take in. Whose it is, what it is, how it came, when it is promised; photographs, label, history."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date

from PySide6.QtCore import Signal, SignalInstance
from PySide6.QtWidgets import QGridLayout, QLabel, QLineEdit, QPushButton, QWidget

from yarvel import clock
from yarvel.desk.session.session import Session
from yarvel.desk.stations.customer_names import CustomerNames
from yarvel.desk.stations.station import MISSING, Station
from yarvel.desk.widgets.calendar import DayLine, month_first
from yarvel.desk.widgets.choice import Choice
from yarvel.desk.widgets.fields import LABEL_WIDTH, DocketLine, mark_wrong, read_number
from yarvel.desk.widgets.photo_strip import PhotoStrip
from yarvel.desk.widgets.words import Words
from yarvel.figures.days import ACCEPTED, OtherDayError, day_in, day_text
from yarvel.figures.errors import StoreError
from yarvel.planning.diagnostics.diagnostic import OK
from yarvel.workshop.dockets.accepting import check_date, check_text
from yarvel.workshop.dockets.records import CUSTOMER_KINDS, IMPORTANCE, Docket, Photograph
from yarvel.workshop.money.estimate import price_text
from yarvel.workshop.people.customers import KnownCustomer

MOST_G, MOST_PRICE = 5000.0, 10_000_000.0
_ACCEPTED = {
    "promised_on": ("date", ACCEPTED),
    "weight_in_g": ("weight", f"grams, over 0 to {MOST_G:.0f}"),
    **dict.fromkeys(("stones_price", "outside_price", "deposit"), ("price", f"0 to {MOST_PRICE:.0f}")),
}


class TakeIn(Station):
    """What the front desk notes: customer, item, date; metal as tested, mark, report, condition, weight."""

    TITLE = "Take in"

    photograph_wanted = Signal()
    label_wanted = Signal()
    history_wanted = Signal()
    price_wanted = Signal()
    date_wanted = Signal()
    approval_wanted = Signal()
    customer_wanted = Signal()
    customers_asked = Signal(object)
    stone_wanted = Signal()
    stone_chosen = Signal(int)
    stones_asked = Signal(object)
    photographs_asked = Signal(object)
    photographs_opened = Signal(object)

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        session.put_back.connect(self._on_taken_back)

    def build(self) -> None:
        """The docket's own lines."""
        self._lines: dict[str, QLineEdit] = {}
        self._marks: dict[str, QLabel] = {}
        self._add_line("customer", "Customer")
        self.names = CustomerNames(self._lines["customer"])
        self.names.asked.connect(self.customers_asked)
        self.names.chosen.connect(self._on_customer)
        self.choice(
            "docket.customer_kind", "Customer is", [("", "Not said"), *((kind, f"A {kind}") for kind in CUSTOMER_KINDS)]
        )
        self._add_line("item", "Item")
        self._add_day()
        self._add_button("date", "When can it be ready?", self.date_wanted)
        self.choice(
            "docket.importance",
            "Importance",
            [("", "As any other"), *((importance, importance.capitalize()) for importance in IMPORTANCE)],
        )
        self._day_before: object = None
        self._day_typed = ""
        self._stones_of: str | None = None
        self.stones = Choice(self)
        self.stones.setObjectName("docket.stones")
        self.stones.setAccessibleName("Stones of this piece")
        self.stones.activated.connect(lambda row: self.stone_chosen.emit(int(self.stones.itemData(row))))
        self.stones.hide()
        self.column.addWidget(self.stones)
        self.photographs = PhotoStrip(self)
        self.photographs.opened.connect(self.photographs_opened)
        self.column.addWidget(self.photographs)
        self.fold("As it came in")
        self._add_line("metal", "Metal, tested")
        self._add_line("mark", "Its mark")
        self._add_line("weight_in_g", "Weight in", "g")
        self._lines["weight_in_g"].setProperty("reads", "g")
        self._add_line("reported", "Reported")
        self._add_line("condition", "Condition")
        self._add_line("earlier_number", "Came before as", "number of the docket")
        self.end_fold()
        self.fold("Price")
        self._add_line("stones_price", "Stones cost", "in the workshop's money")
        self._add_line("outside_price", "Outside work", "in the workshop's money")
        self._add_line("deposit", "Deposit paid", "in the workshop's money")
        self.price = self.remark()
        self.price.setObjectName("docket.price")
        self._add_button("work_out", "Work out the price", self.price_wanted)
        self._add_button("approved", "The customer approves it", self.approval_wanted)
        self.end_fold()
        for name, text, signal in (
            ("whose", "Whose it is, and what they brought…", self.customer_wanted),
            ("another", "Another stone of this piece", self.stone_wanted),
            ("photograph", "Add a photograph…", self.photograph_wanted),
            ("label", "Print the label…", self.label_wanted),
            ("history", "What was done, and by whom…", self.history_wanted),
        ):
            self._add_button(name, text, signal)

    def _add_day(self) -> None:
        """When it is promised: a line with its calendar, and what was understood."""
        self._add_line("promised_on", "Promised", "11 Dec, Fri, in 10 days; Alt+↓ calendar")
        self.day = self.remark()
        self.day.setObjectName("docket.day")

    def _add_button(self, name: str, text: str, signal: SignalInstance) -> None:
        button = QPushButton(text, self)
        button.setObjectName(f"docket.{name}")
        button.clicked.connect(lambda _checked=False: signal.emit())
        self.column.addWidget(button)

    def _add_line(self, name: str, label: str, hint: str = "") -> None:
        row = QWidget(self)
        grid = QGridLayout(row)
        grid.setContentsMargins(0, 0, 0, 0)
        edit = DayLine(row) if name == "promised_on" else DocketLine(row)
        if isinstance(edit, DayLine):
            edit.begun.connect(self._begin_day)
        edit.setObjectName(f"docket.{name}")
        edit.setAccessibleName(label)
        edit.setPlaceholderText(hint)
        title = Words(label, row)
        title.setBuddy(edit)
        title.setMinimumWidth(LABEL_WIDTH)
        mark = Words(row)
        mark.setProperty("problem", True)
        mark.setWordWrap(True)
        mark.hide()
        grid.addWidget(title, 0, 0)
        grid.addWidget(edit, 0, 1)
        grid.addWidget(mark, 1, 0, 1, 2)
        self._lines[name], self._marks[name] = edit, mark
        self.column.addWidget(row)
        edit.textEdited.connect(lambda text: self._on_text(name, text))

    def _on_text(self, name: str, text: str) -> None:
        wrong = ""
        try:
            value: object = text
            if name == "promised_on":
                if not (text.startswith(self._day_typed) or self._day_typed.startswith(text)):
                    self._begin_day()  # typed over: another day
                self._day_typed = text
                value = read_date(text, clock.today(), month_first())
            elif name == "weight_in_g":
                value = read_number(text, MOST_G, above=True)
            elif name in ("stones_price", "outside_price", "deposit"):
                value = read_number(text, MOST_PRICE)
            else:
                check_text(self._lines[name].accessibleName(), text)
            self.session.set_column(name, value, act=f"typing {name}")
        except StoreError as error:
            wrong = str(error)
        except OtherDayError as error:
            wrong = f"{text!r}: {error}"
        except ValueError:
            what, accepted = _ACCEPTED[name]
            wrong = f"{text!r} is no {what}. Accepted: {accepted}"
        if wrong and name == "promised_on":  # half of what was typed may have been another day
            self.session.set_column(name, self._day_before, act=f"typing {name}")
        mark_wrong(self._lines[name], bool(wrong))
        self._marks[name].setText(wrong)
        self._marks[name].setVisible(bool(wrong))
        if name == "promised_on":
            self._say_day()

    def _begin_day(self) -> None:
        self._day_before, self._day_typed = self.session.column("promised_on"), ""

    def _say_day(self) -> None:
        """Beside the date what was understood, and holds."""
        promised = self.session.column("promised_on")
        self.day.setText(day_text(promised, clock.today()) if isinstance(promised, date) else "")
        self.day.setVisible(bool(self.day.text()))

    def _on_customer(self, known: KnownCustomer) -> None:
        """Somebody known was taken: what they are is known with them."""
        self.session.set_column("customer", known.name, act="typing customer")
        if known.record is not None and known.record.kind and not self.session.column("customer_kind"):
            self.session.set_column("customer_kind", known.record.kind)

    def _on_chosen(self, path: str, value: object) -> None:
        self.session.set_column(path.split(".")[1], value)

    def chosen_value(self, path: str) -> object:
        """The docket's own word."""
        return self.session.column(path.split(".")[1]) or ""

    def refresh(self) -> None:
        """Show the docket as it is now."""
        super().refresh()
        docket = self.session.docket
        for name, edit in self._lines.items():
            text = self._in_line(name)
            if not edit.hasFocus() and edit.text() != text:
                edit.setText(text)
                edit.setCursorPosition(0)
        self._say_day()
        self.price.setText(
            ""
            if docket is None
            else price_text(docket, self.session.rules) or "From standard minutes, metal and stones."
        )
        if docket is not None and docket.estimate:
            self.folds["Price"].open()
        number = None if docket is None else docket.number
        if number != self._stones_of:
            self._stones_of = number
            self._begin_day()
            self.stones.hide()
            self.stones_asked.emit(self.show_stones)
            self.look_at_photographs()

    def _on_taken_back(self, columns: Mapping[str, object]) -> None:
        """Undo shows where it happened, also under the hand that types."""
        if not self._built:
            return
        for name in columns.keys() & self._lines.keys():
            self._lines[name].setText(self._in_line(name))
            mark_wrong(self._lines[name], False)
            self._marks[name].hide()

    def _in_line(self, name: str) -> str:
        """A column as its line shows it."""
        column = self.session.column(name)
        return "" if column is None else f"{column:g}" if isinstance(column, float) else str(column)

    def look_at_photographs(self) -> None:
        """Ask for the pictures of the docket in hand."""
        if not self._built:
            return
        self.photographs.show_photographs(())
        number = self._stones_of

        def show(found: list[Photograph]) -> None:
            if number == self._stones_of:
                self.photographs.show_photographs(found)

        self.photographs_asked.emit(show)

    def show_stones(self, stones: list[Docket]) -> None:
        """The stones of the piece in hand, to choose from where there is more than one."""
        docket = self.session.docket
        if docket is None or docket.id not in [stone.id for stone in stones]:
            return
        self.stones.clear()
        for count, stone in enumerate(stones, start=1):
            stone_document = stone.job_document.get("stone")
            cut = str(stone_document.get("cut", "")) if isinstance(stone_document, dict) else ""
            self.stones.addItem(f"Stone {count} of {len(stones)}: {stone.number}{f', {cut}' if cut else ''}", stone.id)
        self.stones.setCurrentIndex(self.stones.findData(docket.id))
        self.stones.setVisible(len(stones) > 1)

    def telling(self) -> str:
        """Number, and the promised date."""
        docket = self.session.docket
        if docket is None:
            return "gets a number once something is typed"
        if docket.withdrawn:
            return f"{docket.number} · put aside: {docket.withdrawn}"
        return docket.number + (f" · for {docket.promised_on:%d %b}" if docket.promised_on else " · no date promised")

    def state(self) -> str:
        """Missing until there is a customer or an item to know it by."""
        docket = self.session.docket
        return OK if docket is not None and (docket.customer or docket.item) else MISSING

    def first_field(self) -> QWidget | None:
        """The customer."""
        return self._lines["customer"]


def read_date(text: str, today: date, month_first: bool = False) -> date | None:
    """A promised day as people say it (``figures.days``); None for nothing.

    Raises
    ------
    ValueError : it is no date.
    StoreError : no workshop lives to see it.
    """
    day = day_in(text, today, month_first)
    check_date("Promised", day)
    return day
