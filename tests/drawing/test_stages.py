"""The sheet at an operation: what is there is drawn, what is not is not, for heads and fits of every kind."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np
import pytest

from yarvel.drawing.model import sheet_model
from yarvel.drawing.primitives import Drawing, Facets, Path
from yarvel.drawing.sheet import sheet
from yarvel.drawing.stages import CLOSED, LEANING, NOTCHED, STRAIGHT, seen_at, staged
from yarvel.figures.figure import FigureKey
from yarvel.operations.piece import ABSENT
from yarvel.planning.plan import Plan
from yarvel.route.running import Route, RouteStep, route_of

PlanMaker = Callable[..., Plan]
WALL: dict[str, Any] = {"claw_mm": None, "notch_ratio": None}
LONG: dict[str, Any] = {"diameters_mm": None, "depth_mm": None}
PIECES: dict[str, dict[str, Any]] = {
    "basket, inset": {"fit": {"method": "inset"}},
    "basket to a point": {"fit": {"method": "basket-point"}},
    "collet sawn to claws": {
        "head": {**WALL, "style": "tapered-collet", "cut": "claws", "claws": 4},
        "fit": {"method": "inset"},
    },
    "claws on a hidden collet": {
        "head": {"style": "applied-collet", "claw_mm": None, "claws": 4},
        "fit": {"method": "inset"},
    },
    "tube between branches": {"head": {**WALL, "style": "tube"}, "fit": {"method": "split-shoulder"}},
    "Vs": {
        "stone": {**LONG, "cut": "princess", "length_mm": 4.6, "width_mm": 4.5},
        "head": {"style": "v-claw", "claw_mm": None},
    },
    "pairs": {
        "stone": {**LONG, "cut": "radiant", "length_mm": 8.0, "width_mm": 6.2},
        "head": {"style": "paired-corner", "claws": None, "claw_mm": None},
    },
    "cast claws": {
        "stone": {"cut": "round-cabochon", "diameters_mm": [9.0], "depth_mm": 4.1},
        "head": {"style": "cast-claw", "claw_mm": None, "notch_ratio": None},
    },
    "bought": {"head": {"style": "bought", "made_for_mm": 6.5, "height_mm": 5.1, "notch_ratio": None}},
    "pendant": {"shank": None, "fit": {"method": "pendant", "height": None}},
}


def at(made: Plan, route: Route, step: RouteStep) -> Drawing:
    return sheet(made, 190.0, 170.0, seen=seen_at(route, step))


def metal(drawing: Drawing) -> int:
    return sum(isinstance(item, Path) and item.fill.startswith("metal") for item in drawing.items)


@pytest.mark.parametrize("name", PIECES)
def test_every_operation_has_its_sheet(name: str, planned: PlanMaker) -> None:
    made = planned(samples=0, **PIECES[name])
    route, whole = route_of(made), sheet(made, 190.0, 170.0)
    last = 0
    for step in route.steps:
        drawing = at(made, route, step)
        stones = [item for item in drawing.items if isinstance(item, Facets) and item.fill == "stone"]
        assert bool(stones) == (step.piece.stone != ABSENT), step.operation.key
        assert not drawing.grips, "nothing is dragged of a piece that is not planned but half made"
        keys = {FigureKey(text.key) for text in drawing.texts() if text.key}
        assert keys <= set(step.operation.figures), step.operation.key
        last = metal(drawing)
    assert last == metal(whole), "released, it is whole"


@pytest.mark.parametrize("name", PIECES)
def test_the_scale_is_one_for_all_operations(name: str, planned: PlanMaker) -> None:
    """Stepping down the list is like watching it being made: nothing jumps."""
    made = planned(samples=0, **PIECES[name])
    route = route_of(made)
    assert len({at(made, route, step).scale for step in route.steps}) == 1


def test_claws_stand_straight_are_notched_and_close(planned: PlanMaker) -> None:
    """Heights as they are at the bench: levelled tops until the claws close; the notch's depth once the seat is cut."""
    made = planned(samples=0, fit={"method": "inset"})
    route, model = route_of(made), sheet_model(made)
    held = {step.operation.key: seen_at(route, step) for step in route.steps}
    assert (held["level-tops-head"].tips, held["seat-stone-stone"].tips) == (STRAIGHT, NOTCHED)
    assert held["close-claws-claws"].tips == LEANING and held["polish-piece"].tips == CLOSED
    stood, leans, lies = (
        claws.profile
        for key in ("seat-stone-stone", "close-claws-claws", "polish-piece")
        if (claws := staged(model, held[key]).head.claws) is not None
    )
    assert stood[3:, 0].min() > leans[3:, 0].min() > lies[3:, 0].min(), "over the stone a little, then home"
    crown = np.tan(np.radians(made[FigureKey("stone.crown_angle")]))
    over = leans[(leans[:, 0] < 0) & (leans[:, 1] > leans[3, 1])]
    assert len(over) and (over[:, 1] - leans[3, 1] > -over[:, 0] * crown).all(), "it cuts no stone"
    for key in ("level-tops-head", "seat-stone-stone"):
        claws = staged(model, held[key]).head.claws
        assert claws is not None
        top = made[FigureKey("seat.line_from_top")] * np.cos(np.radians(made[FigureKey("head.splay")]))
        assert claws.profile[:, 1].max() == pytest.approx(top)
    notched = staged(model, held["seat-stone-stone"]).head.claws
    assert notched is not None and np.any(np.all(np.isclose(notched.profile, (0.0, 0.0), atol=1e-9), axis=1))


def test_a_ring_is_whole_until_it_is_sawn_and_a_collet_until_its_claws_are(planned: PlanMaker) -> None:
    made = planned(samples=0, **PIECES["collet sawn to claws"])
    route, model = route_of(made), sheet_model(made)
    held = {step.operation.key: staged(model, seen_at(route, step)) for step in route.steps}
    assert held["round-up-shank"].gap is None and not held["round-up-shank"].head.walls
    assert held["fit-ends-gap"].gap == model.gap
    before, after = held["solder-head-to-shank"].head, held["seat-stone-stone"].head
    assert before.claws is None and len(before.walls) == 1 and after.claws is not None
    assert before.walls[0].profile[:, 1].max() > after.walls[0].profile[:, 1].max(), "whole up to its rim"
