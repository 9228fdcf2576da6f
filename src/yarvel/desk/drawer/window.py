"""The drawer's window: filters, the table, CSV in and out, and heads ranked for the stone in hand."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt, QTimer
from PySide6.QtWidgets import (
    QCheckBox,
    QFileDialog,
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QTableView,
    QVBoxLayout,
    QWidget,
)

from yarvel.desk.drawer.ranking import BAILS, Ranking, bail_patch, by_hand, patch_for, rank
from yarvel.desk.drawer.table import DrawerTable
from yarvel.desk.session.edits import style_patch
from yarvel.desk.session.session import Session
from yarvel.desk.storing.docket_store import DocketStore
from yarvel.desk.widgets.choice import Choice
from yarvel.desk.widgets.manners import close_on_keys, open_at
from yarvel.desk.widgets.plain_table import choose_row, dress
from yarvel.desk.widgets.words import LineField, Words
from yarvel.figures.errors import JobError, StoreError
from yarvel.metals.alloys import alloy_label, alloys_of
from yarvel.planning.match_bails import takes_bail
from yarvel.workshop.acts import TakeStock
from yarvel.workshop.drawer.stock import BAIL, KINDS, TUBE, StockItem
from yarvel.workshop.storage.rights import CHANGE_DRAWER

_TYPING_MS = 120
_MEASURED_ROWS = 400
_EMPTY = (
    "The drawer is empty. Bring in a CSV file (its layout stands in docs/stock-csv.md), with one row a head, bur, "
    "wire, sheet, tube or solder."
)

if TYPE_CHECKING:
    from yarvel.workshop.store import Store


class DrawerWindow(QWidget):
    """One window; it stays open beside the bench and follows the stone in hand."""

    def __init__(self, session: Session, dockets: DocketStore, parent: QWidget | None = None) -> None:
        super().__init__(parent, Qt.WindowType.Window)
        self._session, self._dockets = session, dockets
        self.table = DrawerTable(self._on_counted, lambda key: alloy_label(key, self._session.rules), self)
        self.setWindowTitle("The drawer – Yarvel")
        self.setProperty("panel", True)
        open_at(self, 1080, 640)
        close_on_keys(self)
        self._done = ""
        """What was done last with a head, while they are ranked."""
        self._ranking: Ranking | None = None
        self._typing = QTimer(self)
        self._typing.setSingleShot(True)
        self._typing.timeout.connect(self.refresh)
        column = QVBoxLayout(self)
        column.addLayout(self._filters())
        self.told = Words(self)
        self.told.setWordWrap(True)
        self.told.setObjectName("drawer.told")
        self.rows = self._table_view()
        column.addWidget(self.rows, 1)
        column.addWidget(self.told)
        column.addLayout(self._buttons())
        session.plan_changed.connect(self._on_plan)
        self.look_again()
        # where it is closed, whoever opens it looks again
        dockets.drawer_changed.connect(lambda: self.look_again() if self.isVisible() else None)

    def _filters(self) -> QHBoxLayout:
        self.kind = Choice(self)
        self.kind.setObjectName("drawer.kind")
        self.kind.setAccessibleName("Kind")
        self.kind.addItem("Everything", "")
        for kind in KINDS.values():
            self.kind.addItem(kind.label, kind.key)
        self.words = self._line("drawer.words", "Words to find", "code, metal, note", 220)
        self.low = self._line("drawer.low", "Size from, mm", "from mm", 110)
        self.high = self._line("drawer.high", "Size to, mm", "to mm", 110)
        self.ranked = QCheckBox("Ranked for the stone in hand", self)
        self.ranked.setObjectName("drawer.ranked")
        self.kind.activated.connect(lambda _place: self.refresh())
        self.ranked.toggled.connect(self._on_ranked)
        bar = QHBoxLayout()
        for widget in (self.kind, self.words, self.low, self.high, self.ranked):
            bar.addWidget(widget)
        bar.addStretch(1)
        return bar

    def _line(self, name: str, label: str, hint: str, width: int) -> QLineEdit:
        line = LineField(self)
        line.setObjectName(name)
        line.setAccessibleName(label)
        line.setPlaceholderText(hint)
        line.setMaximumWidth(width)
        line.textEdited.connect(lambda _text: self._typing.start(_TYPING_MS))
        return line

    def _table_view(self) -> QTableView:
        view = QTableView(self)
        view.setModel(self.table)
        view.setObjectName("drawer.rows")
        view.setAccessibleName("What is in the drawer")
        dress(view)
        header = view.horizontalHeader()
        header.setSortIndicator(-1, Qt.SortOrder.AscendingOrder)
        header.setSortIndicatorClearable(True)
        view.setSortingEnabled(True)
        return view

    def _buttons(self) -> QHBoxLayout:
        bar = QHBoxLayout()
        self.buttons: dict[str, QPushButton] = {}
        for name, text, act in (
            ("bring-in", "Bring in CSV…", self.bring_in),
            ("write", "Write CSV…", self.write),
            ("remove", "Take out of use", self.remove),
            ("take", "Take this one", self.take_one),
        ):
            button = QPushButton(text, self)
            button.setObjectName(f"drawer.{name}")
            button.clicked.connect(act)
            self.buttons[name] = button
            if name == "take":
                bar.addStretch(1)
            bar.addWidget(button)
        return bar

    # --- showing --------------------------------------------------------------------------------------------

    def take(self, items: list[StockItem]) -> None:
        """Show what the drawer holds now."""
        self.table.take(items)
        self.refresh()

    def refresh(self) -> None:
        """Filter, rank, and say how many are shown."""
        low, high = _number(self.low), _number(self.high)
        plan = self._session.plan
        bails = plan is not None and takes_bail(plan.job)  # beside a head, there is a bail to choose
        ranking: Ranking | None = None
        if self.ranked.isChecked() and plan is not None:
            kind = str(self.kind.currentData()) if bails else ""
            ranking = rank(plan.job, self._session.rules, self.table.items, kind)
        self.kind.setEnabled(ranking is None or bails)
        self._ranking = ranking
        self.table.show(str(self.kind.currentData()), self.words.text(), low, high, ranking)
        if self.table.rowCount():
            choose_row(self.rows, 0)
        if self.table.rowCount() <= _MEASURED_ROWS:
            self.rows.resizeColumnsToContents()
            self.rows.setColumnWidth(self.table.columnCount() - 1, 200)
        else:
            self._even_columns()
        self.buttons["take"].setVisible(ranking is not None and self.table.rowCount() > 0)
        self._say(ranking is not None)

    def _even_columns(self) -> None:
        """Widths without looking at every cell."""
        for section in range(self.table.columnCount()):
            self.rows.setColumnWidth(section, 150 if section == 0 else 110)

    def _say(self, ranked: bool) -> None:
        plan, count, whole = self._session.plan, self.table.rowCount(), len(self.table.items)
        if not whole:
            self.told.setText(_EMPTY)
        elif self.ranked.isChecked() and not ranked:
            self.told.setText("Nothing to rank: no stone is in hand, or the drawer has nothing for its cut and style.")
        elif ranked and plan is not None:
            what = "" if self._ranking is None else self._ranking.what
            by_hand_line = "" if what == BAILS else by_hand(plan.job, self._session.rules)
            message = f"{self._done} {count} {what}, best first. {by_hand_line}"
            self.told.setText(message.strip())
        elif not count:
            self.told.setText("Nothing in the drawer fits these filters: take some away.")
        else:
            self.told.setText(f"{count} of {whole} shown. Type over what is in the drawer, or a note.")

    def _on_ranked(self, on: bool) -> None:
        """What suits the head that is wanted is ranked, whatever kind was looked at."""
        self._done = ""
        self.refresh()

    def look_again(self) -> None:
        """Ask what the drawer holds now."""
        self._dockets.ask(lambda store: store.drawer.items(), self.take)

    def _on_plan(self) -> None:
        if self.isVisible() and self.ranked.isChecked() and not self._session.dragging:
            self._typing.start(_TYPING_MS)

    # --- acting ---------------------------------------------------------------------------------------------

    def _on_counted(self, item: StockItem, before: StockItem) -> None:
        wrong: list[str] = []
        seen = before.quantity, before.note
        pressed = self._once(
            {"of": item.id, "quantity": item.quantity, "note": item.note, "seen": seen},
            lambda store: store.drawer.change(item.id, item.quantity, item.note, seen),
        )

        def change(store: Store) -> None:
            try:
                pressed(store)
            except StoreError as error:
                wrong.append(str(error))

        def done(held: list[StockItem]) -> None:
            if wrong:
                self.take(held)
                self.told.setText(wrong[0])

        self._dockets.rules.change_drawer(change, done)

    def bring_in(self) -> None:
        """Read a CSV file into the drawer, whole or not at all."""
        name, _ = QFileDialog.getOpenFileName(self, "Bring in CSV", "", "CSV (*.csv)")
        if name:
            self.bring_in_file(Path(name))

    def bring_in_file(self, path: Path) -> None:
        """Add what a file holds; what was in the drawer stays."""
        from yarvel.exchange.drawer_file import read_drawer

        self.told.setText(f"Reading {path.name}…")
        try:
            items = read_drawer(path, alloys_of(self._session.rules))
        except JobError as error:
            more = f" and {len(error.problems) - 3} more" if len(error.problems) > 3 else ""
            lines = "\n".join(str(problem) for problem in error.problems[:3])
            self.told.setText(f"{path.name} was not brought in.\n{lines}{more}")
            return
        content = {"file": str(path), "codes": [item.code for item in items]}
        self._dockets.rules.change_drawer(self._once(content, lambda store: store.drawer.add(items)), self.take)

    def _once(self, content: Mapping[str, object], work: Callable[[Store], None]) -> Callable[[Store], None]:
        """A change of the drawer, named now: it is made once, however often the store is asked for it."""
        return self._dockets.presses.once(CHANGE_DRAWER, content, work, lambda _store, _act: None)

    def write(self) -> None:
        """Write the whole drawer as CSV."""
        from yarvel.exchange.drawer_file import write_drawer

        name, _ = QFileDialog.getSaveFileName(self, "Write CSV", "drawer.csv", "CSV (*.csv)")
        if not name:
            return
        try:
            write_drawer(self.table.items, Path(name))
        except OSError as error:
            self.told.setText(f"The drawer could not be written: {error.strerror or error}. Choose another folder.")
            return
        self.told.setText(f"{len(self.table.items)} rows written to {name}")

    def _chosen(self) -> list[StockItem]:
        rows = sorted({index.row() for index in self.rows.selectionModel().selectedRows()})
        return [self.table.item_at(row) for row in rows]

    def remove(self) -> None:
        """Take the chosen rows out of use; the store keeps them."""
        chosen = self._chosen()
        if chosen:
            self._dockets.rules.change_drawer(
                lambda store: store.drawer.remove([item.id for item in chosen]), self.take
            )

    def take_one(self) -> None:
        """Make the chosen head, mount, tube or bezel the job's."""
        chosen = self._chosen()
        if not chosen:
            return
        head, document, plan = chosen[0], self._session.document, self._session.plan
        what = "bail" if head.kind == BAIL else "head"
        if head.kind == BAIL and plan is not None:
            patch = bail_patch(head, plan.job, self._session.rules)
        else:
            patch = patch_for(head, document, lambda style: style_patch(document, style))
        if not self._session.patch(patch, f"{what.capitalize()} {head.code}"):
            self.told.setText(f"{head.code} does not go with this job: {self._session.problems['']}")
            return
        message, docket = f"{head.code} is the {what} of this job now", self._session.docket
        if docket is None or not head.quantity or head.kind == TUBE:  # a tube is cut from, as its route says
            self.told.setText(f"{message}.")
            return
        left = head.quantity - 1

        def taken(problem: str) -> None:
            done = f"{message}; {left:g} left in the drawer. Undo puts it back."
            self._done = f"{message}. {problem}" if problem else done
            self.refresh()

        self._dockets.acts.act(TakeStock(head.id, docket.id), taken)


def _number(line: QLineEdit) -> float | None:
    try:
        return float(line.text().strip().replace(",", "."))
    except ValueError:
        return None
