"""Two people changed the same field: both values are shown, and somebody says which one stays."""

from __future__ import annotations

from datetime import date

from PySide6.QtWidgets import (
    QButtonGroup,
    QDialog,
    QDialogButtonBox,
    QGridLayout,
    QRadioButton,
    QVBoxLayout,
    QWidget,
)

from yarvel.desk.widgets.words import Words
from yarvel.workshop.dockets.merging import EditClash, EditClashError


class ClashDialog(QDialog):
    """``keep_theirs`` are the paths that stay as they are stored, once it is answered; closed unanswered, one's own
    waits and it is asked again at the next start."""

    def __init__(self, error: EditClashError, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle(f"{error.docket.number}: changed by two at once")
        self._groups: dict[str, QButtonGroup] = {}
        self._theirs: dict[str, QRadioButton] = {}
        said = Words(
            f"While you changed this docket, {error.by or 'another window'} changed the same. Nothing is lost: what "
            "does not stay is in the docket's history or here. Which one stays?",
            self,
        )
        said.setWordWrap(True)
        grid = QGridLayout()
        for column, text in enumerate(("", f"Stored by {error.by or 'another window'}", "Yours")):
            head = Words(text, self)
            head.setProperty("quiet", True)
            grid.addWidget(head, 0, column)
        for row, clash in enumerate(error.clashes, start=1):
            self._add_row(grid, row, clash)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Ok, self)
        buttons.button(QDialogButtonBox.StandardButton.Ok).setText("These stay")
        buttons.accepted.connect(self.accept)
        column_box = QVBoxLayout(self)
        column_box.addWidget(said)
        column_box.addLayout(grid)
        column_box.addWidget(buttons)
        self.setMinimumWidth(560)

    def _add_row(self, grid: QGridLayout, row: int, clash: EditClash) -> None:
        name = label_of(clash.path)
        grid.addWidget(Words(f"{name} (was {shown(clash.seen, clash.path)})", self), row, 0)
        group = QButtonGroup(self)
        for column, (who, value) in enumerate((("theirs", clash.theirs), ("mine", clash.mine)), start=1):
            text = shown(value, clash.path)
            button = QRadioButton(text.replace("&", "&&"), self)
            button.setObjectName(f"clash.{who}.{clash.path}")
            button.setAccessibleName(f"{name}: {'stored' if who == 'theirs' else 'yours'}, {text}")
            button.setChecked(who == "mine")
            group.addButton(button)
            grid.addWidget(button, row, column)
            if who == "theirs":
                self._theirs[clash.path] = button
        self._groups[clash.path] = group

    @property
    def keep_theirs(self) -> set[str]:
        """Paths of which the stored value stays."""
        return {path for path, button in self._theirs.items() if button.isChecked()}


_UNITS = {"_mm": " mm", "_deg": "°", "_in_g": " g", "_ct": " ct"}


def label_of(path: str) -> str:
    """A field's path in words: ``job.stone.depth_mm`` becomes "stone, depth"."""
    parts = path.removeprefix("job.").split(".")
    for ending in (*_UNITS, "_on"):
        parts[-1] = parts[-1].removesuffix(ending)
    return ", ".join(part.replace("_", " ") for part in parts)


def shown(value: object, path: str = "") -> str:
    """A value as somebody reads it, with the unit that its path ends in."""
    if value is None or value == "":
        return "as usual" if path.startswith("job.") else "nothing"
    unit = next((unit for ending, unit in _UNITS.items() if path.endswith(ending)), "")
    if isinstance(value, dict):
        return ", ".join(f"{label_of(name)} {shown(part, name)}" for name, part in value.items()) or "nothing"
    if isinstance(value, list | tuple):
        return " × ".join(shown(part) for part in value) + unit
    if isinstance(value, float | int):
        return f"{value:g}{unit}"
    return f"{value:%d %b %Y}" if isinstance(value, date) else str(value)
