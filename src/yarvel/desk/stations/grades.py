"""A field a group of joints: its grade of solder, or fused, or welded."""

from __future__ import annotations

from PySide6.QtWidgets import QVBoxLayout, QWidget

from yarvel.desk.session.session import Session
from yarvel.desk.widgets.fields import ChoiceField
from yarvel.metals.joints import METHODS, groups
from yarvel.operations.joint_groups import key_of, name_of
from yarvel.planning.documents import Document, value_at
from yarvel.planning.plan import Plan


class GradeFields(QWidget):
    """As many fields as the plan has groups of joints, in their order."""

    def __init__(self, session: Session, parent: QWidget) -> None:
        super().__init__(parent)
        self._session = session
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._shown: tuple[tuple[str, str], ...] = ()

    def refresh(self, plan: Plan | None) -> bool:
        """Anew where a group or a grade has changed; whether there is any joint."""
        rows = () if plan is None else tuple((joint.group, joint.grade) for joint, _ in groups(plan.joints))
        if rows != self._shown:
            self._shown = rows
            while (item := self._column.takeAt(0)) is not None:
                if (widget := item.widget()) is not None:
                    widget.hide()
                    widget.deleteLater()
            for group, grade in rows:
                self._column.addWidget(self._field(group, grade))
        return bool(rows)

    def _field(self, group: str, grade: str) -> ChoiceField:
        name = name_of(group)
        words = [(word, word.capitalize()) for word in METHODS]
        field = ChoiceField(f"joints.grades.{key_of(group)}", name[0].upper() + name[1:], words, self)
        field.show_value(grade)
        field.chosen.connect(self._on_grade)
        return field

    def _on_grade(self, path: str, value: object) -> None:
        key = path.rsplit(".", 1)[1]
        grades: Document = value_at(self._session.document, "joints.grades") or {}
        self._session.patch({"joints": {"grades": {**grades, key: value}}}, "Grade of a joint")
