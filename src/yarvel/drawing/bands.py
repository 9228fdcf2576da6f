"""Band and finger as they look in each view, with what hangs below a head's foot into the band."""

from __future__ import annotations

import numpy as np

from yarvel.drawing import outlines
from yarvel.drawing.elements import head_from_side
from yarvel.drawing.model import SheetModel, band_top
from yarvel.drawing.primitives import Points
from yarvel.drawing.stone_look import FRONT, SIDE
from yarvel.drawing.view import View
from yarvel.shanks.band import CROWN, Band
from yarvel.shanks.joinery import Recess
from yarvel.shanks.pendant import SINKS

WIDEST_ARC = 0.96
"""The band is drawn at most this far out, as a share of its inside radius."""


def front(view: View, model: SheetModel, half_width: float) -> None:
    """Head, band and finger from the front, in the order in which they hide each other."""
    joinery = model.joinery
    if model.ring_behind and model.hanging_ring is not None:
        inside, wire, height = model.hanging_ring
        half = inside / 2 + wire
        edge = np.array([(-wire / 2, height - half), (wire / 2, height - half)])
        view.area(np.vstack([edge, edge[::-1] + (0.0, 2 * half)]), "metal", "outline")
    sunk = joinery.bored or (joinery.recess is not None and joinery.recess.sunk)
    over = sunk or joinery.saddle or joinery.split is not None or joinery.point_mm is not None
    if over:
        below_foot(view, model, (1.0, 0.0))
        head_from_side(view, model, FRONT)
    band_from_front(view, model, half_width)
    if not over:
        head_from_side(view, model, FRONT)
    hidden_in_band(view, model)


def side(view: View, model: SheetModel, bottom: float) -> None:
    """Head, band and finger from the side, in the order in which they hide each other."""
    joinery = model.joinery
    before = joinery.flat or joinery.saddle
    if before:
        band_from_side(view, model, bottom)
    below_foot(view, model, (0.0, 1.0))
    head_from_side(view, model, SIDE)
    if not before:
        band_from_side(view, model, bottom)
    hidden_in_band(view, model)
    if model.hanging_ring is not None:
        inside, wire, height = model.hanging_ring
        middle = (-(model.ring_foot + inside / 2 + (1 - SINKS) * wire), height)  # up is left in this view
        outer, inner = (outlines.circle(radius, 40) + middle for radius in (inside / 2 + wire, inside / 2))
        view.area(np.vstack([outer, outer[:1], inner[:1], inner[::-1]]), "metal")
        for edge in (outer, inner):
            view.line(np.vstack([edge, edge[:1]]), "outline")


def hanging_ring_from_above(view: View, model: SheetModel) -> None:
    """The ring that a pendant hangs by, on edge; nothing where the stone hides it."""
    if model.hanging_ring is not None and not model.ring_behind:
        inside, wire, _ = model.hanging_ring
        low = model.ring_foot - SINKS * wire
        high, half = low + inside + 2 * wire, wire / 2
        turn = np.linspace(0, np.pi, 12)
        cap = np.column_stack([half * np.cos(turn), high - half + half * np.sin(turn)])
        view.area(np.vstack([[(half, low)], cap, [(-half, low)]]), "metal", "outline")


def outside(band: Band, half_turn: float, count: int = 60) -> Points:
    """The band's outside as a curve (n, 2), mm, about the finger's axis, from left to right seen from the front;
    tapering."""
    turn = np.linspace(-half_turn, half_turn, count)
    radius = band.inside_radius + np.asarray(band.thickness_at(np.degrees(turn)))
    return np.column_stack([radius * np.sin(turn), radius * np.cos(turn)])


