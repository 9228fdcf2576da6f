"""A choice of words: opened like any list, or found by typing any word of any entry. Every choice of every window is
one of these."""

from __future__ import annotations

import re
from collections.abc import Sequence

from PySide6.QtCore import QEvent, QPoint, Qt
from PySide6.QtGui import QFocusEvent, QKeyEvent, QPaintEvent, QShowEvent, QWheelEvent
from PySide6.QtWidgets import (
    QComboBox,
    QFrame,
    QListView,
    QListWidget,
    QStyle,
    QStyleOptionComboBox,
    QStylePainter,
    QVBoxLayout,
    QWidget,
)

from yarvel.desk.widgets.words import Words

_MOST_SHOWN, _ROW_PX, _LEAST_PX = 9, 18, 240
_WORD = re.compile(r"[^\W_]+")
_TAKES, _NONE = "Enter takes it, Esc does not", "Nothing like that here. Esc: as it was"
_ENTER = (Qt.Key.Key_Return, Qt.Key.Key_Enter)
_PLAIN = Qt.KeyboardModifier.NoModifier | Qt.KeyboardModifier.ShiftModifier | Qt.KeyboardModifier.KeypadModifier


def matching(typed: str, entries: Sequence[str]) -> list[int]:
    """Which entries somebody means, by their places: those in which every word typed begins a word; where there are
    none, those that hold each of them somewhere. One that begins with what was typed comes first."""
    wanted = typed.casefold().split()
    if not wanted:
        return []
    plain = [entry.casefold() for entry in entries]
    begun = [
        place
        for place, entry in enumerate(plain)
        if all(any(word.startswith(part) for word in [*_WORD.findall(entry), *entry.split()]) for part in wanted)
    ]
    found = begun or [place for place, entry in enumerate(plain) if all(part in entry for part in wanted)]
    whole = " ".join(wanted)
    return sorted(found, key=lambda place: not plain[place].startswith(whole))


class Found(QFrame):
    """Under a choice: what was typed into it, and what that finds. It lies over the window and never has the focus."""

    def __init__(self, choice: Choice) -> None:
        super().__init__(choice.window())
        self.setObjectName("choice.found")
        self.setProperty("overlay", True)
        self.setFrameShape(QFrame.Shape.StyledPanel)
        self.setAutoFillBackground(True)
        self._choice = choice
        self.said = Words(self)
        self.said.setProperty("quiet", True)
        self.rows = QListWidget(self)
        self.rows.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.rows.setUniformItemSizes(True)
        self.rows.itemClicked.connect(lambda _item: choice.take())
        column = QVBoxLayout(self)
        column.setContentsMargins(6, 4, 6, 6)
        column.setSpacing(2)
        column.addWidget(self.said)
        column.addWidget(self.rows)

    def show_found(self, said: str, entries: Sequence[str]) -> None:
        """Show these, the first one chosen."""
        self.said.setText(said)
        self.rows.clear()
        self.rows.addItems(list(entries))
        self.rows.setCurrentRow(0)
        self.rows.setVisible(bool(entries))
        self.rows.setFixedHeight(min(len(entries), _MOST_SHOWN) * max(self.rows.sizeHintForRow(0), _ROW_PX) + 2)
        self._place()
        self.show()
        self.raise_()

    def _place(self) -> None:
        """Under the choice, over it where there is no room, never beyond the window."""
        window, choice = self.window(), self._choice
        self.setFixedWidth(min(max(choice.width(), _LEAST_PX), window.width()))
        self.adjustSize()
        at = choice.mapTo(window, QPoint(0, choice.height()))
        if at.y() + self.height() > window.height():
            at.setY(max(at.y() - choice.height() - self.height(), 0))
        at.setX(max(min(at.x(), window.width() - self.width()), 0))
        self.move(at)


class _Entries(QListView):
    """The opened list: typing goes to an entry by any word of it."""

    def __init__(self, choice: Choice) -> None:
        super().__init__(choice)
        self._choice, self._typed = choice, ""

    def showEvent(self, event: QShowEvent) -> None:
        """Nothing is typed yet."""
        self._typed = ""
        super().showEvent(event)

    def keyboardSearch(self, text: str) -> None:
        """What was typed since it was opened; begun anew where that finds nothing."""
        for typed in (self._typed + text, text):
            found = matching(typed, self._choice.entries())
            if found:
                self._typed = typed
                self.setCurrentIndex(self.model().index(found[0], self._choice.modelColumn()))
                return


