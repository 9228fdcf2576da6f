"""The calls: judgements, worst first, each with its figure against its limit, why, and the change that settles it."""

from __future__ import annotations

from PySide6.QtCore import QEvent, Qt, QTimer, Signal
from PySide6.QtGui import QEnterEvent, QHideEvent, QKeyEvent, QMouseEvent, QResizeEvent
from PySide6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QScrollArea, QSizePolicy, QVBoxLayout, QWidget

from yarvel.desk.dialogs.accept_call import AcceptDialog
from yarvel.desk.session.session import Session
from yarvel.desk.widgets.level_mark import LevelMark
from yarvel.desk.widgets.words import Words
from yarvel.figures.working import value_text
from yarvel.planning.diagnostics.diagnostic import OK, Diagnostic
from yarvel.workshop.work.docket_work import work_calls

_EMPTY = (
    "No stone yet. Open the station Stone, lay the gauge on, type the first diameter and press Enter: the sheet and "
    "the calls appear at once."
)
_UNPLANNED = (
    "No calls: this job cannot be worked out. What is wrong stands on the sheet; Undo takes the last change back."
)


class RemedyButton(QPushButton):
    """Makes the change; while the pointer or the focus rests on it, the sheet shows what it would do."""

    rested = Signal(bool)

    _BESIDE = 26
    """What stands beside the words: padding and border, in pixels."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._label = ""
        self.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)

    def say(self, label: str) -> None:
        """Show what it does, in as many lines as that takes."""
        self._label = label
        self.setAccessibleName(label)
        self._fold()

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Fold the words anew."""
        super().resizeEvent(event)
        self._fold()

    def _fold(self) -> None:
        metrics, room, lines = self.fontMetrics(), max(self.width() - self._BESIDE, 1), [""]
        for word in self._label.split(" "):
            longer = f"{lines[-1]} {word}".strip()
            if metrics.horizontalAdvance(longer) <= room or not lines[-1]:
                lines[-1] = longer
            else:
                lines.append(word)
        text = "\n".join(lines)
        if text != self.text():
            self.setText(text)

    def enterEvent(self, event: QEnterEvent) -> None:
        """The pointer comes to rest."""
        super().enterEvent(event)
        self.rested.emit(True)

    def leaveEvent(self, event: QEvent) -> None:
        """The pointer goes."""
        super().leaveEvent(event)
        self.rested.emit(False)

    def hideEvent(self, event: QHideEvent) -> None:
        """A button that goes while the pointer rests on it takes its preview along."""
        super().hideEvent(event)
        self.rested.emit(False)


