"""A view: model coordinates onto paper at a scale, and the dimensions set around it so that none cross.

Heights are dimensioned by a ladder (running dimensions: one level a label, spread so that labels never touch
and their leaders never cross). Widths are stacked in lanes, narrow ones nearest the view. Details get notes in a
column, their leaders uncrossed by exchanging places.
"""

from __future__ import annotations

import numpy as np
from msgspec import Struct

from yarvel.drawing.metrics import CAP_HEIGHT, text_width
from yarvel.drawing.primitives import Drawing, Points
from yarvel.figures.figure import FigureKey

TEXT = 3.4
"""Figures on the sheet: 3.4 mm to the em, about 16 pixels on the bench screen."""
SMALL = 2.9
LANE = 6.2
PITCH = 4.9
ARROW = 1.5
_DOT = np.column_stack([np.cos(np.arange(8) * np.pi / 4), np.sin(np.arange(8) * np.pi / 4)])


class View(Struct, frozen=True):
    """``origin`` is where the model's (0, 0) lies on paper; ``scale`` paper mm per model mm; model v is up."""

    drawing: Drawing
    origin: tuple[float, float]
    scale: float

    def at(self, u: float, v: float) -> tuple[float, float]:
        """Paper point (x, y; mm from the top left, y down) of a model point (u, v; mm, v up)."""
        return self.origin[0] + u * self.scale, self.origin[1] - v * self.scale

    def all(self, points: Points) -> Points:
        """Paper points (n, 2) of model points (n, 2)."""
        return np.asarray(points) * (self.scale, -self.scale) + self.origin

    def area(self, points: Points, fill: str, stroke: str = "", hatch: str = "", shade: float = 0.0) -> None:
        """A closed area given in model coordinates (n, 2)."""
        self.drawing.area(self.all(points), fill, stroke, hatch, shade)

    def line(self, points: Points | list[tuple[float, float]], stroke: str) -> None:
        """An open line given in model coordinates (n, 2)."""
        self.drawing.line(self.all(np.asarray(points, dtype=float)), stroke)


class Level(Struct, frozen=True):
    """A height to dimension: model (u, v) of where its line starts, its text, its figure."""

    u: float
    v: float
    text: str
    key: FigureKey | None = None


class Width(Struct, frozen=True):
    """A width to dimension: from model u to u, ``v`` where both extension lines start."""

    left: float
    right: float
    v: float
    text: str
    key: FigureKey | None = None


class Note(Struct, frozen=True):
    """A detail to point at: model (u, v), text, figure."""

    u: float
    v: float
    text: str
    key: FigureKey | None = None


def spread(wanted: list[float], pitch: float, low: float, high: float) -> list[float]:
    """Places nearest to ``wanted`` (ascending) that keep ``pitch`` apart within low … high where there is room."""
    if not wanted:
        return []
    places = np.array(wanted, dtype=float) - np.arange(len(wanted)) * pitch
    blocks: list[tuple[float, int]] = []
    for place in places:
        total, count = float(place), 1
        while blocks and blocks[-1][0] / blocks[-1][1] > total / count:
            block, many = blocks.pop()
            total, count = total + block, count + many
        blocks.append((total, count))
    flat = np.concatenate([np.full(count, total / count) for total, count in blocks])
    room = max(high - low - (len(wanted) - 1) * pitch, 0.0)
    flat = np.clip(flat, low, low + room)
    result: list[float] = (flat + np.arange(len(wanted)) * pitch).tolist()
    return result


def ladder(view: View, levels: list[Level], edge: float, column: float, low: float, high: float) -> None:
    """Running dimensions at the left: lines to paper x ``edge``, labels ending at paper x ``column`` (< edge)."""
    ordered = sorted(levels, key=lambda level: -level.v)
    heights = [view.at(0, level.v)[1] for level in ordered]
    places = spread(heights, PITCH, low, high)
    for level, height, place in zip(ordered, heights, places, strict=True):
        start = view.at(level.u, level.v)
        view.drawing.line([(start[0] - 0.6, height), (edge, height), (column + 1.0, place)], "dimension")
        view.drawing.text((column, place + CAP_HEIGHT * TEXT / 2), level.text, TEXT, "end", "figure", _text(level.key))