def band_from_front(view: View, model: SheetModel, half_width: float) -> None:
    """Finger and band as arcs, cut where the head stands in a gap or between branches, flattened on a flat."""
    band, finger, joinery = model.band, model.finger, model.joinery
    if band is None or finger is None or not model.sees_band:
        return
    centre = np.array([0.0, finger - band.inside_radius])
    reach = min(half_width, band.inside_radius * WIDEST_ARC)
    inner_turn = float(np.arcsin(reach / band.inside_radius))
    outer_turn = float(np.arcsin(min(reach / band.outside_radius, 1.0)))
    inner = outlines.arc(band.inside_radius, np.pi / 2 - inner_turn, np.pi / 2 + inner_turn)[::-1] + centre
    outer = outside(band, outer_turn) + centre
    bottom = inner[:, 1].min() - 0.6
    view.area(np.vstack([inner, [(reach, bottom), (-reach, bottom)]]), "finger")
    view.line(inner, "finger-edge")
    gap = None if joinery.bored or model.gap is None else (2 * joinery.marks_mm[0], 2 * joinery.marks_mm[1])
    if joinery.split is not None:
        gap = (2 * joinery.split.tip_out_mm, 2 * joinery.split.tip_out_mm)
    if gap is None:
        if joinery.flat:
            outer = np.column_stack([outer[:, 0], np.minimum(outer[:, 1], -model.head.height_mm)])
        if joinery.recess is not None and joinery.recess.marks_mm is not None:
            outer = let_into(outer, joinery.recess, -model.head.height_mm)
        band_piece(view, inner, outer)
        return
    for way in (-1.0, 1.0):
        band_piece(view, *beside_gap(inner, outer, gap, way))


def let_into(outer: Points, recess: Recess, floor_mm: float) -> Points:
    """A band's outside (n, 2), mm, from left to right over the head, with a recess cut into it."""
    low, high = (width / 2 for width in recess.widths_mm)
    left, right = outer[outer[:, 0] < -high], outer[outer[:, 0] > high]
    walls = [(way * high, np.interp(way * high, outer[:, 0], outer[:, 1])) for way in (-1.0, 1.0)]
    floor = [(-low, floor_mm), (low, floor_mm)]
    return np.vstack([left, walls[:1], floor, walls[1:], right])


def beside_gap(inner: Points, outer: Points, gap: tuple[float, float], way: float) -> tuple[Points, Points]:
    """Inner and outer edge, each (n, 2), mm, of the band on one side of a gap."""

    def kept(points: Points, half: float) -> Points:
        mirrored = points[np.argsort(points[:, 0] * way)] * (way, 1)
        beyond = mirrored[mirrored[:, 0] > half]
        height = np.interp(half, mirrored[:, 0], mirrored[:, 1])
        edge: Points = np.vstack([[(half, height)], beyond]) * (way, 1)
        return edge if way < 0 else edge[::-1]

    return kept(inner, gap[0] / 2), kept(outer, gap[1] / 2)


def band_piece(view: View, inner: Points, outer: Points) -> None:
    """A piece of band between its edges, each (n, 2), mm; broken off where it is not drawn further."""
    view.area(np.vstack([inner, outer[::-1]]), "metal")
    view.line(inner, "outline")
    view.line(outer, "outline")
    limit = max(abs(inner[0, 0]), abs(inner[-1, 0]))
    for place in (0, -1):
        edge = "break" if abs(abs(inner[place, 0]) - limit) < 1e-9 else "outline"
        view.line(np.vstack([inner[place], outer[place]]), edge)


def band_from_side(view: View, model: SheetModel, bottom: float) -> None:
    """The band seen along its run: its width, rounded on top as its profile asks, the finger's top hidden."""
    band, finger, split = model.band, model.finger, model.joinery.split
    if band is None or finger is None or not model.sees_band:
        return
    half, top = band.width_mm / 2, band_top(model)
    if split is not None:
        tips_from_side(view, model)
        top = finger
    edge = _profile(band, half, top, finger) if split is None else np.array([(half, top), (-half, top)])
    view.area(np.vstack([edge, [(-half, bottom), (half, bottom)]]), "metal")
    view.line(np.vstack([[(half, bottom)], edge, [(-half, bottom)]]), "outline")
    view.line([(-half, bottom), (half, bottom)], "break")
    view.line([(-half, finger), (half, finger)], "hidden")


def tips_from_side(view: View, model: SheetModel) -> None:
    """The tips of split shoulders' branches, seen along the band."""
    band, finger, split = model.band, model.finger, model.joinery.split
    if band is None or finger is None or split is None:
        return
    half = split.branch_mm / 2
    for middle in (-split.tip_side_mm, split.tip_side_mm):
        tip = _profile(band, half, band_top(model), finger) + (middle, 0.0)
        view.area(np.vstack([tip, [(middle - half, finger), (middle + half, finger)]]), "metal", "outline")


