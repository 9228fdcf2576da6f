"""The band as a closed body, cut as its head asks. Frame as the head's; x along the band; mm."""

from __future__ import annotations

import numpy as np
from manifold3d import CrossSection, Manifold, OpType
from msgspec import Struct
from numpy.typing import NDArray

from yarvel.figures.figure import Number
from yarvel.heads.shape import Claws, HeadShape
from yarvel.shanks.band import Band
from yarvel.shanks.joinery import Joinery, Recess, Split
from yarvel.solids.bodies import Fineness, capped, joined

Points = NDArray[np.float64]


class Seating(Struct, frozen=True):
    """Where head and band stand to each other: ``finger_mm`` the height of the finger's top (negative), ``joinery`` how
    they are cut, ``foot_mm`` the height of the head's foot; mm."""

    band: Band
    finger_mm: float
    joinery: Joinery
    foot_mm: float = 0.0

    @property
    def centre(self) -> float:
        """Height in mm of the finger's axis over the seat; below it, so negative."""
        return self.finger_mm - self.band.inside_radius

    @property
    def top(self) -> float:
        """Height in mm of the band's outside over the finger's top."""
        return self.finger_mm + self.band.thickness_mm


def shank_body(seating: Seating, shape: HeadShape, fineness: Fineness) -> Manifold:
    """The band round the finger with its gap, hole, flat or branches."""
    joinery = seating.joinery
    if joinery.split is not None:
        return _split(seating, joinery.split, fineness)
    body = round_about(seating, fineness)
    if joinery.flat:
        body = body.trim_by_plane((0, 0, -1), shape.height_mm)
    if joinery.recess is not None:
        body -= _recessed(seating, joinery.recess)
    if joinery.hollow is not None:
        body -= _hollowed(seating, joinery.hollow, seating.band.thickness_mm)
        if not joinery.bored:
            marks = 2 * joinery.marks_mm[0], 2 * joinery.marks_mm[1]
            body -= _wedge(seating, marks, seating.finger_mm, seating.band.thickness_mm)
    if joinery.hole is not None:
        depth = joinery.hole.depth_mm + (1.0 if joinery.hole.through else 0.0)
        drill = Manifold.cylinder(depth + 1.0, joinery.hole.diameter_mm / 2, circular_segments=2 * fineness.wire)
        body -= drill.translate((0, 0, seating.top - depth))
    return body


def round_about(seating: Seating, fineness: Fineness) -> Manifold:
    """The whole band, tapering as it may."""
    band = seating.band
    stations = 2 * fineness.run
    if not band.tapers:
        section = CrossSection([_sections(band, np.zeros(1), band.width_mm)[0]])
        return section.revolve(stations).rotate((90, 0, 0)).translate((0, 0, seating.centre))
    given = np.array([section.turn_deg for section in band.between])
    turns = np.unique(np.concatenate([np.linspace(0, 360, stations, endpoint=False), given, 360 - given]))
    return joined(_rows(seating, turns, band.width_at(np.minimum(turns, 360 - turns))))


def _arc(seating: Seating, fineness: Fineness, width_mm: float, to_deg: float) -> Manifold:
    """The band as far as an angle to both sides of the head, with a width of its own; mm."""
    given = [section.turn_deg for section in seating.band.between if section.turn_deg < to_deg]
    count = int(2 * fineness.run * to_deg / 180) + 3
    turns = np.unique(np.concatenate([np.linspace(-to_deg, to_deg, count), given, np.negative(given)]))
    rows = _rows(seating, turns, width_mm)
    return joined(rows, capped(_sections(seating.band, np.array([to_deg]), width_mm)[0]))


def _rows(seating: Seating, turns_deg: Points, width_mm: Number) -> Points:
    """The band's sections stood round the finger at angles (n,) from the head, each of m points: (n, m, 3), mm."""
    sections = _sections(seating.band, np.minimum(np.abs(turns_deg), 360 - np.abs(turns_deg)), width_mm)
    out, across = sections[..., 0], sections[..., 1]
    angle = np.radians(turns_deg)[:, None]
    return np.stack([out * np.sin(angle), across, seating.centre + out * np.cos(angle)], axis=-1)


