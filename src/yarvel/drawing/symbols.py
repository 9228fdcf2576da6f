"""Where the symbols of a formula lie on the piece: the plan's own head, small, with each of them marked."""

from __future__ import annotations

from collections.abc import Callable

from msgspec import Struct

from yarvel.drawing import bands
from yarvel.drawing.model import SheetModel, band_top, sheet_model
from yarvel.drawing.primitives import Drawing, Facets
from yarvel.drawing.view import View, arrow, dot
from yarvel.figures.figure import FigureKey
from yarvel.heads import claws, notches, rings, style, tapered_collet, tube
from yarvel.planning.plan import Plan
from yarvel.shanks import inset

_SIZE, _LEVEL, _ROOM = 3.0, 4.2, 13.0


class Spot(Struct, frozen=True):
    """A symbol's place in the front view, model mm: from one point to the other; both alike for a point."""

    start: tuple[float, float]
    end: tuple[float, float]


Find = Callable[[SheetModel], Spot | None]


def _across(half: float, height: float) -> Spot:
    return Spot((-half, height), (half, height))


def _up(x: float, low: float, high: float) -> Spot:
    return Spot((x, low), (x, high))


def _figure(model: SheetModel, key: FigureKey) -> float:
    return model.plan.figures[key].value if key in model.plan.figures else 0.0


def _claw(model: SheetModel, low: float, high: float, height: float) -> Spot | None:
    """Part of a claw's thickness at the right, from ``low`` to ``high`` outwards of the stone's edge."""
    return Spot((model.edge(0.0) + low, height), (model.edge(0.0) + high, height))


def _band(model: SheetModel, find: Callable[[SheetModel], Spot]) -> Spot | None:
    return None if model.band is None or model.finger is None else find(model)


def _spots(room: str) -> dict[str, Find]:
    """Symbols by name; the same letter means another thing in another room."""
    of_stone = room in ("stone", "seat", "head", "collet")

    def depth(model: SheetModel) -> float:
        return _figure(model, notches.SEAT_DEPTH)

    def claw(model: SheetModel) -> float:
        return _figure(model, claws.CLAW) or _figure(model, style.HEAD_WALL)

    spots: dict[str, Find] = {
        "D": lambda m: _across(m.edge(0.0), m.table_z * 0.25),
        "W": lambda m: _across(m.edge(0.0), m.table_z * 0.25),
        "L": lambda m: _across(m.edge(0.0), m.table_z * 0.25) if m.plan.facts.along_band else None,
        "h_c": lambda m: _up(m.edge(0.0) * 0.35, float(m.plan.stone.girdle_mm), m.table_z),
        "g": lambda m: _up(m.edge(0.0) * 0.97, 0.0, float(m.plan.stone.girdle_mm)),
        "h_p": lambda m: _up(0.0, m.culet_z, 0.0),
        "d": lambda m: _up(0.0, m.culet_z, m.table_z),
        "H": lambda m: _up(-m.edge(0.0) * 0.55, -m.head.height_mm, 0.0),
        "w": lambda m: _claw(m, -depth(m), claw(m) - depth(m), 0.0),
        "s": lambda m: _claw(m, -depth(m), 0.0, 0.0),
        "o": lambda m: _across(m.edge(0.0) - depth(m), -0.12 * m.head.height_mm),
        "c": lambda m: _claw(m, -_figure(m, claws.tip_cover_mm), 0.0, m.table_z * 0.8),
        "z_o": lambda m: _up(m.edge(0.0) * 0.6, -_figure(m, rings.RING_DROP), 0.0),
        "b_f": lambda m: _across(_figure(m, m.head.foot_key) / 2, -m.head.height_mm),
        "b_o": lambda m: _across(_figure(m, inset.gap_outside_mm) / 2, band_top(m)) if m.gap else None,
        "b": lambda m: _across(_figure(m, m.head.foot_key) / 2, -m.head.height_mm),
        "d_f": lambda m: _across(_figure(m, tapered_collet.foot_diameter_mm) / 2, -m.head.height_mm),
        "d_o": lambda m: _across(_figure(m, tube.tube_outer_mm) / 2, 0.0),
        "P": lambda m: _band(m, lambda n: _up(-n.edge(0.0) * 0.8, n.finger or 0.0, 0.0)),
        "s_f": lambda m: _band(m, lambda n: _up(0.0, -n.head.height_mm, n.finger or 0.0)),
        "σ": lambda m: Spot(
            (m.outer(0.0) * 0.9, -0.7 * m.head.height_mm), (m.outer(0.0) * 0.9, -0.7 * m.head.height_mm)
        ),
        "r_i": lambda m: _band(m, lambda n: Spot((0.0, n.lowest - 0.2), (0.0, n.finger or 0.0))),
        "d_i": lambda m: _band(m, lambda n: Spot((0.0, n.lowest - 0.2), (0.0, n.finger or 0.0))),
        "R_o": lambda m: _band(m, lambda n: _up(n.edge(0.0) * 1.15, n.lowest - 0.2, band_top(n))),
    }
    if of_stone:
        spots["t"] = lambda m: _across(float(m.plan.stone.table_share) * m.edge(0.0), m.table_z)
    else:
        spots["t"] = lambda m: _band(m, lambda n: _up(n.half_x * 1.12, *_band_there(n)))
    return spots


