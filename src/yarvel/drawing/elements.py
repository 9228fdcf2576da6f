"""Stone, head, band and finger as they look in each view: one look for each, back to front."""

from __future__ import annotations

import numpy as np

from yarvel.drawing import outlines
from yarvel.drawing.model import SheetModel, band_top
from yarvel.drawing.primitives import Facets, Points
from yarvel.drawing.stone_look import ABOVE, Direction, look
from yarvel.drawing.stone_look import section as stone_section
from yarvel.drawing.view import View
from yarvel.heads.shape import Claws
from yarvel.stones.cuts import CUTS

_FRONT_LIMIT = 0.35
WIDEST_ARC = 0.96
"""The band is drawn at most this far out, as a share of its inside radius."""


def stone(view: View, model: SheetModel, direction: Direction) -> None:
    """The facets that face the viewer, each toned by the light, and the outline."""
    seen = look(model.plan.job.stone.cut, model.plan.stone, direction)
    view.area(seen.outline, "stone")
    view.drawing.items.append(Facets(view.all(seen.corners), seen.loops, seen.shades, seen.edges, "stone", "facet"))
    view.line(np.vstack([seen.outline, seen.outline[:1]]), "stone-edge")


def head_from_side(view: View, model: SheetModel, direction: Direction) -> None:
    """Head and stone seen level, back to front."""
    claws = model.head.claws
    front, back = _claws_by_depth(claws, direction.along) if claws is not None else ([], [])
    for azimuth in back:
        _claw(view, model, azimuth, direction.along)
    stone(view, model, direction)
    for ring in model.head.rings:
        view.area(outlines.ring_silhouette(ring.radius, ring.z, ring.wire), "metal", "outline")
    for wall in model.head.walls:
        view.area(outlines.wall_silhouette(wall.profile), "metal", "outline")
        if claws is not None:
            continue
        outline = look(model.plan.job.stone.cut, model.plan.stone, direction).outline
        view.line(np.vstack([outline, outline[:1]]), "hidden")
    for azimuth in front:
        _claw(view, model, azimuth, direction.along)


def _claws_by_depth(claws: Claws, along: float) -> tuple[list[float], list[float]]:
    """Claws before and behind the stone; those in profile count as behind, for the stone shows in their notch."""
    def depth(azimuth: float) -> float:
        return float(-np.sin(np.radians(azimuth - along)))

    ordered = sorted(claws.azimuths_deg, key=depth)
    front = [azimuth for azimuth in ordered if depth(azimuth) > _FRONT_LIMIT]
    return front, [azimuth for azimuth in ordered if depth(azimuth) <= _FRONT_LIMIT]


def _claw(view: View, model: SheetModel, azimuth: float, along: float) -> None:
    claws, reach = model.head.claws, model.claw_reach
    if claws is None or reach is None:
        return
    turn = np.radians(azimuth - along)
    cos, sin = float(np.cos(turn)), float(np.sin(turn))
    if abs(sin) < 0.02:
        view.area(claws.profile * (np.sign(cos), 1), "metal", "outline")
        return
    view.area(outlines.claw_silhouette(reach, claws.width, cos, sin), "metal", "outline")


def head_from_above(view: View, model: SheetModel) -> None:
    """Plan: the stone with its crown facets, claws or rim over it, the upper ring as a hidden line."""
    upper = model.head.rings[:1] if "head.ring_hidden_by" in model.plan.figures else ()
    for ring in upper:
        outer = outlines.circle(ring.radius + ring.wire / 2)
        if ring.radius + ring.wire / 2 > model.stone_radius:
            view.area(outer, "metal", "outline")
    for wall in model.head.walls:
        view.area(outlines.circle(float(wall.profile[:, 0].max())), "metal", "outline")
    stone(view, model, ABOVE)
    for ring in upper:
        outer = outlines.circle(ring.radius + ring.wire / 2)
        view.line(np.vstack([outer, outer[:1]]), "hidden")
    claws = model.head.claws
    for wall in model.head.walls if claws is None else ():
        _rim(view, wall.profile, model)
    if claws is not None:
        for azimuth in claws.azimuths_deg:
            view.area(outlines.claw_from_above(claws.tip_radius, model.outer_radius, claws.width, azimuth), "metal",
                      "outline")


def _rim(view: View, profile: Points, model: SheetModel) -> None:
    above = profile[profile[:, 1] > float(model.plan.stone.girdle)]
    inner = outlines.circle(float(above[:, 0].min()))
    outer = outlines.circle(float(profile[:, 0].max()))
    view.area(np.vstack([outer, outer[:1], inner[:1], inner[::-1]]), "metal")
    for ring in (inner, outer):
        view.line(np.vstack([ring, ring[:1]]), "outline")


