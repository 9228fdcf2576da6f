"""The paper that is printed on: its size and margins, the bar to check it by, lines of text broken to a width."""

from __future__ import annotations

from collections.abc import Iterable

from yarvel.drawing.metrics import text_width
from yarvel.drawing.primitives import Drawing

A4, A5 = (210.0, 297.0), (148.0, 210.0)
PAPERS = {"A4": A4, "A5": A5}
MARGIN = 12.0
BAR_MM = 50.0
BODY = 3.2
LINE = 4.7


def ruler_bar(page: Drawing, x: float, y: float) -> None:
    """A bar of 50 mm with ticks, to be checked with a ruler after printing."""
    page.line([(x, y), (x + BAR_MM, y)], "cut")
    for tick in range(int(BAR_MM) + 1):
        high = 3.0 if tick % 10 == 0 else 2.0 if tick % 5 == 0 else 1.2
        page.line([(x + tick, y), (x + tick, y - high)], "dimension")
    page.text((x, y + 4), "0", 2.6, "middle")
    page.text((x + BAR_MM, y + 4), "50 mm", 2.6, "middle")
    page.text((x + BAR_MM + 8, y), "Lay a ruler on this bar: if it is not 50 mm long, print again at 100 %.", BODY)


def wrapped(text: str, width: float, size: float = BODY) -> list[str]:
    """A text set at ``size`` mm to the em, in lines of at most this width in mm."""
    lines, line = [], ""
    for word in text.split():
        longer = f"{line} {word}".strip()
        if line and text_width(longer, size) > width:
            lines.append(line)
            line = word
        else:
            line = longer
    return [*lines, line] if line else lines


def shortened(text: str, width: float, size: float = BODY, bold: bool = False) -> str:
    """A text cut to a width in mm, with an ellipsis where something is left out."""
    if text_width(text, size, bold) <= width:
        return text
    while text and text_width(text + "…", size, bold) > width:
        text = text[:-1]
    return text.rstrip() + "…"


def fact_lines(
    page: Drawing, facts: Iterable[tuple[str, str]], top: float, word_mm: float, size: float, line_mm: float
) -> float:
    """Words at the margin, what each stands for beside them in lines that are broken; those without are left out.
    Returns where the page goes on, mm."""
    for word, text in facts:
        if not text:
            continue
        page.text((MARGIN, top), word, size, "start", "text-quiet")
        for line in wrapped(text, page.width - 2 * MARGIN - word_mm, size):
            page.text((MARGIN + word_mm, top), line, size)
            top += line_mm
    return top
