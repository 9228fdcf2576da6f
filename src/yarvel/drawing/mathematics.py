"""Formulas set as mathematics: fractions one above the other, roots under their bar, indices and powers in place."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from msgspec import Struct

from yarvel.drawing.metrics import text_width
from yarvel.drawing.primitives import Drawing, Path, Text
from yarvel.figures.mathematics import Call, Fraction, Node, Power, Product, Root, Sum, Word

_UP, _DOWN = 0.74, 0.22
"""Height of letters above and below their line, shares of their size."""
_SMALLER = 0.72
_ROLE = "figure"


class Box(Struct, frozen=True):
    """Something set: its ``width``, how far it reaches ``up`` and ``down`` from its line, mm; ``draw`` puts it with the
    left end of its line at a point on paper."""

    width: float
    up: float
    down: float
    draw: Callable[[Drawing, float, float], None]


def formula_drawing(lines: list[Node], width: float, size: float) -> Drawing:
    """Lines of formulas under one another, the second and later behind an equals sign, on paper ``width`` mm wide; what
    is too long is broken before a plus or minus and between arguments, and what still is set smaller."""
    rows: list[Box] = []
    for number, node in enumerate(lines):
        lead = _text("= ", size) if number else _text("", size)
        rows += _broken(node, lead, width, size)
    gap = 0.35 * size
    drawing = Drawing(width, sum(row.up + row.down + gap for row in rows) + gap)
    y = gap
    for row in rows:
        row.draw(drawing, 0.0, y + row.up)
        y += row.up + row.down + gap
    return drawing


def _broken(node: Node, lead: Box, width: float, size: float) -> list[Box]:
    whole = _row([lead, _set(node, size)])
    if whole.width <= width:
        return [whole]
    if isinstance(node, Sum) and len(node.terms) > 1:
        rows: list[Box] = []
        laid: list[Box] = [lead]
        for number, (sign, term) in enumerate(node.terms):
            piece = _term(sign, term, size, first=number == 0)
            if len(laid) > 1 and _row([*laid, piece]).width > width:
                rows.append(_row(laid))
                laid = [_space(lead.width + size), piece]
            else:
                laid.append(piece)
        return [_shrunk(row, width) for row in [*rows, _row(laid)]]
    if isinstance(node, Call) and len(node.of) > 1:
        return _argument_rows(node, lead, width, size)
    share = width / whole.width
    return [_row([_resized(lead, share), _resized(_set(node, size), share)])]


def _argument_rows(node: Call, lead: Box, width: float, size: float) -> list[Box]:
    """Each argument of a function on rows of its own."""
    rows: list[Box] = []
    opened = _row([lead, _text(f"{node.name} (", size)])
    for number, part in enumerate(node.of, 1):
        tail = _text(")" if number == len(node.of) else ";", size)
        before = opened if number == 1 else _space(opened.width)
        own = _broken(part, before, width - tail.width, size)
        rows += [*own[:-1], _row([own[-1], tail])]
    return rows


def _shrunk(box: Box, width: float) -> Box:
    return box if box.width <= width else _resized(box, width / box.width)


def _resized(box: Box, share: float) -> Box:
    def draw(drawing: Drawing, x: float, y: float) -> None:
        own = Drawing(box.width, box.up + box.down)
        box.draw(own, 0.0, 0.0)
        for item in own.items:
            if isinstance(item, Text):
                at = (x + item.at[0] * share, y + item.at[1] * share)
                drawing.text(at, item.text, item.size * share, item.anchor, item.role)
            elif isinstance(item, Path):
                drawing.line(np.asarray(item.points) * share + (x, y), item.stroke)

    return Box(box.width * share, box.up * share, box.down * share, draw)


def _text(text: str, size: float) -> Box:
    def draw(drawing: Drawing, x: float, y: float) -> None:
        if text.strip():
            drawing.text((x, y), text, size, "start", _ROLE)

    return Box(text_width(text, size), _UP * size, _DOWN * size, draw)


def _space(width: float) -> Box:
    return Box(width, 0.0, 0.0, lambda _drawing, _x, _y: None)


def _row(boxes: list[Box]) -> Box:
    def draw(drawing: Drawing, x: float, y: float) -> None:
        for box in boxes:
            box.draw(drawing, x, y)
            x += box.width

    up, down = max(box.up for box in boxes), max(box.down for box in boxes)
    return Box(sum(box.width for box in boxes), up, down, draw)


def _raised(box: Box, by: float) -> Box:
    return Box(box.width, box.up + by, max(box.down - by, 0.0), lambda drawing, x, y: box.draw(drawing, x, y - by))


def _set(node: Node, size: float) -> Box:
    """A tree as a box."""
    if isinstance(node, Word):
        word = _text(node.text, size)
        return word if not node.index else _row([word, _raised(_text(node.index, size * _SMALLER), -0.22 * size)])
    if isinstance(node, Sum):
        return _row([_term(sign, term, size, first=not place) for place, (sign, term) in enumerate(node.terms)])
    if isinstance(node, Product):
        boxes = [_set(node.factors[0], size)]
        for factor in node.factors[1:]:
            boxes += [_text(" · ", size), _set(factor, size)]
        return _row(boxes)
    if isinstance(node, Power):
        return _row([_set(node.base, size), _raised(_text(node.exponent, size * _SMALLER), 0.38 * size)])
    if isinstance(node, Call):
        boxes = [_text(f"{node.name} ", size)]
        inner: list[Box] = []
        for place, part in enumerate(node.of):
            inner += [_text("; ", size)] if place else []
            inner.append(_set(part, size))
        return _row([*boxes, _bracketed(_row(inner), size)])
    if isinstance(node, Fraction):
        return _fraction(_set(node.over, size * 0.92), _set(node.under, size * 0.92), size)
    if isinstance(node, Root):
        return _root(_set(node.of, size), size)
    return _bracketed(_set(node.of, size), size)


def _term(sign: str, term: Node, size: float, first: bool) -> Box:
    lead = ("" if sign == "+" else "−") if first else f" {sign} "
    return _row([_text(lead, size), _set(term, size)])


def _fraction(over: Box, under: Box, size: float) -> Box:
    wide, line = max(over.width, under.width) + 0.3 * size, 0.26 * size
    air = 0.14 * size

    def draw(drawing: Drawing, x: float, y: float) -> None:
        middle = y - line
        drawing.line([(x + 0.05 * size, middle), (x + wide - 0.05 * size, middle)], "dimension")
        over.draw(drawing, x + (wide - over.width) / 2, middle - air - over.down)
        under.draw(drawing, x + (wide - under.width) / 2, middle + air + under.up)

    return Box(wide, line + air + over.down + over.up, air + under.up + under.down - line, draw)


def _root(inner: Box, size: float) -> Box:
    lead, air = 0.5 * size, 0.14 * size

    def draw(drawing: Drawing, x: float, y: float) -> None:
        top, low = y - inner.up - air, y + inner.down
        hook = [(x, y - 0.3 * size), (x + 0.14 * size, y - 0.36 * size), (x + 0.27 * size, low), (x + lead, top)]
        drawing.line([*hook, (x + lead + inner.width + 0.1 * size, top)], "dimension")
        inner.draw(drawing, x + lead + 0.05 * size, y)

    return Box(lead + inner.width + 0.15 * size, inner.up + air, inner.down, draw)


def _bracketed(inner: Box, size: float) -> Box:
    """In brackets as tall as what they hold."""
    wide = 0.3 * size
    high = inner.up + inner.down
    turn = np.linspace(-0.9, 0.9, 11)

    def draw(drawing: Drawing, x: float, y: float) -> None:
        middle = y + (inner.down - inner.up) / 2
        bow = (np.cos(turn) - np.cos(turn[0])) / (1 - np.cos(turn[0])) * 0.16 * size
        rise = middle + np.sin(turn) / np.sin(turn[-1]) * (high / 2 + 0.02 * size)
        drawing.line(np.column_stack([x + 0.24 * size - bow, rise]), "dimension")
        drawing.line(np.column_stack([x + wide + inner.width + 0.06 * size + bow, rise]), "dimension")
        inner.draw(drawing, x + wide, y)

    return Box(inner.width + 2 * wide, inner.up + 0.04 * size, inner.down + 0.04 * size, draw)