def _band_there(model: SheetModel) -> tuple[float, float]:
    """Inside and outside of the band beside the head."""
    assert model.band is not None and model.finger is not None
    x, band = model.half_x * 1.12, model.band
    centre = model.finger - band.inside_radius
    low = centre + max(band.inside_radius**2 - x**2, 0.0) ** 0.5
    return low, centre + max(band.outside_radius**2 - x**2, 0.0) ** 0.5


def symbols_drawing(plan: Plan, key: str, wanted: tuple[str, ...], width: float) -> Drawing | None:
    """The head from the front on paper ``width`` mm wide, with those of the ``wanted`` symbols marked that lie on it;
    None where none does."""
    model = sheet_model(plan)
    spots = [(name, find(model)) for name, find in _spots(key.split(".")[0]).items() if name in wanted]
    marked = [(name, spot) for name, spot in spots if spot is not None]
    if not marked:
        return None
    low = model.lowest - 0.8
    scale = min((width - 2 * _ROOM) / (2 * model.half_x * 1.2), 34.0 / (model.top - low))
    levels = _LEVEL * sum(spot.start[1] == spot.end[1] for _, spot in marked)
    drawing = Drawing(width, (model.top - low) * scale + levels + 7.0)
    view = View(drawing, (width / 2, levels + 4.0 + model.top * scale), scale)
    bands.front(view, model, model.half_x * 1.2)
    drawing.items[:] = [item for item in drawing.items if not isinstance(item, Facets)]
    height = 4.0
    for name, spot in marked:
        height += _mark(view, name, spot, height)
    return drawing


def _mark(view: View, name: str, spot: Spot, height: float) -> float:
    """Dimension one symbol; returns how much paper a level dimension took above the piece."""
    (x0, y0), (x1, y1) = view.at(*spot.start), view.at(*spot.end)
    shown = name.replace("_", "")
    if spot.start == spot.end:
        dot(view.drawing, (x0, y0), 0.5)
        view.drawing.text((x0 + 1.4, y0 + 1.0), shown, _SIZE, "start", "chosen", bold=True)
        return 0.0
    if abs(y0 - y1) < 1e-9:
        for x in (x0, x1):
            view.drawing.line([(x, y0), (x, height - 0.8)], "dimension")
        view.drawing.line([(x0, height), (x1, height)], "dimension")
        arrow(view.drawing, (x0, height), 1, 0)
        arrow(view.drawing, (x1, height), -1, 0)
        view.drawing.text((max(x0, x1) + 1.2, height + 1.0), shown, _SIZE, "start", "chosen", bold=True)
        return _LEVEL
    view.drawing.line([(x0, y0), (x1, y1)], "seat-line")
    for y in (y0, y1):
        view.drawing.line([(x0 - 0.9, y), (x0 + 0.9, y)], "seat-line")
    view.drawing.text((x0 + 1.2, (y0 + y1) / 2 + 1.0), shown, _SIZE, "start", "chosen", bold=True)
    return 0.0
