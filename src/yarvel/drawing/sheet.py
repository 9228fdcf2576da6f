"""The sheet: front, side, plan and a section through a claw, to one scale, dimensioned, on any size of paper."""

from __future__ import annotations

from collections.abc import Callable
from functools import cached_property

import numpy as np
from msgspec import Struct
from msgspec.structs import replace

from yarvel.drawing import bands, elements
from yarvel.drawing.marks import mark_calls
from yarvel.drawing.metrics import text_width
from yarvel.drawing.model import SheetModel, band_level, band_top, sheet_model
from yarvel.drawing.numbering import claw_numbers
from yarvel.drawing.primitives import Drawing, Grip
from yarvel.drawing.stages import StageView, staged, tops_mm
from yarvel.drawing.view import (
    LANE,
    PITCH,
    SMALL,
    TEXT,
    Level,
    Note,
    View,
    Width,
    chain,
    label_width,
    ladder,
    lanes,
    notes,
)
from yarvel.figures.figure import FigureKey
from yarvel.heads import basket, heights, notches, rings, style, tapered_collet, tube
from yarvel.heads.claws import CLAW, tip_cover_mm
from yarvel.heads.places import POINT, numbers
from yarvel.heads.styles import STYLES
from yarvel.planning.plan import Plan
from yarvel.shanks import blanks, fitting, inset, shoulders
from yarvel.shanks.blanks import sagitta_mm
from yarvel.stones import stone as stones
from yarvel.stones.words import words_of

SCALES = (
    25.0,
    20.0,
    15.0,
    12.0,
    10.0,
    9.0,
    8.0,
    7.0,
    6.0,
    5.5,
    5.0,
    4.5,
    4.0,
    3.5,
    3.0,
    2.5,
    2.0,
    1.5,
    1.0,
    0.8,
    0.625,
    0.5,
    0.4,
    0.25,
)
_MARGIN = 3.0
_TITLE = 8.0
_CLOCK = 6.0
_GUTTER = 7.0
_FOOT = 6.0
_BREAK = 1.1
_GRIP_OUT = 3.0


class Placement(Struct, frozen=True, kw_only=True):
    """Where the views stand on paper: origins of the model in each, columns of labels, the scale."""

    scale: float
    front: tuple[float, float]
    side: tuple[float, float]
    plan: tuple[float, float]
    section: tuple[float, float]
    left_column: float
    chain_x: float
    chain_column: float
    note_column: float
    half: float
    bottom: float
    upper_row: tuple[float, float]
    lower_row: tuple[float, float]


class Content(Struct, frozen=True, dict=True, kw_only=True):
    """All labels of a sheet, made before the layout so that it can leave room for them."""

    levels: list[Level]
    chain: list[tuple[float, float, str, FigureKey]]
    front_top: list[Width]
    side_top: list[Width]
    front_bottom: list[Width]
    side_bottom: list[Width]
    plan_bottom: list[Width]
    notes: list[Note]

    @cached_property
    def label_widths(self) -> tuple[float, float, float]:
        """Widest label of the ladder, the chain and the notes, in mm."""
        return (
            label_width([level.text for level in self.levels]),
            label_width([item[2] for item in self.chain]),
            label_width([item.text for item in self.notes]),
        )


def sheet(
    plan: Plan,
    width: float,
    height: float,
    highlight: str = "",
    grips: bool = True,
    keep_scale: float = 0.0,
    seen: StageView | None = None,
) -> Drawing:
    """The dimensioned drawing of a plan on a paper of this size in mm.

    ``highlight`` is the code of a call to mark strongly; grips are left out for print; ``keep_scale`` is a scale
    not to exceed, so that nothing grows or jumps while a hand drags; ``seen`` the piece as it is at an operation, with
    that operation's figures only and nothing to drag.
    """
    model = sheet_model(plan)
    content = _content(model)
    if seen is not None:
        model = replace(model, top=max(model.top, tops_mm(model)))  # one scale for all operations
    placed = _place(model, content, width, height, keep_scale)
    drawing = Drawing(width, height, scale=placed.scale)
    if seen is not None:
        model, content, grips = staged(model, seen), _told_at(content, seen), False
    _front(drawing, model, content, placed)
    _side(drawing, model, content, placed)
    _plan(drawing, model, content, placed)
    _section(drawing, model, content, placed)
    text = f"{placed.scale:g} : 1  ·  mm" if placed.scale >= 1 else f"1 : {1 / placed.scale:g}  ·  mm"
    drawing.text((width - _MARGIN, height - _MARGIN), text, SMALL, "end", "text-quiet")
    if grips:
        _grips(drawing, model, placed)
    if seen is None:
        mark_calls(
            drawing,
            model,
            highlight,
            View(drawing, placed.front, placed.scale),
            View(drawing, placed.section, placed.scale),
            View(drawing, placed.plan, placed.scale),
        )
    return drawing


