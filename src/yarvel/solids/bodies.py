"""Closed bodies of the parts of a head: claws, Vs, rings, walls. Frame as the head's; mm.

Everything is built so that it is closed whatever the measures: hulls, extrusions, and sweeps whose seams share points.
"""

from __future__ import annotations

import numpy as np
from manifold3d import CrossSection, Manifold, Mesh64, OpType, triangulate
from msgspec import Struct
from numpy.typing import NDArray

from yarvel.heads.places import ClawPosition
from yarvel.heads.shape import Claws, Hooks, Polygon, Vees, Wall, WireRing, reach_at, uncut
from yarvel.stones.outline import Outline

Points = NDArray[np.float64]
_SLIVER = 1e-4
_SLICES = 9
_SHARED_MM = 0.02
_BELOW = 0.15
_DUST_MM3, _CRUMB_SHARE = 1e-5, 2e-3


class Fineness(Struct, frozen=True):
    """How many straight pieces stand for a full circle: of a wire's section, of a ring's run."""

    wire: int
    run: int


FINE, COARSE = Fineness(36, 96), Fineness(8, 28)


def swept(section: Polygon, path: Points, ways: Points, closed: bool) -> Manifold:
    """A section (u, z) carried along stations: ``path`` (n, 2) on the ground, ``ways`` (n, 2) how a station's points
    move per mm of u. Closed runs back into its start; open is capped at both ends."""
    count, stations = len(section), len(path)
    points = path[:, None, :] + section[None, :, 0, None] * ways[:, None, :]
    heights = np.broadcast_to(section[None, :, 1, None], (stations, count, 1))
    rows = np.concatenate([points, heights], axis=2)
    return joined(rows) if closed else joined(rows, capped(section))


def joined(rows: Points, cap: NDArray[np.int64] | None = None) -> Manifold:
    """A body from loops of points (stations, count, 3), mm, at successive stations: closed into a ring, or capped at
    both ends with these triangles (m, 3) of one loop."""
    stations, count = rows.shape[:2]
    place = np.arange(count)
    after = (place + 1) % count
    station = np.arange(stations if cap is None else stations - 1)[:, None] * count
    here, there = station, (station + count) % (stations * count)
    first, second = (here + place, there + place, there + after), (here + place, there + after, here + after)
    triangles = [np.stack(three, axis=-1).reshape(-1, 3) for three in (first, second)]
    if cap is not None:
        triangles += [cap, cap[:, ::-1] + (stations - 1) * count]
    return _closed(rows.reshape(-1, 3), np.vstack(triangles))


def capped(section: Polygon) -> NDArray[np.int64]:
    """Triangles (m, 3) of point numbers that close one loop (n, 2), turned as the loop is."""
    x, z = section.T
    turned = np.sum(x * np.roll(z, -1) - np.roll(x, -1) * z) < 0
    loop = np.asarray(section[::-1] if turned else section, dtype=float)
    triangles = np.asarray(triangulate([loop]), dtype=np.int64)
    return (len(section) - 1 - triangles)[:, ::-1] if turned else triangles


def _closed(vertices: Points, triangles: NDArray[np.int64]) -> Manifold:
    """A body from a closed mesh, its faces turned outwards."""
    first, second, third = vertices[triangles].swapaxes(0, 1)
    if np.einsum("ij,ij->", first, np.cross(second, third)) < 0:  # six times its volume: wound the other way
        triangles = triangles[:, ::-1]
    return Manifold(Mesh64(np.ascontiguousarray(vertices), np.ascontiguousarray(triangles.astype(np.uint64))))


def claw(part: Claws, fineness: Fineness) -> Manifold:
    """One claw at its contact, before the seat is cut: u along x, the claw's width along y."""
    section = uncut(part.profile)
    plate = extruded(section, part.width_mm)
    inner, outer = section[1, 0], section[-2, 0]
    if abs(outer - inner - part.width_mm) > 1e-6:
        return plate
    foot = section[0]
    lean = (inner - foot[0]) / max(-foot[1], 1e-9)
    turn = np.arange(fineness.wire) * 2 * np.pi / fineness.wire
    circle = np.column_stack([np.cos(turn), np.sin(turn)]) * part.width_mm / 2
    middle = (inner + outer) / 2
    low = np.column_stack([circle + (middle + lean * foot[1], 0), np.full(len(circle), foot[1])])
    high = np.column_stack([circle + (middle, 0), np.zeros(len(circle))])
    wire = Manifold.hull_points(np.vstack([low, high]))
    tip = plate.trim_by_plane((0, 0, 1), -_BELOW) ^ _tongue(section, part.width_mm, fineness)
    return wire + tip


