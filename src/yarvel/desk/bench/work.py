"""Stations: joints, setting, checks. The work in order with its figures and cautions, and what to tick."""

from __future__ import annotations

from html import escape

from PySide6.QtWidgets import QCheckBox, QLabel, QVBoxLayout, QWidget

from yarvel.desk.bench.stations import MISSING, Station
from yarvel.planning.calls.call import NOTE, OK
from yarvel.planning.plan import Plan
from yarvel.planning.work import DEFER, Step, checks, work_steps


class JointsStation(Station):
    """What is soldered, hottest first."""

    TITLE = "Joints"
    ROOMS = ("joints",)

    def build(self) -> None:
        """The station's lines."""
        self._text = self.account()

    def refresh(self) -> None:
        """The soldering step."""
        plan = self.session.plan
        self._text.setText("" if plan is None else _told([step for step in work_steps(plan) if step.name == "Solder"]))

    def telling(self) -> str:
        """How many joints, from which heat to which."""
        plan = self.session.plan
        if plan is None:
            return "waits for the stone"
        if not plan.joints:
            return "no joints"
        first, last = plan.joints[0].flow_c, plan.joints[-1].flow_c
        heat = f"{first:.0f} °C" if first == last else f"{first:.0f} → {last:.0f} °C"
        return f"{len(plan.joints)} joints · {heat}"


class SettingStation(Station):
    """From cleaning to the snag test."""

    TITLE = "Setting"

    def build(self) -> None:
        """The station's lines."""
        self._text = self.account()

    def refresh(self) -> None:
        """All steps after soldering."""
        plan = self.session.plan
        self._text.setText("" if plan is None else
                           _told([step for step in work_steps(plan) if step.name != "Solder"], DEFER))

    def telling(self) -> str:
        """The burs."""
        plan = self.session.plan
        if plan is None:
            return "waits for the stone"
        if not plan.bur_steps_mm or plan.job.head.seated:
            return "set and close"
        return "burs " + " → ".join(f"{size:.1f}" for size in plan.bur_steps_mm)


class ChecksStation(Station):
    """What is looked at before release, to be ticked."""

    TITLE = "Checks"

    def build(self) -> None:
        """The station's lines."""
        self._box = QWidget(self)
        self._rows = QVBoxLayout(self._box)
        self._rows.setContentsMargins(0, 0, 0, 0)
        self._rows.setSpacing(2)
        self._shown: tuple[str, ...] = ()
        self.column.addWidget(self._box)

    def _wanted(self) -> tuple[str, ...]:
        return () if self.session.plan is None else checks(self.session.plan)

    def _ticked(self) -> set[str]:
        docket = self.session.docket
        return set() if docket is None else set(docket.ticks)

    def refresh(self) -> None:
        """A row a check; a check whose figure has changed since it was ticked is open again."""
        wanted = self._wanted()
        if wanted != self._shown:
            self._shown = wanted
            while (item := self._rows.takeAt(0)) is not None:
                if (widget := item.widget()) is not None:
                    widget.deleteLater()
            for text in wanted:
                self._rows.addWidget(self._row(text))
        for place, text in enumerate(wanted):
            row = self._rows.itemAt(place)
            box = None if row is None else row.widget()
            tick = box.findChild(QCheckBox) if box is not None else None
            if tick is not None:
                tick.setChecked(text in self._ticked())

    def _row(self, text: str) -> QWidget:
        row = QWidget(self._box)
        column = QVBoxLayout(row)
        column.setContentsMargins(0, 0, 0, 0)
        box = QCheckBox(row)
        box.setAccessibleName(text)
        box.clicked.connect(lambda ticked: self._on_tick(text, ticked))
        label = QLabel(text, row)
        label.setWordWrap(True)
        label.setBuddy(box)
        column.setDirection(QVBoxLayout.Direction.LeftToRight)
        column.addWidget(box)
        column.addWidget(label, 1)
        return row

    def _on_tick(self, text: str, ticked: bool) -> None:
        ticks = [tick for tick in (self.session.docket.ticks if self.session.docket else ()) if tick != text]
        self.session.set_column("ticks", (*ticks, text) if ticked else tuple(ticks))

    def telling(self) -> str:
        """How many of how many."""
        wanted = self._wanted()
        return f"{len(self._ticked() & set(wanted))} of {len(wanted)} ticked" if wanted else "waits for the stone"

    def state(self) -> str:
        """Done once all are ticked."""
        wanted = self._wanted()
        if not wanted:
            return MISSING
        return OK if self._ticked() >= set(wanted) else NOTE


def _told(steps: list[Step], last: str = "") -> str:
    """Steps as rich text: name, lines, and the caution that belongs to each."""
    parts = []
    for step in steps:
        lines = "".join(f"<p style='margin:2px 0 2px 10px; text-indent:-10px'>– {escape(line)}</p>"
                        for line in step.lines)
        caution = f"<p style='margin:3px 0'><i>Caution.</i> {escape(step.caution)}</p>" if step.caution else ""
        parts.append(f"<p style='margin:8px 0 2px 0'><b>{escape(step.name)}</b></p>{lines}{caution}")
    return "".join(parts) + (f"<p>{escape(last)}</p>" if last else "")


def unticked(plan: Plan, ticks: tuple[str, ...]) -> list[str]:
    """Checks of a plan that are still open."""
    return [text for text in checks(plan) if text not in ticks]