def _sections(band: Band, turns_deg: Points, width_mm: Number) -> Points:
    """Sections of the band at angles (n,) from the head, in (distance from the finger's axis, along the finger), each
    of m points: (n, m, 2), mm."""
    inside, thickness = band.inside_radius, np.asarray(band.thickness_at(turns_deg))[:, None]
    half = np.broadcast_to(np.asarray(width_mm) / 2, turns_deg.shape)[:, None]
    outside = inside + thickness
    if band.rounded:
        turn = np.linspace(-np.pi / 2, np.pi / 2, 41)[None, :]
        crown = np.asarray(band.crown_at(turns_deg))[:, None] * thickness
        out, across = outside - crown + crown * np.cos(turn), half * np.sin(turn)
    else:
        out, across = np.hstack([outside, outside]), np.hstack([-half, half])
    foot = np.full_like(thickness, inside)
    return np.stack([np.hstack([foot, out, foot]), np.hstack([-half, across, half])], axis=-1)


def _recessed(seating: Seating, recess: Recess) -> Manifold:
    """What a head that is let in takes of the band, down to its floor."""
    body = _hollowed(seating, recess.loops, recess.depth_mm)
    if recess.marks_mm is not None:
        low, high = recess.marks_mm
        body += _wedge(seating, (2 * low, 2 * high), seating.foot_mm, recess.depth_mm)
    return body.trim_by_plane((0, 0, 1), seating.foot_mm)


def _wedge(seating: Seating, gap: tuple[float, float], foot_mm: float, high_mm: float) -> Manifold:
    """What is sawn out straight across the band: ``gap`` wide at a level over the seat and ``high_mm`` above it."""
    band = seating.band
    inside, outside = (width / 2 for width in gap)
    slope = (outside - inside) / max(high_mm, 1e-9)
    low, top = foot_mm - 3.0, foot_mm + high_mm + 3.0
    wedge = np.array(
        [(-inside + slope * 3, low), (inside - slope * 3, low), (outside + slope * 3, top), (-outside - slope * 3, top)]
    )
    wedge[:2, 0] = np.sign(wedge[:2, 0]) * np.maximum(np.abs(wedge[:2, 0]), 0.2)
    wide = 2 * band.width_mm
    return CrossSection([wedge]).extrude(wide).rotate((90, 0, 0)).translate((0, wide / 2, 0))


def _hollowed(seating: Seating, outlines: tuple[Points, Points], high_mm: float) -> Manifold:
    """What the head's own outline, at its foot and ``high_mm`` above it, takes of the band: hollowed ends, or a hole.
    It reaches down past the finger's curve and up past the band."""
    low, high = outlines
    beyond = 2.5
    slope = (high - low) / max(high_mm, 1e-9)
    foot = seating.foot_mm
    rows = []
    for level, loop in (
        (foot - beyond, low),
        (foot, low),
        (foot + high_mm, high),
        (
            foot + high_mm + beyond,
            high + beyond * np.maximum(slope * np.sign(high), 0) * np.sign(high),
        ),
    ):
        rows.append(np.column_stack([loop, np.full(len(loop), level)]))
    return joined(np.stack(rows), capped(low))


_BEYOND_DEG = 20.0


def _split(seating: Seating, split: Split, fineness: Fineness) -> Manifold:
    """The band up to the saw cuts, and four branches that spread to the head."""
    band = seating.band
    wide = 2 * (split.tip_side_mm + split.branch_mm)
    # the branches run along the band from the saw cuts up to the head: no farther round than those
    farthest = np.degrees(np.arcsin(min((split.start_mm + split.branch_mm) / band.inside_radius, 1.0)))
    whole, spread = round_about(seating, fineness), _arc(seating, fineness, wide, float(farthest) + _BEYOND_DEG)
    reach = 2 * (band.outside_radius + 1)
    above = Manifold.cube((2 * split.start_mm, reach, reach)).translate((-split.start_mm, -reach / 2, seating.centre))
    plates = []
    for side in (-1.0, 1.0):
        for way in (-1.0, 1.0):
            start, end, across = split.line(band.width_mm, way, side)
            root = start + (start - end) * split.branch_mm / np.hypot(*(start - end))
            plate = CrossSection(
                [_counter_clockwise(np.array([root - across, end - across, end + across, root + across]))]
            )
            plates.append(plate.extrude(reach).translate((0, 0, seating.centre)))
    return (whole - above) + (Manifold.batch_boolean(plates, OpType.Add) ^ spread)