def _tongue(section: Polygon, width: float, fineness: Fineness) -> Manifold:
    """An upright prism that rounds a claw's tip and back as seen from above."""
    near, far = float(section[:, 0].min()), float(section[:, 0].max())
    half = width / 2
    end = min(half, (far - near) / 2)
    turn = np.linspace(-np.pi / 2, np.pi / 2, fineness.wire // 2 + 1)
    nose = np.column_stack([np.cos(turn) * end, np.sin(turn) * half])
    outline = np.vstack([nose + (far - end, 0), -nose * (0.8, 1) + (near + end * 0.8, 0)])
    low, high = float(section[:, 1].min()) - 1, float(section[:, 1].max()) + 1
    return CrossSection([outline]).extrude(high - low).translate((0, 0, low))


def extruded(section: Polygon, width_mm: float) -> Manifold:
    """A section (n, 2) of (u, z) in mm as a plate ``width_mm`` thick about y = 0."""
    path = np.array([(0.0, -width_mm / 2), (0.0, width_mm / 2)])
    return swept(section, path, np.array([(1.0, 0.0), (1.0, 0.0)]), closed=False)


def bars(part: Hooks, fineness: Fineness) -> list[Manifold]:
    """Legs bent in below a head: round wire from under each claw, rounded where it turns, cut off at its inner end."""
    manifolds = []
    for start, end in part.bars:
        run = np.array(end) - np.array(start)
        length, radius = float(np.hypot(*run)), part.wire_mm / 2
        bar = Manifold.cylinder(length, radius, circular_segments=fineness.wire).rotate((0, 90, 0))
        bar += Manifold.sphere(radius, fineness.wire)
        turned = bar.rotate((0, 0, float(np.degrees(np.arctan2(run[1], run[0])))))
        manifolds.append(turned.translate((*start, part.z_mm)))
    return manifolds


def placed(body: Manifold, place: ClawPosition) -> Manifold:
    """A body made at a contact, taken to a place on the outline."""
    return body.rotate((0, 0, place.normal_deg)).translate((place.x_mm, place.y_mm, 0))


def vee(part: Vees, place: ClawPosition, girdle_mm: float, fineness: Fineness) -> Manifold:
    """One V over a point with its relief hole, before its seat is cut."""
    section = uncut(part.profile)
    spots = part.stations(place, section[:, 0], section[:, 1])
    heights = np.broadcast_to(section[None, :, 1, None], (*spots.shape[:2], 1))
    body = joined(np.concatenate([spots, heights], axis=2), capped(section))
    top = girdle_mm + part.relief_mm
    hole = Manifold.cylinder(top + part.relief_mm * 2, part.relief_mm / 2, circular_segments=fineness.wire)
    return body - hole.translate((place.x_mm, place.y_mm, -part.relief_mm * 2))


def vee_slot(body: Manifold, place: ClawPosition, part: WireRing) -> Manifold:
    """What is cut out of a ring for a V that stands in its wire: all that is outside its legs. What they take up
    themselves stays, so that V and ring share room and not only a face."""
    turn = np.radians(place.normal_deg)
    out, along = np.array([np.cos(turn), np.sin(turn), 0.0]), np.array([-np.sin(turn), np.cos(turn), 0.0])
    trim = body.trim_by_plane((0, 0, 1), part.foot_mm - _BELOW).trim_by_plane((0, 0, -1), -part.top_mm - _BELOW)
    legs = trim.split_by_plane(tuple(along), float(along[:2] @ (place.x_mm, place.y_mm)))
    ways = tuple(out * _SHARED_MM), tuple(out * 2 * part.across_mm)
    swept_out = [Manifold.batch_hull([leg.translate(way) for way in ways]) for leg in legs]
    return Manifold.batch_boolean(swept_out, OpType.Add)


def ring(part: WireRing, outline: Outline, fineness: Fineness, round_stone: bool) -> Manifold:
    """A ring of wire along the outline moved inwards."""
    if round_stone:
        radius = max(float(np.ptp(outline.points[:, 0])) / 2 - part.inset_mm, part.across_mm / 2 + _SLIVER)
        plain = CrossSection([part.section]) if part.angular else CrossSection.circle(part.across_mm / 2, fineness.wire)
        section = plain.translate((radius, part.z_mm))
        return section.revolve(fineness.run)
    turn = np.arange(fineness.wire) * 2 * np.pi / fineness.wire
    around = part.section if part.angular else np.column_stack([np.cos(turn), np.sin(turn)]) * part.across_mm / 2
    section = around + (0, part.z_mm)
    path = thinned(outline.inset(part.inset_mm), fineness.run)
    ways = Outline(path).mitres
    return _chained(section, path, ways) if outline.cleft else swept(section, path, ways, closed=True)


def _chained(section: Polygon, path: Points, ways: Points) -> Manifold:
    """A closed ring with a cleft: swept where it runs on, and a chain of convex links where it turns back so sharply
    that a sweep would run into itself."""
    cleft = path[int(np.argmin(Outline(path).turning))]
    near = np.linalg.norm(path - cleft, axis=1) < 2.5 * float(np.ptp(section[:, 0]))
    all_near = bool(near.all())  # wire that is thick for its ring: links all round
    first = int(np.argmax(near & ~np.roll(near, 1)))
    path, ways, near = (np.roll(row, -first, axis=0) for row in (path, ways, near))
    last = len(path) if all_near else int(np.argmin(near))
    points = path[:, None, :] + section[None, :, 0, None] * ways[:, None, :]
    heights = np.broadcast_to(section[None, :, 1, None], (len(path), len(section), 1))
    rows = np.concatenate([points, heights], axis=2)
    after = np.roll(rows, -1, axis=0)
    links = [Manifold.hull_points(np.vstack(pair)) for pair in zip(rows[:last], after[:last], strict=True)]
    if all_near:
        return dusted(Manifold.batch_boolean(links, OpType.Add))
    links.append(Manifold.hull_points(np.vstack([rows[-1], rows[0]])))
    on = swept(section, path[last - 1 :], ways[last - 1 :], closed=False)
    return dusted(Manifold.batch_boolean([*links, on], OpType.Add))


def dusted(body: Manifold) -> Manifold:
    """A body without the slivers that rounding leaves where faces nearly coincide, and without crumbs: corners of a tip
    that the stone cuts loose, as the setter's file would."""
    pieces = body.decompose()
    least = max(_DUST_MM3, _CRUMB_SHARE * float(body.volume()))
    kept = [piece for piece in pieces if piece.volume() > least]
    return body if len(kept) == len(pieces) or not kept else Manifold.compose(kept)


def wall(part: Wall, outline: Outline, fineness: Fineness, round_stone: bool) -> Manifold:
    """A wall all round, before its seat is cut."""
    section = uncut(part.profile) if len(part.profile) > 4 else part.profile
    if round_stone:
        radius = float(np.ptp(outline.points[:, 0])) / 2
        loop = section + (radius, 0)
        loop = loop[::-1] if _clockwise(loop) else loop
        return CrossSection([np.ascontiguousarray(loop)]).revolve(fineness.run)
    path = outline.points
    ways = outline.mitres
    inwards = path + ways * float(section[:, 0].min())
    safe = np.einsum("ij,ij->i", np.roll(inwards, -1, axis=0) - inwards, outline.edges) > 0
    if not outline.cleft and not np.all(safe):
        return _slabs(section, outline)
    return swept(section, path, ways, closed=True)


def _slabs(section: Polygon, outline: Outline) -> Manifold:
    """A wall from level slices between outlines moved in and out, where its inside turns tighter than its offset."""
    heights = np.unique(np.round(section[:, 1], 5))
    heights = heights[np.concatenate([[True], np.diff(heights) > 1e-3])]
    if len(heights) > _SLICES:
        heights = heights[np.unique(np.linspace(0, len(heights) - 1, _SLICES).astype(int))]
    least, most = reach_at(section, heights)
    slices = []
    for low, high, inner, outer in zip(
        heights[:-1],
        heights[1:],
        zip(least[:-1], least[1:], strict=True),
        zip(most[:-1], most[1:], strict=True),
        strict=True,
    ):
        solid = _frustum(outline, outer, (low, high))
        slices.append(solid - _frustum(outline, inner, (low - 1e-3, high + 1e-3)))
    return Manifold.batch_boolean(slices, OpType.Add)


def _frustum(outline: Outline, outwards: tuple[float, float], heights: tuple[float, float]) -> Manifold:
    rings = [
        np.column_stack([loop, np.full(len(loop), height)])
        for loop, height in zip((outline.inset(-out) for out in outwards), heights, strict=True)
    ]
    return Manifold.hull_points(np.vstack(rings))


def _clockwise(loop: Polygon) -> bool:
    x, y = loop.T
    return bool(np.sum(x * np.roll(y, -1) - np.roll(x, -1) * y) < 0)


def thinned(path: Points, most: int) -> Points:
    """A closed path (n, 2) with about ``most`` points, (m, 2): those that turn least are left out first; corners
    stay."""
    if len(path) <= most:
        return path
    edge = np.roll(path, -1, axis=0) - path
    before = np.roll(edge, 1, axis=0)
    cross = before[:, 0] * edge[:, 1] - before[:, 1] * edge[:, 0]
    turn = np.abs(np.arctan2(cross, np.einsum("ij,ij->i", before, edge)))
    sharp = np.flatnonzero(turn > 0.3)
    spread = np.linspace(0, len(path), most, endpoint=False).astype(int)
    kept: Points = path[np.unique(np.concatenate([sharp, spread]))]
    return kept
