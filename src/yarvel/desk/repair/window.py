"""Repairs: the claw chart, what it calls for, why it came to that, and the ways out with time and cost."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from html import escape
from itertools import pairwise

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QPushButton, QScrollArea, QSplitter, QVBoxLayout, QWidget

from yarvel.clock import today
from yarvel.desk.repair.chart_view import ChartView
from yarvel.desk.repair.findings_field import FindingsField
from yarvel.desk.repair.photo_marks import marks_on
from yarvel.desk.repair.photograph_beside import PhotographBeside
from yarvel.desk.session.session import Session
from yarvel.desk.widgets.fields import GaugeEdit, mark_wrong
from yarvel.desk.widgets.manners import close_on_keys, open_at
from yarvel.desk.widgets.words import Words
from yarvel.heads.places import numbers
from yarvel.heads.wear import MISSING, WORK, ClawFound
from yarvel.planning.repair import CAUSES, VERDICTS, Repair, claw_width_mm, judge_head
from yarvel.route.ways import WayOut, ways_out
from yarvel.workshop.dockets.claw_chart import (
    MEASURES,
    MOST_MM,
    chart_with,
    found_on,
    inspect_next,
    measured,
    wear_since,
)
from yarvel.workshop.dockets.photo_marks import with_spot
from yarvel.workshop.dockets.records import Docket, Photograph
from yarvel.workshop.work.docket_work import way_of

_LABELS = {"width": "Width", "tip": "Tip left over the crown", "behind": "Left behind the girdle"}
_LABEL_WIDTH = 160
_ACCEPTED = f"Accepted: mm, over 0 to {MOST_MM:g}"


class RepairWindow(QWidget):
    """One head in for repair: press a claw, say what is wrong with it, measure it."""

    def __init__(
        self,
        session: Session,
        before: list[Docket],
        colours: dict[str, str],
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent, Qt.WindowType.Window)
        self.session, self._before = session, before
        self.setWindowTitle("Repair: the claw chart")
        open_at(self, 1180, 740)
        close_on_keys(self)
        self.chart = ChartView(colours, self)
        self.edits: dict[str, GaugeEdit] = {}
        self.ways: dict[str, QPushButton] = {}
        self._offered: dict[str, WayOut] = {}
        self._title = Words(self)
        self._title.setProperty("title", True)
        self.findings = FindingsField(self)
        self.photograph = PhotographBeside(self)
        self._problem = Words(self)
        self._problem.setProperty("problem", True)
        self._problem.setObjectName("claw.problem")
        self._verdict = Words(self)
        self._verdict.setWordWrap(True)
        self._verdict.setObjectName("claw.verdict")
        self._told = Words(self)
        self._told.setWordWrap(True)
        self._told.setTextFormat(Qt.TextFormat.RichText)
        self._told.setObjectName("repair.told")
        self._ways_box = QVBoxLayout()
        self._lay_out()
        self.chart.chosen.connect(lambda _claw: self.refresh())
        self.chart.figure.connect(self.findings.press)
        self.photograph.marks = lambda one: marks_on(session.docket, session.plan, session.rules, one)
        self.photograph.pressed.connect(self._on_marked)
        self.findings.changed.connect(lambda keys: self._change(lambda claw: claw.having(keys)))
        session.plan_changed.connect(self.refresh)
        session.docket_changed.connect(self.refresh)
        self.refresh()

    def _lay_out(self) -> None:
        inside = QWidget(self)
        side = QVBoxLayout(inside)
        side.addWidget(self._title)
        side.addWidget(self.findings)
        grid = QGridLayout()
        grid.setHorizontalSpacing(6)
        grid.setColumnMinimumWidth(0, _LABEL_WIDTH)
        for row, name in enumerate(MEASURES):
            edit = GaugeEdit(inside)
            edit.setObjectName(f"claw.{name}")
            edit.setAccessibleName(f"{_LABELS[name]}, mm")
            edit.textEdited.connect(lambda text, name=name: self._on_measure(name, text))
            title = Words(_LABELS[name], inside)
            title.setBuddy(edit)
            self.edits[name] = edit
            grid.addWidget(title, row, 0)
            grid.addWidget(edit, row, 1)
            grid.addWidget(Words("mm", inside), row, 2)
        side.addLayout(grid)
        for widget in (self._problem, self._verdict, self._told):
            side.addWidget(widget)
        side.addLayout(self._ways_box)
        side.addStretch(1)
        area = QScrollArea(self)
        area.setWidgetResizable(True)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        area.setWidget(inside)
        area.setMinimumWidth(inside.minimumSizeHint().width() + area.verticalScrollBar().sizeHint().width() + 4)
        left = QSplitter(Qt.Orientation.Vertical, self)
        left.addWidget(self.chart)
        left.addWidget(self.photograph)
        left.setChildrenCollapsible(False)
        left.setSizes([440, 300])
        whole = QHBoxLayout(self)
        whole.addWidget(left, 1)
        whole.addWidget(area, 1)

    def _on_marked(self, photograph_id: int, x: float, y: float) -> None:
        """The claw in hand is seen there."""
        plan, docket = self.session.plan, self.session.docket
        if plan is not None and docket is not None and self._found():
            number = numbers(plan.shape.places)[self.chart.claw]
            self.session.set_column("claw_chart", with_spot(docket.claw_chart, photograph_id, number, (x, y)))

    def show_photographs(self, photographs: Sequence[Photograph]) -> None:
        """The docket's photographs, to look at beside the chart."""
        self.photograph.show_photographs(photographs)

    def _found(self) -> tuple[ClawFound, ...]:
        plan, docket = self.session.plan, self.session.docket
        return () if plan is None or docket is None else found_on(docket, len(plan.shape.places))

    def _on_measure(self, name: str, text: str) -> None:
        value: float | None = None
        wrong = False
        if text.strip():
            try:
                value = float(text.strip().replace(",", "."))
                wrong = not 0 < value <= MOST_MM
            except ValueError:
                wrong = True
        mark_wrong(self.edits[name], wrong)
        self._problem.setText(f"{text!r} is no measure. {_ACCEPTED}" if wrong else "")
        if not wrong:
            self._change(lambda claw: measured(claw, name, value), f"typing {name} of claw {self.chart.claw}")

    def _change(self, change: Callable[[ClawFound], ClawFound], act: str = "") -> None:
        docket, claw_findings = self.session.docket, list(self._found())
        if docket is None or not claw_findings:
            return
        claw_findings[self.chart.claw] = change(claw_findings[self.chart.claw])
        self.session.set_column("claw_chart", chart_with(docket.claw_chart, tuple(claw_findings), today()), act)

    def refresh(self) -> None:
        """Chart, the chosen claw's fields, and the judgement."""
        plan, docket, claw_findings = self.session.plan, self.session.docket, self._found()
        for widget in (self.findings, *self.edits.values()):
            widget.setEnabled(bool(claw_findings))
        if plan is None or docket is None or not claw_findings:
            self._title.setText("No head with claws is in hand: measure its stone and choose the head it has.")
            self._told.setText("")
            self._verdict.setText("")
            self._show_ways(())
            return
        repair = judge_head(plan, claw_findings, self.session.rules)
        gone = tuple(place for place, claw in enumerate(claw_findings) if MISSING in claw.findings)
        self.chart.show_head(plan, tuple(verdict.work for verdict in repair.claws), gone)
        claw = self.chart.claw
        self._title.setText(f"Claw {numbers(plan.shape.places)[claw]}")
        self.findings.show_findings(claw_findings[claw].findings)
        for name, edit in self.edits.items():
            shown_finding = getattr(claw_findings[claw], name)
            edit.setEnabled(claw not in gone)
            if not edit.hasFocus():
                edit.setText("" if shown_finding is None else f"{shown_finding:g}")
        verdict = repair.claws[claw]
        self._verdict.setText(f"{WORK[verdict.work].capitalize()}: {verdict.reason}.")
        self.photograph.refresh()
        self._told.setText(self._judgement(repair, docket, len(claw_findings)))
        self._show_ways(ways_out(plan, claw_findings, self.session.rules))

    def _judgement(self, repair: Repair, docket: Docket, count: int) -> str:
        plan = self.session.plan
        width = 1.0 if plan is None else claw_width_mm(plan)
        lines = [
            f"<b>{escape(VERDICTS[repair.verdict].capitalize())}</b>: {escape(repair.reason)}.",
            f"Root cause: {escape(CAUSES[repair.cause])}.",
            escape(repair.before_heat),
        ]
        wear = wear_since(docket, self._before, count)
        if wear is not None:
            lines.append(f"Since the last visit the fastest tip lost {wear:.2f} mm a year.")
        following = inspect_next(docket, self._before, count, width, self.session.rules)
        if following is not None:
            lines.append(f"Look at it again by {following:%d %b %Y}.")
        return "".join(f"<p style='margin:6px 0'>{line}</p>" for line in lines)

    def _show_ways(self, ways: tuple[WayOut, ...]) -> None:
        """Buttons that stand stay, so that nobody who is on one loses the keys."""
        self._offered = {way.key: way for way in ways}
        if list(self._offered) != list(self.ways):
            while (item := self._ways_box.takeAt(0)) is not None:
                if (widget := item.widget()) is not None and widget.objectName().removeprefix(
                    "way."
                ) not in self._offered:
                    widget.hide()
                    widget.deleteLater()
            self.ways = {key: self.ways.get(key) or self._way_button(key) for key in self._offered}
            for button in self.ways.values():
                self._ways_box.addWidget(button)
            for before, after in pairwise((self.edits[MEASURES[-1]], *self.ways.values())):
                self.setTabOrder(before, after)
        docket = self.session.docket
        chosen = "" if docket is None else way_of(docket)
        for place, way in enumerate(ways):
            self.ways[way.key].setText(_way_text(way, place == 0, way.key == chosen))

    def _way_button(self, key: str) -> QPushButton:
        button = QPushButton(self)
        button.setObjectName(f"way.{key}")
        button.clicked.connect(lambda _checked=False: self._on_way(self._offered[key]))
        return button

    def _on_way(self, way: WayOut) -> None:
        docket = self.session.docket
        if docket is not None:
            plan = self.session.plan
            cause = "" if plan is None else judge_head(plan, self._found(), self.session.rules).cause
            chart = {
                **docket.claw_chart,
                "chosen": way.key,
                "cause": cause,
                "minutes": round(way.minutes, 1),
                "cost": round(way.cost, 2),
            }
            self.session.set_column("claw_chart", chart)


def _way_text(way: WayOut, advised: bool, chosen: bool) -> str:
    """One way out on its button."""
    metal = "" if not way.metal_g else f", {way.metal_g:.2f} g" + ("" if way.priced else " (metal not priced)")
    marks = " · ".join(word for word, wanted in (("advised", advised), ("chosen", chosen)) if wanted)
    heat = ", torch" if way.heat else ""
    first = f"{way.name}{f' – {marks}' if marks else ''}"
    return f"{first}\n{way.minutes:.0f} min{heat}{metal}, cost {way.cost:.2f}"
