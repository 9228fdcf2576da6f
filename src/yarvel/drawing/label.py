"""The docket's label: number, whose, what, when, and a code that opens it when a scanner types it."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from msgspec import Struct

from yarvel.drawing.paper import shortened
from yarvel.drawing.primitives import Drawing

WIDTH_MM, HEIGHT_MM = 62.0, 29.0
"""Size of the label paper; that of the commonest label printers' die-cut labels, from memory."""
MARK = "~"
"""What a label's code begins with, so that typing and scanning are told apart."""
_MODULE_MM, _QUIET_MM = 0.33, 3.3
_BAR_MM = 9.0


class LabelText(Struct, frozen=True):
    """What stands on a label."""

    number: str
    customer: str
    item: str
    promised: str


def label(text: LabelText) -> Drawing:
    """The label as a drawing: Code 128, modules of 0.33 mm with a quiet zone of ten (published: ISO/IEC 15417)."""
    drawing = Drawing(WIDTH_MM, HEIGHT_MM)
    drawing.text((2.0, 5.6), text.number, 4.6, bold=True)
    drawing.text((WIDTH_MM - 2.0, 5.2), text.promised, 3.0, "end")
    for line, word in enumerate((text.customer, text.item)):
        drawing.text((2.0, 10.0 + 3.9 * line), shortened(word, WIDTH_MM - 4.0, 3.2), 3.2)
    bars = modules(f"{MARK}{text.number}")
    left, top = max((WIDTH_MM - len(bars) * _MODULE_MM) / 2, _QUIET_MM), HEIGHT_MM - _BAR_MM - 3.0
    code_bars(drawing, bars, left, top, _MODULE_MM, _BAR_MM)
    return drawing


def code_bars(
    drawing: Drawing, bars: tuple[bool, ...], left_mm: float, top_mm: float, module_mm: float, bar_mm: float
) -> None:
    """Draw a code's modules from a place on the paper, each ``module_mm`` wide and ``bar_mm`` high; mm."""
    start = 0
    while start < len(bars):
        end = start
        while end < len(bars) and bars[end] == bars[start]:
            end += 1
        if bars[start]:
            x0, x1 = left_mm + start * module_mm, left_mm + end * module_mm
            corners = [(x0, top_mm), (x1, top_mm), (x1, top_mm + bar_mm), (x0, top_mm + bar_mm)]
            drawing.area(np.array(corners), "outline")
        start = end


@lru_cache(maxsize=32)
def modules(code: str) -> tuple[bool, ...]:
    """Dark (True) and light modules of a Code 128."""
    from barcode import Code128

    return tuple(module == "1" for module in Code128(code).build()[0])
