"""What the sheet draws, taken from a plan: the stone's solid, the head's form, the band, and the heights."""

from __future__ import annotations

from dataclasses import dataclass

from yarvel.drawing.outlines import reach_by_height
from yarvel.drawing.primitives import Points
from yarvel.heads.shape import HeadShape
from yarvel.planning.plan import Plan
from yarvel.shanks.blanks import Band


@dataclass(frozen=True)
class SheetModel:
    """Model frame: z = 0 is the seat plane, x runs along the band, y along the finger; mm.

    ``finger`` is the height of the finger's top (negative) where there is a band; ``claw_reach`` the radii
    of a claw's section by height.
    """

    plan: Plan
    head: HeadShape
    band: Band | None
    finger: float | None
    claw_reach: tuple[Points, Points, Points] | None
    outer_radius: float
    top: float
    gap: tuple[float, float] | None

    @property
    def stone_radius(self) -> float:
        """Mean radius of the stone."""
        return float(self.plan.stone.diameter) / 2

    @property
    def table_z(self) -> float:
        """Height of the table."""
        return float(self.plan.stone.girdle) + float(self.plan.stone.crown_height)

    @property
    def culet_z(self) -> float:
        """Height of the culet."""
        return -float(self.plan.stone.pavilion_depth)

    @property
    def lowest(self) -> float:
        """Lowest point of head, stone and finger's top."""
        points = [-self.head.height, self.culet_z]
        return min(points if self.finger is None else [*points, self.finger])


def sheet_model(plan: Plan) -> SheetModel:
    """Gather from a plan what its sheet draws."""
    head = plan.shape
    claws = head.claws
    profiles = [wall.profile for wall in head.walls] + ([claws.profile] if claws is not None else [])
    outer = max(float(profile[:, 0].max()) for profile in profiles)
    top = max(float(profile[:, 1].max()) for profile in profiles)
    above = plan.figures.get("seat.plane_above_finger")
    gap = None
    if "shank.gap_inside" in plan.figures:
        gap = plan["shank.gap_inside"], plan["shank.gap_outside"]
    top = max(top, float(plan.stone.girdle) + float(plan.stone.crown_height))
    if above is not None and "shank.band_at_gap" in plan.figures:
        top = max(top, plan["shank.band_at_gap"] - above.value)
    return SheetModel(plan, head, plan.band, None if above is None else -above.value,
                      reach_by_height(claws.profile) if claws is not None else None, outer, top, gap)


def band_top(model: SheetModel) -> float:
    """Height of the band's highest metal beside or under the head, where there is a band."""
    if model.band is None or model.finger is None:
        raise ValueError("this plan has no band")
    if model.gap is None:
        return -model.head.height
    return model.finger + model.plan["shank.band_at_gap"]