def _told_at(content: Content, seen: StageView) -> Content:
    """Of all labels those whose figure an operation uses."""
    keys = seen.figures

    def kept(widths: list[Width]) -> list[Width]:
        return [item for item in widths if item.key in keys]

    return Content(
        levels=[level for level in content.levels if level.key in keys],
        chain=[item for item in content.chain if item[3] in keys],
        front_top=kept(content.front_top),
        side_top=kept(content.side_top),
        front_bottom=kept(content.front_bottom),
        side_bottom=kept(content.side_bottom),
        plan_bottom=kept(content.plan_bottom),
        notes=[note for note in content.notes if note.key in keys],
    )


def _content(model: SheetModel) -> Content:
    plan, figures = model.plan, model.plan.figures
    stone = plan.stone
    bottom: list[Width] = []
    if model.gap is not None:
        gaps: list[tuple[FigureKey, float, float]] = [
            (inset.gap_inside_mm, model.gap[0] / 2, -model.head.height_mm),
            (inset.gap_outside_mm, model.gap[1] / 2, band_top(model)),
        ]
        straight = abs(model.gap[1] - model.gap[0]) < 0.005
        for key, half, v in gaps[:1] if straight else gaps:
            bottom.append(Width(-half, half, v, figures[key].text(unit=False), key))
    elif model.band is not None:
        half, key = _foot_half(model), model.head.foot_key
        bottom.append(Width(-half, half, -model.head.height_mm, figures[key].text(unit=False), key))
    side = (
        []
        if model.band is None
        else [
            Width(
                -model.band.width_mm / 2,
                model.band.width_mm / 2,
                0.0,
                figures[blanks.WIDTH].text(unit=False),
                blanks.WIDTH,
            )
        ]
    )
    chain_of = [(model.culet_z, 0.0, figures[stones.PAVILION_DEPTH].text(unit=False), stones.PAVILION_DEPTH)]
    return Content(
        levels=_levels(model),
        chain=[
            (
                float(stone.girdle_mm),
                model.table_z,
                figures[stones.CROWN_HEIGHT].text(unit=False),
                stones.CROWN_HEIGHT,
            ),
            (0.0, float(stone.girdle_mm), figures[stones.GIRDLE].text(unit=False), stones.GIRDLE),
            *(chain_of if float(stone.pavilion_depth_mm) > 0.005 else []),
        ],
        front_top=_stone_widths(model, 0.0),
        side_top=_stone_widths(model, -90.0) if not model.cut.is_round else [],
        front_bottom=bottom,
        side_bottom=side,
        plan_bottom=_head_widths(model),
        notes=_notes(model),
    )


def _stone_widths(model: SheetModel, along: float) -> list[Width]:
    """The stone's size across a view whose right lies at this azimuth."""
    figures = model.plan.figures
    key = stones.MEAN_DIAMETER
    if not model.cut.is_round:
        key = stones.LENGTH if model.plan.facts.along_band == (along == 0.0) else stones.WIDTH
    sign = "Ø " if model.cut.is_round else ""
    return [
        Width(
            -model.edge(along + 180),
            model.edge(along),
            float(model.plan.stone.girdle_mm),
            f"{sign}{figures[key].text(unit=False)}",
            key,
        )
    ]


