"""Stone, head, band and finger as they look in each view: one look for each, back to front."""

from __future__ import annotations

from collections.abc import Collection

import numpy as np

from yarvel.drawing import outlines
from yarvel.drawing.model import SheetModel, above_finger
from yarvel.drawing.primitives import Facets, Points
from yarvel.drawing.stone_look import ABOVE, FRONT, SIDE, Direction, StoneLook, look
from yarvel.drawing.stone_look import section as stone_section
from yarvel.drawing.view import View
from yarvel.heads import holding, rings
from yarvel.heads.places import POINT, ClawPosition, longest_stretch
from yarvel.heads.shape import Hooks, Vees, WireRing, reach_at
from yarvel.shanks import fish_mouth
from yarvel.shanks.band import Band
from yarvel.shanks.developments import depth_under
from yarvel.shanks.joinery import Carving

_FRONT_LIMIT = 0.35


def stone(view: View, model: SheetModel, direction: Direction) -> None:
    """The facets that face the viewer, each toned by the light, and the outline."""
    if not model.sees_stone:
        return
    seen = _look(model, direction)
    edge = model.outline.points if direction is ABOVE else seen.outline
    view.area(edge, "stone")
    for body in seen.bodies:
        view.drawing.items.append(
            Facets(
                points=view.all(body.corners),
                loops=body.loops,
                shades=body.shades,
                edges=body.edges,
                fill="stone",
                stroke="facet",
            )
        )
    view.line(_closed(edge), "stone-edge")


def _look(model: SheetModel, direction: Direction) -> StoneLook:
    return look(model.cut.key, model.plan.stone, model.plan.facts.along_band, direction)


def _closed(points: Points) -> Points:
    return np.vstack([points, points[:1]])


def head_from_side(view: View, model: SheetModel, direction: Direction) -> None:
    """Head and stone seen level, back to front."""
    head = model.head
    front, back = _by_depth(head.places, direction)
    within: list[ClawPosition] = []
    if rings.drill_offset_mm in model.plan.figures:  # posts stand in the wire, Vs in slots that are open outwards
        within = [place for place in front if place.kind != POINT]
        front = [place for place in head.places if place.kind == POINT and _depth(place, direction) > -_FRONT_LIMIT]
        back = [place for place in back if place not in front]
    for place in back:
        _claw(view, model, place, direction)
    stone(view, model, direction)
    for place in within:
        _claw(view, model, place, direction)
    along = direction.along
    for bar in _hooks(head.hooks, direction):
        view.area(_cut(bar, model, direction), "metal", "outline")
    for ring in head.rings:
        reach = _ring_edge(model, ring) @ np.array(direction.right[:2])
        bar = outlines.ring_silhouette(
            float(reach.min()) + ring.across_mm / 2, float(reach.max()) - ring.across_mm / 2, ring
        )
        view.area(_cut(bar, model, direction), "metal", "outline")
    for wall in head.walls:
        losses = model.outline.loss(along + 180), model.outline.loss(along)
        seen = outlines.wall_silhouette(wall.profile, -model.edge(along + 180), model.edge(along), losses)
        seen = _hollowed(seen, model) if direction is SIDE and model.joinery.saddle else _cut(seen, model, direction)
        view.area(seen, "metal", "outline")
        if not head.places and model.sees_stone:
            view.line(_closed(_look(model, direction).outline), "hidden")
    for place in front:
        _claw(view, model, place, direction)


def _ring_edge(model: SheetModel, ring: WireRing) -> Points:
    """A ring's outside seen from above, (n, 2), mm, without what is cut away where a V stands in a slot of it; its
    inside where Vs leave nothing of that."""
    edge, vees = model.outline.inset(ring.outside_inset_mm), model.head.vees
    if vees is None or not vees.slotted:
        return edge
    left = edge[~vees.beyond(edge, ring.z_mm)]
    return left if len(left) > 2 else model.outline.inset(ring.inset_mm + ring.across_mm / 2)


def _hooks(hooks: Hooks | None, direction: Direction) -> list[Points]:
    """Legs bent in below, seen from the side, each (4, 2), mm."""
    if hooks is None:
        return []
    right = np.array(direction.right[:2])
    return [
        outlines.bar_silhouette(float(right @ start), float(right @ end), hooks.z_mm, hooks.wire_mm)
        for start, end in hooks.bars
    ]


def _hollowed(seen: Points, model: SheetModel) -> Points:
    """A wall's silhouette from the side (from its right foot round to its left), the foot cut to the band: deepest in
    the middle, at the crest on both sides."""
    if model.band is None:
        return seen
    (right, foot), left = seen[0], float(seen[-1, 0])
    radius = (right - left) / 2
    across = np.linspace(left, right, 25)
    reach = np.sqrt(np.maximum(radius**2 - (across - (left + right) / 2) ** 2, 0.0))
    crest = foot + model.plan[fish_mouth.saddle_depth_mm]
    curve = np.column_stack([across, crest - depth_under(model.band, reach, across)])
    return np.vstack([seen[seen[:, 1] > crest], curve])


