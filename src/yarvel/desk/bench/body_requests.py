"""Bodies beside the window: asks a process of its own for them when the hand rests, and hands back what they tell."""

from __future__ import annotations

from PySide6.QtCore import QObject, QTimer, Signal

from yarvel.desk.background.side_process import SideProcess
from yarvel.desk.session.session import Session
from yarvel.figures.rules import changed_rules
from yarvel.planning.documents import Document
from yarvel.planning.plan import Plan

_REST_MS = 350


class BodyRequests(QObject):
    """Coarse bodies follow a drag where someone looks at them; fine ones follow when the hand rests, with their calls.

    Only the newest request waits; an answer that is no longer asked for is dropped.
    """

    shaped = Signal(dict)
    told = Signal(str)
    cleared = Signal()

    def __init__(self, session: Session, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self.looked_at = False
        self.answered = 0
        self.begun = False
        self._process = SideProcess("yarvel.exchange.body_server", self)
        self._process.answered.connect(self._on_answer)
        self._process.ended.connect(self._on_ended)
        self._busy: Document | None = None
        self._waiting: Document | None = None
        self._numbers = 0
        self._judged: Plan | None = None
        self._rest = QTimer(self)
        self._rest.setSingleShot(True)
        self._rest.timeout.connect(lambda: self._ask(fine=True))
        self._docket: int | None = None
        session.plan_changed.connect(self._on_plan)
        session.docket_changed.connect(self._on_docket)

    def _on_docket(self) -> None:
        """What is shown is of the docket in hand, or nothing is."""
        docket = None if self._session.docket is None else self._session.docket.id
        if docket != self._docket:
            self._docket = docket
            self.cleared.emit()

    @property
    def at_rest(self) -> bool:
        """Whether nothing is asked that is not answered."""
        return self._busy is None and not self._rest.isActive()

    def begin(self) -> None:
        """Start to work; until then nothing is asked, so that a start of the window costs nothing."""
        self.begun = True
        self._on_plan()

    def look(self, looked_at: bool) -> None:
        """Whether someone looks at the bodies: then their surfaces are asked for too."""
        self.looked_at = looked_at
        if looked_at:
            self._judged = None
            self._on_plan()

    def finish(self) -> None:
        """End the process."""
        self.begun = False
        self._rest.stop()
        self._process.finish()

    def _on_plan(self) -> None:
        plan = self._session.plan
        if plan is None:
            self._rest.stop()
            self.cleared.emit()
        if not self.begun or plan is None or plan is self._judged:
            return
        if self._session.dragging:
            if self.looked_at:
                self._ask(fine=False)
        else:
            self._rest.start(_REST_MS)

    def _ask(self, fine: bool) -> None:
        if self._session.plan is None:
            return
        self._numbers += 1
        request = {
            **self._wanted(),
            "id": self._numbers,
            "fine": fine,
            "mesh": self.looked_at,
            "docket": self._docket,
        }
        if self._busy is not None:
            self._waiting = request
        else:
            self._send(request)

    def _wanted(self) -> Document:
        """What bodies are of: the job as it is now, by the rules as they are now."""
        rules = self._session.rules
        drawer = {"burs_mm": rules.custom.burs_mm, "plate_mm": rules.custom.plate_mm}
        return {"job": self._session.document, "rules": changed_rules(rules), "drawer": drawer}

    def _send(self, request: Document) -> None:
        self._busy = request if self._process.send(request) else None

    def _on_ended(self) -> None:
        """The process ended by itself: try again with the newest request, but not for ever."""
        if not self.begun:
            return
        again, self._busy, self._waiting = self._waiting or self._busy, None, None
        if again is not None and self._process.can_start:
            self._send(again)
        elif again is not None:
            self.told.emit("Bodies cannot be worked out for this job; figures and drawing are not touched by that.")

    def _on_answer(self, found: Document) -> None:
        request, self._busy = self._busy, None
        self.answered += 1
        if request is not None and request["id"] == found["id"] and "problem" not in found:
            self._take(request, found)
        waiting, self._waiting = self._waiting, None
        if waiting is not None:
            self._send(waiting)

    def _take(self, request: Document, found: Document) -> None:
        if "mesh" in found and request["docket"] == self._docket and self._session.plan is not None:
            self.shaped.emit(found["mesh"])
        current = request | self._wanted() == request
        if found["fine"] and current and self._session.plan is not None:
            from yarvel.exchange.body_server import report_from

            report = report_from(found)
            self._judged = self._session.plan.judged(report.figures, report.diagnostics, report.volumes)
            self._session.take_judged(self._judged)
