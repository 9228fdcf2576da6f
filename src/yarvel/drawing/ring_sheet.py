"""The whole ring: head, shank and finger from the front and the side, and a section in the plane of the band."""

from __future__ import annotations

import numpy as np
from msgspec import Struct
from msgspec.structs import replace

from yarvel.drawing import band_sections, bands, elements, outlines
from yarvel.drawing.metrics import text_width
from yarvel.drawing.model import SheetModel, above_finger, band_level, band_top, sheet_model
from yarvel.drawing.primitives import Drawing, Facets, Points
from yarvel.drawing.sheet import SCALES
from yarvel.drawing.stone_look import FRONT, SIDE
from yarvel.drawing.stone_look import section as stone_section
from yarvel.drawing.view import LANE, SMALL, TEXT, Level, View, Width, chain, label_width, ladder, lanes
from yarvel.figures.figure import FigureKey
from yarvel.heads.heights import table_above_finger_mm
from yarvel.planning.plan import Plan
from yarvel.shanks import (
    basket_point,
    blanks,
    cast_on,
    fish_mouth,
    fitting,
    inset,
    let_in,
    on_flat,
    peg,
    resizing,
    slot,
    split_shoulder,
)
from yarvel.shanks.band import Band
from yarvel.shanks.joinery import Recess
from yarvel.stones.words import words_of

_MARGIN, _TITLE, _GUTTER, _CHAIN = 3.0, 8.0, 9.0, 9.0
_LINE, _GAP = 5.0, 4.0
_LISTED = (
    blanks.full_length_mm,
    blanks.blank_length_mm,
    blanks.cut_length_mm,
    inset.gap_inside_mm,
    inset.gap_outside_mm,
    inset.MARK_HALF,
    inset.MARK_HALF_OUTSIDE,
    inset.hollow_limit_mm,
    inset.hollow_mm,
    blanks.removed_arc_deg,
    inset.beside_head_mm,
    on_flat.flat_depth_mm,
    on_flat.left_under_flat_mm,
    let_in.DEPTH,
    let_in.left_under_mm,
    let_in.MARK,
    let_in.limit_mm,
    fish_mouth.saddle_depth_mm,
    cast_on.foot_sunk_mm,
    fitting.HOLE,
    fitting.HOLE_DEPTH,
    peg.peg_length_mm,
    basket_point.point_depth_mm,
    basket_point.point_angle_deg,
    split_shoulder.split_from_mm,
    split_shoulder.branch_mm,
    split_shoulder.spread_deg,
    split_shoulder.notch_mm,
    split_shoulder.ring_gripped_mm,
    slot.trim_mm,
    slot.open_each_mm,
    slot.lower_left_mm,
    resizing.change_mm,
    resizing.strain_percent,
    resizing.thinner_mm,
    resizing.foot_gap_mm,
)


class _Place(Struct, frozen=True, kw_only=True):
    scale: float
    front: tuple[float, float]
    side: tuple[float, float]
    section: tuple[float, float]
    ladder_column: float
    chain_x: float
    listed: tuple[float, float]
    low: float
    sections: tuple[float, float]


