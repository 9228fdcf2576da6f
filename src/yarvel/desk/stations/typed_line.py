"""What is typed in one line as people say it, and what is accepted said under it."""

from __future__ import annotations

from PySide6.QtWidgets import QGridLayout, QWidget

from yarvel.desk.session.session import Session
from yarvel.desk.widgets.fields import LABEL_WIDTH, mark_wrong
from yarvel.desk.widgets.words import LineField, Words, tip
from yarvel.planning.documents import value_at


class TypedLine(QWidget):
    """One line for a value of the job at ``path``; what is not accepted stays as typed, with what is. A kind of line
    says what its text ``means``, what of the job is ``changed`` by it, and how it is ``said``."""

    def __init__(self, session: Session, parent: QWidget, path: str, label: str, nothing: str) -> None:
        super().__init__(parent)
        self._session, self._path, self._label = session, path, label
        self.edit = LineField(self)
        self.edit.setObjectName(path)
        self.edit.setAccessibleName(label)
        self.edit.setPlaceholderText(nothing)
        self.edit.editingFinished.connect(self._on_typed)
        name = Words(label.split(",", maxsplit=1)[0], self)
        name.setBuddy(self.edit)
        name.setMinimumWidth(LABEL_WIDTH)
        self._problem = Words(self)
        self._problem.setProperty("problem", True)
        self._problem.setWordWrap(True)
        self._problem.hide()
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.addWidget(name, 0, 0)
        grid.addWidget(self.edit, 0, 1)
        grid.addWidget(self._problem, 1, 0, 1, 2)

    @property
    def held(self) -> object:
        """What the job holds there."""
        return value_at(self._session.document, self._path)

    def accepted(self) -> str:
        """What is accepted, with an example."""
        raise NotImplementedError

    def means(self, text: str) -> object:
        """What a text that is not empty says; None where it is not accepted."""
        raise NotImplementedError

    def take(self, typed: object) -> None:
        """Bring what was typed into the job; None for nothing."""
        raise NotImplementedError

    def said(self) -> str:
        """What the job holds, as it is typed."""
        raise NotImplementedError

    def _on_typed(self) -> None:
        text = self.edit.text().strip()
        typed = self.means(text) if text else None
        wrong = bool(text) and typed is None
        mark_wrong(self.edit, wrong)
        self._problem.setText(f"Accepted: {self.accepted()}; nothing for none." if wrong else "")
        self._problem.setVisible(wrong)
        if not wrong:
            self.take(typed)

    def refresh(self) -> None:
        """What the job holds."""
        if not self.edit.hasFocus() and not self._problem.isVisible():
            self.edit.setText(self.said())
            self.edit.setCursorPosition(0)
            self.edit.setToolTip(tip(self.edit.text()))
