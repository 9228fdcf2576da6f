"""The bench sheet and the templates as PDF, from the command line."""

from __future__ import annotations

import os
from pathlib import Path

from yarvel.clock import today
from yarvel.drawing.bench_card import bench_card
from yarvel.drawing.bench_sheet import Heading, whole_ring_sheet, working_sheet
from yarvel.drawing.paper import A4, PAPERS
from yarvel.drawing.primitives import Drawing
from yarvel.drawing.templates import template_pages
from yarvel.drawing.tiling import Printer
from yarvel.figures.errors import JobError, Problem
from yarvel.planning.plan import Plan

CARD, WORKING, RING = "card", "working", "ring"
"""What can be asked for on paper: the card for the bench, how it was worked out, the whole ring."""


def write_bench_pdf(plan: Plan, target: Path, item: str, wanted: str = CARD, paper: str = "A4") -> None:
    """Write a sheet of a plan outside a window; the card on a ``paper`` of ``PAPERS`` (OSError where the file cannot be
    written, JobError where the plan has none of the kind, or the sheet is not printed on that paper)."""
    heading = Heading(item=item, printed=today().isoformat())
    if wanted == CARD:
        pages = bench_card(plan, heading, PAPERS[paper])
    elif PAPERS[paper] != A4:
        raise JobError([Problem("--paper", f"the {wanted} sheet is not printed on {paper}", "A4, or the card")])
    else:
        pages = {WORKING: working_sheet, RING: whole_ring_sheet}[wanted](plan, heading)
    if not pages:
        raise JobError([Problem("shank", "there is no ring to draw", "a job with a shank, or another sheet")])
    _write(pages, target, f"Bench {wanted} {item}")


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
