"""Stone, head and shank as closed bodies, built from what a plan knows of them."""

from __future__ import annotations

from functools import partial

import numpy as np
from manifold3d import CrossSection, Manifold, OpType
from msgspec import Struct
from msgspec.structs import replace

from yarvel.heads.shape import HeadShape
from yarvel.heads.style import StoneFacts
from yarvel.shanks.pendant import SINKS
from yarvel.solids.bodies import COARSE, FINE, Fineness, bars, claw, dusted, placed, ring, vee, vee_slot, wall
from yarvel.solids.shank import Seating, below_foot, finger_rod, saddle, shank_body
from yarvel.solids.shoulders import Shouldered, shouldered
from yarvel.stones.cut import solids_of

STONE, HEAD, SHANK = "stone", "head", "shank"

_CRUMB_SHARE = 0.05
"""Of a ring: what is less, between two slots, falls out when they are sawn."""


class Solids(Struct, frozen=True, kw_only=True):
    """Closed bodies by name, and the head's parts before its seats were cut, the shank before head and stone were let
    into it; ``below`` what hangs under the head's foot, ``bare`` all metal of the head in one before it is cut to
    finger or band, ``raw_head`` before its seats are cut."""

    parts: dict[str, Manifold]
    rings: tuple[Manifold, ...]
    walls: tuple[Manifold, ...]
    claws: tuple[Manifold, ...]
    below: tuple[Manifold, ...]
    bare: Manifold
    raw_head: Manifold
    raw_shank: Manifold | None = None
    hanging_ring: Manifold | None = None
    shoulders: Shouldered | None = None

    @property
    def bare_head(self) -> Manifold:
        """The head without the ring that it hangs by."""
        return self.parts[HEAD] if self.hanging_ring is None else self.parts[HEAD] - self.hanging_ring


def build(shape: HeadShape, facts: StoneFacts, seating: Seating | None, fine: bool = True) -> Solids:
    """Build all bodies; ``fine`` False is for following a drag."""
    fineness = FINE if fine else COARSE
    stone = stone_body(facts)
    round_stone = facts.cut.is_round
    rings = tuple(ring(part, shape.outline, fineness, round_stone) for part in shape.rings)
    walls = tuple(wall(part, shape.outline, fineness, round_stone) for part in shape.walls)
    claws: list[Manifold] = []
    if shape.claws is not None:
        claw_body = claw(shape.claws, fineness)
        claws += [placed(claw_body, place) for place in shape.claws.places]
    if shape.hooks is not None:
        claws = [leg + bar for leg, bar in zip(claws, bars(shape.hooks, fineness), strict=True)]
    if shape.vees is not None:
        claws += [vee(shape.vees, place, float(facts.stone.girdle_mm), fineness) for place in shape.vees.places]
    stood = rings if shape.vees is None or not shape.vees.slotted else _slotted(rings, shape, facts, fineness)
    below = [] if seating is None else below_foot(seating, shape, fineness)
    metal = bare = Manifold.batch_boolean([*stood, *walls, *claws, *below], OpType.Add)
    if seating is not None and seating.joinery.saddle:
        metal -= saddle(seating, fineness) - _peg_of(seating, below)
    if seating is not None and seating.joinery.in_finger:
        metal -= finger_rod(seating, fineness)
    of_head = partial(
        Solids,
        rings=rings,
        walls=walls,
        claws=tuple(claws),
        below=tuple(below),
        bare=bare,
        raw_head=metal,
    )
    parts = {STONE: stone, HEAD: dusted(metal - stone)}
    if seating is not None:
        raw = shank_body(seating, shape, fineness)
        if seating.joinery.split is not None:
            raw -= _within(
                shape, walls, seating
            )  # the notches: nothing of a branch reaches inside the bezel or the ring
        over = Manifold.batch_boolean([metal, stone], OpType.Add)
        small = seating.joinery.small
        if small is None:
            return of_head(parts={**parts, SHANK: dusted(raw - over)}, raw_shank=raw)
        shouldered_band = shouldered(raw, over, seating.band, seating.centre, small, fineness)
        return of_head(parts={**parts, SHANK: shouldered_band.body}, raw_shank=raw, shoulders=shouldered_band)
    return of_head(parts=parts)


def with_hanging_ring(
    made: Solids, inside_mm: float, wire_mm: float, foot_mm: tuple[float, float], fine: bool
) -> Solids:
    """The bodies with a ring of wire on the head: ``foot_mm`` as for :func:`ring_of_wire`."""
    ring = ring_of_wire(inside_mm, wire_mm, foot_mm, fine) - made.parts[HEAD]
    return replace(made, parts={**made.parts, HEAD: dusted(made.parts[HEAD] + ring)}, hanging_ring=ring)


def ring_of_wire(inside_mm: float, wire_mm: float, foot_mm: tuple[float, float], fine: bool) -> Manifold:
    """A ring of wire that stands along the finger: ``foot_mm`` is how far up from the axis and at what height over the
    seat its outside touches the metal; it sinks a little into it; mm."""
    fineness = FINE if fine else COARSE
    middle = inside_mm / 2 + wire_mm / 2
    section = CrossSection.circle(wire_mm / 2, fineness.wire).translate((middle, 0))
    up, height = foot_mm
    out = up + middle + (0.5 - SINKS) * wire_mm
    return section.revolve(fineness.run).rotate((0, 90, 0)).translate((0, out, height))


def _slotted(
    rings: tuple[Manifold, ...], shape: HeadShape, facts: StoneFacts, fineness: Fineness
) -> tuple[Manifold, ...]:
    """Rings cut open from outside where a V stands in their wire."""
    vees = shape.vees
    if vees is None:
        return rings
    vee_bodies = [(vee(vees, place, float(facts.stone.girdle_mm), fineness), place) for place in vees.places]
    sawn = (
        Manifold.batch_boolean(
            [body, *(vee_slot(vee_body, place, part) for vee_body, place in vee_bodies)], OpType.Subtract
        )
        for body, part in zip(rings, shape.rings, strict=True)
    )
    return tuple(_without_crumbs(body) for body in sawn)


def _without_crumbs(ring: Manifold) -> Manifold:
    """A ring without what the saw cuts loose of its outside between two slots that nearly meet."""
    pieces = ring.decompose()
    kept = [piece for piece in pieces if piece.volume() > _CRUMB_SHARE * ring.volume()]
    return ring if len(kept) in (0, len(pieces)) else Manifold.compose(kept)


def _within(shape: HeadShape, walls: tuple[Manifold, ...], seating: Seating) -> Manifold:
    """The room inside a head's wall, or inside the middle of its lowest ring's wire, over the finger's axis."""
    if walls or not shape.rings:
        return Manifold.batch_hull(list(walls))
    ring = shape.rings[-1]
    tall = 2 * abs(seating.centre)
    return CrossSection([shape.outline.inset(ring.inset_mm)]).extrude(tall).translate((0, 0, seating.centre))


def _peg_of(seating: Seating, below: list[Manifold]) -> Manifold:
    """What stays of a head inside the band's outside: its peg."""
    return below[0] if seating.joinery.peg_mm is not None else Manifold()


def stone_body(facts: StoneFacts) -> Manifold:
    """The stone, its bodies joined."""
    bodies = [
        Manifold.hull_points(np.ascontiguousarray(solid.points))
        for solid in solids_of(facts.cut, facts.stone, facts.along_band)
    ]
    return bodies[0] if len(bodies) == 1 else Manifold.batch_boolean(bodies, OpType.Add)
