"""Today: the morning in one look, from the same plan as the board; on paper too, with a strip for each person."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QHBoxLayout, QHeaderView, QPushButton, QTreeWidget, QTreeWidgetItem, QVBoxLayout, QWidget

from yarvel import clock
from yarvel.desk.storing.asking import Ask
from yarvel.desk.widgets.words import Words
from yarvel.workshop.work.day_reading import DayPlan
from yarvel.workshop.work.today import Entry, Today, ready_and_waiting, today_of

if TYPE_CHECKING:
    from yarvel.workshop.dockets.records import Docket
    from yarvel.workshop.store import Store

_HEADS = ("Docket", "When", "What", "Who, or its stone")
_DOCKET = Qt.ItemDataRole.UserRole
_NUMBER_PX, _WHEN_PX, _WHAT_PX = 130, 300, 420


class TodayPage(QWidget):
    """Shows the day of the plan that it was given last; Enter or a double click opens a docket."""

    docket_wanted = Signal(int)

    def __init__(self, look: Ask, parent: QWidget) -> None:
        super().__init__(parent)
        self._look = look
        self._today: Today | None = None
        self.heading = Words(self)
        self.heading.setObjectName("today.heading")
        self.rows = QTreeWidget(self)
        self.rows.setObjectName("today.rows")
        self.rows.setAccessibleName("Today")
        self.rows.setColumnCount(len(_HEADS))
        self.rows.setHeaderLabels(_HEADS)
        self.rows.setUniformRowHeights(True)
        self.rows.setEditTriggers(QTreeWidget.EditTrigger.NoEditTriggers)
        for column, wide in enumerate((_NUMBER_PX, _WHEN_PX, _WHAT_PX)):
            self.rows.setColumnWidth(column, wide)
        self.rows.header().setSectionResizeMode(len(_HEADS) - 1, QHeaderView.ResizeMode.Stretch)
        self.rows.itemActivated.connect(self._on_opened)
        self.printing = QPushButton("Print, with strips to cut…", self)
        self.printing.setObjectName("today.print")
        self.printing.clicked.connect(lambda _checked=False: self.print())
        top = QHBoxLayout()
        top.addWidget(self.heading, 1)
        top.addWidget(self.printing)
        column_box = QVBoxLayout(self)
        column_box.setContentsMargins(0, 6, 0, 0)
        column_box.addLayout(top)
        column_box.addWidget(self.rows, 1)

    def show_plan(self, plan: DayPlan) -> None:
        """The day of this plan, with what stands in the store beside it."""

        def work(store: Store) -> tuple[list[Docket], list[Docket], dict[str, str]]:
            return (*ready_and_waiting(store), store.customers.contacts())

        def show(found: tuple[list[Docket], list[Docket], dict[str, str]]) -> None:
            self._show(today_of(plan, *found, clock.today()))

        self._look(work, show)

    def _show(self, today: Today) -> None:
        if today == self._today:
            return
        self._today = today
        self.heading.setText(f"{today.day:%A %-d %B}. {len(today.late)} late, {len(today.fetched)} to be fetched.")
        self.rows.clear()
        for head, entries in sections(today):
            self._add(head, entries)
        for strip in today.strips:
            self._add(f"{strip.name} begins with", strip.entries)
        self.rows.expandAll()

    def _add(self, head: str, entries: tuple[Entry, ...]) -> None:
        section = QTreeWidgetItem([f"{head}: {len(entries) or 'nothing'}"])
        font = section.font(0)
        font.setBold(True)
        section.setFont(0, font)
        section.setFlags(Qt.ItemFlag.ItemIsEnabled)
        self.rows.addTopLevelItem(section)
        section.setFirstColumnSpanned(True)
        for entry in entries:
            row = QTreeWidgetItem([entry.number, entry.when, entry.what, entry.who])
            row.setData(0, _DOCKET, entry.docket_id)
            section.addChild(row)

    def _on_opened(self, row: QTreeWidgetItem) -> None:
        docket = row.data(0, _DOCKET)
        if docket is not None:
            self.docket_wanted.emit(docket)

    def print(self) -> None:
        """The same on paper."""
        from yarvel.desk.papers.papers import preview_and_print
        from yarvel.drawing.today_sheet import today_pages

        today = self._today
        if today is None:
            return
        lists = [(head, [_line(entry) for entry in entries]) for head, entries in sections(today)]
        strips = [(strip.name, [_line(entry) for entry in strip.entries]) for strip in today.strips]
        preview_and_print(self, today_pages(f"{today.day:%A %-d %B %Y}", lists, strips), "Today", "today")


def sections(today: Today) -> tuple[tuple[str, tuple[Entry, ...]], ...]:
    """What there is to say, in the order in which a morning asks."""
    return (
        ("Late, to be called", today.late),
        ("Leaves the house", today.leaves),
        ("Comes back", today.returns),
        ("Ready to be fetched", today.fetched),
        ("Waits for an answer", today.waits),
    )


def _line(entry: Entry) -> tuple[str, str, str, str]:
    return entry.when, entry.number, entry.what, entry.who