def ring_sheet(plan: Plan, width: float, height: float) -> Drawing:
    """The dimensioned drawing of the whole ring on paper of this size in mm (ValueError where there is no band)."""
    model = sheet_model(plan)
    if model.band is None or model.finger is None:
        raise ValueError("this plan has no band")
    levels, rows = _levels(model), _rows(plan)
    place = next(
        (
            ring_drawing
            for ring_drawing in (_placed(model, levels, rows, scale, width, height) for scale in SCALES)
            if ring_drawing is not None
        ),
        None,
    ) or _placed(model, levels, rows, SCALES[-1], 1e9, 1e9)
    assert place is not None
    drawing = Drawing(width, height, scale=place.scale)
    top = _MARGIN + _TITLE
    _title(drawing, (_MARGIN, _MARGIN + 2.5), "Whole ring from the front, along the finger")
    front = View(drawing, place.front, place.scale)
    _front(front, model)
    ladder(front, levels, front.at(-_reach(model.band), 0)[0] - 1.5, place.ladder_column, top, place.low)
    lanes(
        front,
        [
            Width(
                -model.band.inside_radius,
                model.band.inside_radius,
                model.finger - model.band.inside_radius,
                f"Ø {plan.figures[blanks.INSIDE_DIAMETER].text(unit=False)}",
                blanks.INSIDE_DIAMETER,
            )
        ],
        place.low - LANE,
        downward=True,
    )
    side = View(drawing, place.side, place.scale)
    _title(drawing, (side.at(-_half_side(model), 0)[0], _MARGIN + 2.5), "Side, along the band")
    _side(side, model)
    _side_dimensions(side, model, place, top)
    section = View(drawing, place.section, place.scale)
    _title(drawing, (section.at(-_reach(model.band), 0)[0], place.low + LANE + 6), "Section in the plane of the band")
    section_in_band(section, model)
    _list(drawing, rows, place.listed)
    band_sections.draw(drawing, model.band, place.sections, place.scale)
    text = f"{place.scale:g} : 1  ·  mm" if place.scale >= 1 else f"1 : {1 / place.scale:g}  ·  mm"
    drawing.text((width - _MARGIN, height - _MARGIN), text, SMALL, "end", "text-quiet")
    return drawing


def _title(drawing: Drawing, at: tuple[float, float], text: str) -> None:
    drawing.text(at, text, SMALL, "start", "text-quiet")


def _reach(band: Band) -> float:
    """Widest reach of the band from the finger's axis."""
    return band.inside_radius + band.widest[1]


def _half_side(model: SheetModel) -> float:
    band = model.band
    return model.half_y if band is None else max(model.half_y, band.widest[0] / 2)


def _bottom(model: SheetModel) -> float:
    if model.band is None or model.finger is None:
        raise ValueError("this plan has no band")
    return model.finger - model.band.inside_diameter_mm - float(model.band.thickness_at(180.0))


def _levels(model: SheetModel) -> list[Level]:
    figures, band = model.plan.figures, model.band
    if band is None or model.finger is None:
        return []
    height, word, key = band_level(model)
    return [
        Level(
            -float(model.plan.stone.table_share) * model.edge(180.0),
            model.table_z,
            f"{words_of(model.cut).top} {figures[table_above_finger_mm].text(unit=False)}",
            table_above_finger_mm,
        ),
        Level(
            -model.outer(180.0),
            0.0,
            f"seat {figures[fitting.PLANE_ABOVE_FINGER].text(unit=False)}",
            fitting.PLANE_ABOVE_FINGER,
        ),
        Level(-band.outside_radius * 0.3, height, f"{word} {figures[key].text(unit=False)}", key),
        Level(0.0, model.finger, "finger 0.00"),
    ]


def _rows(plan: Plan) -> list[tuple[str, str, FigureKey]]:
    """Label, value and key of what the shank is made by."""
    untold = blanks.OF_STOCK if plan.job.ring_exists else ()
    listed = [key for key in _LISTED if key in plan.figures and key not in untold]
    return [(plan.figures[key].label, plan.figures[key].text(), key) for key in listed]