def _by_depth(places: tuple[ClawPosition, ...], direction: Direction) -> tuple[list[ClawPosition], list[ClawPosition]]:
    """Claws before and behind the stone; those in profile count as behind, for the stone shows in their notch."""
    ordered = sorted(places, key=lambda place: _depth(place, direction))
    front = [place for place in ordered if _depth(place, direction) > _FRONT_LIMIT]
    return front, [place for place in ordered if _depth(place, direction) <= _FRONT_LIMIT]


def _depth(place: ClawPosition, direction: Direction) -> float:
    """How squarely a place looks towards the eye: −1 to 1."""
    return place.normal[0] * direction.toward[0] + place.normal[1] * direction.toward[1]


def _claw(view: View, model: SheetModel, place: ClawPosition, direction: Direction) -> None:
    claws, vees, reach = model.head.claws, model.head.vees, model.claw_reach
    right = direction.right
    if reach is None:
        return
    if place.kind == POINT and vees is not None:
        seen = outlines.vee_silhouette(reach, vees, place, (right[0], right[1]))
        view.area(_cut(seen, model, direction), "metal", "outline")
        view.line(_ridge(reach, vees, place, (right[0], right[1])), "outline")
        return
    base = place.x_mm * right[0] + place.y_mm * right[1]
    along = place.normal[0] * right[0] + place.normal[1] * right[1]
    if claws is None:
        return
    if abs(along) > 0.9998:
        view.area(_cut(claws.profile * (np.sign(along), 1) + (base, 0), model, direction), "metal", "outline")
        return
    seen = outlines.claw_silhouette(reach, claws.width_mm, base, along)
    view.area(_cut(seen, model, direction), "metal", "outline")


def _cut(seen: Points, model: SheetModel, direction: Direction) -> Points:
    """An outline seen along the finger, cut to the finger's curve where the foot is; seen along the band, its outer
    edges stand on the finger as they are."""
    return above_finger(seen, model) if direction is FRONT else seen


def _ridge(reach: tuple[Points, Points, Points], vees: Vees, place: ClawPosition, right: tuple[float, float]) -> Points:
    """The outer edge of a V's fold, seen from the side."""
    path, ways = vees.path(place)
    _, most, heights = reach
    return np.column_stack([path[1] @ np.array(right) + ways[1] @ np.array(right) * most, heights])


def head_from_above(view: View, model: SheetModel, missing: Collection[ClawPosition] = ()) -> None:
    """Plan: the stone with its crown facets, claws or rim over it, the upper ring as a hidden line; where a claw is
    missing its outline alone, as a hidden line."""

    def claw(place: ClawPosition, closed: Points) -> None:
        if place in missing:
            view.line(_closed(closed), "hidden")
        else:
            view.area(closed, "metal", "outline")

    head, outline = model.head, model.outline
    upper = head.rings[:1] if rings.ring_hidden_by_mm in model.plan.figures else ()
    for ring in upper:
        if ring.outside_inset_mm < 0:
            view.area(_ring_edge(model, ring), "metal", "outline")
    for wall in head.walls:
        view.area(outline.inset(-float(wall.profile[:, 0].max())), "metal", "outline")
        if not model.sees_stone:
            view.area(outline.inset(head.opening_inset_mm), "paper", "outline")
    stone(view, model, ABOVE)
    for ring in upper:
        view.line(_closed(_ring_edge(model, ring)), "hidden")
    for wall in head.walls if not head.places else ():
        _rim(view, wall.profile, model)
    if head.claws is not None:
        for place in head.claws.places:
            claw(place, outlines.claw_from_above(place, head.claws.tip_cover_mm, model.out, head.claws.width_mm))
    if head.vees is not None:
        cover = -float(head.vees.profile[:, 0].min())
        for place in head.vees.places:
            claw(place, outlines.vee_from_above(head.vees, place, _tip_cover(head.vees.profile, cover), model.out))


def holding_from_above(view: View, model: SheetModel) -> None:
    """Where each claw pushes, and the longest stretch without one, on stones that are not evenly held all round."""
    places = model.head.places
    if holding.OPEN_STRETCH not in model.plan.figures or not places or not model.sees_stone:
        return
    reach = 0.16 * float(model.plan.stone.width_mm)
    for place in places:
        x, y = place.normal
        view.line(
            [
                (place.x_mm - 0.35 * reach * x, place.y_mm - 0.35 * reach * y),
                (place.x_mm - reach * x, place.y_mm - reach * y),
            ],
            "seat-line",
        )
    run = longest_stretch(model.outline, places)
    view.line(run * (1 + 0.35 / max(model.half_x, model.half_y)), "stretch")


def _tip_cover(profile: Points, most: float) -> float:
    """How far the tip of a section reaches inwards above the girdle."""
    above = profile[profile[:, 1] > 0.3 * float(profile[:, 1].max())]
    return -float(above[:, 0].min()) if len(above) else most


