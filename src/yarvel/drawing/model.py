"""What the sheet draws, taken from a plan: the stone's solid, the head's form, the band, and the heights."""

from __future__ import annotations

from functools import cached_property, lru_cache

import numpy as np
from msgspec import Struct

from yarvel.drawing.outlines import reach_by_height
from yarvel.drawing.primitives import Points
from yarvel.figures.figure import FigureKey
from yarvel.heads.places import POINT, ClawPosition
from yarvel.heads.shape import HeadShape
from yarvel.planning.plan import Plan
from yarvel.shanks import blanks, fitting, inset, let_in, on_flat, pendant
from yarvel.shanks.band import Band
from yarvel.shanks.joinery import Joinery
from yarvel.stones.cut import Cut
from yarvel.stones.outline import Outline


class SheetModel(Struct, frozen=True, dict=True, kw_only=True):
    """Model frame: z = 0 is the seat plane, x runs along the band, y along the finger; mm.

    ``finger`` is the height of the finger's top (negative) where there is a band; ``claw_reach`` how far out a claw's
    section lies by height; ``out`` how far the head's metal reaches outside the stone's edge; ``sees_stone`` and
    ``sees_band`` whether they are there.
    """

    plan: Plan
    head: HeadShape
    band: Band | None
    finger: float | None
    claw_reach: tuple[Points, Points, Points] | None
    out: float
    top: float
    gap: tuple[float, float] | None
    sees_stone: bool = True
    sees_band: bool = True

    @property
    def joinery(self) -> Joinery:
        """How band and head are cut to each other."""
        return self.plan.joinery or Joinery()

    @property
    def cut(self) -> Cut:
        """The stone's cut."""
        return self.plan.facts.cut

    @property
    def outline(self) -> Outline:
        """The stone's outline in the head's frame."""
        return self.head.outline

    def edge(self, azimuth_deg: float) -> float:
        """How far the stone reaches in a direction, mm."""
        return float(self.outline.support(azimuth_deg))

    def outer(self, azimuth_deg: float) -> float:
        """How far stone and head reach in a direction, mm."""
        return _outer(self.outline, azimuth_deg, self.out)

    @property
    def half_x(self) -> float:
        """Farthest reach in mm along the band, either way."""
        return max(self.outer(0.0), self.outer(180.0))

    @property
    def half_y(self) -> float:
        """Farthest reach in mm along the finger, either way."""
        return max(self.outer(90.0), self.outer(270.0))

    @property
    def above_head(self) -> float:
        """How much farther up from the head a pendant's ring reaches, mm."""
        ring = None if self.ring_behind else self.hanging_ring
        return 0.0 if ring is None else ring[0] + 2.2 * ring[1]

    @property
    def ring_behind(self) -> bool:
        """Whether the stone hides the ring that a pendant hangs by."""
        return self.plan.job.hangs_hidden

    @property
    def ring_foot(self) -> float:
        """How far up from the axis a pendant's ring meets the head, mm."""
        met = self.plan.figures.get(pendant.REACH)
        return self.edge(90.0) + self.out if met is None else met.value

    @property
    def hanging_ring(self) -> tuple[float, float, float] | None:
        """Inside, wire and height over the seat, mm, of the ring that a pendant hangs by, once its height is known."""
        figures = self.plan.figures
        if pendant.HEIGHT not in figures:
            return None
        return (
            figures[pendant.INSIDE].value,
            figures[pendant.WIRE].value,
            figures[pendant.HEIGHT].value - self.head.height_mm,
        )

    @property
    def plan_half(self) -> float:
        """Farthest reach in mm along the finger in the plan view, the band's included."""
        return max(self.half_y, 0.0 if self.band is None else self.band.width_mm / 2)

    @property
    def table_z(self) -> float:
        """Height in mm of the table over the seat."""
        return float(self.plan.stone.girdle_mm) + float(self.plan.stone.crown_height_mm)

    @property
    def culet_z(self) -> float:
        """Height in mm of the culet over the seat; negative."""
        return -float(self.plan.stone.pavilion_depth_mm)

    @property
    def lowest(self) -> float:
        """Height in mm over the seat of the lowest point of head, stone and finger's top."""
        points = [-self.head.height_mm, self.culet_z]
        if self.hanging_ring is not None:
            points.append(self.hanging_ring[2] - self.hanging_ring[0] / 2 - self.hanging_ring[1])
        return min(points if self.finger is None else [*points, self.finger])

    @cached_property
    def section_place(self) -> ClawPosition | None:
        """The claw that the section goes through: a plain one where there is one; None through a wall."""
        places = self.head.places
        return next((place for place in places if place.kind != POINT), places[0] if places else None)

    @property
    def section_deg(self) -> float:
        """Azimuth of the section's plane: square to the stone's edge where it is cut."""
        return 0.0 if self.section_place is None else self.section_place.normal_deg

    @property
    def section_edge(self) -> float:
        """How far out the stone's edge lies in the section, mm."""
        place = self.section_place
        if place is None:
            return self.edge(0.0)
        return place.x_mm * place.normal[0] + place.y_mm * place.normal[1]

    @property
    def section_stretch(self) -> float:
        """How much wider metal is cut in the section than square to its side: 1 but for a V, cut along its middle."""
        place = self.section_place
        return 1.0 if place is None else 1 / float(np.cos(np.radians(place.spread_deg)))