def _placed(
    model: SheetModel,
    levels: list[Level],
    rows: list[tuple[str, str, FigureKey]],
    scale: float,
    width: float,
    height: float,
) -> _Place | None:
    """Where everything stands at one scale; None where it does not fit."""
    band = model.band
    if band is None:
        return None
    reach = max(_reach(band), model.half_x) * scale
    tall = (model.top - _bottom(model)) * scale
    column = _MARGIN + label_width([level.text for level in levels])
    half_side = _half_side(model) * scale
    chain_width = _CHAIN + label_width(["0.00", model.plan.figures[blanks.INSIDE_DIAMETER].text(unit=False)])
    top = _MARGIN + _TITLE + LANE
    low = top + max(tall, len(levels) * _LINE) + LANE
    cut = (min(model.top - _section_low(model), model.top - _bottom(model))) * scale
    columns = ([label for label, _, _ in rows], [value for _, value, _ in rows])
    list_width = _GAP + sum(max((text_width(text, TEXT) for text in column), default=0.0) for column in columns)
    front_x = column + 5.0 + reach
    side_x = front_x + reach + _GUTTER + half_side
    across = side_x + half_side + chain_width + _MARGIN
    lower = low + LANE + _TITLE + 4
    section_x = _MARGIN + reach + 2.0
    beside = section_x + reach + _GUTTER + list_width + _MARGIN
    needed = max(across, beside)
    sections = band_sections.size_of(band, scale)
    under = lower + max(cut, len(rows) * _LINE) + 2.0
    needed, down = max(needed, sections[0] + 2 * _MARGIN), under + sections[1] + 4.0
    if needed > width or down > height:
        return None
    spare = min((width - across) * 0.35, width - beside)
    return _Place(
        scale=scale,
        front=(front_x + spare, top + model.top * scale),
        side=(side_x + 1.6 * spare, top + model.top * scale),
        section=(section_x + spare, lower + model.top * scale),
        ladder_column=column + spare,
        chain_x=side_x + 1.6 * spare + half_side + 3.5,
        listed=(max(section_x + spare + reach + _GUTTER, width - _MARGIN - list_width), lower + 3.0),
        low=low,
        sections=(_MARGIN, under),
    )


def _section_low(model: SheetModel) -> float:
    """The section is drawn down to the finger's axis."""
    if model.band is None or model.finger is None:
        return -model.head.height_mm
    return model.finger - model.band.inside_radius


def _front(view: View, model: SheetModel) -> None:
    joinery = model.joinery
    over = joinery.bored or joinery.saddle or joinery.split is not None or joinery.point_mm is not None
    if over:
        bands.below_foot(view, model, (1.0, 0.0))
        _plain_head(view, model)
    outer, inner = ring_outlines(model)
    _ring(view, outer, inner, "metal", "")
    if not over:
        _plain_head(view, model)
    bands.hidden_in_band(view, model)
    if model.finger is not None and model.band is not None:
        centre = model.finger - model.band.inside_radius
        view.line([(0, model.top + 0.6), (0, _bottom(model) - 0.6)], "centre")
        view.line([(-_reach(model.band) - 0.6, centre), (_reach(model.band) + 0.6, centre)], "centre")
        band_sections.ticks(view, model.band, centre)


def _plain_head(view: View, model: SheetModel) -> None:
    """The head with its stone, facets left out where they would only blacken a small drawing."""
    before = len(view.drawing.items)
    elements.head_from_side(view, model, FRONT)
    if view.scale < 3.0:
        view.drawing.items[before:] = [item for item in view.drawing.items[before:] if not isinstance(item, Facets)]


def ring_outlines(model: SheetModel, middle: bool = False) -> tuple[Points, Points]:
    """Outside and inside (n, 2), mm, of the whole band seen from the front, each from the head's right side round to
    its left; both closed curves where the band is whole. A gap shows as it is sawn at the band's edges, or in the
    ``middle`` of its width as it is hollowed. ValueError without a band."""
    band, finger, joinery = model.band, model.finger, model.joinery
    if band is None or finger is None:
        raise ValueError("this plan has no band")
    centre = np.array([0.0, finger - band.inside_radius])
    sawn = (2 * joinery.marks_mm[0], 2 * joinery.marks_mm[1])
    gap = None if joinery.bored or joinery.gap_mm is None else joinery.gap_mm if middle else sawn
    if joinery.split is not None:
        gap = (2 * joinery.split.tip_out_mm, 2 * joinery.split.tip_out_mm)
    inner_from = 0.0 if gap is None else float(np.arcsin(min(gap[0] / 2 / band.inside_radius, 0.99)))
    outer_from = 0.0 if gap is None else float(np.arcsin(min(gap[1] / 2 / band.outside_radius, 0.99)))
    outer_turn, inner_turn = (np.linspace(start, 2 * np.pi - start, 181) for start in (outer_from, inner_from))
    from_head = np.degrees(np.minimum(outer_turn, 2 * np.pi - outer_turn))
    radius = band.inside_radius + np.asarray(band.thickness_at(from_head))
    outer = np.column_stack([radius * np.sin(outer_turn), radius * np.cos(outer_turn)]) + centre
    inner = band.inside_radius * np.column_stack([np.sin(inner_turn), np.cos(inner_turn)]) + centre
    if joinery.flat:
        outer = np.column_stack([outer[:, 0], np.minimum(outer[:, 1], -model.head.height_mm)])
    if joinery.recess is not None and (middle or not joinery.recess.sunk):
        outer = _let_into(outer, joinery.recess, model.head.height_mm)
    return outer, inner


