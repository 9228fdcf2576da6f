"""The bench sheet: pages to print at 1:1, from the drawing to the checks to tick."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from yarvel.drawing import elements, outlines
from yarvel.drawing.metrics import text_width
from yarvel.drawing.model import sheet_model
from yarvel.drawing.primitives import Drawing, Facets, Path
from yarvel.drawing.sheet import sheet
from yarvel.drawing.stone_look import FRONT, SIDE
from yarvel.drawing.view import View
from yarvel.figures.figure import Figure
from yarvel.planning.calls.call import OK
from yarvel.planning.plan import Plan
from yarvel.planning.work import DEFER, checks, work_steps

A4 = (210.0, 297.0)
MARGIN = 12.0
BAR_MM = 50.0
_BODY = 3.2
_LINE = 4.7
_FINE = {"outline": "fine", "stone-edge": "fine-stone", "break": "fine", "finger-edge": "fine"}
"""At true size, outlines are drawn finer and facets left out, so that what is there can be measured."""
_ROOMS = (("stone", "Stone"), ("head", "Head"), ("collet", "Collet"), ("seat", "Seat"), ("shank", "Shank"))
@dataclass(frozen=True)
class Heading:
    """What stands at the top of every page; texts as they are to be printed."""

    number: str = ""
    customer: str = ""
    item: str = ""
    promised: str = ""
    printed: str = ""


def bench_sheet(plan: Plan, heading: Heading) -> list[Drawing]:
    """All pages: drawing with the true size beside a ruler bar; figures; the work in order, checks, cautions."""
    pages = [_drawing_page(plan), *_pattern_pages(plan), *_figure_pages(plan), *_work_pages(plan)]
    for number, page in enumerate(pages, start=1):
        _head(page, heading, number, len(pages))
    return pages


def _head(page: Drawing, heading: Heading, number: int, count: int) -> None:
    words = "  ·  ".join(word for word in (heading.number, heading.customer, heading.item) if word)
    page.text((MARGIN, 14), words or "Bench sheet", 4.4, bold=True)
    right = f"promised {heading.promised}" if heading.promised else ""
    page.text((A4[0] - MARGIN, 14), right, _BODY, "end")
    page.line([(MARGIN, 17), (A4[0] - MARGIN, 17)], "frame")
    foot = f"printed {heading.printed}  ·  " if heading.printed else ""
    page.text((A4[0] - MARGIN, A4[1] - 7), f"{foot}page {number} of {count}", 2.6, "end", "text-quiet")


def _page() -> Drawing:
    return Drawing(*A4)


def _drawing_page(plan: Plan) -> Drawing:
    page = _page()
    page.place(sheet(plan, A4[0] - 2 * MARGIN, 168, grips=False), MARGIN, 19)
    page.line([(MARGIN, 189), (A4[0] - MARGIN, 189)], "rule")
    page.text((MARGIN, 195), "True size, 1 : 1", _BODY, bold=True)
    true = true_size(plan)
    page.place(true, MARGIN, 197)
    ruler_bar(page, MARGIN, 202 + true.height)
    top = 215 + true.height
    for call in [call for call in plan.calls if call.level != OK][:6]:
        for line in _wrapped(f"{call.level}: {call.title}. {call.message}", A4[0] - 2 * MARGIN)[:2]:
            page.text((MARGIN, top), line, _BODY)
            top += _LINE
        if top > A4[1] - 16:
            break
    return page


def true_size(plan: Plan) -> Drawing:
    """Front, side and plan at 1:1, without dimensions."""
    model = sheet_model(plan)
    below = model.lowest - 6
    drawing = Drawing(A4[0] - 2 * MARGIN, max(model.top - below, 2 * model.outer_radius) + 4)
    inside = 0.0 if model.band is None else model.band.inside_radius
    half = max(inside * 0.95, model.outer_radius + 1)
    seat = model.top + 2
    front = View(drawing, (half + 2, seat), 1.0)
    elements.band_from_front(front, model, half)
    elements.head_from_side(front, model, FRONT)
    side = View(drawing, (2 * half + 14 + model.outer_radius, seat), 1.0)
    if model.gap is None:
        elements.band_from_side(side, model, below)
    elements.head_from_side(side, model, SIDE)
    if model.gap is not None:
        elements.band_from_side(side, model, below)
    above = View(drawing, (2 * half + 34 + 3 * model.outer_radius, model.outer_radius + 2), 1.0)
    elements.band_from_above(above, model, model.outer_radius + 3)
    elements.head_from_above(above, model)
    drawing.items = [replace(item, stroke=_FINE.get(item.stroke, item.stroke)) if isinstance(item, Path) else item
                     for item in drawing.items if not isinstance(item, Facets)]
    return drawing


def ruler_bar(page: Drawing, x: float, y: float) -> None:
    """A bar of 50 mm with ticks, to be checked with a ruler after printing."""
    page.line([(x, y), (x + BAR_MM, y)], "cut")
    for tick in range(int(BAR_MM) + 1):
        high = 3.0 if tick % 10 == 0 else 2.0 if tick % 5 == 0 else 1.2
        page.line([(x + tick, y), (x + tick, y - high)], "dimension")
    page.text((x, y + 4), "0", 2.6, "middle")
    page.text((x + BAR_MM, y + 4), "50 mm", 2.6, "middle")
    page.text((x + BAR_MM + 8, y), "Lay a ruler on this bar: if it is not 50 mm long, print again at 100 %.", _BODY)


def _pattern_pages(plan: Plan) -> list[Drawing]:
    """The sheet pattern of a collet at 1:1, to lay on the metal; no page where the head has none."""
    if "collet.pattern_angle_deg" not in plan.figures:
        return []
    page = _page()
    page.text((MARGIN, 27), "Pattern of the collet, 1 : 1: lay it on sheet of "
              f"{plan.figures['head.wall'].text()}", 3.8, bold=True)
    page.place(collet_pattern(plan), MARGIN, 32)
    ruler_bar(page, MARGIN, 236)
    page.text((MARGIN, 250), "Saw outside the line, round it up, file the seam until no light passes: solder will not "
              "bridge a gap.", _BODY)
    return [page]


def collet_pattern(plan: Plan) -> Drawing:
    """The developed cone at 1:1: two arcs and the seam's edges, with its radii and angle."""
    outer, inner = plan["collet.pattern_outer_radius"], plan["collet.pattern_inner_radius"]
    turn = np.radians(plan["collet.pattern_angle_deg"])
    ends = np.pi / 2 - turn / 2, np.pi / 2 + turn / 2
    width = A4[0] - 2 * MARGIN
    drawing = Drawing(width, outer + 14)
    view = View(drawing, (width / 2, outer + 6), 1.0)
    wide, narrow = outlines.arc(outer, *ends, 90), outlines.arc(inner, *ends, 60)
    view.area(np.vstack([wide, narrow[::-1]]), "metal-cut", "fine")
    view.line([(0, inner - 2), (0, outer + 2)], "centre")
    for line, (name, word) in enumerate((("outer_radius", "outer radius"), ("inner_radius", "inner radius"),
                                         ("angle_deg", "angle"))):
        key = f"collet.pattern_{name}"
        drawing.text((0, 6 + line * _LINE), f"{plan.figures[key].text()} {word}", _BODY, key=key)
    return drawing


