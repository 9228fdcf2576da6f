"""Customers in their window: found as somebody types, their record beside what they brought, several made one."""

from __future__ import annotations

from collections.abc import Callable

from msgspec import Struct
from msgspec.structs import replace
from PySide6.QtCore import QSize, Qt, Signal
from PySide6.QtGui import QKeySequence, QShortcut, QUndoStack
from PySide6.QtWidgets import (
    QAbstractItemView,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QPlainTextEdit,
    QPushButton,
    QSplitter,
    QVBoxLayout,
    QWidget,
)

from yarvel.clock import here
from yarvel.desk.customers.agreed_dialog import AgreedDialog, earlier_terms
from yarvel.desk.customers.record_text import RecordText
from yarvel.desk.storing.asking import Ask, DoAct
from yarvel.desk.widgets.choice import Choice
from yarvel.desk.widgets.manners import close_on_keys, open_at
from yarvel.desk.widgets.plain_table import plain_table
from yarvel.desk.widgets.row_filter import RowFilter
from yarvel.desk.widgets.rows_on_demand import fill_rows, fit_columns
from yarvel.desk.widgets.words import LineField, Words
from yarvel.figures.errors import StoreError
from yarvel.figures.rules import HouseRules
from yarvel.workshop.acts import PutCustomers
from yarvel.workshop.dockets.records import CUSTOMER_KINDS, Docket
from yarvel.workshop.money.amounts import with_currency
from yarvel.workshop.money.pricing import bill_of
from yarvel.workshop.people.customers import (
    Agreed,
    Customer,
    KnownCustomer,
    begun,
    check_customer,
    customer_from,
    merged,
)

_HEADS = ("Number", "Item", "Stands", "Promised", "Comes to")
_EMPTY = "No customers yet: whoever stands on a docket is listed here."
_NOBODY = "Nobody of these words: take some away."


class _Answer(Struct, frozen=True):
    """What the store said: the customers of these words, and the dockets of whoever is chosen."""

    words: str
    known: list[KnownCustomer]