def lanes(view: View, widths: list[Width], start: float, downward: bool) -> float:
    """Stacked widths from paper y ``start`` on, narrow ones first; returns the paper y behind the last lane.

    A figure wider than its own arrows stands at the left of the whole stack.
    """
    place = start
    outside = min((view.at(width.left, 0)[0] for width in widths), default=0.0) - 2.0
    step = LANE if downward else -LANE
    for width in sorted(widths, key=lambda item: item.right - item.left):
        place += step
        left, top = view.at(width.left, width.v)
        right, _ = view.at(width.right, width.v)
        over = 1.0 if downward else -1.0
        for x in (left, right):
            view.drawing.line([(x, top + over * 0.6), (x, place + over)], "dimension")
        view.drawing.line([(left, place), (right, place)], "dimension")
        arrow(view.drawing, (left, place), 1, 0)
        arrow(view.drawing, (right, place), -1, 0)
        if text_width(width.text, TEXT) + 1.0 <= right - left:
            view.drawing.text(((left + right) / 2, place - 0.9), width.text, TEXT, "middle", "figure", _text(width.key))
        else:
            view.drawing.line([(left, place), (outside, place)], "dimension")
            view.drawing.text(
                (outside - 1.0, place + CAP_HEIGHT * TEXT / 2), width.text, TEXT, "end", "figure", _text(width.key)
            )
    return place


def chain(
    view: View, levels: list[tuple[float, float, str, FigureKey]], x: float, column: float, low: float, high: float
) -> None:
    """A chain of heights at paper x: (lower v, upper v, text, key) from top to bottom, labels from ``column`` on."""
    middles = [view.at(0, (lower + upper) / 2)[1] for lower, upper, _, _ in levels]
    places = spread(middles, PITCH, low, high)
    for (lower, upper, text, key), middle, place in zip(levels, middles, places, strict=True):
        top, bottom = view.at(0, upper)[1], view.at(0, lower)[1]
        view.drawing.line([(x, top), (x, bottom)], "dimension")
        if bottom - top > 3 * ARROW:
            arrow(view.drawing, (x, top), 0, 1)
            arrow(view.drawing, (x, bottom), 0, -1)
        for y in (top, bottom):
            view.drawing.line([(x - 1.0, y), (x + 1.0, y)], "dimension")
        view.drawing.line([(x, middle), (column - 1.0, place)], "dimension")
        view.drawing.text((column, place + CAP_HEIGHT * TEXT / 2), text, TEXT, "start", "figure", key.key)


def notes(view: View, details: list[Note], column: float, low: float, high: float) -> None:
    """Notes in a column at the right, leaders straight and never crossing one another."""
    targets = [view.at(note.u, note.v) for note in details]
    order = sorted(range(len(details)), key=lambda place: targets[place][1])
    places = spread([targets[place][1] for place in order], PITCH, low, high)
    order = _uncrossed(order, targets, places, column - 1.0)
    for number, place in zip(order, places, strict=True):
        note = details[number]
        view.drawing.line([targets[number], (column - 1.0, place)], "dimension")
        dot(view.drawing, targets[number])
        view.drawing.text((column, place + CAP_HEIGHT * TEXT / 2), note.text, TEXT, "start", "figure", _text(note.key))


def _uncrossed(order: list[int], targets: list[tuple[float, float]], places: list[float], column: float) -> list[int]:
    """Exchange the places of crossing leaders; each exchange shortens them in sum, so it ends."""
    order = list(order)
    for _ in range(len(order) ** 2):
        crossing = next(
            (
                (i, j)
                for i in range(len(order))
                for j in range(i + 1, len(order))
                if crosses(targets[order[i]], (column, places[i]), targets[order[j]], (column, places[j]))
            ),
            None,
        )
        if crossing is None:
            break
        i, j = crossing
        order[i], order[j] = order[j], order[i]
    return order


def crosses(a: tuple[float, float], b: tuple[float, float], c: tuple[float, float], d: tuple[float, float]) -> bool:
    """Whether the open pieces a–b and c–d cross."""

    def side(p: tuple[float, float], q: tuple[float, float], r: tuple[float, float]) -> float:
        return (q[0] - p[0]) * (r[1] - p[1]) - (q[1] - p[1]) * (r[0] - p[0])

    return side(a, b, c) * side(a, b, d) < -1e-12 and side(c, d, a) * side(c, d, b) < -1e-12


def arrow(drawing: Drawing, tip: tuple[float, float], x: float, y: float) -> None:
    """A slim filled arrow head at ``tip``; (x, y) points from the tip back along the line."""
    back = np.array([tip[0] + x * ARROW, tip[1] + y * ARROW])
    wide = np.array([-y, x]) * ARROW * 0.18
    drawing.area(np.array([tip, back + wide, back - wide]), "dimension")


def dot(drawing: Drawing, at: tuple[float, float], radius: float = 0.35) -> None:
    """A small filled dot."""
    drawing.area(_DOT * radius + at, "dimension")


def label_width(texts: list[str]) -> float:
    """Width in mm of the widest of these texts at the size of figures."""
    return max((text_width(text, TEXT) for text in texts), default=0.0)


def _text(key: FigureKey | None) -> str:
    return "" if key is None else key.key
