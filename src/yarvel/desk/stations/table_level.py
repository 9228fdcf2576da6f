"""Heights of the table read at the claws, and what they say of the seats."""

from __future__ import annotations

from PySide6.QtWidgets import QGridLayout, QLabel, QWidget

from yarvel.desk.session.session import Session
from yarvel.desk.widgets.fields import GaugeEdit, mark_wrong
from yarvel.desk.widgets.fold import Fold
from yarvel.desk.widgets.words import Words
from yarvel.heads.claws import MOST_CLAWS
from yarvel.heads.places import numbers
from yarvel.planning.documents import value_at

HEIGHTS = "setting.table_heights_mm"


class TableLevel:
    """A field a claw, by their numbers, under a fold; the verdict below."""

    def __init__(self, session: Session, fold: Fold, parent: QWidget) -> None:
        self._session, self._fold = session, fold
        hint = Words("Height of the table over the plate, read at each claw; all of them.", parent)
        hint.setProperty("quiet", True)
        hint.setWordWrap(True)
        fold.column.addWidget(hint)
        self.edits: list[GaugeEdit] = []
        self._names: list[QLabel] = []
        box = QWidget(parent)
        grid = QGridLayout(box)
        grid.setContentsMargins(0, 0, 0, 0)
        for row in range(MOST_CLAWS):
            name, edit = Words(box), GaugeEdit(box)
            edit.setObjectName(f"{HEIGHTS}.{row}")
            edit.textEdited.connect(self._on_height)
            edit.left.connect(session.end_burst)
            grid.addWidget(name, row // 2, 2 * (row % 2))
            grid.addWidget(edit, row // 2, 2 * (row % 2) + 1)
            self.edits.append(edit)
            self._names.append(name)
        fold.column.addWidget(box)
        self._verdict = Words(parent)
        self._verdict.setProperty("quiet", True)
        self._verdict.setWordWrap(True)
        self._verdict.setObjectName("setting.level")
        fold.column.addWidget(self._verdict)

    def _on_height(self) -> None:
        texts = [edit.text().strip() for edit in self.edits if not edit.isHidden()]
        if not any(texts):
            self._session.set_value(HEIGHTS, None, "Table's heights")
            return
        values = []
        for edit, text in zip(self.edits, texts, strict=False):
            try:
                values.append(float(text.replace(",", ".")))
                mark_wrong(edit, False)
            except ValueError:
                mark_wrong(edit, bool(text))
        if len(values) == len(texts):
            by_place = [value for _, value in sorted(zip(self._places(), values, strict=True))]
            self._session.set_value(HEIGHTS, by_place, "Table's heights")
        elif any(text and not _is_number(text) for text in texts):
            self._verdict.setText("Accepted: heights in mm, 0 to 60")

    def _places(self) -> list[int]:
        """Which claw each field is for: the first one for claw 1, and so on."""
        plan = self._session.plan
        called = () if plan is None else numbers(plan.shape.places)
        return sorted(range(len(called)), key=lambda place: called[place])

    def refresh(self) -> None:
        """As many fields as there are claws; what the heights say."""
        plan = self._session.plan
        places = self._places()
        heights = value_at(self._session.document, HEIGHTS) or []
        self._fold.setVisible(bool(places))
        typing = any(edit.hasFocus() for edit in self.edits)
        for row, (name, edit) in enumerate(zip(self._names, self.edits, strict=True)):
            shown = row < len(places)
            edit.setVisible(shown)
            name.setVisible(shown)
            if shown:
                at, place = f"claw {row + 1}", places[row]
                name.setText(f"at {at}")
                edit.setAccessibleName(f"Height of the table at {at}, mm")
                if not typing:
                    edit.setText(f"{heights[place]:g}" if place < len(heights) else "")
        if heights:
            self._fold.open()
        call = (
            None if plan is None else next((call for call in plan.diagnostics if call.code == "stone-not-level"), None)
        )
        problem = self._session.problems.get(HEIGHTS)
        self._verdict.setText(call.message if call is not None else str(problem) if problem is not None else "")


def _is_number(text: str) -> bool:
    try:
        float(text.replace(",", "."))
    except ValueError:
        return False
    return True