def _rim(view: View, profile: Points, model: SheetModel) -> None:
    above = profile[profile[:, 1] > float(model.plan.stone.girdle_mm)]
    if len(above) == 0:  # all of it lies under the girdle
        return
    inner = model.outline.inset(-float(above[:, 0].min()))
    outer = model.outline.inset(-float(profile[:, 0].max()))
    view.area(np.vstack([outer, outer[:1], inner[:1], inner[::-1]]), "metal")
    for ring in (inner, outer):
        view.line(_closed(ring), "outline")


def shoulders_from_above(view: View, model: SheetModel) -> None:
    """Small rounds in the shoulders, foreshortened by the band's curve, in their bezels where they have them; the
    ground that is cut down round carved ones, with its steps and necks."""
    band, small = model.band, model.joinery.small
    if band is None or small is None or not (model.sees_band and model.sees_stone):
        return
    if small.carving is not None:
        _ground_from_above(view, band, small.carving, small.angles_deg)
    for angle in small.angles_deg:
        turn = np.radians(angle)
        middle, flat = (band.outside_radius * float(np.sin(turn)), 0.0), (float(np.cos(turn)), 1.0)
        for diameter, fill, edge in ((small.outer_mm, "metal", "outline"), (small.stone_mm, "stone", "stone-edge")):
            ring = outlines.circle(diameter / 2, 40) * flat + middle
            view.area(ring, fill)
            view.line(_closed(ring), edge)


def _ground_from_above(view: View, band: Band, carving: Carving, angles_deg: tuple[float, ...]) -> None:
    """Steps across the band where it is cut down, and the necks from one bezel to the next."""

    def out(angle: float) -> float:
        return band.outside_radius * float(np.sin(np.radians(min(angle, 90.0))))

    for way in (-1.0, 1.0):
        for edge in (carving.from_deg, carving.to_deg):
            half = float(band.width_at(edge)) / 2
            view.line([(way * out(edge), -half), (way * out(edge), half)], "outline")
        own = sorted(abs(angle) for angle in angles_deg if angle * way > 0)
        for side in (-1.0, 1.0):
            y = side * carving.neck_mm / 2
            if len(own) > 1:
                view.line([(way * out(own[0]), y), (way * out(own[-1]), y)], "outline")


def section(view: View, model: SheetModel, left: float) -> None:
    """Half-section through a claw or the wall: cut metal hatched, the stone cut but not hatched, the axis."""
    place, edge, wider = model.section_place, model.section_edge, model.section_stretch
    along = float(np.cos(np.radians(model.section_deg)))
    off = 0.0 if place is None else place.y_mm * place.normal[0] - place.x_mm * place.normal[1]
    for outline in (
        ()
        if not model.sees_stone
        else stone_section(model.cut.key, model.plan.stone, model.plan.facts.along_band, model.section_deg, off)
    ):
        clipped = _right_of(outline, left)
        if len(clipped) > 2:
            view.area(clipped, "stone-cut", "stone-edge")
    vees = model.head.vees
    for ring in model.head.rings:
        wire = ring.section + (edge - ring.inset_mm * wider, ring.z_mm)
        cut = _below_pavilion(wire, model)
        if vees is not None and vees.slotted and place in vees.places and len(cut) > 2:
            outer = np.interp(cut[:, 1], *_outer_edge(vees, ring, edge, wider))
            cut = _kept(cut, outer - cut[:, 0])
        if len(cut) > 2:
            view.area(above_finger(cut, model, along), "metal-cut", "cut", "cross")
    for wall in model.head.walls:
        view.area(above_finger(wall.profile + (edge, 0), model, along), "metal-cut", "cut", "slant")
    for part in (model.head.claws, model.head.vees):
        if part is not None and place in part.places:
            view.area(above_finger(part.profile * (wider, 1) + (edge, 0), model, along), "metal-cut", "cut", "slant")
    claws, hooks = model.head.claws, model.head.hooks
    if place is not None and hooks is not None and claws is not None and place in claws.places:
        start, end = hooks.bars[claws.places.index(place)]
        normal = np.array(place.normal)
        bar = outlines.bar_silhouette(float(normal @ start), float(normal @ end), hooks.z_mm, hooks.wire_mm)
        view.area(above_finger(bar, model, along), "metal-cut", "cut", "slant")


def _outer_edge(vees: Vees, ring: WireRing, edge: float, wider: float) -> tuple[Points, Points]:
    """Heights of a ring's foot and top, and how far out a V reaches there in a section through its fold, mm."""
    heights = np.array([ring.foot_mm, ring.top_mm])
    _, most = reach_at(vees.profile, heights)
    return heights, edge + wider * most


def _right_of(outline: Points, left: float) -> Points:
    """The part of a convex outline at r ≥ left."""
    return _kept(outline, outline[:, 0] - left)


def _below_pavilion(outline: Points, model: SheetModel) -> Points:
    """The part of a ring's wire that its countersink leaves."""
    run = float(model.plan.facts.run) * model.section_stretch
    return _kept(outline, outline[:, 0] - (model.section_edge + outline[:, 1] * run))


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