def _head_widths(model: SheetModel) -> list[Width]:
    """Opening and outside of the head along the band, as the plan view shows them."""
    figures, head = model.plan.figures, model.head
    sign = "Ø " if model.cut.is_round else ""
    keys: list[FigureKey] = [style.INNER_OPENING, head.outer_key]
    if model.plan.facts.along_band:
        keys = [basket.opening_long_mm, basket.outer_long_mm, tube.tube_long_mm]
    widths = []
    for key in keys:
        if key in figures:
            middle = (model.edge(0.0) - model.edge(180.0)) / 2
            half = figures[key].value / 2
            widths.append(Width(middle - half, middle + half, 0.0, f"{sign}{figures[key].text(unit=False)}", key))
    return widths


def section_title(model: SheetModel) -> str:
    """What the section goes through."""
    place = model.section_place
    if place is None:
        return "Section through the wall"
    return f"Section through claw {numbers(model.head.places)[model.head.places.index(place)]}"


def section_left(model: SheetModel) -> float:
    """Where the section breaks off beyond the axis: mm from it, negative."""
    return -0.25 * model.section_edge


def _foot_half(model: SheetModel) -> float:
    return model.plan[model.head.foot_key] / 2


def _levels(model: SheetModel) -> list[Level]:
    """Heights above the finger, or above the foot where there is no band; each shows the figure of its key."""
    outer, figures = model.outer(180.0), model.plan.figures
    free = model.finger is None
    table = heights.table_above_foot_mm if free else heights.table_above_finger_mm
    culet = heights.culet_above_foot_mm if free else heights.culet_above_finger_mm
    rises = heights.ring_above_foot_mm if free else heights.ring_above_finger_mm

    def level(u: float, v: float, word: str, key: FigureKey) -> Level:
        return Level(u, v, f"{word} {figures[key].text(unit=False)}", key)

    seat = fitting.PLANE_ABOVE_FINGER if model.finger is not None else style.height_mm
    levels = [
        level(-float(model.plan.stone.table_share) * model.edge(180.0), model.table_z, words_of(model.cut).top, table),
        level(-outer, 0.0, "seat", seat),
    ]
    if float(model.plan.stone.pavilion_depth_mm) > 0.005:
        levels.append(level(0.0, model.culet_z, words_of(model.cut).low, culet))
    if rises in figures:
        ring = model.head.rings[0]
        levels.append(level(ring.inset_mm - model.edge(180.0), ring.top_mm, "ring", rises))
    if model.finger is None:
        levels.append(Level(-outer * 0.6, -model.head.height_mm, "foot 0.00"))
        return levels
    levels.append(Level(0.0, model.finger, "finger 0.00"))
    height, word, key = band_level(model)
    levels.append(level(-_foot_half(model), height, word, key))
    return levels


def _notes(model: SheetModel) -> list[Note]:
    figures, stone = model.plan.figures, model.plan.stone
    edge, wider, girdle = model.section_edge, model.section_stretch, float(stone.girdle_mm)

    def note(u: float, v: float, key: FigureKey, word: str) -> Note:
        return Note(edge + u * wider, v, f"{figures[key].text(unit=False)} {word}", key)

    depth = figures[notches.SEAT_DEPTH].value
    behind = figures[notches.REMAINING].value
    cut = "ledge" if model.plan.claw_mm is None else "notch"
    notes = [
        note(-depth * 0.3, girdle * 0.5, notches.SEAT_DEPTH, cut),
        note(behind * 0.6, girdle * 0.1, notches.REMAINING, "left"),
    ]
    lean = _lean(model)
    if style.HEAD_WALL in figures:
        wall = figures[style.HEAD_WALL].value
        for share, key, word in (
            (0.6, style.HEAD_WALL, "wall"),
            (0.85, tube.tube_length_mm, "tube"),
            (0.85, tapered_collet.collet_height_mm, "collet"),
        ):
            if key in figures:
                deep = -model.head.height_mm * share
                notes.append(note(-model.head.opening_inset_mm + lean * deep + wall * 0.5, deep, key, word))
    notes += _claw_notes(model, note, lean)
    return notes


