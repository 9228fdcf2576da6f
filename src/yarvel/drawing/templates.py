"""Templates at 1:1, to lay on the metal: developments, gaps, dividing circles, bevels, lengths, split shoulders."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from msgspec import Struct

from yarvel.drawing import outlines
from yarvel.drawing.paper import A4, LINE, MARGIN, ruler_bar
from yarvel.drawing.primitives import Drawing, Points
from yarvel.drawing.tiling import Printer, corrected, tiles
from yarvel.drawing.view import View
from yarvel.figures.figure import FigureKey, format_number
from yarvel.heads import rings, style, tapered_collet, tube
from yarvel.heads.claws import claw_length_mm
from yarvel.heads.places import numbers
from yarvel.planning.plan import Plan
from yarvel.shanks import basket_point, blanks, fish_mouth, pendant, split_shoulder
from yarvel.shanks.developments import saddle_on_cone, saddle_on_tube, sector

_TEXT, _SMALL, _ROOM = 3.2, 2.6, 5.0
_COLLAR = 7.0
_TOP, _BOTTOM = 30.0, 44.0


class Template(Struct, frozen=True):
    """One template: its name, what to do with it, and its drawing at true size."""

    title: str
    use: str
    drawing: Drawing


def templates(plan: Plan) -> list[Template]:
    """All templates that this plan has."""
    makers: tuple[Callable[[Plan], Template | None], ...] = (
        _pattern,
        _saddle,
        _collet_saddle,
        _gap,
        _split,
        _dividing,
        _bevel,
        _flats,
        _lengths,
    )
    made_templates = [template for template in (maker(plan) for maker in makers) if template is not None]
    return made_templates


def template_pages(plan: Plan, printer: Printer, heading: str | None = None) -> list[Drawing]:
    """A4 pages with all templates, each tiled where it is larger than a page, the printer's fault put right; none where
    there are no templates. Without a heading the head of the page is left to whoever binds the pages."""
    made_templates = templates(plan)
    if not made_templates:
        return []
    pages: list[Drawing] = []
    page, top = _page(heading), _TOP
    room = A4[0] - 2 * MARGIN, A4[1] - _TOP - _BOTTOM
    for template in made_templates:
        pieces = tiles(corrected(template.drawing, printer), room[0], room[1] - 8.0)
        for number, piece in enumerate(pieces):
            if top > _TOP and top + piece.height + 10.0 > A4[1] - _BOTTOM:
                pages.append(_finished(page, printer))
                page, top = _page(heading), _TOP
            page.text((MARGIN, top), template.title, 3.8, bold=True)
            if number == 0:
                page.text((MARGIN, top + 4.4), template.use, _SMALL, "start", "text-quiet")
            page.place(piece, MARGIN, top + 6.0)
            top += piece.height + 14.0
    pages.append(_finished(page, printer))
    return pages


def template_drawing(plan: Plan) -> Drawing:
    """All templates one below the other on one drawing, at true size: for SVG and DXF."""
    made_templates = templates(plan)
    width = max([60.0, *(template.drawing.width for template in made_templates)]) + 2 * MARGIN
    drawing = Drawing(width, sum(template.drawing.height + 14.0 for template in made_templates) + 24.0)
    top = 12.0
    for template in made_templates:
        drawing.text((MARGIN, top), template.title, 3.8, bold=True)
        drawing.place(template.drawing, MARGIN, top + 6.0)
        top += template.drawing.height + 14.0
    return drawing


def _page(heading: str | None) -> Drawing:
    page = Drawing(*A4)
    if heading is not None:
        page.text((MARGIN, 14), heading, 4.4, bold=True)
        page.line([(MARGIN, 17), (A4[0] - MARGIN, 17)], "frame")
    return page


def _finished(page: Drawing, printer: Printer) -> Drawing:
    """The page with its bars: across and down, both to be measured."""
    bars = Drawing(A4[0] - 2 * MARGIN, 30.0)
    ruler_bar(bars, 0.0, 8.0)
    _upright_bar(page, printer)
    page.place(corrected(bars, printer), MARGIN, A4[1] - 38.0)
    page.text(
        (MARGIN, A4[1] - 12),
        "If a bar is not 50 mm long, type what it measures into Yarvel's template window and print again: the sheet "
        "corrects itself.",
        _SMALL,
        "start",
        "text-quiet",
    )
    return page


def _upright_bar(page: Drawing, printer: Printer) -> None:
    long = 50.0 * printer.stretch[1]
    x, low = A4[0] - 6.0, A4[1] - 20.0
    page.line([(x, low), (x, low - long)], "cut")
    for tick in range(51):
        wide = 3.0 if tick % 10 == 0 else 2.0 if tick % 5 == 0 else 1.2
        y = low - tick * long / 50.0
        page.line([(x, y), (x - wide, y)], "dimension")
    page.text((x - 4.0, low - long - 1.5), "50 mm", _SMALL, "middle")


# --- the templates ------------------------------------------------------------------------------------------------


def _pattern(plan: Plan) -> Template | None:
    if tapered_collet.pattern_angle_deg not in plan.figures:
        return None
    return Template(
        "Pattern of the collet",
        f"Lay it on sheet of {plan.figures[style.HEAD_WALL].text()}; saw outside the line, round it up, file the seam "
        "until no light passes.",
        collet_pattern(plan),
    )


def collet_pattern(plan: Plan) -> Drawing:
    """The developed cone at 1:1: two arcs and the seam's edges, with its radii and angle."""
    outer, inner = plan[tapered_collet.pattern_outer_radius_mm], plan[tapered_collet.pattern_inner_radius_mm]
    turn = np.radians(plan[tapered_collet.pattern_angle_deg])
    ends = np.pi / 2 - turn / 2, np.pi / 2 + turn / 2
    wide, narrow = outlines.arc(outer, *ends, 90), outlines.arc(inner, *ends, 60)
    loop = np.vstack([wide, narrow])
    reach, low = float(np.ptp(loop[:, 0])) / 2, float(loop[:, 1].min())
    drawing = Drawing(2 * max(reach, 10.0) + 44.0, max(outer - low + 8.0, 20.0))
    view = View(drawing, (drawing.width / 2 + 20.0, outer + 4.0), 1.0)
    view.area(np.vstack([wide, narrow[::-1]]), "metal-cut", "fine")
    view.line([(0, inner - 2), (0, outer + 2)], "centre")
    labelled: tuple[tuple[FigureKey, str], ...] = (
        (tapered_collet.pattern_outer_radius_mm, "outer radius"),
        (tapered_collet.pattern_inner_radius_mm, "inner radius"),
        (tapered_collet.pattern_angle_deg, "angle"),
    )
    for line, (key, word) in enumerate(labelled):
        drawing.text((0, 6 + line * LINE), f"{plan.figures[key].text()} {word}", _TEXT, key=key.key)
    return drawing


