"""Bodies of every cut against their readings and outlines, by shapely; heads on hearts and tapers."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np
import pytest
import shapely

from yarvel.figures.figure import FigureKey
from yarvel.planning.bodies import bodies
from yarvel.planning.plan import Plan
from yarvel.solids.build import stone_body
from yarvel.solids.measure import clash
from yarvel.stones import stone as stones
from yarvel.stones.cuts import CUTS

PlanMaker = Callable[..., Plan]
SIZES = [
    (cut, aspect)
    for cut, known in CUTS.items()
    for aspect in ((1.0,) if known.is_round else sorted({known.aspect[0], 1.2, 1.6, 2.4}))
    if known.is_round or max(known.aspect[0], 1.0) <= aspect <= known.aspect[1]
]


def stone(cut: str, aspect: float, width: float = 6.2) -> dict[str, Any]:
    if CUTS[cut].is_round:
        return {"cut": cut, "diameters_mm": [width], "depth_mm": None}
    long = round(width * max(aspect, 1.0), 3)
    return {"cut": cut, "diameters_mm": None, "length_mm": long, "width_mm": width, "depth_mm": None}


@pytest.mark.parametrize(("cut", "aspect"), SIZES)
def test_a_stones_body_is_what_was_read(cut: str, aspect: float, planned: PlanMaker) -> None:
    """Its section through the girdle is the outline within 0.01 mm; length, width and depth as read; one piece, closed;
    its volume that of the figure within 0.5 %."""
    known = stone(cut, aspect)
    tube = {"style": "tube", "claws": None, "claw_mm": None, "notch_ratio": None}
    plan = planned(samples=0, stone=known, head=tube)
    body = stone_body(plan.facts)
    cut_through = shapely.union_all(
        [shapely.Polygon(loop) for loop in body.slice(plan[FigureKey("stone.girdle")] / 2).to_polygons()]
    )
    outline = shapely.Polygon(plan.shape.outline.points)
    assert cut_through.boundary.hausdorff_distance(outline.boundary) < 0.01
    assert len(body.decompose()) == 1 and body.status().name == "NoError"
    low, high = np.array(body.bounding_box()).reshape(2, 3)
    wide, long = plan[stones.MEAN_DIAMETER if CUTS[cut].is_round else stones.WIDTH], known.get("length_mm")
    assert high[0] - low[0] == pytest.approx(wide, abs=0.005)
    assert high[1] - low[1] == pytest.approx(wide if long is None else long, abs=0.005)
    assert high[2] - low[2] == pytest.approx(plan[FigureKey("stone.depth")], abs=0.001)
    assert -low[2] == pytest.approx(plan[FigureKey("stone.pavilion_depth")], abs=0.001)
    assert body.volume() == pytest.approx(plan[FigureKey("stone.volume")], rel=0.005)


@pytest.mark.parametrize("cut", ["heart", "tapered-baguette"])
@pytest.mark.parametrize("head", [{}, {"claws": 6}, {"style": "tube", "notch_ratio": None}])
@pytest.mark.parametrize("method", ["inset", "on-flat"])
def test_heads_hold_hearts_and_tapers_in_one_piece(
    cut: str, head: dict[str, Any], method: str, planned: PlanMaker
) -> None:
    known = stone(cut, 1.05 if cut == "heart" else 2.0)
    plan = planned(
        samples=0,
        stone=known,
        head={"claws": None, "claw_mm": None, "notch_ratio": None, **head},
        fit={"method": method},
    )
    made = bodies(plan)
    assert len(made.parts["head"].decompose()) == 1, "no loose pieces"
    assert abs(clash(made, plan.facts).left_mm3) < 1e-6
    each = [(claw ^ made.parts["stone"]).volume() for claw in made.claws]
    assert all(taken > 1e-3 for taken in each), "every claw has a seat in it"


def weight(plan: Plan) -> Any:
    return next(call for call in plan.diagnostics if call.code == "weight-mismatch")


def test_a_declared_weight_tells_the_depth_that_nobody_read(planned: PlanMaker) -> None:
    """Volume grows with depth: what the stone would weigh at the depth told is what was declared."""
    usual = planned(samples=0, stone=stone("oval", 1.4))[FigureKey("stone.weight_model")]
    declared = round(1.05 * usual, 2)
    oval = {**stone("oval", 1.4), "declared_ct": declared}
    plan = planned(samples=2000, stone=oval)
    call = next(call for call in plan.diagnostics if call.code == "depth-by-weight")
    assert call.level == "note" and call.remedy is not None
    taken = planned(samples=0, stone={**oval, **call.remedy["stone"]})
    assert taken[FigureKey("stone.weight_model")] == pytest.approx(declared, rel=0.005)
    assert weight(plan).level == "ok", "within what the readings leave open"
    swapped = planned(samples=2000, stone={**oval, "declared_ct": round(1.6 * usual, 2)})
    assert weight(swapped).level == "caution" and "outside what the readings allow" in weight(swapped).message
    assert not [call for call in swapped.diagnostics if call.code == "depth-by-weight"]


@pytest.mark.parametrize(
    ("cut", "aspect"), [("oval", 1.9), ("oval", 2.4), ("baguette", 1.0), ("tapered-baguette", 1.6)]
)
def test_where_formula_and_body_are_known_to_part_nothing_is_called(
    cut: str, aspect: float, planned: PlanMaker
) -> None:
    plan = planned(samples=0, stone=stone(cut, aspect), head={"claws": None, "claw_mm": None})
    assert weight(plan).level == "ok" and "the body counts" in weight(plan).message
