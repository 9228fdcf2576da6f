"""A month of the fine book that is signed off, on one page of paper: what its lines come to, and what seals it."""

from __future__ import annotations

from msgspec import Struct

from yarvel.drawing.paper import A4, MARGIN, fact_lines, shortened
from yarvel.drawing.primitives import Drawing

_WIDE = A4[0] - 2 * MARGIN
_TEXT, _LINE, _WORD = 3.4, 5.2, 42.0

_LAST = A4[1] - 34.0
"""Above this the sums have to end: below it stand the signature and the day."""

_GROUP = 8
"""Letters of the digest between two gaps: it is compared by eye."""


class MonthPage(Struct, frozen=True, kw_only=True):
    """What stands on it, in words: the workshop's own lines, the month and in whose zone it began and ended, who signed
    it off and when, how many lines it has, their sums by metal (each a kind of line, with whose it was, and grams), the
    digest and what it goes on from; what looking through it said, and when it is printed."""

    letterhead: tuple[str, ...]
    month: str
    zone: str
    signed: str
    lines: int
    sums: tuple[tuple[str, tuple[tuple[str, str], ...]], ...]
    digest: str
    goes_on_from: str
    note: str
    looked_through: str
    printed: str


def month_page(month: MonthPage) -> Drawing:
    """The page; sums that do not fit on it are left to the file, and that is said."""
    page = Drawing(*A4)
    top = 18.0
    for place, line in enumerate(month.letterhead):
        page.text((MARGIN, top), shortened(line, _WIDE, 4.2), 4.2 if place == 0 else _TEXT, bold=place == 0)
        top += _LINE
    top += 6.0
    page.text((MARGIN, top), f"Fine book, month's end {month.month}", 6.0, bold=True)
    page.line([(MARGIN, top + 2.6), (A4[0] - MARGIN, top + 2.6)], "frame")
    top += 10.0
    digest = " ".join(month.digest[place : place + _GROUP] for place in range(0, len(month.digest), _GROUP))
    facts = (
        ("Signed off by", month.signed),
        ("Days as in", month.zone),
        ("Lines", str(month.lines)),
        ("Sealed by (SHA-256)", digest or "nothing: signed off before months were sealed"),
        ("Goes on from", month.goes_on_from),
        ("Said of it", month.note),
        ("Looked through", month.looked_through),
    )
    top = fact_lines(page, facts, top, _WORD, _TEXT, _LINE)
    top = _sums(page, month, top + 4.0)
    page.line([(MARGIN, A4[1] - 22.0), (MARGIN + 80.0, A4[1] - 22.0)], "frame")
    page.text((MARGIN, A4[1] - 17.5), "Seen, with the safe weighed", 3.0, "start", "text-quiet")
    page.text((A4[0] - MARGIN, A4[1] - 17.5), f"printed {month.printed}", 3.0, "end", "text-quiet")
    return page


def _sums(page: Drawing, month: MonthPage, top: float) -> float:
    rows = [(metal, what, grams) for metal, sums in month.sums for what, grams in sums]
    if not rows:
        page.text((MARGIN, top), "No line: nothing was weighed in it.", _TEXT)
        return top + _LINE
    fitting = int((_LAST - top) // _LINE)
    shown = rows if len(rows) <= fitting else rows[: fitting - 1]
    before = ""
    for metal, what, grams in shown:
        if metal != before:
            page.line([(MARGIN, top - 3.7), (A4[0] - MARGIN, top - 3.7)], "rule")
            page.text((MARGIN, top), shortened(metal, 60.0, _TEXT, bold=True), _TEXT, bold=True)
        page.text((MARGIN + 64.0, top), shortened(what, 84.0, _TEXT), _TEXT)
        page.text((A4[0] - MARGIN, top), grams, _TEXT, "end")
        before, top = metal, top + _LINE
    if len(shown) < len(rows):
        page.text((MARGIN, top), f"and {len(rows) - len(shown)} sums more: this list as CSV has them", _TEXT)
        top += _LINE
    return top
