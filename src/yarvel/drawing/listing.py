"""A table as pages to print, and figures as bars to look at."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from msgspec import Struct

from yarvel.drawing.metrics import text_width
from yarvel.drawing.paper import A4, BODY, LINE, MARGIN, shortened
from yarvel.drawing.primitives import Drawing

_GAP = 3.0
_TOP, _FOOT = 26.0, 14.0
_BAR, _PITCH = 4.4, 6.6


class Bar(Struct, frozen=True):
    """One bar: what it is of, how long, what is written at its end; ``marked`` for what wants a look."""

    label: str
    value: float
    text: str
    marked: bool = False


def list_pages(title: str, heads: Sequence[str], rows: Sequence[Sequence[str]], printed: str) -> list[Drawing]:
    """A table on A4, lying where it is too wide to stand: as many pages as it takes, the heads on each; what is too
    wide for its column even so is shortened."""
    wanted = [
        max([text_width(head, BODY, bold=True), *(text_width(row[column], BODY) for row in rows)])
        for column, head in enumerate(heads)
    ]
    stands = sum(wanted) + _GAP * (len(heads) - 1) <= A4[0] - 2 * MARGIN
    width, height = A4 if stands else A4[::-1]
    at = _columns(wanted, width - 2 * MARGIN)
    fitting = int((height - _TOP - _FOOT) // LINE) - 1
    parts = [rows[start : start + fitting] for start in range(0, len(rows), fitting)] or [[]]
    pages = []
    for number, part in enumerate(parts, start=1):
        page = Drawing(width, height)
        page.text((MARGIN, 14), title, 4.4, bold=True)
        page.line([(MARGIN, 17), (width - MARGIN, 17)], "frame")
        _row(page, heads, at, _TOP - 2.0, bold=True)
        for line, row in enumerate(part, start=1):
            _row(page, row, at, _TOP + line * LINE)
            page.line([(MARGIN, _TOP + line * LINE + 1.3), (width - MARGIN, _TOP + line * LINE + 1.3)], "rule")
        if not rows:
            page.text((MARGIN, _TOP + LINE), "Nothing to list.", BODY)
        page.text(
            (width - MARGIN, height - 7),
            f"printed {printed}  ·  page {number} of {len(parts)}",
            2.6,
            "end",
            "text-quiet",
        )
        pages.append(page)
    return pages


def _columns(wanted: list[float], width: float) -> list[tuple[float, float]]:
    """Left edge and width of each column: what its longest text wants, squeezed alike where all is too wide."""
    room = width - _GAP * (len(wanted) - 1)
    if sum(wanted) > room:
        fair = room / len(wanted)
        narrow = sum(want for want in wanted if want <= fair)
        wide = sum(want for want in wanted if want > fair)
        wanted = [want if want <= fair else want * (room - narrow) / wide for want in wanted]
    edges = np.concatenate([[0.0], np.cumsum([want + _GAP for want in wanted])])[:-1] + MARGIN
    return list(zip(edges.tolist(), wanted, strict=True))


def _row(page: Drawing, texts: Sequence[str], at: list[tuple[float, float]], y: float, bold: bool = False) -> None:
    for text, (left, width) in zip(texts, at, strict=True):
        page.text((left, y), shortened(text, width + 0.2, BODY, bold), BODY, bold=bold)


def bar_at(y_mm: float, count: int, limit: float | None = None) -> int | None:
    """Number of the bar at a height in mm from the top of what :func:`bars` draws of so many; None beside them."""
    number = int((y_mm - _above_bars(limit) + (_PITCH - _BAR) / 2) // _PITCH)
    return number if 0 <= number < count else None


def bar_span(number: int, limit: float | None = None) -> tuple[float, float]:
    """From where to where in mm from the top a bar's line runs in what :func:`bars` draws."""
    top = _above_bars(limit) + number * _PITCH - (_PITCH - _BAR) / 2
    return top, top + _PITCH


def _above_bars(limit: float | None) -> float:
    return 6.0 if limit is not None else 1.0


def bars(rows: Sequence[Bar], width: float, limit: float | None = None, limit_text: str = "") -> Drawing:
    """Lying bars, one under the other, all from one line; ``limit`` is what they are held against."""
    drawing = Drawing(width, max(len(rows), 1) * _PITCH + (8.0 if limit is not None else 3.0))
    if not rows:
        return drawing
    label = min(max(text_width(row.label, BODY) for row in rows), width * 0.4)
    end = max(text_width(row.text, BODY) for row in rows)
    left, room = label + 3.0, max(width - label - end - 8.0, 10.0)
    most = max([*(row.value for row in rows), limit or 0.0, 1e-9])
    top = _above_bars(limit)
    for number, row in enumerate(rows):
        y = top + number * _PITCH
        long = room * max(row.value, 0.0) / most
        middle = y + _BAR / 2 + 1.1
        drawing.text((left - 2.0, middle), shortened(row.label, label + 0.2), BODY, "end")
        corners = np.array([(left, y), (left + long, y), (left + long, y + _BAR), (left, y + _BAR)])
        drawing.area(corners, "metal-cut" if row.marked else "metal", "outline", "slant" if row.marked else "")
        drawing.text((left + long + 2.0, middle), row.text, BODY)
    if limit is not None:
        x = left + room * limit / most
        drawing.line([(x, top - 1.0), (x, top + len(rows) * _PITCH)], "stretch")
        room_beside = min(x, width - x) >= text_width(limit_text, 2.8) / 2
        drawing.text(
            (x, top - 2.0),
            limit_text,
            2.8,
            "middle" if room_beside else "end" if x > width / 2 else "start",
            "text-quiet",
        )
    drawing.line([(left, top - 1.0), (left, top + len(rows) * _PITCH)], "dimension")
    return drawing
