"""True-size drawings on pages: a printer's scale put right, large ones cut into tiles with marks to join them by."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
from msgspec import Struct

from yarvel.drawing.primitives import Drawing, Facets, Path, Points, Text

OVERLAP_MM = 6.0

LEAST_BAR_MM, MOST_BAR_MM = 40.0, 60.0
"""What a bar of 50 mm may measure before it is a slip of the hand rather than a printer's fault."""


class Printer(Struct, frozen=True):
    """What a bar of 50 mm measured, printed by this printer, across and down the page; 50 where it is true."""

    across_mm: float = 50.0
    down_mm: float = 50.0

    @property
    def stretch(self) -> tuple[float, float]:
        """Factors across and down by which a drawing is stretched so that it comes out true."""
        return 50.0 / self.across_mm, 50.0 / self.down_mm


TRUE = Printer()
"""A printer that prints true."""


def corrected(drawing: Drawing, printer: Printer) -> Drawing:
    """The drawing stretched against the printer's fault; its size on paper grows with it."""
    across, down = printer.stretch
    if (across, down) == (1.0, 1.0):
        return drawing
    factor = np.array([across, down])
    corrected_drawing = Drawing(drawing.width * across, drawing.height * down, scale=drawing.scale)
    for item in drawing.items:
        if isinstance(item, Path):
            corrected_drawing.items.append(
                Path(
                    points=item.points * factor,
                    stroke=item.stroke,
                    fill=item.fill,
                    closed=item.closed,
                    hatch=item.hatch,
                    shade=item.shade,
                )
            )
        elif isinstance(item, Text):
            corrected_drawing.items.append(
                Text(
                    at=(item.at[0] * across, item.at[1] * down),
                    text=item.text,
                    size=item.size,
                    anchor=item.anchor,
                    role=item.role,
                    key=item.key,
                    bold=item.bold,
                )
            )
    return corrected_drawing


def tiles(drawing: Drawing, width: float, height: float) -> list[Drawing]:
    """The drawing in pieces of at most this size in mm, row by row, each overlapping the next; itself where it fits.

    Only lines are cut; a text stays with the tile that its anchor lies on. Short bars at the edges mark where the next
    tile is laid.
    """
    if drawing.width <= width and drawing.height <= height:
        return [drawing]
    across, down = _starts(drawing.width, width), _starts(drawing.height, height)
    drawings = []
    for row, top in enumerate(down):
        for column, left in enumerate(across):
            tile = Drawing(width, height, scale=drawing.scale)
            box = (left, top, left + width, top + height)
            for item in drawing.items:
                if isinstance(item, Text):
                    if _inside(item.at, box):
                        tile.items.append(
                            Text(
                                at=(item.at[0] - left, item.at[1] - top),
                                text=item.text,
                                size=item.size,
                                anchor=item.anchor,
                                role=item.role,
                                key=item.key,
                                bold=item.bold,
                            )
                        )
                elif isinstance(item, Path) and not isinstance(item, Facets):
                    for piece in clipped(item.points, item.closed, box):
                        tile.line(piece - (left, top), item.stroke or "fine")
            _marks(tile, column < len(across) - 1, column > 0, row < len(down) - 1, row > 0)
            tile.text(
                (1.0, 4.0), f"tile {row + 1}.{column + 1} of {len(down)} × {len(across)}", 2.6, "start", "text-quiet"
            )
            drawings.append(tile)
    return drawings


def _starts(size: float, room: float) -> list[float]:
    if size <= room:
        return [0.0]
    step = room - OVERLAP_MM
    count = int(np.ceil((size - OVERLAP_MM) / step))
    return [place * step for place in range(count)]


def _inside(at: tuple[float, float], box: tuple[float, float, float, float]) -> bool:
    return box[0] <= at[0] < box[2] and box[1] <= at[1] < box[3]


def _marks(tile: Drawing, right: bool, left: bool, below: bool, above: bool) -> None:
    """Lines where the next tile's edge is laid."""
    width, height, over = tile.width, tile.height, OVERLAP_MM
    for wanted, ends in (
        (right, ((width - over, 0.0), (width - over, height))),
        (left, ((over, 0.0), (over, height))),
        (below, ((0.0, height - over), (width, height - over))),
        (above, ((0.0, over), (width, over))),
    ):
        if wanted:
            tile.line(list(ends), "hidden")


def clipped(points: Points, closed: bool, box: tuple[float, float, float, float]) -> Iterator[Points]:
    """The pieces, each (n, 2), of a run (m, 2) of straight lines that lie in a box (Liang and Barsky's clipping of each
    line)."""
    run = np.vstack([points, points[:1]]) if closed else points
    piece: list[Points] = []
    for start, end in zip(run[:-1], run[1:], strict=True):
        kept = _clip(start, end, box)
        if kept is None:
            if len(piece) > 1:
                yield np.array(piece)
            piece = []
            continue
        first, last = kept
        if not piece or not np.allclose(piece[-1], first):
            if len(piece) > 1:
                yield np.array(piece)
            piece = [first]
        piece.append(last)
    if len(piece) > 1:
        yield np.array(piece)


def _clip(start: Points, end: Points, box: tuple[float, float, float, float]) -> tuple[Points, Points] | None:
    way, low, high = end - start, 0.0, 1.0
    for axis in (0, 1):
        for bound, sign in ((box[axis], -1.0), (box[axis + 2], 1.0)):
            speed, room = sign * way[axis], sign * (bound - start[axis])
            if abs(speed) < 1e-12:
                if room < 0:
                    return None
            elif speed > 0:
                high = min(high, room / speed)
            else:
                low = max(low, room / speed)
    return None if low > high else (start + way * low, start + way * high)
