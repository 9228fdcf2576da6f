"""The bench sheet as PDF, from the command line or the window."""

from __future__ import annotations

import os
from datetime import date
from pathlib import Path

from yarvel.drawing.bench_sheet import Heading, bench_sheet
from yarvel.planning.plan import Plan


def write_bench_pdf(plan: Plan, target: Path, item: str) -> None:
    """Write the bench sheet of a plan outside a window: Qt is started without a display for its fonts.

    Raises
    ------
    OSError : the file cannot be written.
    """
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from PySide6.QtGui import QGuiApplication

    from yarvel.drawing.painters.pdf import write_pdf

    application = QGuiApplication.instance() or QGuiApplication([])
    write_pdf(bench_sheet(plan, Heading(item=item, printed=date.today().isoformat())), target, f"Bench sheet {item}")
    del application
