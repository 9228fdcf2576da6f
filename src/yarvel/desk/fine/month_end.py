"""The end of a month of the fine book: what it comes to, signing it off, and its page on paper."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from yarvel.clock import local_now, today
from yarvel.desk.storing.asking import Ask
from yarvel.desk.widgets.fields import mark_wrong
from yarvel.desk.widgets.plain_table import plain_table
from yarvel.desk.widgets.rows_on_demand import fill_rows, fit_columns
from yarvel.desk.widgets.words import LineField, Words
from yarvel.drawing.month_page import MonthPage, month_page
from yarvel.figures.errors import StoreError
from yarvel.figures.rules import HouseRules
from yarvel.metals.alloys import alloy_label
from yarvel.workshop.metal.closing_store import MonthClosing
from yarvel.workshop.metal.fine_book import KINDS, Month, month_of
from yarvel.workshop.metal.fine_sums import month_sums

if TYPE_CHECKING:
    from yarvel.workshop.store import Store

_HEADS = ("Metal", "At the start", *KINDS.values(), "At the end", "At benches")
_FOR_GOOD = "Once signed off it is not opened again: what is found later is a line in the open month."


class MonthEnd(QWidget):
    """A month by its name; ``told`` says what went wrong ("": nothing)."""

    told = Signal(str)

    def __init__(self, ask: Ask, look: Ask, rules: Callable[[], HouseRules], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._ask, self._look, self._rules = ask, look, rules
        self._closed: dict[str, MonthClosing] = {}
        self._wrong: list[str] = []
        self.month = LineField(f"{today():%Y-%m}", self)
        self.month.setObjectName("fine.month")
        self.month.setAccessibleName("Month, year-month")
        self.month.setFixedWidth(self.month.fontMetrics().horizontalAdvance("0000-00") + 40)
        self.month.textEdited.connect(lambda _text: self.reload())
        self.signed = Words(self)
        self.signed.setObjectName("fine.signed")
        self.sign, self.page = (
            self._button(name, text, act)
            for name, text, act in (
                ("sign", "Sign this month off", self._on_sign),
                ("page", "Its page on paper…", self._on_page),
            )
        )
        self.table = plain_table(self, [head[:1].upper() + head[1:] for head in _HEADS], "Month")
        line = QHBoxLayout()
        line.addWidget(self.month)
        line.addWidget(self.signed, 1)
        line.addWidget(self.sign)
        line.addWidget(self.page)
        column = QVBoxLayout(self)
        column.addLayout(line)
        column.addWidget(self.table)

    def _button(self, name: str, text: str, act: Callable[[], None]) -> QPushButton:
        button = QPushButton(text, self)
        button.setObjectName(f"fine.{name}")
        button.setVisible(False)
        button.clicked.connect(lambda _checked=False: act())
        return button

    @property
    def name(self) -> str:
        """Year-month, as it is typed."""
        return self.month.text().strip()

    def reload(self) -> None:
        """Sum up the month that is typed."""
        try:
            year, number = (int(part) for part in self.name.split("-"))
            month_of(year, number)
        except ValueError:
            mark_wrong(self.month, True)
            return
        mark_wrong(self.month, False)

        def work(store: Store) -> tuple[list[Month], dict[str, MonthClosing], list[str]]:
            return month_sums(store, year, number), store.closings.all(), store.closings.verify()

        self._look(work, self._show)

    def _show(self, found: tuple[list[Month], dict[str, MonthClosing], list[str]]) -> None:
        rows, self._closed, self._wrong = found
        closing = self._closed.get(self.name)
        self.signed.setText(_FOR_GOOD if closing is None else _sealed_text(closing, self._wrong))
        self.sign.setVisible(closing is None)
        self.page.setVisible(closing is not None)
        cells = [
            (
                alloy_label(row.alloy, self._rules()),
                f"{row.opening:.2f}",
                *(f"{row.moved[kind]:.2f}" for kind in KINDS),
                f"{row.closing:.2f}",
                f"{row.at_benches:.2f}",
            )
            for row in rows
        ]
        fill_rows(self.table, 0, cells)
        fit_columns(self.table)

    def _on_sign(self) -> None:
        """The month's end is signed off, and nothing is weighed into it any more."""
        month = self.name

        def work(store: Store) -> str:
            from yarvel.workshop.metal.seals_seen import note_seals

            try:
                store.closings.close(month)
                note_seals(store, store.house.identity())
            except StoreError as error:
                return str(error)
            return ""

        def done(problem: str) -> None:
            self.told.emit(problem)
            self.reload()

        self._ask(work, done)

    def _on_page(self) -> None:
        """What was signed off on one page, to be kept with the books."""
        from yarvel.desk.papers.papers import preview_and_print

        closing = self._closed.get(self.name)
        if closing is not None:
            page = page_of(self.name, self._closed, self._rules(), self._wrong)
            preview_and_print(self, [month_page(page)], f"Month's end {self.name}")


def page_of(month: str, closed: dict[str, MonthClosing], rules: HouseRules, wrong: list[str]) -> MonthPage:
    """What the page of a month that is signed off says; ``wrong`` is what looking through all months found."""
    closing = closed[month]
    before = max((name for name, other in closed.items() if name < month and other.digest), default="")
    return MonthPage(
        letterhead=rules.custom.letterhead_lines,
        month=month,
        zone=closing.zone,
        signed=f"{closing.by or 'nobody named'}, {closing.on}",
        lines=closing.lines,
        sums=tuple(
            (
                alloy_label(alloy, rules),
                tuple((_kind_text(what), f"{sums[what] / 1000:.3f} g") for what in sorted(sums, key=_place)),
            )
            for alloy, sums in closing.sums.items()
        ),
        digest=closing.digest,
        goes_on_from=f"{before}, sealed {closed[before].digest[:12]}" if before else "",
        note=closing.note,
        looked_through=f"{local_now():%Y-%m-%d %H:%M}: {_agreed(wrong)}" if closing.digest else "",
        printed=today().isoformat(),
    )


def _place(what: str) -> tuple[int, str]:
    """Kinds of lines in their order, within one by name."""
    kind, _comma, name = what.partition(", ")
    return [*KINDS, kind].index(kind), name


def _kind_text(what: str) -> str:
    """A kind of line as it is called, and whose it was."""
    kind, comma, name = what.partition(", ")
    return f"{KINDS.get(kind, kind)}{comma}{name}"


def _sealed_text(closing: MonthClosing, wrong: list[str]) -> str:
    """Who signed a month off, and what says that its lines are still those: all months were looked through."""
    sealed = f" {closing.lines} lines, sealed {closing.digest[:12]}." if closing.digest else ""
    note = f" ({closing.note})" if closing.note else ""
    agreed = f" Looked through just now: {_agreed(wrong)}" if closing.digest or wrong else ""
    return f"Signed off by {closing.by or 'nobody named'} on {closing.on}{note}.{sealed}{agreed}"


def _agreed(wrong: list[str]) -> str:
    return f"not all is as it was signed: {'; '.join(wrong)}." if wrong else "still what was signed off."
