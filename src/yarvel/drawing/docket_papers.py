"""Papers that a customer gets: the receipt when a piece is taken in, the estimate, the invoice when it is collected."""

from __future__ import annotations

from collections.abc import Iterable

from msgspec import Struct

from yarvel.drawing.label import MARK, code_bars, modules
from yarvel.drawing.paper import A4, MARGIN, fact_lines, shortened, wrapped
from yarvel.drawing.primitives import Drawing

_WIDE = A4[0] - 2 * MARGIN
_TEXT, _LINE, _WORD = 3.6, 6.0, 46.0
_MODULE_MM, _BAR_MM = 0.33, 8.0


class PaperHead(Struct, frozen=True, kw_only=True):
    """Whose paper it is and for whom: the workshop's own lines, the docket's number, customer and item, the day; how
    the customer is reached, a line each."""

    letterhead: tuple[str, ...]
    number: str
    customer: str
    item: str
    day: str
    contact: tuple[str, ...] = ()


class AmountLines(Struct, frozen=True):
    """Amounts as they are written, each with its word; the last is what counts."""

    lines: tuple[tuple[str, str], ...]
    strong: tuple[str, str]
    after: tuple[tuple[str, str], ...] = ()


def receipt(head: PaperHead, facts: Iterable[tuple[str, str]], words: Iterable[str]) -> Drawing:
    """What was taken in, as it was found; two signatures."""
    page, top = _begin(head, "Receipt")
    top = _facts(page, facts, top)
    for text in words:
        top = _paragraph(page, text, top)
    top += 18.0
    half = _WIDE / 2 - 6
    for left, who in ((MARGIN, "Handed in by"), (MARGIN + half + 12, "Taken in by")):
        page.line([(left, top), (left + half, top)], "frame")
        page.text((left, top + 4.5), who, 3.0, "start", "text-quiet")
    return page


def money_paper(
    head: PaperHead, title: str, facts: Iterable[tuple[str, str]], sums: AmountLines, words: Iterable[str]
) -> Drawing:
    """An estimate or an invoice: what it is for, what it comes to."""
    page, top = _begin(head, title)
    top = _facts(page, facts, top) + 3.0
    for word, amount in sums.lines:
        top = _amount(page, word, amount, top)
    page.line([(MARGIN, top - 3.8), (MARGIN + _WIDE, top - 3.8)], "frame")
    top = _amount(page, *sums.strong, top + 1.2, bold=True)
    for word, amount in sums.after:
        top = _amount(page, word, amount, top)
    top += 4.0
    for text in words:
        top = _paragraph(page, text, top)
    return page


def _begin(head: PaperHead, title: str) -> tuple[Drawing, float]:
    page = Drawing(*A4)
    top = 18.0
    for place, line in enumerate(head.letterhead):
        size = 4.2 if place == 0 else _TEXT
        page.text((MARGIN, top), shortened(line, 110.0, size), size, bold=place == 0)
        top += 5.4
    bars = modules(f"{MARK}{head.number}")
    code_bars(page, bars, A4[0] - MARGIN - len(bars) * _MODULE_MM, 12.0, _MODULE_MM, _BAR_MM)
    page.text((A4[0] - MARGIN, 25.5), head.number, 4.4, "end", bold=True)
    top = max(top, 32.0) + 10.0
    page.text((MARGIN, top), title, 6.4, bold=True)
    page.text((A4[0] - MARGIN, top), head.day, _TEXT, "end")
    page.line([(MARGIN, top + 2.6), (A4[0] - MARGIN, top + 2.6)], "frame")
    top += 11.0
    top = _facts(page, (("For", head.customer), *(("", line) for line in head.contact)), top)
    return page, _facts(page, (("Item", head.item),), top)


def _facts(page: Drawing, facts: Iterable[tuple[str, str]], top: float) -> float:
    return fact_lines(page, facts, top, _WORD, _TEXT, _LINE)


def _amount(page: Drawing, word: str, amount: str, top: float, bold: bool = False) -> float:
    page.text((MARGIN, top), word, _TEXT, bold=bold)
    page.text((A4[0] - MARGIN, top), amount, _TEXT, "end", bold=bold)
    return top + _LINE + (1.0 if bold else 0.0)


def _paragraph(page: Drawing, text: str, top: float) -> float:
    for line in wrapped(text, _WIDE, _TEXT):
        page.text((MARGIN, top), line, _TEXT)
        top += _LINE - 0.8
    return top + 2.0