def _lean(model: SheetModel) -> float:
    """Radius that the head loses per mm of depth."""
    for key in (basket.splay_deg, tapered_collet.half_angle_deg):
        if key in model.plan.figures:
            return float(np.tan(np.radians(model.plan[key])))
    return 0.0


def _claw_notes(model: SheetModel, note: Callable[[float, float, FigureKey, str], Note], lean: float) -> list[Note]:
    """What is said of tip, claw wire and rings, where the head has them."""
    figures, claws = model.plan.figures, model.head.claws or model.head.vees
    notes: list[Note] = []
    if claws is None:
        return notes
    if tip_cover_mm in figures:
        tip = claws.profile[claws.profile[:, 1].argmax()]
        notes.append(note(float(tip[0]), float(tip[1]) - 0.1, tip_cover_mm, "tip"))
    if (claw := model.plan.claw_mm) is not None:
        deep = -model.head.height_mm * 0.62
        notes.append(note(claw * 0.65 - model.head.opening_inset_mm + lean * deep, deep, CLAW, "claw"))
    for ring, key in zip(model.head.rings, (rings.upper_ring_outer_mm, rings.lower_ring_outer_mm), strict=False):
        if key in figures:
            notes.append(note(ring.across_mm * 0.2 - ring.inset_mm, ring.z_mm, key, "ring"))
    if rings.countersink_mm in figures and figures[rings.countersink_mm].value >= 0.005:
        upper = model.head.rings[0]
        at = -upper.inset_mm - upper.across_mm * 0.3, upper.z_mm + upper.high_mm * 0.36
        notes.append(note(*at, rings.countersink_mm, "sink"))
    return notes


def _place(model: SheetModel, content: Content, width: float, height: float, keep_scale: float) -> Placement:
    for scale in SCALES:
        if keep_scale and scale > keep_scale:
            continue
        placed, right, low = _placement(model, content, scale, width, height)
        if right <= width - _MARGIN and low <= height - _FOOT:
            return placed
    return placed


def _placement(
    model: SheetModel, content: Content, scale: float, width: float, height: float
) -> tuple[Placement, float, float]:
    """Placement at one scale, and the right and lower ends it needs; spare room is shared out between the views."""
    half = max(model.half_x, _half_needed(model)) + _BREAK
    drop = 0.0
    if model.band is not None and model.finger is not None:
        inside = model.band.inside_radius
        drop = float(sagitta_mm(inside, 2 * min(half, inside * bands.WIDEST_ARC)))
    bottom = model.lowest - (drop + 0.6 if model.band is not None else 0.0)
    ladder_width, chain_width, note_width = content.label_widths
    column = ladder_width + _MARGIN
    side_half = max(model.half_y, 0 if model.band is None else model.band.width_mm / 2)
    left, right = section_left(model), model.section_edge + model.out * model.section_stretch
    outside = _outside(content, scale)
    beside = model.above_head * scale
    side_width = outside + 2 * side_half * scale + beside + 10 + chain_width
    section_width = max((right - left) * scale + 9 + note_width, text_width(section_title(model), SMALL) + 1.0)
    block = max(side_width, section_width)
    need_x = column + 4 + 2 * half * scale + _GUTTER + block
    spare_x = max(width - _MARGIN - need_x, 0.0)
    front_x = column + 4 + spare_x * 0.3 + half * scale
    block_x = front_x + half * scale + _GUTTER + spare_x * 0.35
    rows = len(content.levels) * PITCH
    upper = max((model.top - bottom) * scale, rows)
    upper_lanes = max(len(content.front_bottom), len(content.side_bottom)) * LANE + 2
    lower = max(
        (2 * model.plan_half + model.above_head) * scale + 2 * _CLOCK + len(content.plan_bottom) * LANE + 2,
        (model.top + model.head.height_mm) * scale + 4,
        len(content.notes) * PITCH,
    )
    need_y = _MARGIN + _TITLE + LANE + upper + upper_lanes + _TITLE + lower
    spare_y = max(height - _FOOT - need_y, 0.0)
    upper_top = _MARGIN + _TITLE + LANE + spare_y * 0.3
    seat_y = upper_top + model.top * scale
    lower_top = upper_top + upper + upper_lanes + _TITLE + spare_y * 0.35
    plan_y = lower_top + _CLOCK + (model.plan_half + model.above_head) * scale
    section_y = lower_top + 2 + model.top * scale
    placed = Placement(
        scale=scale,
        front=(front_x, seat_y),
        side=(block_x + outside + beside + side_half * scale, seat_y),
        plan=(front_x, plan_y),
        section=(block_x - left * scale + (block - section_width) * 0.3, section_y),
        left_column=column,
        chain_x=block_x + outside + 2 * side_half * scale + beside + 3.5,
        chain_column=block_x + outside + 2 * side_half * scale + beside + 10,
        note_column=block_x + (right - left) * scale + (block - section_width) * 0.3 + 9,
        half=half,
        bottom=bottom,
        upper_row=(upper_top - 1, upper_top + upper),
        lower_row=(lower_top, lower_top + lower),
    )
    return placed, need_x, need_y