def _profile(band: Band, half: float, top: float, finger: float) -> Points:
    """The top of a section seen along the band, from right to left."""
    crown = min(CROWN[band.profile] * band.thickness_mm, 0.8 * (top - finger))
    turn = np.linspace(0, np.pi, 24)
    return np.column_stack([half * np.cos(turn), top - crown + crown * np.sin(turn)])


def below_foot(view: View, model: SheetModel, right: tuple[float, float]) -> None:
    """Claws that run on below the lower ring to their point."""
    point, claws, foot = model.joinery.point_mm, model.head.claws, -model.head.height_mm
    hole = model.joinery.hole
    if point is None or claws is None or hole is None:
        return
    apex, mouth = foot - point, hole.diameter_mm / 2
    shoulder, left = apex + hole.depth_mm, hole.depth_mm / point
    view.area(np.array([(-mouth, shoulder), (mouth, shoulder), (0.0, apex)]), "metal", "outline")
    middle = float(claws.profile[0, 0] + claws.profile[-1, 0]) / 2
    for place in claws.places:
        across = (place.x_mm + middle * place.normal[0]) * right[0] + (place.y_mm + middle * place.normal[1]) * right[1]
        half = claws.width_mm / 2
        there, near = across * left, half * (1 + left) / 2  # where it meets the band, and its half width there
        view.area(
            np.array(
                [(across - half, foot), (across + half, foot), (there + near, shoulder), (there - near, shoulder)]
            ),
            "metal",
            "outline",
        )


def hidden_in_band(view: View, model: SheetModel) -> None:
    """Holes in the band and what stands in them."""
    band, finger, joinery = model.band, model.finger, model.joinery
    if band is None or finger is None or not model.sees_band:
        return
    top = finger + band.thickness_mm
    if joinery.hole is not None:
        half, low = joinery.hole.diameter_mm / 2, top - joinery.hole.depth_mm
        view.line([(-half, top), (-half, low), (half, low), (half, top)], "hidden")
    if joinery.recess is not None:
        low, high = (width / 2 for width in joinery.recess.widths_mm)
        floor = -model.head.height_mm
        view.line([(-high, floor + joinery.recess.depth_mm), (-low, floor), (low, floor)], "hidden")
        view.line([(low, floor), (high, floor + joinery.recess.depth_mm)], "hidden")
    if joinery.bored and model.gap is not None:
        for way in (-1.0, 1.0):
            view.line([(way * model.gap[0] / 2, finger), (way * model.gap[1] / 2, top)], "hidden")


def band_from_above(view: View, model: SheetModel, half_length: float) -> None:
    """The band's edges running away on both sides of the head, tapering; or its branches."""
    band, split = model.band, model.joinery.split
    if band is None or not model.sees_band:
        return
    reach = min(half_length, 0.999 * band.outside_radius)
    start = 0.0 if split is None else split.start_mm
    along = np.linspace(start, max(reach, start + 0.5), 24)
    half = np.asarray(band.width_at(np.degrees(np.arcsin(np.minimum(along / band.outside_radius, 1.0))))) / 2
    for way in (-1.0, 1.0):
        edges = [np.column_stack([way * along, side * half]) for side in (-1.0, 1.0)]
        view.area(np.vstack([edges[0], edges[1][::-1]]), "metal")
        for edge in edges:
            view.line(edge, "outline")
        view.line([edges[0][-1], edges[1][-1]], "break")
        if split is not None:
            for side in (-1.0, 1.0):
                _branch_from_above(view, model, way, side)


def _branch_from_above(view: View, model: SheetModel, way: float, side: float) -> None:
    band, split = model.band, model.joinery.split
    if band is None or split is None:
        return
    start, tip, across = split.line(band.width_mm, way, side)
    root = start + (start - tip) * 0.1
    view.area(np.array([root - across, tip - across, tip + across, root + across]), "metal")
    for edge in ((start - across, tip - across), (tip - across, tip + across), (start + across, tip + across)):
        view.line(np.array(edge), "outline")
