"""Names of customers, offered as somebody types one."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QEvent, QObject, QStringListModel, Qt, Signal
from PySide6.QtWidgets import QCompleter, QLineEdit

from yarvel.workshop.people.customers import KnownCustomer


class CustomerNames(QObject):
    """Under a line: whoever is known by what is typed. ``asked`` wants the customers, as the line is entered;
    ``chosen`` tells who was taken."""

    asked = Signal(object)
    chosen = Signal(object)

    def __init__(self, line: QLineEdit) -> None:
        super().__init__(line)
        self._line = line
        self._known: dict[str, KnownCustomer] = {}
        self._names = QStringListModel(self)
        self._completer = QCompleter(self._names, self)
        self._completer.setCaseSensitivity(Qt.CaseSensitivity.CaseInsensitive)
        self._completer.setFilterMode(Qt.MatchFlag.MatchContains)
        self._completer.activated.connect(self._on_activated)
        line.setCompleter(self._completer)
        line.installEventFilter(self)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """Look for them anew when somebody comes to the line."""
        if event.type() == QEvent.Type.FocusIn:
            take: Callable[[list[KnownCustomer]], None] = self.show_customers
            self.asked.emit(take)
        return super().eventFilter(watched, event)

    def show_customers(self, known: list[KnownCustomer]) -> None:
        """Those that are offered, whoever came last first."""
        self._known = {name: record for record in known for name in record.names[:1]}
        self._names.setStringList(list(self._known))

    def _on_activated(self, name: str) -> None:
        record = self._known.get(name)
        if record is not None:
            self.chosen.emit(record)
