"""A drawing as DXF, in mm, y up; a layer a role. Written by ezdxf."""

from __future__ import annotations

from typing import TYPE_CHECKING

from yarvel.drawing.primitives import Drawing, Facets, Path, Points, Text
from yarvel.drawing.styles import LINES, PRINT

if TYPE_CHECKING:
    from ezdxf.document import Drawing as DxfDrawing
    from ezdxf.layouts.layout import Modelspace

_ALIGN = {"start": "LEFT", "middle": "CENTER", "end": "RIGHT"}

_CAP_SHARE = 0.72
"""DXF measures a text by its capitals, the drawing by its em."""


def dxf_document(drawing: Drawing) -> DxfDrawing:
    """The drawing as a DXF document: outlines as polylines, texts as texts; fills are left out."""
    from ezdxf import units
    from ezdxf.filemanagement import new

    dxf = new("R2010", setup=True)
    dxf.units = units.MM
    space = dxf.modelspace()
    for item in drawing.items:
        if isinstance(item, Path) and item.stroke:
            _line(dxf, space, item.points, item.stroke, item.closed, drawing.height)
        elif isinstance(item, Facets):
            for a, b in item.edges:
                _line(dxf, space, item.points[[a, b]], item.stroke, False, drawing.height)
        elif isinstance(item, Text):
            _text(dxf, space, item, drawing.height)
    return dxf


def _layer(made: DxfDrawing, role: str) -> str:
    if role not in made.layers:
        style = LINES.get(role)
        layer = made.layers.add(role, lineweight=round(100 * style.weight) if style is not None else -3)
        red, green, blue = (int(PRINT[role][place : place + 2], 16) for place in (1, 3, 5))
        layer.rgb = (red, green, blue)
        if style is not None and style.dash:
            layer.dxf.linetype = "CENTER" if role == "centre" else "DASHED"
    return role


def _line(made: DxfDrawing, space: Modelspace, points: Points, role: str, closed: bool, height: float) -> None:
    corners = [(float(x), height - float(y)) for x, y in points]
    space.add_lwpolyline(corners, close=closed, dxfattribs={"layer": _layer(made, role)})


def _text(made: DxfDrawing, space: Modelspace, item: Text, height: float) -> None:
    from ezdxf.enums import TextEntityAlignment

    text = space.add_text(item.text, height=item.size * _CAP_SHARE, dxfattribs={"layer": _layer(made, item.role)})
    text.set_placement((item.at[0], height - item.at[1]), align=TextEntityAlignment[_ALIGN[item.anchor]])
