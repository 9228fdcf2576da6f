"""The bench sheet: pages to print at 1:1, from the drawing to the checks to tick."""

from __future__ import annotations

import numpy as np
from msgspec import Struct
from msgspec.structs import replace

from yarvel.drawing import bands, elements
from yarvel.drawing.metrics import text_width
from yarvel.drawing.model import sheet_model
from yarvel.drawing.paper import A4, BODY, LINE, MARGIN, ruler_bar, shortened, wrapped
from yarvel.drawing.primitives import Drawing, Facets, Path
from yarvel.drawing.ring_sheet import ring_sheet
from yarvel.drawing.sheet import sheet
from yarvel.drawing.templates import template_pages
from yarvel.drawing.tiling import TRUE, Printer
from yarvel.drawing.view import View
from yarvel.figures.figure import Figure
from yarvel.metals import bending
from yarvel.metals.alloys import alloy_of
from yarvel.operations.cautions import DEFER
from yarvel.planning.diagnostics.diagnostic import OK
from yarvel.planning.in_words import masses_text
from yarvel.planning.plan import Plan
from yarvel.planning.weighing import weighed
from yarvel.route.card import metal_lines, sections
from yarvel.route.checks import checks
from yarvel.route.diagnostics import all_diagnostics
from yarvel.route.running import Route, route_of
from yarvel.route.ways import repair_lines
from yarvel.shanks import blanks

_TRUE_ROOM = 72.0
_WORK, _WORK_LINE = 3.8, 5.4

_FINE = {"outline": "fine", "stone-edge": "fine-stone", "break": "fine", "finger-edge": "fine"}
"""At true size, outlines are drawn finer and facets left out, so that what is there can be measured."""
_ROOMS = (
    ("stone", "Stone"),
    ("head", "Head"),
    ("collet", "Collet"),
    ("seat", "Seat"),
    ("shank", "Shank"),
    ("shoulder", "Shoulders"),
    ("slot", "Old slot"),
    ("resize", "Resizing"),
    ("bail", "Hanging"),
)

_OF_THE_BLANK = (
    blanks.full_length_mm,
    blanks.blank_length_mm,
    blanks.cut_length_mm,
    blanks.gap_arc_mm,
    bending.band_strain,
)
"""Figures by which a band is made: none of a ring that is there."""


class Heading(Struct, frozen=True):
    """What stands at the top of every page; texts as they are to be printed."""

    number: str = ""
    customer: str = ""
    item: str = ""
    promised: str = ""
    printed: str = ""


def bench_sheet(plan: Plan, heading: Heading, printer: Printer = TRUE) -> list[Drawing]:
    """All pages: drawing with the true size beside a ruler bar; the whole ring; templates; figures; the work in order,
    checks, cautions. ``printer`` puts right the templates of one that does not print true."""
    plan = weighed(plan)  # issue and balance are by the bodies
    pages = [
        *_drawing_pages(plan),
        *_ring_pages(plan),
        *template_pages(plan, printer),
        *_figure_pages(plan),
        *_work_pages(plan),
    ]
    return _numbered(pages, heading)


def _head(page: Drawing, heading: Heading, number: int, count: int) -> None:
    words = "  ·  ".join(word for word in (heading.number, heading.customer, heading.item) if word)
    page.text((MARGIN, 14), words or "Bench sheet", 4.4, bold=True)
    right = f"promised {heading.promised}" if heading.promised else ""
    page.text((A4[0] - MARGIN, 14), right, BODY, "end")
    page.line([(MARGIN, 17), (A4[0] - MARGIN, 17)], "frame")
    foot = f"printed {heading.printed}  ·  " if heading.printed else ""
    page.text((A4[0] - MARGIN, A4[1] - 7), f"{foot}page {number} of {count}", 2.6, "end", "text-quiet")


def _page() -> Drawing:
    return Drawing(*A4)


def _drawing_pages(plan: Plan) -> list[Drawing]:
    """The drawing with the true size under it (on a page of its own where that is large), then every open call."""
    page = _page()
    page.place(sheet(plan, A4[0] - 2 * MARGIN, 168, grips=False), MARGIN, 19)
    true = true_size(plan)
    if true.height > _TRUE_ROOM:
        own = _page()
        _true_size(own, true, 22.0)
        return [page, *_calls(page, plan, 196.0), own]
    page.line([(MARGIN, 189), (A4[0] - MARGIN, 189)], "rule")
    _true_size(page, true, 189.0)
    return [page, *_calls(page, plan, 215 + true.height)]


