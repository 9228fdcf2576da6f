"""A calendar to choose a day from, on a key beside a line; and how this machine writes days."""

from __future__ import annotations

from contextlib import suppress
from datetime import date

from PySide6.QtCore import QDate, QLocale, QPoint, Qt, Signal
from PySide6.QtGui import QFocusEvent, QKeyEvent, QTextCharFormat
from PySide6.QtWidgets import QCalendarWidget, QVBoxLayout, QWidget

from yarvel import clock
from yarvel.desk.widgets.fields import DocketLine
from yarvel.figures.days import day_in


def month_first() -> bool:
    """Whether two numbers with a stroke between them are a month and a day here, by the machine's own short date."""
    short = QLocale.system().dateFormat(QLocale.FormatType.ShortFormat)
    return 0 <= short.find("M") < short.find("d")


class CalendarPopup(QWidget):
    """A month under a line: arrows and Enter, or the pointer; Escape leaves as it was."""

    chosen = Signal(object)

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent, Qt.WindowType.Popup)
        self.setObjectName("calendar")
        self.calendar = QCalendarWidget(self)
        self.calendar.setAccessibleName("Calendar")
        self.calendar.setGridVisible(False)
        self.calendar.setVerticalHeaderFormat(QCalendarWidget.VerticalHeaderFormat.NoVerticalHeader)
        plain = QTextCharFormat()
        plain.setForeground(self.palette().text())
        for day in (Qt.DayOfWeek.Saturday, Qt.DayOfWeek.Sunday):  # no day has a colour of its own
            self.calendar.setWeekdayTextFormat(day, plain)
        self.calendar.activated.connect(self._on_day)
        self.calendar.clicked.connect(self._on_day)
        column = QVBoxLayout(self)
        column.setContentsMargins(1, 1, 1, 1)
        column.addWidget(self.calendar)

    def open_under(self, line: QWidget, day: date) -> None:
        """Show the month of a day under a line."""
        self.calendar.setSelectedDate(QDate(day.year, day.month, day.day))
        self.move(line.mapToGlobal(QPoint(0, line.height())))
        self.show()
        self.calendar.setFocus()

    def _on_day(self, day: QDate) -> None:
        if self.isVisible():
            self.hide()
            self.chosen.emit(date(day.year(), day.month(), day.day()))


class DayLine(DocketLine):
    """A line for a day; Alt and down opens the calendar."""

    begun = Signal()
    """Somebody comes to it: what is typed from now on is one day."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.calendar = CalendarPopup(self)
        self.calendar.chosen.connect(self._on_day)

    def focusInEvent(self, event: QFocusEvent) -> None:
        """What it says now is what holds, should no day come of what is typed."""
        self.begun.emit()
        super().focusInEvent(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """The calendar's key; the rest is ordinary typing."""
        if event.key() == Qt.Key.Key_Down and event.modifiers() & Qt.KeyboardModifier.AltModifier:
            self.calendar.open_under(self, self._day())
            return
        super().keyPressEvent(event)
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.begun.emit()

    def _day(self) -> date:
        """What it says, or today."""
        with suppress(ValueError):
            return day_in(self.text(), clock.today(), month_first()) or clock.today()
        return clock.today()

    def _on_day(self, day: date) -> None:
        self.setText(day.isoformat())
        self.textEdited.emit(self.text())
        self.setFocus()