def _saddle(plan: Plan) -> Template | None:
    """The fish-mouth of a straight tube, unrolled."""
    joinery, band = plan.joinery, plan.band
    if joinery is None or band is None or not joinery.saddle or not plan.shape.walls or _tapers(plan):
        return None
    if not plan.facts.cut.is_round:
        return None
    radius = plan[plan.shape.foot_key] / 2
    curve = saddle_on_tube(band, radius)
    deepest = float(curve[:, 1].max())
    around = float(curve[-1, 0])
    drawing = Drawing(around + 2, deepest + _COLLAR + 10)
    view = View(drawing, (1.0, _COLLAR + 4), 1.0)
    edge = np.column_stack([curve[:, 0], -curve[:, 1]])
    view.area(np.vstack([[(0.0, _COLLAR)], edge, [(around, _COLLAR)]]), "metal-cut", "fine")
    _quarters(view, around, _COLLAR, ("0°", "90°", "180°", "270°"))
    return Template(
        "Fish-mouth, unrolled",
        "Wrap it round the tube's outside, 0° along the band, both ends meeting; file the foot to the curve, deepest "
        f"{plan.figures[fish_mouth.saddle_depth_mm].text()}.",
        drawing,
    )


def _collet_saddle(plan: Plan) -> Template | None:
    """The fish-mouth of a collet, on its developed outside."""
    joinery, band = plan.joinery, plan.band
    if joinery is None or band is None or not joinery.saddle or not _tapers(plan):
        return None
    half, foot = plan[tapered_collet.half_angle_deg], plan[tapered_collet.foot_diameter_mm] / 2
    sine = float(np.sin(np.radians(half)))
    curve = saddle_on_cone(band, foot, half)
    inner, angle = foot / sine, 360 * sine
    high = plan[tapered_collet.collet_height_mm] / float(np.cos(np.radians(half)))
    low = sector(inner, angle, curve[:, 0], curve[:, 1])
    top = sector(inner, angle, curve[:, 0], np.full(len(curve), min(high, curve[:, 1].max() + _COLLAR)))
    loop = np.vstack([low, top[::-1]])
    drawing = Drawing(float(np.ptp(loop[:, 0])) + 2, float(np.ptp(loop[:, 1])) + 6)
    view = View(drawing, (1.0 - float(loop[:, 0].min()), 3.0 + float(loop[:, 1].max())), 1.0)
    view.area(loop, "metal-cut", "fine")
    return Template(
        "Fish-mouth of the collet",
        "Wrap it round the collet, its seam to the back; the lower edge is the line to file to.",
        drawing,
    )