def band_from_front(view: View, model: SheetModel, half_width: float) -> None:
    """Finger and band as arcs, cut where the head stands in a gap, flattened where it stands on a flat."""
    band, finger = model.band, model.finger
    if band is None or finger is None:
        return
    centre = np.array([0.0, finger - band.inside_radius])
    reach = min(half_width, band.inside_radius * WIDEST_ARC)
    inner_turn = float(np.arcsin(reach / band.inside_radius))
    outer_turn = float(np.arcsin(min(reach / band.outside_radius, 1.0)))
    inner = outlines.arc(band.inside_radius, np.pi / 2 - inner_turn, np.pi / 2 + inner_turn) + centre
    outer = outlines.arc(band.outside_radius, np.pi / 2 - outer_turn, np.pi / 2 + outer_turn, 60) + centre
    bottom = inner[:, 1].min() - 0.6
    view.area(np.vstack([inner, [(-reach, bottom), (reach, bottom)]]), "finger")
    view.line(inner, "finger-edge")
    if model.gap is None:
        flat = -model.head.height
        outer = np.column_stack([outer[:, 0], np.minimum(outer[:, 1], flat)])
        _band_piece(view, inner, outer)
        return
    for side in (-1.0, 1.0):
        _band_piece(view, *_beside_gap(inner, outer, model.gap, side))


def _beside_gap(inner: Points, outer: Points, gap: tuple[float, float], side: float) -> tuple[Points, Points]:
    def kept(points: Points, half: float) -> Points:
        mirrored = points[np.argsort(points[:, 0] * side)] * (side, 1)
        beyond = mirrored[mirrored[:, 0] > half]
        height = np.interp(half, mirrored[:, 0], mirrored[:, 1])
        edge: Points = np.vstack([[(half, height)], beyond]) * (side, 1)
        return edge if side < 0 else edge[::-1]

    return kept(inner, gap[0] / 2), kept(outer, gap[1] / 2)


def _band_piece(view: View, inner: Points, outer: Points) -> None:
    view.area(np.vstack([inner, outer[::-1]]), "metal")
    view.line(inner, "outline")
    view.line(outer, "outline")
    limit = max(abs(inner[0, 0]), abs(inner[-1, 0]))
    for place in (0, -1):
        edge = "break" if abs(abs(inner[place, 0]) - limit) < 1e-9 else "outline"
        view.line(np.vstack([inner[place], outer[place]]), edge)


def band_from_side(view: View, model: SheetModel, bottom: float) -> None:
    """The band seen along its run: its width, rounded on top as its profile asks, the finger's top hidden."""
    band, finger = model.band, model.finger
    if band is None or finger is None:
        return
    half, top = band.width / 2, band_top(model)
    crown = {"half-round": 0.8, "court": 0.35}.get(band.profile, 0.0) * band.thickness
    crown = min(crown, 0.8 * (top - finger))
    turn = np.linspace(0, np.pi, 24)
    edge = np.column_stack([half * np.cos(turn), top - crown + crown * np.sin(turn)])
    view.area(np.vstack([edge, [(-half, bottom), (half, bottom)]]), "metal")
    view.line(np.vstack([[(half, bottom)], edge, [(-half, bottom)]]), "outline")
    view.line([(-half, bottom), (half, bottom)], "break")
    view.line([(-half, finger), (half, finger)], "hidden")


def band_from_above(view: View, model: SheetModel, half_length: float) -> None:
    """The band's edges running away on both sides of the head."""
    if model.band is None:
        return
    half = model.band.width / 2
    view.area(np.array([(-half_length, -half), (half_length, -half), (half_length, half), (-half_length, half)]),
              "metal")
    for edge in (-half, half):
        view.line([(-half_length, edge), (half_length, edge)], "outline")
    for end in (-half_length, half_length):
        view.line([(end, -half), (end, half)], "break")


def section(view: View, model: SheetModel, azimuth: float, left: float) -> None:
    """Half-section through a claw or the wall: cut metal hatched, the stone cut but not hatched, the axis."""
    clipped = _right_of(stone_section(model.plan.job.stone.cut, model.plan.stone, azimuth), left)
    view.area(clipped, "stone-cut", "stone-edge")
    for ring in model.head.rings:
        wire = outlines.circle(ring.wire / 2, 32) + (ring.radius, ring.z)
        cut = _below_pavilion(wire, model)
        if len(cut) > 2:
            view.area(cut, "metal-cut", "cut", "cross")
    for wall in model.head.walls:
        view.area(wall.profile, "metal-cut", "cut", "slant")
    if model.head.claws is not None:
        view.area(model.head.claws.profile, "metal-cut", "cut", "slant")


def _right_of(outline: Points, left: float) -> Points:
    """The part of a convex outline at r ≥ left."""
    return _kept(outline, outline[:, 0] - left)


def _below_pavilion(outline: Points, model: SheetModel) -> Points:
    """The part of a ring's wire that its countersink leaves."""
    run = CUTS[model.plan.job.stone.cut].pavilion_run(model.plan.stone)
    return _kept(outline, outline[:, 0] - (model.stone_radius + outline[:, 1] * run))


def _kept(outline: Points, inside: Points) -> Points:
    """The part of a convex outline where ``inside`` (one value a corner) is not negative."""
    kept: list[Points] = []
    for place, start in enumerate(outline):
        after = (place + 1) % len(outline)
        if inside[place] >= 0:
            kept.append(start)
        if inside[place] * inside[after] < 0:
            kept.append(start + (outline[after] - start) * inside[place] / (inside[place] - inside[after]))
    return np.array(kept).reshape(-1, 2)
