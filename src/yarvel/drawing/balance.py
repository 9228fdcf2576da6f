"""Metal at the benches as a balance by eye: of each person and metal one bar, in the order in which it comes back."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from msgspec import Struct

from yarvel.drawing.metrics import text_width
from yarvel.drawing.paper import BODY, shortened
from yarvel.drawing.primitives import Drawing

_PITCH, _BAR, _TOP = 9.0, 5.4, 6.5

PARTS: tuple[tuple[str, str, str], ...] = (
    ("in pieces", "metal", ""),
    ("back whole", "paper", ""),
    ("offcuts", "stone-cut", "slant"),
    ("filings", "metal-cut", "counter"),
    ("in work", "stone", ""),
    ("open", "finger", "slant"),
)
"""Parts of a bar, left to right: word, fill, hatch. A part is never told by its shade alone."""


class BalanceBar(Struct, frozen=True):
    """One bar: whose and which metal; grams by part, in the order of ``PARTS``; ``allowed`` what may be open; ``text``
    at its end, ``marked`` where more is open than may be."""

    label: str
    grams: tuple[float, float, float, float, float, float]
    allowed: float
    text: str
    marked: bool


def balance(rows: Sequence[BalanceBar], width: float) -> Drawing:
    """Bars from one line, with what each part is above them and, at each, how much may be open."""
    drawing = Drawing(width, _TOP + max(len(rows), 1) * _PITCH + 1.0)
    if not rows:
        return drawing
    label = min(max(text_width(row.label, BODY) for row in rows), width * 0.32)
    end = max(text_width(row.text, BODY, row.marked) for row in rows)
    left, room = label + 3.0, max(width - label - end - 8.0, 10.0)
    most = max(max(_reach(row) for row in rows), 1e-9)
    _legend(drawing)
    for number, row in enumerate(rows):
        y = _TOP + number * _PITCH
        drawing.text((left - 2.0, y + _BAR / 2 + 1.1), shortened(row.label, label + 0.2), BODY, "end")
        x = left
        for (_, fill, hatch), grams in zip(PARTS, row.grams, strict=True):
            long = room * max(grams, 0.0) / most
            if long > 0.05:
                _box(drawing, x, y, long, fill, hatch)
            x += long
        allowed = x - room * max(row.grams[-1], 0.0) / most + room * row.allowed / most
        drawing.line([(allowed, y - 1.0), (allowed, y + _BAR + 1.0)], "stretch")
        drawing.text((max(x, allowed) + 2.0, y + _BAR / 2 + 1.1), row.text, BODY, bold=row.marked)
    drawing.line([(left, _TOP - 1.0), (left, _TOP + len(rows) * _PITCH - 2.0)], "dimension")
    return drawing


def _reach(row: BalanceBar) -> float:
    """How far a bar reaches in grams, with what it may have open."""
    known = sum(max(part, 0.0) for part in row.grams[:-1])
    return known + max(row.grams[-1], row.allowed, 0.0)


def _legend(drawing: Drawing) -> None:
    x = 1.0
    for word, fill, hatch in PARTS:
        _box(drawing, x, 0.6, 3.4, fill, hatch, 3.0)
        drawing.text((x + 4.2, 3.2), word, 2.8, "start", "text-quiet")
        x += 6.8 + text_width(word, 2.8)
    drawing.line([(x + 1.0, 0.4), (x + 1.0, 3.8)], "stretch")
    drawing.text((x + 3.0, 3.2), "allowed", 2.8, "start", "text-quiet")


def _box(drawing: Drawing, x: float, y: float, long: float, fill: str, hatch: str, high: float = _BAR) -> None:
    corners = np.array([(x, y), (x + long, y), (x + long, y + high), (x, y + high)])
    drawing.area(corners, fill, "outline", hatch)