@lru_cache(maxsize=256)
def _outer(outline: Outline, azimuth_deg: float, out: float) -> float:
    return float(outline.support(azimuth_deg)) + out * min(outline.loss(azimuth_deg), 1.7)


def above_finger(points: Points, model: SheetModel, along: float = 1.0) -> Points:
    """An outline (n, 2), mm, of head or wall cut to the finger's curve, where its foot stands flush with it; ``along``
    the share of the view's right that runs along the band."""
    band, finger = model.band, model.finger
    if band is None or finger is None or not model.joinery.in_finger or float(points[:, 1].min()) >= finger:
        return points
    after = np.roll(points, -1, axis=0)
    pieces = []
    for start, end in zip(points, after, strict=True):
        low = min(start[1], end[1]) < finger
        count = max(int(np.hypot(*(end - start)) / _FINE_MM), 1) if low else 1
        pieces.append(start + (end - start) * (np.arange(count) / count)[:, None])
    dense = np.vstack(pieces)
    radius = band.inside_radius
    curve = finger - radius + np.sqrt(np.maximum(radius**2 - (dense[:, 0] * along) ** 2, 0.0))
    return np.column_stack([dense[:, 0], np.maximum(dense[:, 1], curve)])


_FINE_MM = 0.12


def sheet_model(plan: Plan) -> SheetModel:
    """Gather from a plan what its sheet draws."""
    head = plan.shape
    clawed = head.claws or head.vees
    out = max(float(profile[:, 0].max()) for profile in head.profiles)
    top = max(float(profile[:, 1].max()) for profile in head.profiles)
    above = plan.figures.get(fitting.PLANE_ABOVE_FINGER)
    gap = None if plan.joinery is None else plan.joinery.gap_mm
    top = max(top, float(plan.stone.girdle_mm) + float(plan.stone.crown_height_mm))
    if above is not None and inset.band_at_gap_mm in plan.figures:
        top = max(top, plan[inset.band_at_gap_mm] - above.value)
    if above is not None:
        top = max(top, -above.value)
    return SheetModel(
        plan=plan,
        head=head,
        band=plan.band,
        finger=None if above is None else -above.value,
        claw_reach=reach_by_height(clawed.profile) if clawed is not None else None,
        out=out,
        top=top,
        gap=gap,
    )


def band_top(model: SheetModel) -> float:
    """Height in mm over the seat of the band's highest metal beside or under the head (ValueError without a band)."""
    if model.band is None or model.finger is None:
        raise ValueError("this plan has no band")
    if model.gap is not None:
        return model.finger + model.plan[inset.band_at_gap_mm]
    if model.joinery.flat:
        return -model.head.height_mm
    return model.finger + model.band.thickness_mm


def band_level(model: SheetModel) -> tuple[float, str, FigureKey]:
    """What of the band the levels tell beside the head: its height in mm over the seat, a word for it, and the figure
    of its height over the finger (ValueError without a band)."""
    top = band_top(model)
    if model.gap is not None:
        return top, "band", inset.band_at_gap_mm
    if model.joinery.recess is not None:
        return -model.head.height_mm, "floor", let_in.left_under_mm
    return top, "band", on_flat.left_under_flat_mm if model.joinery.flat else blanks.THICKNESS
