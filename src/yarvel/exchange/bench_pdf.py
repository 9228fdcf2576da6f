"""The bench sheet and the templates as PDF, from the command line."""

from __future__ import annotations

import os
from datetime import date
from pathlib import Path

from yarvel.drawing.bench_sheet import Heading, bench_sheet
from yarvel.drawing.primitives import Drawing
from yarvel.drawing.templates import template_pages
from yarvel.drawing.tiling import Printer
from yarvel.planning.plan import Plan


def write_bench_pdf(plan: Plan, target: Path, item: str) -> None:
    """Write the bench sheet of a plan outside a window (OSError where the file cannot be written)."""
    _write(bench_sheet(plan, Heading(item=item, printed=date.today().isoformat())), target, f"Bench sheet {item}")


def write_template_pdf(plan: Plan, target: Path, item: str, printer: Printer) -> None:
    """Write the templates of a plan at 1:1 outside a window (OSError where the file cannot be written)."""
    _write(template_pages(plan, printer, f"Templates, 1 : 1  ·  {item}"), target, f"Templates {item}")


def _write(pages: list[Drawing], target: Path, title: str) -> None:
    """Qt is started without a display, for its fonts."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from PySide6.QtGui import QGuiApplication

    from yarvel.drawing.painters.pdf import write_pdf

    application = QGuiApplication.instance() or QGuiApplication([])
    write_pdf(pages, target, title)
    del application