def _outside(content: Content, scale: float) -> float:
    """Room that the widest dimension wants which does not fit between its own arrows."""
    widths = ((text_width(item.text, TEXT), (item.right - item.left) * scale) for item in content.side_top)
    return max((width + 5.0 for width, room in widths if width + 1.0 > room), default=0.0)


def _half_needed(model: SheetModel) -> float:
    return max(_half_of_fit(model), _half_of_shoulders(model))


def _half_of_shoulders(model: SheetModel) -> float:
    """How far out the last small stone of the shoulders lies, where the band still looks up."""
    if model.band is None or shoulders.last_angle_deg not in model.plan.figures:
        return 0.0
    turn = min(np.radians(model.plan[shoulders.last_angle_deg]), 1.2)
    return model.band.outside_radius * float(np.sin(turn)) + model.plan[shoulders.DIAMETER] / 2


def _half_of_fit(model: SheetModel) -> float:
    if model.gap is not None:
        return model.gap[1] / 2
    if model.joinery.split is not None:
        return model.joinery.split.start_mm + 0.8
    return _foot_half(model) if model.band is not None else 0.0


def _title(drawing: Drawing, x: float, y: float, text: str) -> None:
    drawing.text((x, y), text, SMALL, "start", "text-quiet")


def _front(drawing: Drawing, model: SheetModel, content: Content, placed: Placement) -> None:
    view = View(drawing, placed.front, placed.scale)
    top = placed.upper_row[0]
    _title(drawing, _MARGIN, _MARGIN + 2.5, "Front, along the finger")
    bands.front(view, model, placed.half)
    view.line([(0, model.top + 0.6), (0, placed.bottom - 0.3)], "centre")
    view.line([(-placed.half, 0), (placed.half + _GRIP_OUT / placed.scale, 0)], "seat-line")
    lanes(view, content.front_top, top + 0.6, downward=False)
    lanes(view, content.front_bottom, placed.upper_row[1] - 1, downward=True)
    ladder(view, content.levels, view.at(-placed.half, 0)[0] - 1.5, placed.left_column, top + 1, placed.upper_row[1])


def _side(drawing: Drawing, model: SheetModel, content: Content, placed: Placement) -> None:
    view = View(drawing, placed.side, placed.scale)
    _title(drawing, view.at(-model.half_y, 0)[0], _MARGIN + 2.5, "Side, along the band")
    bands.side(view, model, placed.bottom)
    view.line([(0, model.top + 0.6), (0, placed.bottom - 0.3)], "centre")
    lanes(view, content.side_top, placed.upper_row[0] + 0.6, downward=False)
    chain(view, content.chain, placed.chain_x, placed.chain_column, placed.upper_row[0] + 1, placed.upper_row[1])
    widths = [Width(item.left, item.right, placed.bottom, item.text, item.key) for item in content.side_bottom]
    lanes(view, widths, placed.upper_row[1] - 1, downward=True)