def _counter_clockwise(loop: Points) -> Points:
    x, y = loop.T
    return loop if np.sum(x * np.roll(y, -1) - np.roll(x, -1) * y) > 0 else loop[::-1]


def finger_rod(seating: Seating, fineness: Fineness) -> Manifold:
    """The finger: what a foot that stands flush with it is cut by."""
    rod = Manifold.cylinder(80.0, seating.band.inside_radius, circular_segments=4 * fineness.run, center=True)
    return rod.rotate((90, 0, 0)).translate((0, 0, seating.centre))


def saddle(seating: Seating, fineness: Fineness) -> Manifold:
    """What a head's foot is hollowed by: the band's outside with its profile, beyond its edges as far out as there."""
    band = seating.band
    half, long = band.width_mm / 2, 40.0
    across = half * np.sin(np.linspace(-np.pi / 2, np.pi / 2, 41))
    outside = np.column_stack([np.asarray(band.outside_at(across)), across])
    edge = float(outside[0, 0])
    section = np.vstack([[(0.0, -long), (edge, -long)], outside, [(edge, long), (0.0, long)]])
    rod = CrossSection([section]).revolve(3 * fineness.run)
    return rod.rotate((90, 0, 0)).translate((0, 0, seating.centre))


def below_foot(seating: Seating, shape: HeadShape, fineness: Fineness) -> list[Manifold]:
    """What hangs below a head's foot: a peg with the floor it grows from, or claws that meet in a point."""
    joinery = seating.joinery
    manifolds: list[Manifold] = []
    if joinery.peg_mm is not None:
        diameter, length = joinery.peg_mm
        low, floor = seating.top - length, -shape.height_mm + (1.1 * shape.rings[-1].high_mm if shape.rings else 0.0)
        if shape.hooks is not None:
            floor = -shape.height_mm + shape.hooks.wire_mm
        manifolds.append(
            Manifold.cylinder(floor - low, diameter / 2, circular_segments=2 * fineness.wire).translate((0, 0, low))
        )
        if shape.rings and shape.hooks is None:
            ring = shape.rings[-1]
            reach = max(float(np.ptp(shape.outline.points[:, 0])) / 2 - ring.inset_mm, diameter / 2)
            manifolds.append(
                Manifold.cylinder(0.6 * ring.high_mm, reach, circular_segments=fineness.run).translate(
                    (0, 0, floor - 0.6 * ring.high_mm)
                )
            )
    if joinery.point_mm is not None and shape.claws is not None:
        manifolds += _to_point(shape.claws, -shape.height_mm, joinery, fineness)
    return manifolds


def _to_point(claws: Claws, foot: float, joinery: Joinery, fineness: Fineness) -> list[Manifold]:
    """Straight wires from every claw's foot to the apex; what goes into the band is ground to a sharp cone."""
    below, hole = joinery.point_mm, joinery.hole
    assert below is not None and hole is not None, "claws that run to a point stand in a hole"
    half = claws.width_mm / 2
    turn = np.arange(fineness.wire) * 2 * np.pi / fineness.wire
    circle = np.column_stack([np.cos(turn), np.sin(turn)]) * half
    middle = float(claws.profile[0, 0] + claws.profile[-1, 0]) / 2
    apex, wide = foot - below, 4 * (below + half)
    # a hair higher than it is sunk: bodies that only share a face would fall apart
    high, slope = hole.depth_mm + _OVERLAP_MM, hole.diameter_mm / 2 / hole.depth_mm
    cone = Manifold.cylinder(high, high * slope, 0.0, fineness.run).rotate((180.0, 0.0, 0.0))
    cone = cone.translate((0.0, 0.0, apex + high))
    ground = Manifold.cube((wide, wide, below + hole.depth_mm), True).translate(
        (0.0, 0.0, apex + hole.depth_mm - (below + hole.depth_mm) / 2)
    )
    rods = []
    for place in claws.places:
        start = np.array([place.x_mm + middle * place.normal[0], place.y_mm + middle * place.normal[1]])
        upper = np.column_stack([circle + start, np.full(len(circle), foot)])
        lower = np.column_stack([circle * 0.5, np.full(len(circle), apex)])
        rods.append(Manifold.hull_points(np.vstack([upper, lower])) - (ground - cone))
    return rods


_OVERLAP_MM = 0.01