def _tapers(plan: Plan) -> bool:
    return tapered_collet.half_angle_deg in plan.figures and tapered_collet.foot_diameter_mm in plan.figures


def _quarters(view: View, around: float, high: float, words: tuple[str, ...]) -> None:
    for quarter, word in enumerate(words):
        x = around * quarter / len(words)
        view.line([(x, 0.0), (x, high)], "centre")
        view.drawing.text(view.at(x + 0.8, high - 2.4), word, 2.0, "start", "text-quiet")


def _gap(plan: Plan) -> Template | None:
    """Strips to lay along the outside and the inside of the band, with the marks of the gap."""
    joinery, band = plan.joinery, plan.band
    if joinery is None or band is None:
        return None
    strips: tuple[tuple[str, float, float, float, Points], ...] = ()
    recess = joinery.recess
    if joinery.gap_mm is not None and joinery.hollow is not None and not joinery.bored:
        strips = (
            ("outside", band.outside_radius, joinery.gap_mm[1], joinery.marks_mm[1], joinery.hollow[1]),
            ("inside", band.inside_radius, joinery.gap_mm[0], joinery.marks_mm[0], joinery.hollow[0]),
        )
    elif recess is not None and recess.marks_mm is not None:
        strips = (("outside", band.outside_radius, recess.widths_mm[1], recess.marks_mm[1], recess.loops[1]),)
    if not strips:
        return None
    wide = max(band.width_mm, 4.0)
    half = max(gap / 2 for _, _, gap, _, _ in strips) + 16.0
    drawing = Drawing(2 * half + 2, len(strips) * (wide + 9.0))
    for line, (name, radius, gap, sawn, loop) in enumerate(strips):
        view = View(drawing, (half + 1, 6.0 + line * (wide + 9.0)), 1.0)
        mark = radius * float(np.arcsin(min(sawn / radius, 1.0)))
        limit = radius * float(np.arcsin(min(gap / 2 / radius, 1.0)))
        right = loop[: len(loop) // 2]
        curve = radius * np.arcsin(np.minimum(right[:, 0] / radius, 1.0))
        view.area(np.array([(-half, 0), (half, 0), (half, -wide), (-half, -wide)]), "metal-cut", "fine")
        view.area(np.array([(-mark, 0), (mark, 0), (mark, -wide), (-mark, -wide)]), "paper", "outline")
        for way in (-1.0, 1.0):
            hollowed = np.column_stack([way * curve, right[:, 1] - wide / 2])
            view.line(hollowed, "hidden")
        view.line([(0, 2), (0, -wide - 1)], "centre")
        drawing.text(
            view.at(-half, 1.4),
            f"{name}, each side: saw {format_number(mark, 2)} along the band ({format_number(sawn, 2)} straight "
            f"across), hollow to {format_number(limit, 2)} mm ({format_number(gap / 2, 2)})",
            _SMALL,
            "start",
            "text-quiet",
        )
    if recess is not None:
        return Template(
            "Recess for the head",
            "Lay the strip along the band, its middle on the ring's middle; saw and file down between the lines to the "
            "floor, then hollow the ends to the dashed curve.",
            drawing,
        )
    return Template(
        "Gap for the head",
        "Lay each strip along the band, its middle on the ring's middle; saw from line to line, on the taper, and file "
        "the ends hollow to the dashed curve.",
        drawing,
    )


def _split(plan: Plan) -> Template | None:
    """Saw line, branches and bezel of split shoulders, seen straight down."""
    joinery, band = plan.joinery, plan.band
    if joinery is None or band is None or joinery.split is None:
        return None
    split = joinery.split
    reach = split.start_mm + 8.0
    half = max(split.tip_side_mm + split.branch_mm, band.width_mm / 2) + 1.0
    drawing = Drawing(2 * reach, 2 * half + 4.0)
    view = View(drawing, (reach, half + 2.0), 1.0)
    for way in (-1.0, 1.0):
        view.line([(way * reach, band.width_mm / 2), (way * split.start_mm, band.width_mm / 2)], "fine")
        view.line([(way * reach, -band.width_mm / 2), (way * split.start_mm, -band.width_mm / 2)], "fine")
        view.line([(way * split.start_mm, 0), (way * split.tip_out_mm, 0)], "hidden")
        for side in (-1.0, 1.0):
            start, tip, across = split.line(band.width_mm, way, side)
            view.area(np.array([start - across, tip - across, tip + across, start + across]), "metal-cut", "fine")
    radius = plan.shape.outline.points[:, 0].max() + max(float(part[:, 0].max()) for part in plan.shape.profiles)
    view.area(_circle(float(radius)), "", "outline")
    view.line([(0, half), (0, -half)], "centre")
    return Template(
        "Split shoulders, straight down",
        f"Saw along the dashed line to {plan.figures[split_shoulder.split_from_mm].text()} from the middle; spread the "
        "branches to the outlines.",
        drawing,
    )


def _circle(radius: float, count: int = 120) -> Points:
    turn = np.linspace(0, 2 * np.pi, count, endpoint=False)
    return radius * np.column_stack([np.cos(turn), np.sin(turn)])


def _dividing(plan: Plan) -> Template | None:
    """Where the claws stand round the outline: rays, marks, chords from one to the next."""
    places = plan.shape.places
    if not places:
        return None
    outline, claws = plan.shape.outline, plan.shape.claws
    out = max(float(part[:, 0].max()) for part in plan.shape.profiles)
    reach = float(np.hypot(*outline.points.T).max()) + out + 4.0
    drawing = Drawing(2 * reach + 34.0, max(2 * reach + 8.0, len(places) * 4.2 + 8.0))
    view = View(drawing, (reach + 4.0, reach + 4.0), 1.0)
    view.area(outline.points, "", "fine-stone")
    view.area(outline.inset(-out), "", "fine")
    view.line([(-reach, 0), (reach, 0)], "centre")
    view.line([(0, -reach), (0, reach)], "centre")
    middle = out if claws is None else float(claws.profile[0, 0] + claws.profile[-1, 0]) / 2
    spots = [
        np.array([place.x_mm + middle * place.normal[0], place.y_mm + middle * place.normal[1]]) for place in places
    ]
    for place, spot in zip(places, spots, strict=True):
        end = spot * (1 + 3.0 / float(np.hypot(*spot)))
        view.line([(0.0, 0.0), (float(end[0]), float(end[1]))], "dimension")
        if claws is not None and place in claws.places:
            view.area(_circle(claws.width_mm / 2, 32) + spot, "", "outline")
    chords = [float(np.hypot(*(after - spot))) for spot, after in zip(spots, [*spots[1:], spots[0]], strict=True)]
    names = numbers(places)
    for line, (place, chord) in enumerate(zip(places, chords, strict=True)):
        following = names[(line + 1) % len(names)]
        drawing.text(
            (2 * reach + 8.0, 8.0 + line * 4.2),
            f"{names[line]}  at {format_number(place.azimuth_deg % 360, 1)}°  to {following}: "
            f"{format_number(chord, 2)}",
            _SMALL,
        )
    return Template(
        "Claws round the outline",
        "Middles of the claws at the foot, on their rays; at the right each claw's azimuth and the chord to the next, "
        "to be set on dividers.",
        drawing,
    )


def _bevel(plan: Plan) -> Template | None:
    """A gauge for the bevels of claws that meet in a point."""
    if basket_point.bevel_deg not in plan.figures:
        return None
    bevel = np.radians(plan[basket_point.bevel_deg])
    long = 22.0
    drawing = Drawing(2 * long + 20.0, long + 8.0)
    view = View(drawing, (4.0, long + 4.0), 1.0)
    tip = np.array(
        [(0.0, 0.0), (long * np.cos(bevel), long * np.sin(bevel)), (long * np.cos(bevel), -0.0 * long), (0.0, 0.0)]
    )
    view.line(tip, "outline")
    drawing.text((long + 8.0, long), f"bevel {plan.figures[basket_point.bevel_deg].text()} to each side", _TEXT)
    point = np.radians(plan[basket_point.point_angle_deg] / 2)
    deep = plan[basket_point.point_depth_mm]
    lower = View(drawing, (long + 14.0, 6.0), 1.0)
    lower.line([(-deep * np.tan(point), 0.0), (0.0, -deep), (deep * np.tan(point), 0.0)], "outline")
    lower.line([(0.0, 1.5), (0.0, -deep - 1.0)], "centre")
    return Template(
        "Bevels and the point",
        "Fold the wedge and hold it to a claw's inside; the V is the claws' middles below the ring, "
        f"{plan.figures[basket_point.point_angle_deg].text()}.",
        drawing,
    )


def _flats(plan: Plan) -> Template | None:
    """Rings with several corners, flat: where the wire is scored before it is folded, and its mitred ends."""
    rows = []
    for ring in plan.shape.rings:
        sides = rings.pieces_mm(plan.shape.outline, ring.inset_mm, ring.across_mm)
        if len(sides) > 1 and rings.upper_ring_cut_mm in plan.figures:
            rows.append((ring, sides))
    if not rows:
        return None
    long = max(sum(length for length, _ in sides) for _, sides in rows)
    drawing = Drawing(max(long + 2.0, 70.0), sum(ring.across_mm + 11.0 for ring, _ in rows) + 2.0)
    y = 6.0
    for ring, sides in rows:
        wide, at = ring.across_mm, 1.0
        drawing.text((1.0, y - 2.0), f"{ring.name}: {sum(length for length, _ in sides):.1f} mm, outside up", _SMALL)
        whole, mitre = sum(length for length, _ in sides), sides[-1][1] * wide
        bar = [(1.0, y), (1.0 + whole, y), (1.0 + whole - mitre, y + wide), (1.0 + mitre, y + wide)]
        drawing.area(np.array(bar), "", "cut")
        for length, turn in sides[:-1]:
            at += length
            drawing.line([(at - turn * wide, y + wide), (at, y), (at + turn * wide, y + wide)], "cut")
            drawing.text((at, y + wide + 4.0), f"{at - 1.0:.2f}", _SMALL, "middle")
        y += wide + 11.0
    return Template("Rings with corners, flat", "Score from inside down to the outer edge, fold, solder.", drawing)


_LENGTHS = (
    (rings.upper_ring_wire_length_mm, "upper ring"),
    (rings.upper_ring_cut_mm, "upper ring"),
    (rings.lower_ring_wire_length_mm, "lower ring"),
    (rings.lower_ring_cut_mm, "lower ring"),
    (tube.strip_length_mm, "strip of the bezel"),
    (claw_length_mm, "claw, each"),
    (pendant.wire_length_mm, "hanging ring"),
    (blanks.blank_length_mm, "blank of the shank, on its middle"),
)


_CUT_INSTEAD: dict[FigureKey, FigureKey] = {
    rings.upper_ring_wire_length_mm: rings.upper_ring_cut_mm,
    rings.lower_ring_wire_length_mm: rings.lower_ring_cut_mm,
}
"""What is cut where a ring has corners: more than its wire's middle is long."""


def _lengths(plan: Plan) -> Template | None:
    """Bars as long as the wire and strip to cut."""
    only = plan.job.head.rings == 1
    rows = [
        (plan.figures[key], "ring" if only and word == "upper ring" else word)
        for key, word in _LENGTHS
        if key in plan.figures and _CUT_INSTEAD.get(key) not in plan.figures
    ]
    if not rows:
        return None
    drawing = Drawing(max(max(figure.value for figure, _ in rows) + 2.0, 70.0), len(rows) * 10.0 + 4.0)
    for line, (figure, word) in enumerate(rows):
        y = 8.0 + line * 10.0
        drawing.line([(1.0, y), (1.0 + figure.value, y)], "cut")
        for x in (1.0, 1.0 + figure.value):
            drawing.line([(x, y - 1.6), (x, y + 1.6)], "outline")
        drawing.text((1.0, y - 2.4), f"{word}: {figure.text()}", _SMALL)
    return Template("Lengths to cut", "Lay wire and strip along the bars; saw allowance comes on top.", drawing)
