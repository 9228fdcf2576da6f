"""Processes beside windows that are still warm when a window closes: the next test's window goes on with them.

Starting one takes half a second to two seconds of a processor, and what it answers depends on nothing before.
"""

from __future__ import annotations

from collections import defaultdict

import pytest
from PySide6.QtCore import QProcess

from yarvel.desk.background import side_process
from yarvel.desk.background.side_process import SideProcess


class Warm:
    """Those that no window uses now, by their module."""

    def __init__(self, patch: pytest.MonkeyPatch) -> None:
        self._idle: dict[str, list[QProcess]] = defaultdict(list)
        self._begin, self._finish = side_process.begun, SideProcess.finish
        patch.setattr(side_process, "begun", self.begun)
        patch.setattr(SideProcess, "finish", lambda side: self.finish(side))

    def begun(self, module: str) -> QProcess:
        """One that is warm, or a new one."""
        idle = self._idle[module]
        while idle:
            process = idle.pop()
            if process.state() == QProcess.ProcessState.Running:
                return process
        return self._begin(module)

    def finish(self, side: SideProcess) -> None:
        """Keep it for the next window where it has nothing more to say."""
        process = side._process
        if process is None or process.state() != QProcess.ProcessState.Running or not side.quiet:
            self._finish(side)
            return
        side._process = None
        process.finished.disconnect(side.ended)
        process.readyReadStandardOutput.disconnect(side._on_lines)
        process.setParent(None)
        self._idle[process.arguments()[-1]].append(process)

    def end(self) -> None:
        """All of them, by their input."""
        for process in (process for idle in self._idle.values() for process in idle):
            process.closeWriteChannel()
            process.waitForFinished()