def _let_into(outer: Points, recess: Recess, height_mm: float) -> Points:
    """A whole band's outside (n, 2), mm, from over the head round to it again, with a recess cut into it."""
    turned = np.vstack([outer[len(outer) // 2 :], outer[: len(outer) // 2]])
    over = turned[:, 1] > float(outer[:, 1].mean())
    first, last = int(np.argmax(over)), len(over) - int(np.argmax(over[::-1]))
    cut = bands.let_into(turned[first:last], recess, -height_mm)
    right, middle = int(np.argmax(cut[:, 0] >= 0)), [(0.0, -height_mm)]
    return np.vstack([middle, cut[right:], turned[last:], turned[:first], cut[:right], middle])


def _ring(view: View, outer: Points, inner: Points, fill: str, hatch: str) -> None:
    view.area(np.vstack([outer, inner[::-1]]), fill, "", hatch)
    finger = inner if np.allclose(inner[0], inner[-1]) else np.vstack([inner, _across(inner)])
    view.area(finger, "finger")
    edge = "cut" if hatch else "outline"
    view.line(inner, edge)
    view.line(outer, edge)
    if not np.allclose(outer[0], outer[-1]):
        for place in (0, -1):
            view.line(np.vstack([outer[place], inner[place]]), edge)


def _across(inner: Points) -> Points:
    """The finger's own curve over the gap."""
    radius = (inner[:, 0].max() - inner[:, 0].min()) / 2
    middle = float(inner[:, 1].min()) + radius
    left, right = inner[-1], inner[0]
    turn = np.linspace(np.arcsin(left[0] / radius), np.arcsin(right[0] / radius), 20)
    return np.column_stack([radius * np.sin(turn), middle + radius * np.cos(turn)])


def _side(view: View, model: SheetModel) -> None:
    band = model.band
    if band is None or model.finger is None:
        return
    before = model.joinery.flat or model.joinery.saddle
    if before:
        _band_side(view, model)
    bands.below_foot(view, model, (0.0, 1.0))
    start = len(view.drawing.items)
    elements.head_from_side(view, model, SIDE)
    if view.scale < 3.0:
        view.drawing.items[start:] = [item for item in view.drawing.items[start:] if not isinstance(item, Facets)]
    if not before:
        _band_side(view, model)
    view.line([(0, model.top + 0.6), (0, _bottom(model) - 0.6)], "centre")


def _band_side(view: View, model: SheetModel) -> None:
    """The whole band seen along its run: its silhouette, tapering, and the finger's top and underside hidden."""
    band, finger = model.band, model.finger
    if band is None or finger is None:
        return
    centre, top = finger - band.inside_radius, band_top(model)
    turn = np.linspace(0, 180, 73)
    radius = band.inside_radius + np.asarray(band.thickness_at(turn))
    height = np.minimum(centre + radius * np.cos(np.radians(turn)), top)
    half = np.asarray(band.width_at(turn)) / 2
    if model.joinery.split is not None:
        bands.tips_from_side(view, model)
        kept = height <= finger
        height, half = height[kept], half[kept]
    edge = np.column_stack([half, height])
    silhouette = np.vstack([edge, (edge * (-1, 1))[::-1]])
    view.area(silhouette, "metal", "outline")
    for level, turned in ((finger, 0.0), (finger - band.inside_diameter_mm, 180.0)):
        wide = float(band.width_at(turned)) / 2
        view.line([(-wide, level), (wide, level)], "hidden")


def _side_dimensions(view: View, model: SheetModel, place: _Place, top: float) -> None:
    plan, band = model.plan, model.band
    if band is None or model.finger is None:
        return
    figures = plan.figures
    lower = model.finger - band.inside_diameter_mm
    back = blanks.BACK_THICKNESS if blanks.BACK_THICKNESS in figures else blanks.THICKNESS
    heights: list[tuple[float, float, str, FigureKey]] = [
        (model.finger, model.table_z, figures[table_above_finger_mm].text(unit=False), table_above_finger_mm),
        (lower, model.finger, figures[blanks.INSIDE_DIAMETER].text(unit=False), blanks.INSIDE_DIAMETER),
        (_bottom(model), lower, figures[back].text(unit=False), back),
    ]
    chain(view, heights, place.chain_x, place.chain_x + 6.0, top, place.low)
    wide = blanks.BACK_WIDTH if blanks.BACK_WIDTH in figures else blanks.WIDTH
    half = float(band.width_at(180.0)) / 2
    lanes(
        view,
        [Width(-half, half, _bottom(model), figures[wide].text(unit=False), wide)],
        place.low - LANE,
        downward=True,
    )
    if band.tapers:
        half = band.width_mm / 2
        lanes(
            view,
            [Width(-half, half, model.top, figures[blanks.WIDTH].text(unit=False), blanks.WIDTH)],
            top + LANE * 0.9,
            downward=False,
        )


def section_in_band(view: View, model: SheetModel) -> None:
    """What a cut along the middle of the band shows: band, wall, rings, stone; claws that lie in the cut hatched, those
    behind it drawn plain. Down to the finger's axis."""
    band, finger = model.band, model.finger
    if band is None or finger is None:
        return
    low = finger - band.inside_radius
    outer, inner = ring_outlines(model, middle=True)
    _claws_behind(view, model)
    for way in (1.0, -1.0):
        _half_band(view, outer, inner, low, way)
    _finger(view, inner, low)
    for outline in stone_section(model.cut.key, model.plan.stone, model.plan.facts.along_band, 0.0, 0.0):
        if len(outline) > 2:
            view.area(outline, "stone-cut", "stone-edge")
    if model.joinery.hole is not None:
        _hole(view, model)
    for way in (1.0, -1.0):
        _head_cut(view, model, way)
    view.line([(0, model.top + 0.6), (0, low - 0.3)], "centre")


def _half_band(view: View, outer: Points, inner: Points, low: float, way: float) -> None:
    sides = [_upper_side(points, low, way) for points in (outer, inner)]
    view.area(np.vstack([sides[0], sides[1][::-1]]), "metal-cut", "", "slant")
    view.line(sides[0], "cut")
    view.line(sides[1], "cut")
    view.line([tuple(sides[0][0]), tuple(sides[1][0])], "break")
    if abs(sides[0][-1, 0]) > 1e-6:
        view.line(np.vstack([sides[0][-1], sides[1][-1]]), "cut")


def _upper_side(points: Points, low: float, way: float) -> Points:
    """Of a band's edge from over the head round to it again, one side above a level, from there up."""
    half = points[len(points) // 2 :] if way < 0 else points[: len(points) // 2 + 1][::-1]
    return half[(half[:, 0] * way >= -1e-9) & (half[:, 1] >= low - 1e-9)]


def _finger(view: View, inner: Points, low: float) -> None:
    radius = (inner[:, 0].max() - inner[:, 0].min()) / 2
    turn = np.linspace(-np.pi / 2, np.pi / 2, 60)
    curve = np.column_stack([radius * np.sin(turn), low + radius * np.cos(turn)])
    view.area(curve, "finger")
    view.line(curve, "finger-edge")


def _hole(view: View, model: SheetModel) -> None:
    hole, band, finger = model.joinery.hole, model.band, model.finger
    if hole is None or band is None or finger is None:
        return
    half, top = hole.diameter_mm / 2, finger + band.thickness_mm
    low = top - hole.depth_mm
    filled = np.array([(-half, low), (half, low), (half, top + 0.05), (-half, top + 0.05)])
    if model.joinery.peg_mm is not None:
        ring = model.head.rings[-1] if model.head.rings else None
        floor = -model.head.height_mm + (1.1 * ring.high_mm if ring is not None else 0.0)
        view.area(np.array([(-half, low), (half, low), (half, floor), (-half, floor)]), "metal-cut", "cut", "cross")
        if ring is not None:
            reach = model.edge(0.0) - ring.inset_mm
            thick = 0.6 * ring.high_mm
            view.area(
                np.array([(-reach, floor - thick), (reach, floor - thick), (reach, floor), (-reach, floor)]),
                "metal-cut",
                "cut",
                "cross",
            )
        return
    view.area(filled, "paper", "cut")
    bands.below_foot(view, model, (1.0, 0.0))


def _head_cut(view: View, model: SheetModel, way: float) -> None:
    """What the cut shows of the head on one side."""
    edge = model.edge(0.0 if way > 0 else 180.0)
    for ring in model.head.rings:
        wire = ring.section + (edge - ring.inset_mm, ring.z_mm)
        view.area(above_finger(wire * (way, 1), model), "metal-cut", "cut", "cross")
    for wall in model.head.walls:
        view.area(above_finger((wall.profile + (edge, 0)) * (way, 1), model), "metal-cut", "cut", "cross")
    for part in (model.head.claws, model.head.vees):
        for place in () if part is None else part.places:
            if place.x_mm * way > 0 and abs(place.y_mm) < 0.05 and part is not None:
                stretched = 1 / float(np.cos(np.radians(place.spread_deg)))
                cut = (part.profile * (stretched, 1) + (edge, 0)) * (way, 1)
                view.area(above_finger(cut, model), "metal-cut", "cut", "cross")
    _hooks_cut(view, model, way)


def _hooks_cut(view: View, model: SheetModel, way: float) -> None:
    """Legs bent in below that lie in the cut."""
    hooks = model.head.hooks
    if hooks is None:
        return
    for start, end in hooks.bars:
        if start[0] * way > 0 and abs(start[1]) < 0.05:
            bar = outlines.bar_silhouette(start[0], end[0], hooks.z_mm, hooks.wire_mm)
            view.area(above_finger(bar, model), "metal-cut", "cut", "cross")


def _claws_behind(view: View, model: SheetModel) -> None:
    """Claws behind the cut, plain."""
    head = model.head
    behind = tuple(place for place in head.places if place.y_mm > 0.05)
    for name in ("claws", "vees"):
        part = getattr(head, name)
        if part is None:
            continue
        mine = tuple(place for place in part.places if place in behind)
        if mine:
            other = "vees" if name == "claws" else "claws"
            shown = replace(
                model,
                head=replace(head, **{name: replace(part, places=mine), other: None}, rings=(), walls=(), hooks=None),
            )
            start = len(view.drawing.items)
            elements.head_from_side(view, shown, FRONT)
            view.drawing.items[start:] = [item for item in view.drawing.items[start:] if not isinstance(item, Facets)]


def _list(drawing: Drawing, rows: list[tuple[str, str, FigureKey]], at: tuple[float, float]) -> None:
    """What the shank is made by, as a list to press."""
    wide = max((text_width(label, TEXT) for label, _, _ in rows), default=0.0)
    for line, (label, value, key) in enumerate(rows):
        y = at[1] + line * _LINE
        drawing.text((at[0], y), label, TEXT, "start", "text-quiet")
        drawing.text((at[0] + wide + _GAP, y), value, TEXT, "start", "figure", key.key)
