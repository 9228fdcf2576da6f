"""Drawings as the pages of a PDF at 1:1, painted by Qt."""

from __future__ import annotations

import os
from pathlib import Path

from PySide6.QtCore import QMarginsF, QSizeF
from PySide6.QtGui import QPageLayout, QPageSize, QPainter, QPdfWriter

from yarvel.drawing.painters.qt import load_fonts, paint
from yarvel.drawing.primitives import Drawing
from yarvel.drawing.styles import PRINT


def write_pdf(pages: list[Drawing], target: Path, title: str) -> None:
    """Write drawings as the pages of a PDF at 1:1, replacing ``target`` only once all is written.

    Raises
    ------
    FileNotFoundError : there is no such folder.
    PermissionError, OSError : it cannot be written there.
    """
    if not target.parent.is_dir():
        raise FileNotFoundError(2, "there is no such folder", str(target.parent))
    if not os.access(target.parent, os.W_OK):
        raise PermissionError(13, "the folder cannot be written to", str(target.parent))
    load_fonts()
    part = target.with_name(target.name + ".part")
    writer = QPdfWriter(str(part))
    writer.setResolution(1200)
    writer.setTitle(title)
    writer.setCreator("Yarvel")
    _page(writer, pages[0])
    painter = QPainter()
    if not painter.begin(writer):
        raise OSError(f"{target} cannot be written")
    for number, page in enumerate(pages):
        if number:
            _page(writer, page)
            writer.newPage()
        paint(painter, page, PRINT, writer.resolution() / 25.4)
    painter.end()
    part.replace(target)


def _page(writer: QPdfWriter, page: Drawing) -> None:
    size = QPageSize(QSizeF(page.width, page.height), QPageSize.Unit.Millimeter)
    writer.setPageLayout(QPageLayout(size, QPageLayout.Orientation.Portrait, QMarginsF(0, 0, 0, 0)))
