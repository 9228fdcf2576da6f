"""The shortcut list: every action with its keys, and the keys of the sheet and the gauge."""

from __future__ import annotations

from PySide6.QtWidgets import QDialog, QDialogButtonBox, QGridLayout, QVBoxLayout, QWidget

from yarvel.desk.widgets.words import Words

_MORE = (
    ("Next reading or field", "Enter"),
    ("Any choice", "any word of it, then Enter"),
    ("A calendar for a day", "Alt and down, in its line"),
    ("Put back what holds", "Escape"),
    ("Through the figures of the sheet", "arrow keys, on the sheet"),
    ("Type over the chosen figure", "Enter, on the sheet"),
    ("Seat higher, lower", "Page up, Page down, on the sheet"),
    ("Opening narrower, wider", "<, >, on the sheet"),
    ("Next claw; move it round the stone", "C; [, ], on the sheet"),
    ("Turn the bodies; nearer, farther", "arrow keys; +, −, on their view"),
    ("Front, side, straight down", "1, 2, 3, on their view"),
    ("From bar to bar; one more", "arrow keys; Shift and arrows, on the board"),
    ("Past bars to another; choose it too", "Ctrl and arrows; Space, on the board"),
    ("Earlier, later; to other hands", "Alt and arrow keys, on the board"),
    ("Free a task of its hands and hour", "Del, on the board"),
    ("Tasks together, or each by itself", "Ctrl+G, on the board"),
    ("What a task really took", "Ctrl+M, on the board"),
)


class ShortcutsDialog(QDialog):
    """Shows the list; returns nothing."""

    def __init__(self, actions: list[tuple[str, str]], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle("Shortcuts")
        grid = QGridLayout()
        grid.setHorizontalSpacing(28)
        half = (len(actions) + len(_MORE) + 1) // 2
        for place, (text, keys) in enumerate([*actions, *_MORE]):
            pair = place // half * 2
            grid.addWidget(Words(text, self), place % half, pair)
            label = Words(keys, self)
            label.setProperty("quiet", True)
            grid.addWidget(label, place % half, pair + 1)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close, self)
        buttons.rejected.connect(self.reject)
        column = QVBoxLayout(self)
        column.addLayout(grid)
        column.addWidget(buttons)
