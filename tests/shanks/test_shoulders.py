"""Small rounds in the shoulders: the trade's distances, geometry of the band, calls and drawing."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np
import pytest

from yarvel.drawing.primitives import Path
from yarvel.drawing.sheet import sheet
from yarvel.figures.figure import FigureKey
from yarvel.planning.plan import Plan
from yarvel.shanks.shoulders import angles_deg


def with_shoulders(planned: Callable[..., Plan], width: float = 3.4, **asked: Any) -> Plan:
    return planned(
        samples=0,
        fit={"method": "inset"},
        shank={"width_mm": width, "shoulder": {"diameter_mm": 1.6, "count": 3, **asked}},
    )


def test_about_one_millimetre_between_stones_and_to_the_head(planned: Callable[..., Plan]) -> None:
    """Common practice, no source."""
    made = with_shoulders(planned)
    assert made[FigureKey("shoulder.pitch")] == pytest.approx(1.6 + 1.0)
    radius = made[FigureKey("shank.inside_diameter")] / 2 + 2.0
    under_head = radius * np.arcsin(made[FigureKey("head.outer_over_claws")] / 2 / radius)
    assert made[FigureKey("shoulder.first")] - under_head == pytest.approx(1.0 + 0.8)


def test_a_little_bezel_is_wider_by_its_lips(planned: Callable[..., Plan]) -> None:
    flush, bezel = with_shoulders(planned), with_shoulders(planned, setting="bezel")
    assert bezel[FigureKey("shoulder.outer")] == pytest.approx(1.6 + 0.7)
    assert bezel[FigureKey("shoulder.pitch")] - flush[FigureKey("shoulder.pitch")] == pytest.approx(0.7)
    assert FigureKey("shoulder.outer") not in flush.figures


def test_stones_lie_the_same_on_both_sides() -> None:
    angles = angles_deg(5.0, 2.6, 3, 10.0)
    assert angles == pytest.approx([-angle for angle in reversed(angles)])
    assert np.diff(angles)[0] == pytest.approx(np.degrees(0.26))


def test_a_narrow_band_is_called_and_its_remedy_settles_it(planned: Callable[..., Plan]) -> None:
    made = with_shoulders(planned, width=2.2)
    call = next(call for call in made.calls if call.code == "shoulder-thin")
    assert call.level == "caution" and call.remedy is not None
    wider = with_shoulders(planned, width=call.remedy["shank"]["width_mm"])
    assert next(call for call in wider.calls if call.code == "shoulder-thin").level == "ok"


def test_a_hole_that_goes_through_is_noted(planned: Callable[..., Plan]) -> None:
    levels = {call.code: call.level for call in with_shoulders(planned, width=6.0, diameter_mm=3.9).calls}
    assert levels["shoulder-through"] == "note" and levels["shoulder-too-far"] in ("ok", "caution")


def test_they_are_drawn_foreshortened_in_the_plan_view(planned: Callable[..., Plan]) -> None:
    made = with_shoulders(planned)
    drawing = sheet(made, 186, 168, grips=False)
    small = [
        np.ptp(item.points, axis=0) / drawing.scale
        for item in drawing.items
        if isinstance(item, Path)
        and item.fill == "stone"
        and item.closed
        and np.ptp(item.points[:, 1]) / drawing.scale == pytest.approx(1.6, rel=0.02)
    ]
    assert len(small) == 6
    assert all(size[0] < size[1] for size in small)