class Choice(QComboBox):
    """A list of words. What is typed finds entries, Enter takes the one that is marked and goes on to the next field,
    Escape leaves it as it was. Nothing is taken by leaving it, and the wheel changes nothing but an opened list.
    ``activated`` tells of what somebody took."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setView(_Entries(self))
        self._typed = ""
        self._places: list[int] = []
        self._found: Found | None = None

    def entries(self) -> list[str]:
        """What can be chosen."""
        return [self.itemText(place) for place in range(self.count())]

    @property
    def typed(self) -> str:
        """What was typed and is not taken yet."""
        return self._typed

    def take(self) -> None:
        """Take the entry that is marked among what was found; where other things are offered by now, what was typed is
        looked for anew, and nothing is taken yet."""
        if self._found is None or not self._places:
            return
        row = max(self._found.rows.currentRow(), 0)
        place, seen = self._places[row], self._found.rows.item(row).text()
        if self.itemText(place) != seen:
            self._find(self._typed)
            return
        self._leave()
        self.setCurrentIndex(place)
        self.activated.emit(place)

    def _leave(self) -> None:
        """Nothing is typed any more."""
        self._typed, self._places = "", []
        if self._found is not None:
            self._found.hide()
        self._mark()

    def _find(self, typed: str) -> None:
        if not typed.strip():
            self._leave()
            return
        self._typed, self._places = typed, matching(typed, self.entries())
        if self._found is None or self._found.window() is not self.window():
            self._found = Found(self)
            self.destroyed.connect(self._found.deleteLater)
        self._found.show_found(_TAKES if self._places else _NONE, [self.itemText(place) for place in self._places])
        self._mark()

    def _mark(self) -> None:
        """The look of what is typed and stands for nothing: not found, or left behind without Enter."""
        wrong = bool(self._typed) and (not self._places or not self.hasFocus())
        if bool(self.property("wrong")) != wrong:
            self.setProperty("wrong", wrong)
            self.style().unpolish(self)
            self.style().polish(self)
        self.update()

    def event(self, event: QEvent) -> bool:
        """What is typed here is no shortcut of the window's."""
        if event.type() == QEvent.Type.ShortcutOverride and isinstance(event, QKeyEvent) and self._is_text(event):
            event.accept()
            return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Typing, and the keys that end it; the rest is any list's."""
        key = event.key()
        if self.isEditable():  # whatever is typed may stand there: a device's name
            super().keyPressEvent(event)
        elif key in _ENTER:
            if not self._typed or self._places:
                self.take()
                if self.hasFocus() and not self._typed:  # what was taken may lead elsewhere
                    self.focusNextChild()
        elif key == Qt.Key.Key_Escape and self._typed:
            self._leave()
        elif key == Qt.Key.Key_Backspace and self._typed:
            self._find(self._typed[:-1])
        elif key in (Qt.Key.Key_Up, Qt.Key.Key_Down) and self._places and self._found is not None:
            rows = self._found.rows
            rows.setCurrentRow((rows.currentRow() + (1 if key == Qt.Key.Key_Down else -1)) % rows.count())
        elif self._is_text(event):
            self._find(self._typed + event.text())
        else:
            super().keyPressEvent(event)

    def _is_text(self, event: QKeyEvent) -> bool:
        text = event.text()
        plain = not event.modifiers() & ~_PLAIN
        return plain and bool(text) and text.isprintable() and (bool(self._typed) or not text.isspace())

    def wheelEvent(self, event: QWheelEvent) -> None:
        """Left to whoever scrolls; what was found does not stay behind."""
        if self._found is not None:
            self._found.hide()
        event.ignore()

    def focusInEvent(self, event: QFocusEvent) -> None:
        """What was left behind is gone on with."""
        super().focusInEvent(event)
        if self._typed:
            self._find(self._typed)

    def focusOutEvent(self, event: QFocusEvent) -> None:
        """Nothing is taken; what was typed stays to be seen."""
        super().focusOutEvent(event)
        if self._found is not None:
            self._found.hide()
        self._mark()

    def showPopup(self) -> None:
        """The whole list; what was typed is let go."""
        self._leave()
        super().showPopup()

    def paintEvent(self, event: QPaintEvent) -> None:
        """What is typed stands in the place of what holds."""
        if not self._typed:
            super().paintEvent(event)
            return
        option = QStyleOptionComboBox()
        self.initStyleOption(option)
        option.currentText = self._typed
        painter = QStylePainter(self)
        painter.drawComplexControl(QStyle.ComplexControl.CC_ComboBox, option)
        painter.drawControl(QStyle.ControlElement.CE_ComboBoxLabel, option)
