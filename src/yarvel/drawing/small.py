"""A head as small as it is shown in a list: from the front and straight down, without dimensions."""

from __future__ import annotations

from yarvel.drawing import bands, elements
from yarvel.drawing.model import sheet_model
from yarvel.drawing.primitives import Drawing, Facets
from yarvel.drawing.view import View
from yarvel.planning.plan import Plan

_BELOW_MM, _GAP_MM, _EDGE = 3.0, 4.0, 2.0

_FACETS_FROM = 4.0
"""Facets are drawn from this scale on; smaller they only blacken a stone."""


def small_picture(plan: Plan, width: float, height: float) -> Drawing:
    """Front view over plan view, as large as they fit into so many mm of paper."""
    model = sheet_model(plan)
    half = model.half_x + 2.0
    high = model.top - model.lowest + _BELOW_MM
    tall = high + 2 * model.half_y
    scale = min((width - 2 * _EDGE) / (2 * half), (height - 2 * _EDGE - _GAP_MM) / tall)
    drawing = Drawing(width, height, scale=scale)
    front = View(drawing, (width / 2, _EDGE + model.top * scale), scale)
    bands.front(front, model, half)
    above = View(drawing, (width / 2, _EDGE + high * scale + _GAP_MM + model.half_y * scale), scale)
    bands.band_from_above(above, model, half)
    elements.head_from_above(above, model)
    if scale < _FACETS_FROM:
        drawing.items = [item for item in drawing.items if not isinstance(item, Facets)]
    return drawing
