"""What is found on a claw: as many things as there are, each with the figure that chooses it."""

from __future__ import annotations

from collections.abc import Iterable

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QCheckBox, QGridLayout, QWidget

from yarvel.heads.wear import FINDINGS, SOUND, excludes

_COLUMNS = 2


class FindingsField(QWidget):
    """A box a finding; none of them: the claw is sound. ``changed`` tells the keys in the order of the list."""

    changed = Signal(tuple)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.boxes: dict[str, QCheckBox] = {}
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 0, 0, 0)
        keys = [key for key in FINDINGS if key != SOUND]
        for place, key in enumerate(keys):
            box = QCheckBox(f"{place + 1}  {FINDINGS[key].capitalize()}", self)
            box.setObjectName(f"claw.finding.{key}")
            box.clicked.connect(lambda _checked=False, key=key: self._tell(key))
            self.boxes[key] = box
            grid.addWidget(box, place // _COLUMNS, place % _COLUMNS)

    def show_findings(self, findings: Iterable[str]) -> None:
        """Tick these, and no others."""
        chosen = set(findings)
        for key, box in self.boxes.items():
            box.setChecked(key in chosen)

    def press(self, figure: int) -> None:
        """The box of a figure the other way round; 0 takes all ticks away."""
        key = SOUND
        if figure == 0:
            self.show_findings(())
        elif figure <= len(self.boxes):
            key, box = list(self.boxes.items())[figure - 1]
            box.setChecked(not box.isChecked())
        self._tell(key)

    def _tell(self, pressed: str) -> None:
        """What was pressed last counts: what cannot be beside it goes."""
        if pressed != SOUND and self.boxes[pressed].isChecked():
            for key, box in self.boxes.items():
                if excludes(pressed, key):
                    box.setChecked(False)
        self.changed.emit(tuple(key for key, box in self.boxes.items() if box.isChecked()))