class CallCard(QFrame):
    """One call. Pressing the card marks it on the sheet and opens the working of its figure."""

    remedy_taken = Signal(object)
    remedy_rested = Signal(object, bool)
    chosen = Signal(object)
    taken = Signal(object)

    def __init__(self, colours: dict[str, str], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.call: Diagnostic | None = None
        self._colours = colours
        self.setProperty("card", True)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self._mark = LevelMark(colours, self)
        self._title = Words(self)
        self._title.setProperty("title", True)
        self._title.setWordWrap(True)
        self._figure = Words(self)
        self._message = Words(self)
        self._message.setWordWrap(True)
        self._message.setProperty("quiet", True)
        self.remedy = RemedyButton(self)
        self.remedy.setProperty("remedy", True)
        column = QVBoxLayout(self)
        column.setContentsMargins(10, 8, 10, 10)
        column.setSpacing(4)
        top = QHBoxLayout()
        top.addWidget(self._mark)
        top.addStretch(1)
        top.addWidget(self._figure)
        column.addLayout(top)
        self.accepting = QPushButton(self)
        self.accepting.setProperty("fold", True)
        self.accepting.clicked.connect(lambda: self.taken.emit(self.call))
        for widget in (self._title, self._message, self.remedy, self.accepting):
            column.addWidget(widget)
        self.remedy.clicked.connect(lambda: self.remedy_taken.emit(self.call))
        self.remedy.rested.connect(lambda resting: self.remedy_rested.emit(self.call, resting))

    def show_call(self, call: Diagnostic, colours: dict[str, str]) -> None:
        """Show one call."""
        self.call = call
        self._mark.show_level(call.level, colours)
        self._title.setText(call.title)
        self._figure.setText(against(call))
        accepted = f" Accepted by {call.accepted_by}: {call.accepted_why}." if call.accepted_by else ""
        self._message.setText(f"{call.message}{accepted}")
        self.accepting.setVisible(call.level != OK)
        self.accepting.setText("Open it again" if call.accepted_by else "Take it as it is…")
        self.accepting.setObjectName(f"accept.{call.code}")
        self.accepting.setAccessibleName(f"{self.accepting.text()}: {call.title}")
        self.remedy.setVisible(call.remedy is not None and not call.accepted_by)
        self.remedy.say(call.remedy_label)
        self.remedy.setObjectName(f"remedy.{call.code}")
        self.setAccessibleName(f"{call.level}: {call.title}, {against(call)}")

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Choose the call."""
        super().mousePressEvent(event)
        self.chosen.emit(self.call)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Enter or space chooses the call."""
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self.chosen.emit(self.call)
        else:
            super().keyPressEvent(event)


_SHARES = ("weight-mismatch", "out-of-round", "anneal-before-bending", "mark-orientation", "gallery-cut-away")
"""Calls whose figure is told in per cent."""


def against(call: Diagnostic) -> str:
    """Figure against limit, as ``0.55 against 0.50``."""
    if call.figure is None:
        return ""
    places = {"°": 0, "°C": 0, "mm³": 3}.get(call.unit, 2)
    share = not call.unit and call.code in _SHARES
    figure = f"{call.figure * 100:.1f} %" if share else value_text(call.figure, "", places)
    if call.limit is None:
        return figure
    limit = f"{call.limit * 100:.1f} %" if share else value_text(call.limit, call.unit, places)
    return f"{figure} against {limit}"


class CallsPanel(QScrollArea):
    """All calls of the plan; those that hold are folded into one line."""

    def __init__(self, session: Session, colours: dict[str, str], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self._colours = colours
        self.cards: list[CallCard] = []
        self._show_holding = False
        self.setWidgetResizable(True)
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setAccessibleName("The calls")
        inside = QWidget(self)
        inside.setProperty("panel", True)
        self._column = QVBoxLayout(inside)
        self._column.setContentsMargins(8, 8, 8, 8)
        self._column.setSpacing(8)
        self._empty = Words(_EMPTY, inside)
        self._empty.setWordWrap(True)
        self._empty.setProperty("quiet", True)
        self._empty.setObjectName("calls.empty")
        self.holding = QPushButton(inside)
        self.holding.clicked.connect(self._on_holding)
        self.holding.hide()  # until there is a plan that calls hold for
        self._column.addWidget(self._empty)
        self._column.addWidget(self.holding)
        self._column.addStretch(1)
        self.setWidget(inside)
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.timeout.connect(self.refresh)
        session.plan_changed.connect(self._on_plan)

    def set_colours(self, colours: dict[str, str]) -> None:
        """Another theme."""
        self._colours = colours
        self.refresh()

    def shown_calls(self) -> list[Diagnostic]:
        """The calls that have a card now."""
        return [card.call for card in self.cards if card.call is not None and card.isVisibleTo(self)]

    def worst_with_remedy(self) -> Diagnostic | None:
        """The first call that offers a change."""
        return next((call for call in self.shown_calls() if call.remedy is not None and call.open), None)

    def refresh(self) -> None:
        """Show the plan's calls, reusing the cards that stand."""
        plan = self.session.plan
        calls = [] if plan is None else work_calls(plan, self.session.docket, self.session.rules)
        pressing = sorted((call for call in calls if call.level != OK), key=lambda call: not call.open)
        holding = [call for call in calls if call.level == OK]
        self._empty.setVisible(plan is None)
        self._empty.setText(_UNPLANNED if "job" in self.session.problems else _EMPTY)
        shown = pressing + (holding if self._show_holding else [])
        while len(self.cards) < len(shown):
            self._add_card()
        for place, card in enumerate(self.cards):
            if place < len(shown):
                card.show_call(shown[place], self._colours)
            card.setVisible(place < len(shown))
        fold = "fold them" if self._show_holding else "show them"
        self.holding.setText(f"{len(holding)} calls hold – {fold}")
        self.holding.setVisible(bool(holding))

    def _on_plan(self) -> None:
        """Several changes at once, one refresh."""
        if not self._soon.isActive():
            self._soon.start(0)

    def _add_card(self) -> None:
        card = CallCard(self._colours, self.widget())
        card.remedy_taken.connect(self.session.take_remedy)
        card.remedy_rested.connect(self._on_rested)
        card.chosen.connect(self._on_chosen)
        card.taken.connect(self._on_taken)
        self.cards.append(card)
        self._column.insertWidget(self._column.count() - 2, card)

    def _on_rested(self, call: Diagnostic | None, resting: bool) -> None:
        self.session.show_preview(call if resting else None)

    def _on_chosen(self, call: Diagnostic) -> None:
        self.session.call_chosen.emit(call.code)
        if call.figure_key:
            self.session.figure_chosen.emit(call.figure_key)

    def _on_taken(self, call: Diagnostic) -> None:
        """Ask who takes it as it is, and why; or open it again."""
        accepted = self.session.document.get("accepted") or []
        others = [entry for entry in accepted if (entry["code"], entry.get("place", "")) != (call.code, call.place)]
        if call.accepted_by:
            self.session.patch({"accepted": others or None}, f"Open again: {call.title}")
            return
        dialog = AcceptDialog(call, self.session.signed_name, self.window())
        if dialog.exec() != AcceptDialog.DialogCode.Accepted:
            return
        acceptance: dict[str, object] = {
            "code": call.code,
            "by": dialog.by.text().strip(),
            "why": dialog.why.text().strip(),
            "place": call.place,
        }
        if call.figure is not None:
            acceptance["figure"] = call.figure
        self.session.patch({"accepted": [*others, acceptance]}, f"Take as it is: {call.title}")

    def _on_holding(self) -> None:
        self._show_holding = not self._show_holding
        self.refresh()