def _plan(drawing: Drawing, model: SheetModel, content: Content, placed: Placement) -> None:
    view = View(drawing, placed.plan, placed.scale)
    _title(drawing, _MARGIN, placed.lower_row[0] - 2.5, "Plan, straight down")
    bands.band_from_above(view, model, placed.half)
    elements.shoulders_from_above(view, model)
    bands.hanging_ring_from_above(view, model)
    elements.head_from_above(view, model)
    elements.holding_from_above(view, model)
    view.line([(-model.half_x - 0.4, 0), (model.half_x + 0.4, 0)], "centre")
    view.line([(0, -model.half_y - 0.4), (0, model.half_y + model.above_head + 0.4)], "centre")
    if model.head.places:
        claw_numbers(
            view, model, [view.at(side, 0)[0] for width in content.plan_bottom for side in (width.left, width.right)]
        )
    _finger_arrow(drawing, view, model, placed)
    start = view.at(0, -model.plan_half)[1] + _CLOCK - 2
    lanes(view, content.plan_bottom, start, downward=True)


def _finger_arrow(drawing: Drawing, view: View, model: SheetModel, placed: Placement) -> None:
    if model.band is None:
        return
    x = _MARGIN + 3.0
    top, bottom = view.at(0, model.half_y * 0.8)[1], view.at(0, -model.half_y * 0.8)[1]
    drawing.line([(x, top), (x, bottom)], "finger-edge")
    for y, way in ((top, 1.0), (bottom, -1.0)):
        drawing.line([(x - 1.2, y + 2 * way), (x, y), (x + 1.2, y + 2 * way)], "finger-edge")
    drawing.text((x + 2.0, (top + bottom) / 2), "finger", SMALL, "start", "text-quiet")


def _section(drawing: Drawing, model: SheetModel, content: Content, placed: Placement) -> None:
    view = View(drawing, placed.section, placed.scale)
    left = section_left(model)
    if not model.head.profiles and not model.head.rings:
        return
    _title(drawing, view.at(left, 0)[0], placed.lower_row[0] - 2.5, section_title(model))
    elements.section(view, model, left)
    view.line([(0, model.top + 0.4), (0, min(-model.head.height_mm, model.culet_z) - 0.3)], "centre")
    view.line([(left, 0), (model.section_edge, 0)], "seat-line")
    notes(view, content.notes, placed.note_column, placed.lower_row[0] + 2, placed.lower_row[1] + 2)


def _grips(drawing: Drawing, model: SheetModel, placed: Placement) -> None:
    front = View(drawing, placed.front, placed.scale)
    fixed = model.plan.job.head.height_mm is not None and "height_mm" in STYLES[model.plan.job.head.style].FIELDS
    if model.finger is not None and not fixed:
        place = front.at(placed.half + _GRIP_OUT / placed.scale, 0)
        drawing.grips.append(
            Grip(
                name="seat-height",
                label="Seat height above the finger",
                at=place,
                axis="y",
                value=-model.finger,
                per_mm=-1 / placed.scale,
                reach=2 * placed.half * placed.scale + _GRIP_OUT,
            )
        )
    section = View(drawing, placed.section, placed.scale)
    if not model.plan.facts.along_band or model.cut.is_round:
        opening = model.plan[style.INNER_OPENING]
        at = model.section_edge - model.head.opening_inset_mm * model.section_stretch
        drawing.grips.append(
            Grip(
                name="opening",
                label="Opening between the claws" if model.head.places else "Bore of the tube",
                at=section.at(at, -model.head.height_mm - 0.25),
                axis="x",
                value=opening,
                per_mm=2 / placed.scale,
            )
        )
    if "claw_places_deg" in STYLES[model.plan.job.head.style].FIELDS:
        above, out = View(drawing, placed.plan, placed.scale), model.out * 0.35
        for number, claw in enumerate(model.head.places):
            if claw.kind != POINT:
                on_claw = above.at(claw.x_mm + out * claw.normal[0], claw.y_mm + out * claw.normal[1])
                drawing.grips.append(
                    Grip(
                        name=f"claw-{number}",
                        label=f"Claw {numbers(model.head.places)[number]}",
                        at=on_claw,
                        axis="turn",
                        value=claw.azimuth_deg,
                        per_mm=0.0,
                        centre=above.at(0, 0),
                    )
                )