def _ring_pages(plan: Plan) -> list[Drawing]:
    """The whole ring, where there is one."""
    if plan.band is None:
        return []
    page = _page()
    page.place(ring_sheet(plan, A4[0] - 2 * MARGIN, A4[1] - 40), MARGIN, 22)
    return [page]


def _true_size(page: Drawing, true: Drawing, top: float) -> None:
    page.text((MARGIN, top + 6), "True size, 1 : 1", BODY, bold=True)
    page.place(true, MARGIN, top + 8)
    ruler_bar(page, MARGIN, top + 13 + true.height)


def _calls(page: Drawing, plan: Plan, top: float) -> list[Drawing]:
    """Every call that does not hold, with who takes it as it is; pages of their own for what has no room. None is
    dropped."""
    added: list[Drawing] = []
    for open_call in open_calls(plan, route_of(plan)):
        lines = wrapped(open_call, A4[0] - 2 * MARGIN)
        if top + len(lines) * LINE > A4[1] - 12:
            page, top = _page(), 25.0
            page.text((MARGIN, top), "Calls, continued", 3.8, bold=True)
            added.append(page)
            top += LINE + 1
        for line in lines:
            page.text((MARGIN, top), line, BODY)
            top += LINE
    return added


def open_calls(plan: Plan, route: Route) -> list[str]:
    """Every call that does not hold, in one text each, with who takes it as it is."""
    lines = []
    for call in all_diagnostics(plan, route):
        if call.level != OK:
            taken = f" Accepted by {call.accepted_by}: {call.accepted_why}." if call.accepted_by else ""
            lines.append(f"{call.level}: {call.title}. {call.message}{taken}")
    return lines


def working_sheet(plan: Plan, heading: Heading) -> list[Drawing]:
    """How it was worked out: the drawing at a page's size, and every figure with its tolerance."""
    return _numbered([*_drawing_pages(weighed(plan)), *_figure_pages(weighed(plan))], heading)


def whole_ring_sheet(plan: Plan, heading: Heading) -> list[Drawing]:
    """The whole ring at a page's size; none of a head without a shank."""
    return _numbered(_ring_pages(weighed(plan)), heading)


def _numbered(pages: list[Drawing], heading: Heading) -> list[Drawing]:
    for number, page in enumerate(pages, start=1):
        _head(page, heading, number, len(pages))
    return pages


def true_size(plan: Plan, between_mm: float = 12.0) -> Drawing:
    """Front, side and plan at 1:1, without dimensions, so far apart."""
    model = sheet_model(plan)
    below = model.lowest - 6
    inside = 0.0 if model.band is None else model.band.inside_radius
    half = max(inside * 0.95, model.half_x + 1)
    seat = model.top + 2
    beside = 2 * half + 2 + between_mm + model.half_y
    over = beside + model.half_y + between_mm + model.half_x + 3
    drawing = Drawing(over + model.half_x + 4, max(model.top - below, 2 * model.half_y) + 4)
    front = View(drawing, (half + 2, seat), 1.0)
    bands.front(front, model, half)
    side = View(drawing, (beside, seat), 1.0)
    bands.side(side, model, below)
    above = View(drawing, (over, model.half_y + 2), 1.0)
    bands.band_from_above(above, model, model.half_x + 3)
    elements.head_from_above(above, model)
    drawing.items = [
        replace(item, stroke=_FINE.get(item.stroke, item.stroke)) if isinstance(item, Path) else item
        for item in drawing.items
        if not isinstance(item, Facets)
    ]
    return drawing


def _figure_pages(plan: Plan) -> list[Drawing]:
    page, top, left = _page(), 25.0, MARGIN
    pages = [page]
    column = (A4[0] - 2 * MARGIN - 8) / 2
    for room, title in _ROOMS:
        left_out = _OF_THE_BLANK if plan.job.ring_exists else ()
        figures = [
            figure for key, figure in plan.figures.items() if figure.key.startswith(f"{room}.") and key not in left_out
        ]
        if left == MARGIN and top + (len(figures) + 2) * LINE > A4[1] - 18:
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
                top += LINE + 0.6
            _figure_row(page, figure, left, top, column)
            top += LINE
        top += 2
    return pages