class CustomersWindow(QWidget):
    """Every field is kept as it is left, and taken back by undo; nothing has to be filled in."""

    docket_wanted = Signal(int)
    told = Signal(str)

    def __init__(
        self,
        ask: Ask,
        act: DoAct,
        rules: Callable[[], HouseRules],
        undo_stack: QUndoStack,
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent, Qt.WindowType.Window)
        self._ask, self._act, self._rules = ask, act, rules
        self.setWindowTitle("Customers")
        open_at(self, 1180, 720)
        close_on_keys(self)
        QShortcut(QKeySequence.StandardKey.Undo, self, undo_stack.undo)
        QShortcut(QKeySequence.StandardKey.Redo, self, undo_stack.redo)
        self.known: list[KnownCustomer] = []
        self.dockets: list[Docket] = []
        self._chosen: KnownCustomer | None = None
        self._busy = False
        self.words = LineField(self)
        self.words.setObjectName("customers.words")
        self.words.setPlaceholderText("name, contact, terms, notes …")
        self.words.setAccessibleName("Words to find customers by")
        self.words.textChanged.connect(lambda _text: self.reload())
        self.rows = QListWidget(self)
        self.rows.setObjectName("customers.rows")
        self.rows.setAccessibleName("Customers found")
        self.rows.setSelectionMode(QAbstractItemView.SelectionMode.ExtendedSelection)
        self.rows.setTextElideMode(Qt.TextElideMode.ElideRight)
        self.rows.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.rows.itemSelectionChanged.connect(self._on_selected)
        self.merge = QPushButton("These are one customer", self)
        self.merge.setObjectName("customers.merge")
        self.merge.clicked.connect(lambda _checked=False: self._on_merge())
        self.problem = Words(self)
        self.problem.setObjectName("customers.problem")
        self.problem.setProperty("quiet", True)
        self.problem.setWordWrap(True)
        self._build_record()
        self.table = plain_table(self, _HEADS, "Their dockets")
        self.table.setObjectName("customers.dockets")
        self.table.cellDoubleClicked.connect(lambda row, _column: self.docket_wanted.emit(self.dockets[row].id))
        self.table.cellActivated.connect(lambda row, _column: self.docket_wanted.emit(self.dockets[row].id))
        self.filter = RowFilter(self, self.table)
        self.filter.setObjectName("customers.filter")
        self.before = Words(self)
        self.before.setObjectName("customers.before")
        self.before.setProperty("quiet", True)
        self.before.setWordWrap(True)
        self.agreed = QPushButton("What was agreed before…", self)
        self.agreed.setObjectName("customers.agreed")
        self.agreed.clicked.connect(lambda _checked=False: self._on_agreed())
        self._changes: list[Agreed] = []
        self.sums = Words(self)
        self.sums.setObjectName("customers.sums")
        self._lay_out()

    def _build_record(self) -> None:
        self.lines: dict[str, QLineEdit | RecordText] = {}
        name = LineField(self)
        name.editingFinished.connect(lambda: self._on_left("name"))
        self.lines["name"] = name
        for field in ("contact", "terms", "note"):
            text = RecordText(self)
            text.left.connect(lambda field=field: self._on_left(field))
            self.lines[field] = text
        for field, widget in self.lines.items():
            widget.setObjectName(f"customers.{field}")
        self.kind = Choice(self)
        self.kind.setObjectName("customers.kind")
        self.kind.setAccessibleName("Customer is")
        self.kind.addItem("Not said", "")
        for kind in CUSTOMER_KINDS:
            self.kind.addItem(f"A {kind}", kind)
        self.kind.activated.connect(lambda _row: self._on_left("kind"))
        self.others = Words(self)
        self.others.setObjectName("customers.others")
        self.others.setWordWrap(True)

    def _lay_out(self) -> None:
        left, right = QWidget(self), QWidget(self)
        column = QVBoxLayout(left)
        column.setContentsMargins(0, 0, 8, 0)
        for widget in (self.words, self.rows, self.merge):
            column.addWidget(widget)
        grid = QGridLayout()
        labels = {
            "name": "Name",
            "contact": "How they are reached",
            "terms": "Terms agreed",
            "note": "Notes",
        }
        places = {"name": (0, 0), "contact": (2, 0), "terms": (2, 1), "note": (4, 0)}
        for field, (row, at) in places.items():
            title = Words(labels[field], self)
            title.setBuddy(self.lines[field])
            self.lines[field].setAccessibleName(labels[field])
            wide = 2 if field == "note" else 1
            grid.addWidget(title, row, at, 1, wide)
            grid.addWidget(self.lines[field], row + 1, at, 1, wide)
        kind = Words("Customer is", self)
        kind.setBuddy(self.kind)
        grid.addWidget(kind, 0, 1)
        grid.addWidget(self.kind, 1, 1)
        whole = QVBoxLayout(right)
        whole.setContentsMargins(8, 0, 0, 0)
        whole.addLayout(grid)
        earlier = QHBoxLayout()
        earlier.addWidget(self.before, 1)
        earlier.addWidget(self.agreed)
        whole.addLayout(earlier)
        whole.addWidget(self.others)
        whole.addWidget(self.problem)
        whole.addWidget(self.filter)
        whole.addWidget(self.table, 1)
        whole.addWidget(self.sums)
        self.record = right
        split = QSplitter(Qt.Orientation.Horizontal, self)
        split.addWidget(left)
        split.addWidget(right)
        split.setSizes([380, 800])
        split.setChildrenCollapsible(False)
        outer = QHBoxLayout(self)
        outer.addWidget(split)

    def reload(self) -> None:
        """Ask the store for the customers of these words."""
        words = self.words.text()
        self._ask(lambda store: _Answer(words, store.customers.all(words)), self._on_loaded)

    def show_customer(self, name: str) -> None:
        """Have somebody in front, by the name that a docket gives them."""
        self._wanted = name
        self.words.clear()
        self.reload()

    _wanted = ""

    def _on_loaded(self, answer: _Answer) -> None:
        if answer.words != self.words.text():
            return
        before = self._wanted or ("" if self._chosen is None else self._chosen.name)
        self._wanted = ""
        self.known = answer.known
        self.rows.blockSignals(True)
        self.rows.clear()
        for record in self.known:
            item = QListWidgetItem(row_text(record))
            item.setToolTip(record.name)
            item.setSizeHint(QSize(0, 44))
            self.rows.addItem(item)
        place = next((row for row, record in enumerate(self.known) if before in record.names), 0 if self.known else -1)
        self.rows.setCurrentRow(place)
        self.rows.blockSignals(False)
        if not self.known:
            self.problem.setText(_NOBODY if answer.words else _EMPTY)
        self._on_selected()

    @property
    def selected(self) -> list[KnownCustomer]:
        """Those chosen, the one in front first."""
        rows = sorted({index.row() for index in self.rows.selectedIndexes()})
        front = self.rows.currentRow()
        return [self.known[row] for row in sorted(rows, key=lambda row: row != front) if row < len(self.known)]

    def _on_selected(self) -> None:
        chosen = self.selected
        self.merge.setVisible(len(chosen) > 1)
        self.record.setEnabled(bool(chosen))
        front = chosen[0] if chosen else None
        again = front is not None and self._chosen is not None and front.name == self._chosen.name
        self._chosen = front
        if not again:
            self._show_changes([])
        self._show_record(keep_typed=again)
        if front is None:
            self._show_dockets([])
            return
        key = "" if front.record is None else front.record.key
        self._ask(lambda store: (front.names, store.customers.dockets(front.names)), self._on_dockets)
        self._ask(lambda store: (key, store.customers.history(key) if key else []), self._on_changes)

    def _show_record(self, keep_typed: bool) -> None:
        known = self._chosen
        record = None if known is None else begun(known)
        self._busy = True
        for field, widget in self.lines.items():
            text = "" if record is None else str(getattr(record, field))
            if keep_typed and widget.hasFocus():
                continue
            if isinstance(widget, QPlainTextEdit):
                widget.setPlainText(text)
            else:
                widget.setText(text)
        self.kind.setCurrentIndex(max(self.kind.findData("" if record is None else record.kind), 0))
        others = () if record is None else record.other_names
        self.others.setText(f"Also on dockets as: {', '.join(others)}" if others else "")
        self.others.setVisible(bool(others))
        self._busy = False

    def _on_changes(self, told: tuple[str, list[Agreed]]) -> None:
        key, changes = told
        record = None if self._chosen is None else self._chosen.record
        if key == ("" if record is None else record.key):
            self._show_changes(changes)

    def _show_changes(self, found: list[Agreed]) -> None:
        self._changes = found
        self.before.setText(earlier_terms(found))
        self.agreed.setVisible(any(change.before for change in found))

    def _on_agreed(self) -> None:
        if self._chosen is not None:
            AgreedDialog(self._chosen.name, self._changes, self).exec()

    def _on_dockets(self, told: tuple[tuple[str, ...], list[Docket]]) -> None:
        names, dockets = told
        if self._chosen is not None and self._chosen.names == names:
            self._show_dockets(dockets)

    def _show_dockets(self, dockets: list[Docket]) -> None:
        self.dockets = dockets
        rules = self._rules()
        rows = []
        total, priced = 0, 0
        for docket in dockets:
            bill = bill_of(docket, rules)
            total, priced = total + (0 if bill is None else bill.total), priced + (bill is not None)
            promised = "" if docket.promised_on is None else docket.promised_on.isoformat()
            rows.append(
                (docket.number, docket.item, docket.standing, promised, "" if bill is None else bill.money(bill.total))
            )
        fill_rows(self.table, 0, rows)
        fit_columns(self.table)
        known = self._chosen
        summary = "" if known is None else _counted(known.dockets, known.in_house)
        if priced:
            of = f"the {priced} of {len(dockets)} shown that have a price" if priced < len(dockets) else "all together"
            summary += f" · {with_currency(total, rules.custom.currency)} {of}"
        self.sums.setText(summary)

    def _on_left(self, field: str) -> None:
        """A field was left: what it says now is kept, where it says something else."""
        known = self._chosen
        if self._busy or known is None:
            return
        record = begun(known)
        customer = customer_from({**record.document(), field: self._said(field)})
        names = dict.fromkeys((*record.names, *customer.other_names))  # dockets still say the names of before
        customer = replace(customer, other_names=tuple(name for name in names if name != customer.name))
        if customer == record:
            return
        try:
            check_customer(customer)
        except StoreError as error:
            self.problem.setText(str(error))
            return
        self._put((customer,), (known.record,), customer.name)

    def _said(self, field: str) -> str:
        if field == "kind":
            return str(self.kind.currentData())
        widget = self.lines[field]
        text = widget.toPlainText() if isinstance(widget, QPlainTextEdit) else widget.text()
        return text.strip()

    def _on_merge(self) -> None:
        """All that are chosen become the one in front."""
        first, *others = self.selected
        for_now = first
        gone: list[Customer] = []
        seen: list[Customer | None] = [first.record]
        for other in others:
            into, *theirs = merged(for_now, other)
            for_now = replace(for_now, record=into, name=into.name)
            gone += theirs
            seen += [other.record for _ in theirs]
        if for_now.record is not None:
            self._put((for_now.record, *gone), tuple(seen), for_now.name)

    def _put(self, records: tuple[Customer, ...], seen: tuple[Customer | None, ...], name: str) -> None:
        before = tuple(None if record_seen is None else record_seen.document() for record_seen in seen)
        deed = PutCustomers(tuple(record.document() for record in records), before)

        def done(problem: str) -> None:
            self.problem.setText(problem or "Kept. Ctrl+Z takes it back.")
            self._wanted = name
            self.reload()

        self._act(deed, done)


def row_text(one: KnownCustomer) -> str:
    """A customer in two lines."""
    kind = "" if one.record is None or not one.record.kind else f"{one.record.kind} · "
    last = "" if one.last is None else f" · last {here(one.last):%d %b %Y}"
    return f"{one.name}\n{kind}{_counted(one.dockets, one.in_house)}{last}"


def _counted(dockets: int, in_house: int) -> str:
    there = f", {in_house} in the house" if in_house else ""
    return f"{dockets} docket{'' if dockets == 1 else 's'}{there}"
