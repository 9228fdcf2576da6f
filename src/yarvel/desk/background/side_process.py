"""A process beside the window that answers in lines of JSON; started when first asked, and again where it died."""

from __future__ import annotations

import json
import sys

from PySide6.QtCore import QObject, QProcess, Signal

from yarvel.planning.documents import Document

_MOST_STARTS = 3

LAST, REFUSED = "done", "problem"
"""Kinds of answer after which there are no more; what has no kind is one answer."""
_END_MS = 300


def begun(module: str) -> QProcess:
    """A process that runs a module of ours, started."""
    process = QProcess()
    process.setProgram(sys.executable)
    process.setArguments(["-m", module])
    process.start()
    return process


class SideProcess(QObject):
    """``answered`` gets each line; ``ended`` tells that it ended by itself. It ends with the window, by its input."""

    answered = Signal(dict)
    ended = Signal()

    def __init__(self, module: str, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._module = module
        self._process: QProcess | None = None
        self._starts = 0
        self._asked: object = None
        self._answered: object = None

    @property
    def quiet(self) -> bool:
        """Whether it has said all that it was asked for."""
        return self._answered == self._asked

    @property
    def can_start(self) -> bool:
        """Whether it may be started once more."""
        return self._starts < _MOST_STARTS

    @property
    def id(self) -> int:
        """Its number among the machine's processes; 0 while it does not run."""
        return 0 if self._process is None else int(self._process.processId())

    def send(self, request: Document) -> bool:
        """Ask it; False where it died too often."""
        process = self._running()
        if process is None:
            return False
        self._asked = request["id"]
        process.write((json.dumps(request) + "\n").encode())
        return True

    def finish(self) -> None:
        """End it; it would end by itself once the window is gone."""
        process, self._process = self._process, None
        if process is not None:
            process.finished.disconnect(self.ended)
            process.closeWriteChannel()
            if not process.waitForFinished(_END_MS):
                process.kill()
                process.waitForFinished(_END_MS)

    def _running(self) -> QProcess | None:
        if self._process is not None and self._process.state() != QProcess.ProcessState.NotRunning:
            return self._process
        if not self.can_start:
            return None
        self._starts += 1
        process = self._process = begun(self._module)
        process.setParent(self)
        process.readyReadStandardOutput.connect(self._on_lines)
        process.finished.connect(self.ended)
        return process

    def _on_lines(self) -> None:
        process = self._process
        while process is not None and process.canReadLine():
            answer = json.loads(bytes(process.readLine().data()).decode())
            if answer.get("kind", LAST) in (LAST, REFUSED):  # more comes after any other kind
                self._answered = answer["id"]
            self.answered.emit(answer)
            process = self._process  # whoever is told may have ended it