def _figure_row(page: Drawing, figure: Figure, left: float, top: float, width: float) -> None:
    value = f"{figure.text()} {figure.plus_minus_text()}".rstrip()
    page.text((left, top), shortened(figure.label, width - text_width(value, BODY) - 3), BODY)
    page.text((left + width, top), value, BODY, "end")
    page.line([(left, top + 1.2), (left + width, top + 1.2)], "rule")


def _work_pages(plan: Plan) -> list[Drawing]:
    route, width = route_of(plan), A4[0] - 2 * MARGIN
    pages, top = [_page()], 25.0
    for place, repair_line in enumerate(repair_lines(plan)):
        for piece in wrapped(repair_line, width, _WORK):
            pages[0].text((MARGIN, top), piece, _WORK, bold=not place)
            top += _WORK_LINE
    pages[0].text((MARGIN, top), "The work, in order", 3.8, bold=True)
    top = _metal(pages[0], plan, route, top + _WORK_LINE + 1)
    for section in sections(route, plan):
        name = f"{section.name} · {section.minutes:.0f} min"
        for place, line in enumerate(section.lines):
            pieces = wrapped(line.text, width - 10, _WORK)
            cautions = wrapped(f"Caution: {section.caution}", width - 8) if section.caution and not place else []
            first = 0 if place else 1
            if top + (first + len(pieces)) * _WORK_LINE + len(cautions) * 4.0 > A4[1] - 16:
                pages.append(_page())
                top = 25.0
            if not place:
                pages[-1].text((MARGIN, top), name, _WORK, bold=True)
                top += _WORK_LINE
                top = _small(pages[-1], cautions, top)
            tick_box(pages[-1], MARGIN + 1, top)
            for piece in pieces:
                pages[-1].text((MARGIN + 7, top), piece, _WORK)
                top += _WORK_LINE
        top += 1.5
    return [*pages, *_check_page(plan, pages[-1], _masses(pages[-1], plan, top))]


def _small(page: Drawing, pieces: list[str], top: float) -> float:
    for piece in pieces:
        page.text((MARGIN + 7, top), piece, 2.8, "start", "text-quiet")
        top += 4.0
    return top + (1.4 if pieces else 0.0)


def _metal(page: Drawing, plan: Plan, route: Route, top: float) -> float:
    """What is taken from stock, and what comes back."""
    for line in metal_lines(route, plan, lambda key: alloy_of(key, plan.rules).label):
        for piece in wrapped(line, A4[0] - 2 * MARGIN - 7, BODY):
            page.text((MARGIN + 7, top), piece, BODY)
            top += LINE
    return top + 2


def _masses(page: Drawing, plan: Plan, top: float) -> float:
    """The head's mass in other metals, at the foot of the work."""
    for piece in wrapped(f"The head in other metals: {masses_text(plan)}.", A4[0] - 2 * MARGIN):
        page.text((MARGIN, top), piece, 2.8, "start", "text-quiet")
        top += 4.0
    return top + 2


def _check_page(plan: Plan, page: Drawing, top: float) -> list[Drawing]:
    rows = checks(plan)
    added: list[Drawing] = []
    if top + (len(rows) + 4) * (LINE + 0.8) > A4[1] - 14:
        page, top = _page(), 25.0
        added.append(page)
    page.text((MARGIN, top), "Checks before release", 3.8, bold=True)
    top += LINE + 1
    for row in rows:
        tick_box(page, MARGIN + 1, top)
        page.text((MARGIN + 7, top), row.text, BODY)
        top += LINE + 0.8
    page.text((MARGIN, top + 3), "Checked by                                        Date", BODY)
    page.text((MARGIN, top + 9), DEFER, 2.8, "start", "text-quiet")
    return added


def tick_box(page: Drawing, x: float, y: float) -> None:
    """A box to tick, its lower left corner at (x, y) mm on the page."""
    corners = np.array([(x, y - 2.7), (x + 3, y - 2.7), (x + 3, y + 0.3), (x, y + 0.3)])
    page.area(corners, "paper", "dimension")
