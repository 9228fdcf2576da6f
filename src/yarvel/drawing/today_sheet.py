"""The day on paper: what a lead reads out, and a strip for each person, to be cut off."""

from __future__ import annotations

from collections.abc import Sequence

from yarvel.drawing.paper import A4, BODY, LINE, MARGIN, wrapped
from yarvel.drawing.primitives import Drawing

Line = tuple[str, str, str, str]
"""When, which docket, what, who."""
Lines = Sequence[tuple[str, Sequence[Line]]]
"""Lines under a heading each."""
_TOP, _FOOT = 24.0, 12.0

_AT, _NUMBER, _GAP = (0.0, 46.0, 67.0, 127.0), 1, 3.0
"""Where the columns of a line begin, from the margin; which of them is the docket's number; the air between two."""
_STRIP_HEAD, _STRIP_FOOT = 8.0, 5.0


def today_pages(title: str, sections: Lines, strips: Lines) -> list[Drawing]:
    """A4 pages: the sections one under the other, those without a line left out; then the strips, each within one
    page."""
    paper = _Paper(title)
    for head, lines in sections:
        if lines:
            paper.section(head, lines)
    paper.turn()
    for name, lines in strips:
        paper.strip(name, lines)
    return paper.pages


class _Paper:
    def __init__(self, title: str) -> None:
        self._title = title
        self.pages: list[Drawing] = []
        self._y = 0.0
        self.turn()

    def turn(self) -> None:
        """A new page, where this one has anything on it."""
        if self.pages and self._y <= _TOP:
            return
        page = Drawing(*A4)
        page.text((MARGIN, 14.0), self._title, 4.4, bold=True)
        page.line([(MARGIN, 17.0), (A4[0] - MARGIN, 17.0)], "frame")
        self.pages.append(page)
        self._y = _TOP

    def _room(self, high: float) -> None:
        if self._y + high > A4[1] - _FOOT:
            self._y = max(self._y, _TOP + 1.0)
            self.turn()

    def section(self, head: str, lines: Sequence[Line]) -> None:
        self._room(LINE * 3)
        self.pages[-1].text((MARGIN, self._y), head, 3.8, bold=True)
        self._y += LINE * 1.3
        for line in lines:
            self._room(LINE * _high(line))
            self._line(line)
        self._y += LINE

    def strip(self, name: str, lines: Sequence[Line]) -> None:
        self._room(_STRIP_HEAD + LINE * max(sum(map(_high, lines)), 1) + _STRIP_FOOT)
        self.pages[-1].text((MARGIN, self._y), name, 5.0, bold=True)
        self._y += _STRIP_HEAD
        for line in lines:
            self._line(line)
        if not lines:
            self.pages[-1].text((MARGIN, self._y), "Nothing is planned today.", BODY)
            self._y += LINE
        self.pages[-1].line([(0.0, self._y), (A4[0], self._y)], "rule")
        self._y += _STRIP_FOOT + LINE

    def _line(self, line: Line) -> None:
        """One line, in as many as its longest cell takes: a number to be called is never cut short."""
        cells = _cells(line)
        for place, cell in enumerate(cells):
            for row, text in enumerate(cell):
                at = MARGIN + _AT[place], self._y + row * LINE
                self.pages[-1].text(at, text, BODY, bold=place == _NUMBER)
        self._y += LINE * _high(line)


def _cells(line: Line) -> list[list[str]]:
    ends = (*_AT[1:], A4[0] - 2 * MARGIN)
    return [wrapped(text, ends[place] - _AT[place] - _GAP, BODY) for place, text in enumerate(line)]


def _high(line: Line) -> int:
    """How many lines of print it takes."""
    return max((len(cell) for cell in _cells(line)), default=1) or 1
