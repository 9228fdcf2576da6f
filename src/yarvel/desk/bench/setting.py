"""Station: setting. Schools of seat and closing, the table's level as read at the claws, the work after soldering."""

from __future__ import annotations

from PySide6.QtWidgets import QGridLayout, QLabel, QWidget

from yarvel.desk.bench.joints import AT_THE_TORCH
from yarvel.desk.bench.stations import Station
from yarvel.desk.bench.work import told
from yarvel.desk.session import value_at
from yarvel.desk.widgets.fields import GaugeEdit, mark_wrong
from yarvel.desk.widgets.words import Words
from yarvel.heads.claws import MOST_CLAWS
from yarvel.heads.places import numbers
from yarvel.planning.closing import CLOSING_SCHOOLS, PUSHER, SEAT_SCHOOLS
from yarvel.planning.work import DEFER, work_steps

_HEIGHTS = "setting.table_heights_mm"


class SettingStation(Station):
    """From cleaning to the snag test."""

    TITLE = "Setting"
    ROOMS = ("setting",)

    def build(self) -> None:
        """The station's fields and lines."""
        self.choice("setting.seat", "Notch cut", [("", "As usual"), *SEAT_SCHOOLS.items()])
        self.choice("setting.closing", "Closed with", list(CLOSING_SCHOOLS.items()))
        fold = self.fold("Is the table level?")
        self._level = fold
        self.remark("Height of the table over the plate, read at each claw; all of them.")
        self.edits: list[GaugeEdit] = []
        self._names: list[QLabel] = []
        box = QWidget(self)
        grid = QGridLayout(box)
        grid.setContentsMargins(0, 0, 0, 0)
        for place in range(MOST_CLAWS):
            name, edit = Words(box), GaugeEdit(box)
            edit.setObjectName(f"{_HEIGHTS}.{place}")
            edit.textEdited.connect(self._on_height)
            edit.left.connect(self.session.end_burst)
            grid.addWidget(name, place // 2, 2 * (place % 2))
            grid.addWidget(edit, place // 2, 2 * (place % 2) + 1)
            self.edits.append(edit)
            self._names.append(name)
        self.column.addWidget(box)
        self._verdict = self.remark()
        self._verdict.setObjectName("setting.level")
        self.end_fold()
        self._text = self.account()

    def chosen_value(self, path: str) -> object:
        """The job's school, or what is usual."""
        held = super().chosen_value(path)
        return ("" if path == "setting.seat" else PUSHER) if held is None else held

    def _on_chosen(self, path: str, value: object) -> None:
        self.session.end_burst()
        self.session.set_value(path, value or None, self.choices[path].label)

    def _on_height(self) -> None:
        texts = [edit.text().strip() for edit in self.edits if not edit.isHidden()]
        if not any(texts):
            self.session.set_value(_HEIGHTS, None, "Table's heights")
            return
        values = []
        for edit, text in zip(self.edits, texts, strict=False):
            try:
                values.append(float(text.replace(",", ".")))
                mark_wrong(edit, False)
            except ValueError:
                mark_wrong(edit, bool(text))
        if len(values) == len(texts):
            self.session.set_value(_HEIGHTS, values, "Table's heights")
        elif any(text and not _is_number(text) for text in texts):
            self._verdict.setText("Accepted: heights in mm, 0 to 60")

    def refresh(self) -> None:
        """Fields as many as there are claws; what the heights say; all steps after soldering."""
        super().refresh()
        plan = self.session.plan
        places = () if plan is None else plan.shape.places
        held = value_at(self.session.document, _HEIGHTS) or []
        self._level.setVisible(bool(places))
        typing = any(edit.hasFocus() for edit in self.edits)
        for place, (name, edit) in enumerate(zip(self._names, self.edits, strict=True)):
            shown = place < len(places)
            edit.setVisible(shown)
            name.setVisible(shown)
            if shown:
                at = f"claw {numbers(places)[place]}"
                name.setText(f"at {at}")
                edit.setAccessibleName(f"Height of the table at {at}, mm")
                if not typing:
                    edit.setText(f"{held[place]:g}" if place < len(held) else "")
        if held:
            self._level.open()
        call = None if plan is None else next((call for call in plan.calls if call.code == "stone-not-level"), None)
        problem = self.session.problems.get(_HEIGHTS)
        self._verdict.setText(call.message if call is not None else str(problem) if problem is not None else "")
        self._text.setText(
            ""
            if plan is None
            else told([step for step in work_steps(plan, with_metal=False) if step.name not in AT_THE_TORCH], DEFER)
        )

    def telling(self) -> str:
        """The burs."""
        plan = self.session.plan
        if plan is None:
            return "waits for the stone"
        if not plan.bur_steps_mm or plan.job.head.seated:
            return "set and close"
        return "burs " + " → ".join(f"{size:.1f}" for size in plan.bur_steps_mm)


def _is_number(text: str) -> bool:
    try:
        float(text.replace(",", "."))
    except ValueError:
        return False
    return True
