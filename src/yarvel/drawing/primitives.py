"""What a drawing is made of: paths and texts on paper, in mm, x to the right and y down.

Every stroke, fill and text has a *role*; how a role looks is told once, in :mod:`yarvel.drawing.styles` and by
the palette that a painter is given.
"""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np
from msgspec import Struct
from msgspec.structs import replace
from numpy.typing import NDArray

Points = NDArray[np.float64]
"""Corner points on paper, shape (n, 2), mm."""


class Path(Struct, frozen=True, kw_only=True):
    """An open or closed run of straight pieces. ``shade`` lightens (+) or darkens (−) the fill, −1 … 1."""

    points: Points
    stroke: str = ""
    fill: str = ""
    closed: bool = False
    hatch: str = ""
    shade: float = 0.0


class Facets(Struct, frozen=True, kw_only=True):
    """Faces of a solid that look at the viewer: corner ``points``, ``loops`` of point numbers with a ``shade`` each,
    and the ``edges`` (pairs of point numbers) between them, every edge once."""

    points: Points
    loops: tuple[tuple[int, ...], ...]
    shades: tuple[float, ...]
    edges: tuple[tuple[int, int], ...]
    fill: str
    stroke: str


class Text(Struct, frozen=True, kw_only=True):
    """One line of text. ``at`` is its anchor on the base line; ``key`` the figure that it shows."""

    at: tuple[float, float]
    text: str
    size: float
    anchor: str = "start"
    role: str = "text"
    key: str = ""
    bold: bool = False


class Grip(Struct, frozen=True, kw_only=True):
    """A place that can be dragged: ``axis`` is "x" or "y"; moving by 1 mm on paper changes ``value`` by ``per_mm``.

    On the axis "turn" it goes round ``centre``, and ``value`` is its azimuth in degrees, counter-clockwise.

    ``reach`` is how far, in mm, a line to the left of the grip can be taken hold of too.
    """

    name: str
    label: str
    at: tuple[float, float]
    axis: str
    value: float
    per_mm: float
    reach: float = 0.0
    centre: tuple[float, float] = (0.0, 0.0)


@dataclass
class Drawing:
    """Paths and texts in painting order, on a paper of this size in mm."""

    width: float
    height: float
    items: list[Path | Facets | Text] = field(default_factory=list)
    grips: list[Grip] = field(default_factory=list)
    scale: float = 1.0

    def line(self, points: Points | list[tuple[float, float]], stroke: str) -> None:
        """Add an open line through points (n, 2) in mm on paper."""
        self.items.append(Path(points=np.asarray(points, dtype=float), stroke=stroke))

    def area(self, points: Points, fill: str, stroke: str = "", hatch: str = "", shade: float = 0.0) -> None:
        """Add a closed area, points (n, 2) in mm on paper, stroked where ``stroke`` names a role."""
        self.items.append(
            Path(
                points=np.asarray(points, dtype=float), stroke=stroke, fill=fill, closed=True, hatch=hatch, shade=shade
            )
        )

    def text(
        self,
        at: tuple[float, float],
        text: str,
        size: float,
        anchor: str = "start",
        role: str = "text",
        key: str = "",
        bold: bool = False,
    ) -> None:
        """Add a line of text."""
        self.items.append(Text(at=at, text=text, size=size, anchor=anchor, role=role, key=key, bold=bold))

    def texts(self) -> list[Text]:
        """All texts in the order they were added."""
        return [item for item in self.items if isinstance(item, Text)]

    def place(self, other: Drawing, x: float, y: float) -> None:
        """Add all of another drawing, moved by (x, y) mm."""
        shift = np.array([x, y])
        for item in other.items:
            if isinstance(item, Path):
                self.items.append(
                    Path(
                        points=item.points + shift,
                        stroke=item.stroke,
                        fill=item.fill,
                        closed=item.closed,
                        hatch=item.hatch,
                        shade=item.shade,
                    )
                )
            elif isinstance(item, Facets):
                self.items.append(replace(item, points=item.points + shift))
            else:
                self.items.append(
                    Text(
                        at=(item.at[0] + x, item.at[1] + y),
                        text=item.text,
                        size=item.size,
                        anchor=item.anchor,
                        role=item.role,
                        key=item.key,
                        bold=item.bold,
                    )
                )
