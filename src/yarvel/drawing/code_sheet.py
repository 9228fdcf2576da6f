"""A sheet of codes to be hung beside the board: a scanner reads what is to be done, then the labels."""

from __future__ import annotations

from collections.abc import Sequence

from yarvel.drawing.label import MARK, code_bars, modules
from yarvel.drawing.paper import A4, MARGIN, shortened, wrapped
from yarvel.drawing.primitives import Drawing

_COLUMNS, _CELL_MM, _TOP_MM = 2, 31.0, 44.0
_MODULE_MM, _BAR_MM, _QUIET_MM = 0.4, 12.0, 4.0
_HOW = (
    "On the board: scan one of these, then the label of each docket that it goes for. It holds until another is "
    "scanned, or a minute has passed. A label scanned by itself starts what comes next of its docket."
)


def code_sheets(codes: Sequence[tuple[str, str]]) -> list[Drawing]:
    """Pages of A4 with these codes: what each is called, and what stands in its bars. Code 128, modules of 0.4 mm with
    a quiet zone of ten (published: ISO/IEC 15417)."""
    rows = int((A4[1] - _TOP_MM - MARGIN) // _CELL_MM)
    many = rows * _COLUMNS
    return [_page(codes[first : first + many]) for first in range(0, max(len(codes), 1), many)]


def _page(codes: Sequence[tuple[str, str]]) -> Drawing:
    page = Drawing(*A4)
    wide = A4[0] - 2 * MARGIN
    page.text((MARGIN, 18.0), "Codes for the scanner", 6.4, bold=True)
    for place, line in enumerate(wrapped(_HOW, wide, 3.6)):
        page.text((MARGIN, 25.5 + 5.2 * place), line, 3.6)
    for place, (words, code) in enumerate(codes):
        row, column = divmod(place, _COLUMNS)
        left, top = MARGIN + column * wide / _COLUMNS, _TOP_MM + row * _CELL_MM
        page.line([(left, top), (left + wide / _COLUMNS - 4.0, top)], "frame")
        page.text((left, top + 7.0), shortened(words, wide / _COLUMNS - 8.0, 5.0, bold=True), 5.0, bold=True)
        code_bars(page, modules(f"{MARK}{code}"), left + _QUIET_MM, top + 10.5, _MODULE_MM, _BAR_MM)
    return page
