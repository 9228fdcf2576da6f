"""The claw chart on paper: the head from above; each claw's number, its verdict's shape and what it calls for."""

from __future__ import annotations

from yarvel.drawing import elements
from yarvel.drawing.marks import level_shape
from yarvel.drawing.metrics import text_width
from yarvel.drawing.model import sheet_model
from yarvel.drawing.primitives import Drawing
from yarvel.drawing.view import View
from yarvel.heads.wear import LEAVE, MISSING, NEW_CLAW, RE_TIP, TIGHTEN, WORK
from yarvel.planning.diagnostics.diagnostic import CAUTION, NOTE, OK, STOP
from yarvel.planning.plan import Plan
from yarvel.route.ways import ClawTold

LEVELS = {LEAVE: OK, TIGHTEN: NOTE, RE_TIP: CAUTION, NEW_CLAW: STOP}
"""The level whose shape stands for what a claw calls for."""
_TEXT, _SMALL, _MARK, _ROUND, _AWAY = 2.8, 2.5, 1.4, 11.0, 3.4


def claw_chart(plan: Plan, told: tuple[ClawTold, ...], width: float, height: float) -> Drawing:
    """The chart on so much paper, mm; a claw that is left alone has its number only."""
    drawing = Drawing(width, height)
    model = sheet_model(plan)
    scale = min((width / 2 - _ROUND - 4.0) / model.half_x, (height / 2 - _ROUND + 2.0) / model.half_y)
    view = View(drawing, (width / 2, height / 2), scale)
    gone = [plan.shape.places[claw.place] for claw in told if MISSING in claw.findings]
    elements.head_from_above(view, model, gone)
    out = max(float(part[:, 0].max()) for part in plan.shape.profiles)
    for claw in told:
        place = plan.shape.places[claw.place]
        x, y = view.at(place.x_mm + out * place.normal[0], place.y_mm + out * place.normal[1])
        x, y = x + _AWAY * place.normal[0], y - _AWAY * place.normal[1]
        if claw.work == LEAVE:
            drawing.text((x, y + 1.0), str(claw.number), _TEXT, "middle")
            continue
        half = text_width(WORK[claw.work], _SMALL) / 2
        x, y = x + place.normal[0] * (half - 1.5), y - place.normal[1] * 1.2
        x = min(max(x, half), width - half)
        level = LEVELS[claw.work]
        drawing.area(level_shape(level) * _MARK + (x - 1.6, y - 1.2), f"mark-{level}", "paper")
        drawing.text((x + 1.8, y - 0.2), str(claw.number), _TEXT, "middle", bold=True)
        drawing.text((x, y + 2.8), WORK[claw.work], _SMALL, "middle")
    return drawing
