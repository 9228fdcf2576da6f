"""Signing in with a name and a PIN; and the first start, which makes the owner."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from PySide6.QtCore import QRegularExpression, Qt, Signal
from PySide6.QtGui import QRegularExpressionValidator
from PySide6.QtWidgets import (
    QDialog,
    QDialogButtonBox,
    QFormLayout,
    QLineEdit,
    QVBoxLayout,
    QWidget,
)

from yarvel.desk.widgets.choice import Choice
from yarvel.desk.widgets.words import LineField, Words

if TYPE_CHECKING:
    from yarvel.workshop.store import Store


Try = Callable[[str, str, Callable[[str], None]], None]
"""Tries a name and a PIN in the background; the callback gets "" where it was right, else what was wrong."""


def pin_field(parent: QWidget, name: str, label: str) -> QLineEdit:
    """A field for a PIN: 4 to 12 digits, hidden."""
    field = QLineEdit(parent)
    field.setObjectName(name)
    field.setAccessibleName(label)
    field.setEchoMode(QLineEdit.EchoMode.Password)
    field.setInputMethodHints(Qt.InputMethodHint.ImhDigitsOnly | Qt.InputMethodHint.ImhSensitiveData)
    field.setValidator(QRegularExpressionValidator(QRegularExpression("[0-9]{0,12}"), field))
    return field


class _PinDialog(QDialog):
    """A form, what was wrong, and a button."""

    def __init__(self, title: str, said: str, button: str, parent: QWidget | None) -> None:
        super().__init__(parent)
        self.setWindowTitle(title)
        self.setMinimumWidth(420)
        text = Words(said, self)
        text.setWordWrap(True)
        self.form = QFormLayout()
        self.wrong = Words(self)
        self.wrong.setObjectName("sign.wrong")
        self.wrong.setProperty("problem", True)
        self.wrong.setWordWrap(True)
        self.wrong.hide()
        self.buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Ok, self)
        self.buttons.button(QDialogButtonBox.StandardButton.Ok).setText(button)
        self.buttons.accepted.connect(self._on_try)
        column = QVBoxLayout(self)
        column.addWidget(text)
        column.addLayout(self.form)
        column.addWidget(self.wrong)
        column.addWidget(self.buttons)

    def _on_try(self) -> None:
        raise NotImplementedError

    def answered(self, wrong: str) -> None:
        """Close where it was right, else say what was wrong."""
        if not wrong:
            self.accept()
            return
        self.wrong.setText(wrong)
        self.wrong.show()


class SignInDialog(_PinDialog):
    """Name and PIN: only signing in opens the application again; the other way is out of it."""

    quit_wanted = Signal()

    def __init__(self, names: list[str], last: str, attempt: Try, said: str, parent: QWidget | None = None) -> None:
        super().__init__("Sign in", said, "Sign in", parent)
        self._attempt = attempt
        self.setProperty("unlocks", True)
        out = self.buttons.addButton("Close Yarvel", QDialogButtonBox.ButtonRole.ActionRole)
        out.setObjectName("sign.quit")
        out.setAutoDefault(False)
        out.clicked.connect(self._on_quit)
        self.name = Choice(self)
        self.name.setObjectName("sign.name")
        self.name.setAccessibleName("Name")
        self.name.addItems(names)
        self.name.setCurrentText(last)
        self.pin = pin_field(self, "sign.pin", "PIN")
        self.form.addRow("Name", self.name)
        self.form.addRow("PIN", self.pin)
        self.pin.setFocus()

    def _on_try(self) -> None:
        self._attempt(self.name.currentText(), self.pin.text(), self.answered)
        self.pin.clear()

    def reject(self) -> None:
        """A locked window cannot be looked past."""

    def _on_quit(self) -> None:
        self.done(QDialog.DialogCode.Rejected)
        self.quit_wanted.emit()


class FirstStartDialog(_PinDialog):
    """Whoever starts a new store is its owner; with a PIN people sign in from now on."""

    def __init__(self, name: str, pin_wanted: bool, attempt: Try, parent: QWidget | None = None) -> None:
        more = (
            "A team's store wants a PIN."
            if pin_wanted
            else ("Leave the PIN empty where you work alone: nobody signs in then.")
        )
        super().__init__("The first start", f"You are the owner of this store: who are you? {more}", "Begin", parent)
        self._attempt, self._pin_wanted = attempt, pin_wanted
        self.setProperty("unlocks", True)
        self.name = LineField(name, self)
        self.name.setObjectName("owner.name")
        self.name.setAccessibleName("Your name")
        self.name.advances = True
        self.name.selectAll()
        self.pin, self.again = pin_field(self, "owner.pin", "PIN"), pin_field(self, "owner.again", "PIN once more")
        self.form.addRow("Your name", self.name)
        self.form.addRow("PIN, 4 to 12 digits", self.pin)
        self.form.addRow("PIN once more", self.again)
        self.name.setFocus()

    def _on_try(self) -> None:
        if self.pin.text() != self.again.text():
            self.answered("The two PINs are not the same: type the same digits twice.")
        elif self._pin_wanted and not self.pin.text():
            self.answered("No PIN: 4 to 12 digits.")
        else:
            self._attempt(self.name.text(), self.pin.text(), self.answered)


def result_of(work: Callable[[Store], object]) -> Callable[[Store], str]:
    """Work on a store whose refusal is an answer, not an error."""
    from yarvel.figures.errors import YarvelError

    def tried(store: Store) -> str:
        try:
            work(store)
        except YarvelError as error:
            return str(error)
        return ""

    return tried