def _figure_pages(plan: Plan) -> list[Drawing]:
    page, top, left = _page(), 25.0, MARGIN
    pages = [page]
    column = (A4[0] - 2 * MARGIN - 8) / 2
    for room, title in _ROOMS:
        figures = [figure for key, figure in plan.figures.items() if key.startswith(f"{room}.")]
        if left == MARGIN and top + (len(figures) + 2) * _LINE > A4[1] - 18:
            left, top = left + column + 8, 25.0
        for place, figure in enumerate(figures):
            if top > A4[1] - 18:
                left, top = (left + column + 8, 25.0) if left == MARGIN else (MARGIN, 25.0)
                if left == MARGIN:
                    page = _page()
                    pages.append(page)
            if place == 0:
                top += 2
                page.text((left, top), title, 3.8, bold=True)
                top += _LINE + 0.6
            _figure_row(page, figure, left, top, column)
            top += _LINE
        top += 2
    return pages


def _figure_row(page: Drawing, figure: Figure, left: float, top: float, width: float) -> None:
    value = f"{figure.text()} {figure.plus_minus_text()}".rstrip()
    page.text((left, top), _shortened(figure.label, width - text_width(value, _BODY) - 3), _BODY)
    page.text((left + width, top), value, _BODY, "end")
    page.line([(left, top + 1.2), (left + width, top + 1.2)], "rule")


def _shortened(text: str, width: float) -> str:
    if text_width(text, _BODY) <= width:
        return text
    while text and text_width(text + "…", _BODY) > width:
        text = text[:-1]
    return text.rstrip() + "…"


def _work_pages(plan: Plan) -> list[Drawing]:
    page, top = _page(), 25.0
    width = A4[0] - 2 * MARGIN
    page.text((MARGIN, top), "The work, in order", 3.8, bold=True)
    top += _LINE + 1
    for step in work_steps(plan):
        page.text((MARGIN, top), step.name, _BODY, bold=True)
        top += _LINE
        for line in step.lines:
            for number, piece in enumerate(_wrapped(line, width - 10)):
                if number == 0:
                    _tick_box(page, MARGIN + 1, top)
                page.text((MARGIN + 7, top), piece, _BODY)
                top += _LINE
        for piece in _wrapped(f"Caution: {step.caution}", width - 8) if step.caution else []:
            page.text((MARGIN + 7, top), piece, 2.8, "start", "text-quiet")
            top += 4.0
        top += 1.5
    return [page, *_check_page(plan, page, top)]


def _check_page(plan: Plan, page: Drawing, top: float) -> list[Drawing]:
    rows = checks(plan)
    added: list[Drawing] = []
    if top + (len(rows) + 4) * (_LINE + 0.8) > A4[1] - 14:
        page, top = _page(), 25.0
        added.append(page)
    page.text((MARGIN, top), "Checks before release", 3.8, bold=True)
    top += _LINE + 1
    for row in rows:
        _tick_box(page, MARGIN + 1, top)
        page.text((MARGIN + 7, top), row, _BODY)
        top += _LINE + 0.8
    page.text((MARGIN, top + 3), "Checked by                                        Date", _BODY)
    page.text((MARGIN, top + 9), DEFER, 2.8, "start", "text-quiet")
    return added


def _tick_box(page: Drawing, x: float, y: float) -> None:
    corners = np.array([(x, y - 2.7), (x + 3, y - 2.7), (x + 3, y + 0.3), (x, y + 0.3)])
    page.area(corners, "paper", "dimension")


def _wrapped(text: str, width: float) -> list[str]:
    lines, line = [], ""
    for word in text.split():
        longer = f"{line} {word}".strip()
        if line and text_width(longer, _BODY) > width:
            lines.append(line)
            line = word
        else:
            line = longer
    return [*lines, line] if line else lines
