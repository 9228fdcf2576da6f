"""What a PDF says, page by page, read back by PDFium."""

from __future__ import annotations

from pathlib import Path

import pypdfium2


def texts(path: Path) -> list[str]:
    """The text of each page; words apart by one blank."""
    document = pypdfium2.PdfDocument(path)
    try:
        found = []
        for page in document:
            read = page.get_textpage()
            found.append(" ".join(read.get_text_range().split()))
            read.close()
            page.close()
        return found
    finally:
        document.close()


def whole_text(path: Path) -> str:
    """The text of all pages."""
    return " ".join(texts(path))
