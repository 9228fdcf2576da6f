"""What a scanner is about to do: a deed's code holds for the labels that are scanned after it."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QTimer, Signal
from PySide6.QtWidgets import QWidget

from yarvel.desk.widgets.words import Words
from yarvel.workshop.people.person import Person
from yarvel.workshop.work.deed_codes import START, DeedCode, all_codes, read_code

_HOLDS_MS = 60_000


class ScannedDeeds(Words):
    """Says which deed is in force while it is another than starting; over with a minute's silence."""

    over = Signal()

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("board.scanned")
        self.setWordWrap(True)
        self.deed = DeedCode(START)
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self.end)
        self.hide()

    def begin(self, deed: DeedCode, people: Sequence[Person]) -> None:
        """This deed from now on."""
        self.deed = deed
        self.setText(f"{deed.words(people)}: scan the label of each docket that it goes for.")
        self.setVisible(deed.deed != START)
        self._timer.start(_HOLDS_MS)

    def take(self, text: str, people: Sequence[Person]) -> DeedCode | None:
        """What is to be done with a label; None where the text is a deed's code itself, which holds from now on."""
        code = read_code(text)
        if code is not None:
            self.begin(code, people)
            return None
        self._timer.start(_HOLDS_MS)
        return self.deed

    def end(self) -> None:
        """From now on a label starts what comes next, as always."""
        self.deed = DeedCode(START)
        self.hide()
        self.over.emit()


def print_codes(parent: QWidget, people: Sequence[Person]) -> None:
    """The codes of all deeds, to be hung beside the board."""
    from yarvel.desk.papers.papers import preview_and_print
    from yarvel.drawing.code_sheet import code_sheets

    pages = code_sheets([(known_code.words(people), known_code.code) for known_code in all_codes(people)])
    preview_and_print(parent, pages, "Codes for the scanner", "codes for the scanner")
