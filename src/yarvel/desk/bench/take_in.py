"""Station: take in. Whose it is, what it is, when it is promised."""

from __future__ import annotations

from datetime import date

from PySide6.QtWidgets import QGridLayout, QLabel, QLineEdit, QWidget

from yarvel.desk.bench.stations import MISSING, Station
from yarvel.desk.session import Session
from yarvel.desk.widgets.fields import LABEL_WIDTH, mark_wrong
from yarvel.planning.calls.call import OK

_DATE = "a date such as 2031-04-09, or 9.4."


class TakeIn(Station):
    """Customer, item and promised date of the docket."""

    TITLE = "Take in"

    def __init__(self, session: Session, today: date, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        self._today = today

    def build(self) -> None:
        """The docket's own lines."""
        self._lines: dict[str, QLineEdit] = {}
        for name, label in (("customer", "Customer"), ("item", "Item"), ("promised_on", "Promised")):
            self._add_line(name, label)
        self._mark = self.remark()
        self._mark.setProperty("problem", True)
        self._mark.hide()

    def _add_line(self, name: str, label: str) -> None:
        row = QWidget(self)
        grid = QGridLayout(row)
        grid.setContentsMargins(0, 0, 0, 0)
        edit = QLineEdit(row)
        edit.setObjectName(f"docket.{name}")
        edit.setAccessibleName(label)
        title = QLabel(label, row)
        title.setBuddy(edit)
        title.setMinimumWidth(LABEL_WIDTH)
        grid.addWidget(title, 0, 0)
        grid.addWidget(edit, 0, 1)
        self._lines[name] = edit
        self.column.addWidget(row)
        edit.textEdited.connect(lambda text: self._on_text(name, text))
        if name == "promised_on":
            edit.setPlaceholderText("year-month-day")

    def _on_text(self, name: str, text: str) -> None:
        if name != "promised_on":
            self.session.set_column(name, text)
            return
        wrong = False
        try:
            self.session.set_column(name, read_date(text, self._today))
        except ValueError:
            wrong = True
            self._mark.setText(f"{text!r} is no date. Accepted: {_DATE}")
        mark_wrong(self._lines[name], wrong)
        self._mark.setVisible(wrong)

    def refresh(self) -> None:
        """Show the docket as it is now."""
        docket = self.session.docket
        for name, edit in self._lines.items():
            held = getattr(docket, name) if docket is not None else None
            text = "" if held is None else str(held)
            if not edit.hasFocus() and edit.text() != text:
                edit.setText(text)
            edit.setEnabled(docket is not None)

    def telling(self) -> str:
        """Number, and the promised date."""
        docket = self.session.docket
        if docket is None:
            return "no docket"
        return docket.number + (f" · for {docket.promised_on:%d %b}" if docket.promised_on else " · no date promised")

    def state(self) -> str:
        """Missing until there is a customer or an item to know it by."""
        docket = self.session.docket
        return OK if docket is not None and (docket.customer or docket.item) else MISSING

    def first_field(self) -> QWidget | None:
        """The customer."""
        return self._lines["customer"]


def read_date(text: str, today: date) -> date | None:
    """A date as typed: ISO, or day and month (of the year to come) with dots; None for nothing.

    Raises
    ------
    ValueError : it is no date.
    """
    cleaned = text.strip()
    if not cleaned:
        return None
    if "." not in cleaned:
        return date.fromisoformat(cleaned)
    parts = [int(part) for part in cleaned.rstrip(".").split(".")]
    if len(parts) == 3:
        return date(parts[2] if parts[2] > 99 else 2000 + parts[2], parts[1], parts[0])
    day, month = parts
    found = date(today.year, month, day)
    return found if found >= today else date(today.year + 1, month, day)
