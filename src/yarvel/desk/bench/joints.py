"""Station: joints. What is soldered, in which order, school and heat; what an order would melt."""

from __future__ import annotations

from typing import Any

from PySide6.QtWidgets import QGridLayout, QPushButton, QWidget

from yarvel.desk.bench.stations import Station
from yarvel.desk.bench.work import told
from yarvel.desk.widgets.words import Words
from yarvel.metals.joints import SCHOOLS, Joint, groups
from yarvel.planning.job import JointsJob, from_document, merge_patch
from yarvel.planning.plan import plan as make_plan
from yarvel.planning.work import work_steps

AT_THE_TORCH = ("Cut the metal", "Make the head", "Fit head and shank", "Hang it", "Solder")


class JointsStation(Station):
    """Groups of joints in their order, each to be moved earlier or later; the work up to soldering."""

    TITLE = "Joints"
    ROOMS = ("joints",)

    def build(self) -> None:
        """The station's fields and lines."""
        self.choice("joints.school", "School", list(SCHOOLS.items()))
        self._box = QWidget(self)
        self._grid = QGridLayout(self._box)
        self._grid.setContentsMargins(0, 0, 0, 0)
        self._grid.setHorizontalSpacing(4)
        self._grid.setColumnStretch(0, 1)
        self._shown: list[tuple[str, str]] = []
        self.column.addWidget(self._box)
        self._refusal = self.remark()
        self._refusal.setProperty("quiet", False)
        self._refusal.setProperty("problem", True)
        self._refusal.setObjectName("joints.refusal")
        self._refusal.hide()
        self._usual = QPushButton("Back to hottest first", self)
        self._usual.setObjectName("joints.usual")
        self._usual.clicked.connect(lambda: self.session.patch({"joints": {"order": None}}, "Hottest first"))
        self.column.addWidget(self._usual)
        self._text = self.account()

    def chosen_value(self, path: str) -> object:
        """The job's school, or the usual one."""
        held = super().chosen_value(path)
        return JointsJob().school if held is None else held

    def refresh(self) -> None:
        """The order and the steps."""
        super().refresh()
        plan = self.session.plan
        listed = [] if plan is None else groups(plan.joints)
        rows = [(joint.group, _row_text(joint, count)) for joint, count in listed]
        if rows != self._shown:
            self._shown = rows
            self._refusal.hide()
            self._fill(rows)
        document: dict[str, Any] = self.session.document
        self._usual.setVisible(bool((document.get("joints") or {}).get("order")))
        steps = [] if plan is None else list(work_steps(plan, with_metal=False))
        steps = [step for step in steps if step.name in AT_THE_TORCH]
        self._text.setText(told(steps) if steps else "")

    def _fill(self, rows: list[tuple[str, str]]) -> None:
        while (item := self._grid.takeAt(0)) is not None:
            if (widget := item.widget()) is not None:
                widget.hide()
                widget.deleteLater()
        for place, (group, text) in enumerate(rows):
            label = Words(text, self._box)
            label.setWordWrap(True)
            self._grid.addWidget(label, place, 0)
            for column, (word, step) in enumerate((("Earlier", -1), ("Later", 1)), start=1):
                if 0 <= place + step < len(rows):
                    button = QPushButton(word, self._box)
                    button.setObjectName(f"joints.{word.lower()}.{place}")
                    button.setAccessibleName(f"{group}: {word.lower()}")
                    button.clicked.connect(lambda _checked=False, place=place, step=step: self._move(place, step))
                    self._grid.addWidget(button, place, column)

    def _move(self, place: int, step: int) -> None:
        """Another order, unless it would melt a joint made before."""
        order = [group for group, _ in self._shown]
        order[place], order[place + step] = order[place + step], order[place]
        change = {"joints": {"order": order}}
        trial = make_plan(from_document(merge_patch(self.session.document, change)), self.session.rules, samples=0)
        melting = next((joint for joint in trial.joints if joint.melts), None)
        if melting is not None:
            self._refusal.setText(
                f"Not in this order: “{melting.group}” flows at {melting.flow_c:.0f} °C and would "
                "melt "
                f"“{melting.melts[0]}”, made before it. Accepted: hotter joints first."
            )
            self._refusal.show()
            return
        self.session.patch(change, "Order of the joints")

    def telling(self) -> str:
        """How many joints, from which heat to which."""
        plan = self.session.plan
        if plan is None:
            return "waits for the stone"
        if not plan.joints:
            return "no joints"
        flows = [joint.flow_c for joint in plan.joints]
        first, last = max(flows), min(flows)
        heat = f"{first:.0f} °C" if first == last else f"{first:.0f} → {last:.0f} °C"
        return f"{len(plan.joints)} joints · {heat}"


def _row_text(joint: Joint, count: int) -> str:
    many = f" × {count}" if count > 1 else ""
    return f"{joint.group}{many}\n{joint.grade}, {joint.flow_c:.0f} °C"
