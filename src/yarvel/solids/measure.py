"""What bodies tell: mass, sections, silhouettes, clashes, contact of stone and metal."""

from __future__ import annotations

import numpy as np
from manifold3d import Manifold, OpType
from msgspec import Struct
from numpy.typing import NDArray

from yarvel.heads.style import StoneFacts
from yarvel.solids.build import HEAD, STONE, Solids
from yarvel.stones.cut import solids_of

Points = NDArray[np.float64]
_ON_MM = 2e-4
_AT_ONCE = 1000


def volume_mm3(body: Manifold) -> float:
    """Volume in mm³."""
    return float(body.volume())


def mass_g(body: Manifold, density_g_cm3: float) -> float:
    """Mass in g at a density in g/cm³."""
    return volume_mm3(body) * density_g_cm3 / 1000


def centre_of_mass(bodies: list[tuple[Manifold, float]]) -> Points:
    """Centre of mass (3,) in mm of bodies with their densities in g/cm³: each triangle and the origin span a
    tetrahedron whose signed volume weighs its middle (divergence theorem)."""
    total, moment = 0.0, np.zeros(3)
    for body, density in bodies:
        mesh = body.to_mesh64()
        corners = np.asarray(mesh.vert_properties)[:, :3][np.asarray(mesh.tri_verts, dtype=np.int64)]
        volumes = np.einsum("ij,ij->i", corners[:, 0], np.cross(corners[:, 1], corners[:, 2])) / 6
        total += density * float(volumes.sum())
        moment += density * (volumes[:, None] * corners.sum(axis=1) / 4).sum(axis=0)
    centre: Points = moment / total
    return centre


def reach_up_mm(head: Manifold, height_mm: float, wire_mm: float) -> float | None:
    """How far along the finger a head's metal reaches near a height over the seat, within a wire's breadth of the
    middle, mm; None where there is none."""
    far = 200.0
    beam = Manifold.cube((0.8 * wire_mm, far, 0.8 * wire_mm)).translate(
        (-0.4 * wire_mm, 0.0, height_mm - 0.4 * wire_mm)
    )
    met = head ^ beam
    return None if met.is_empty() else float(met.bounding_box()[4])


def middle_strip(body: Manifold, width_mm: float) -> Manifold:
    """What of a body lies within half a ``width_mm`` of the finger's direction, on its upper side, mm."""
    far = 200.0
    return body ^ Manifold.cube((width_mm, far, 2 * far)).translate((-width_mm / 2, 0.0, -far))


def rod_across(radius_mm: float, length_mm: float, middle_mm: tuple[float, float]) -> Manifold:
    """A rod along the band about the middle, at (along the finger, height over the seat), mm: what goes through a
    pendant's ring."""
    rod = Manifold.cylinder(length_mm, radius_mm, circular_segments=48, center=True)
    return rod.rotate((0, 90, 0)).translate((0.0, *middle_mm))


def silhouette(body: Manifold, toward: tuple[float, float, float]) -> list[Points]:
    """Outlines (n, 2) of a body seen from a side: (1, 0, 0), (0, −1, 0) or (0, 0, 1). Right and up are those of the
    drawing's views."""
    if toward[2]:
        return [np.asarray(loop) for loop in body.project().to_polygons()]
    turn = float(np.degrees(np.arctan2(toward[1], toward[0])))
    laid = body.rotate((0, 0, -90 - turn)).rotate((90, 0, 0))
    return [np.asarray(loop) * (1, -1) for loop in laid.mirror((0, 1, 0)).project().to_polygons()]


class StoneClash(Struct, frozen=True, kw_only=True):
    """Where stone and metal meet, mm³ and mm²: what the stone takes of the rings, of the walls under the seat, of the
    claws under the seat; what of it still overlaps once the seats are cut; how much of the stone bears on metal."""

    rings_mm3: float
    walls_mm3: float
    claws_mm3: float
    left_mm3: float
    contact_mm2: float
    ring_share: float


def clash(solids: Solids, facts: StoneFacts) -> StoneClash:
    """Measure stone against metal."""
    stone = solids.parts[STONE]
    below = stone.trim_by_plane((0, 0, -1), 0.0)
    rings = [volume_mm3(ring ^ below) for ring in solids.rings]
    upper = volume_mm3(solids.rings[0]) if solids.rings else 0.0
    return StoneClash(
        rings_mm3=sum(rings),
        walls_mm3=_shared(solids.walls, below),
        claws_mm3=_shared(solids.claws, below),
        left_mm3=volume_mm3(solids.parts[HEAD] ^ stone),
        contact_mm2=contact_mm2(solids.parts[HEAD], facts),
        ring_share=rings[0] / upper if upper > 0 else 0.0,
    )


def _shared(bodies: tuple[Manifold, ...], other: Manifold) -> float:
    if not bodies:
        return 0.0
    return volume_mm3(Manifold.batch_boolean(list(bodies), OpType.Add) ^ other)


def contact_mm2(head: Manifold, facts: StoneFacts) -> float:
    """Area in mm² of the head's surface that lies on the stone's: triangles whose middle lies on one of its bodies."""
    mesh = head.to_mesh64()
    points, triangles = np.asarray(mesh.vert_properties)[:, :3], np.asarray(mesh.tri_verts, dtype=np.int64)
    a, b, c = (points[triangles[:, place]] for place in range(3))
    areas = np.linalg.norm(np.cross(b - a, c - a), axis=1) / 2
    middle = (a + b + c) / 3
    on = np.zeros(len(areas), dtype=bool)
    for solid in solids_of(facts.cut, facts.stone, facts.along_band):
        planes = _planes(solid.points, [loop for _, loop in solid.facets])
        for first in range(0, len(middle), _AT_ONCE):
            some = slice(first, first + _AT_ONCE)
            off = np.max(middle[some] @ planes[:, :3].T - planes[:, 3], axis=1)
            on[some] |= np.abs(off) < _ON_MM
    return float(areas[on].sum())


def loose_pieces(body: Manifold) -> int:
    """How many pieces a body is in; what faces in common leave without volume does not count."""
    return sum(abs(volume_mm3(piece)) > _NOTHING_MM3 for piece in body.decompose())


_NOTHING_MM3 = 1e-6


def corner_room_mm(head: Manifold, corners: Points) -> float:
    """Least distance in mm from these points (n, 3) to the head's surface, by its triangles' corners and middles."""
    mesh = head.to_mesh64()
    points, triangles = np.asarray(mesh.vert_properties)[:, :3], np.asarray(mesh.tri_verts, dtype=np.int64)
    middles = points[triangles].mean(axis=1)
    surface = np.vstack([points, middles])
    if not len(surface):
        return 0.0
    return float(min(np.linalg.norm(surface - corner, axis=1).min() for corner in corners))


def _planes(points: Points, loops: list[tuple[int, ...]]) -> Points:
    """Outward planes (n, d) of convex facets."""
    corner = np.array([loop[:3] for loop in loops])
    a, b, c = (points[corner[:, place]] for place in range(3))
    normal = np.cross(b - a, c - a)
    size = np.linalg.norm(normal, axis=1)
    normal = normal[size > 1e-12] / size[size > 1e-12, None]
    start = a[size > 1e-12]
    outward = np.sign(np.einsum("ij,ij->i", normal, start - points.mean(axis=0)))
    normal = normal * outward[:, None]
    return np.column_stack([normal, np.einsum("ij,ij->i", normal, start)])
