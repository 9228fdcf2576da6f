"""The whole ring's drawing: nothing covers, nothing runs off, what is drawn is what was planned."""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np
import pytest
from hypothesis import given

from tests.strategies import jobs
from yarvel.drawing.metrics import box
from yarvel.drawing.model import sheet_model
from yarvel.drawing.primitives import Drawing, Path
from yarvel.drawing.ring_sheet import ring_outlines, ring_sheet
from yarvel.figures.figure import FigureKey
from yarvel.figures.rules import HouseRules
from yarvel.planning.job import Job
from yarvel.planning.plan import Plan, plan

WALL = {"style": "tube", "claw_mm": None, "notch_ratio": None}


def covering(drawing: Drawing) -> list[tuple[str, str]]:
    """Pairs of texts that lie on each other, and texts that run off the paper."""
    found = []
    placed = [(text.text, box(text)) for text in drawing.texts()]
    for number, (word, (left, top, right, bottom)) in enumerate(placed):
        if left < -0.1 or top < -0.1 or right > drawing.width + 0.1 or bottom > drawing.height + 0.1:
            found.append((word, "the paper's edge"))
        found += [
            (word, other)
            for other, (a, b, c, d) in placed[:number]
            if left < c - 0.2 and a < right - 0.2 and top < d - 0.2 and b < bottom - 0.2
        ]
    return found


@given(jobs())
def test_nothing_covers_and_nothing_runs_off(job: Job) -> None:
    made = plan(job, HouseRules(), samples=0)
    if made.band is None:
        with pytest.raises(ValueError, match="no band"):
            ring_sheet(made, 140, 160)
        return
    drawing = ring_sheet(made, 186, 250)
    assert covering(drawing) == []
    for item in drawing.items:
        if isinstance(item, Path):
            assert np.isfinite(item.points).all()
    for text in drawing.texts():
        if text.key:
            figure = made.figures[FigureKey(text.key)]
            assert text.text.split()[-1] in (figure.text(unit=False), figure.unit, figure.text())


def test_angles_of_sections_that_lie_close_stand_clear_of_each_other(planned: Callable[..., Plan]) -> None:
    stations = [{"turn_deg": turn, "width_mm": 1.6, "thickness_mm": 1.2 + turn / 90} for turn in (124, 131, 138, 172)]
    shank = {"size": {"system": "mm", "value": "13.1"}, "width_mm": 1.4, "thickness_mm": 1.1, "stations": stations}
    drawing = ring_sheet(planned(samples=0, shank=shank), 186, 250)
    assert covering(drawing) == []


@pytest.mark.parametrize(
    ("method", "head"),
    [("on-flat", {}), ("inset", {}), ("fish-mouth", WALL), ("basket-point", {}), ("split-shoulder", WALL)],
)
def test_outlines_of_the_band_are_those_of_its_circles(
    method: str, head: dict[str, object], planned: Callable[..., Plan]
) -> None:
    """By coordinates: every point on the finger's or the outer circle, or on the flat; the gap as its figure."""
    made = planned(samples=0, head=head, fit={"method": method}, shank={"width_mm": 4.0})
    model = sheet_model(made)
    outer, inner = ring_outlines(model)
    radius = made[FigureKey("shank.inside_diameter")] / 2
    centre = np.array([0.0, -made[FigureKey("seat.plane_above_finger")] - radius])
    assert np.hypot(*(inner - centre).T) == pytest.approx(np.full(len(inner), radius))
    away = np.hypot(*(outer - centre).T)
    flat = (
        outer[:, 1] > -made[FigureKey("head.height")] - 1e-9
        if method == "on-flat"
        else np.zeros(len(outer), dtype=bool)
    )
    assert away[~flat] == pytest.approx(np.full(int((~flat).sum()), radius + 2.0))
    if method == "inset":
        assert inner[0, 0] - inner[-1, 0] == pytest.approx(2 * made[FigureKey("shank.mark_half")])
        assert outer[0, 0] - outer[-1, 0] == pytest.approx(2 * made[FigureKey("shank.mark_half_outside")])
        outer, inner = ring_outlines(model, middle=True)
        assert inner[0, 0] - inner[-1, 0] == pytest.approx(made[FigureKey("shank.gap_inside")])
        assert outer[0, 0] - outer[-1, 0] == pytest.approx(made[FigureKey("shank.gap_outside")])
    if method == "split-shoulder":
        assert outer[0, 0] - outer[-1, 0] == pytest.approx(2 * made[FigureKey("shank.tip_out")])


def test_a_tapering_band_is_thinner_where_it_is(planned: Callable[..., Plan]) -> None:
    made = planned(samples=0, shank={"head_thickness_mm": 1.4})
    outer, _ = ring_outlines(sheet_model(made))
    radius = made[FigureKey("shank.inside_diameter")] / 2
    centre = -made[FigureKey("seat.plane_above_finger")] - radius
    back = outer[np.argmin(outer[:, 1])]
    assert math.hypot(back[0], back[1] - centre) == pytest.approx(radius + 2.0, abs=1e-3)
    side = outer[np.argmax(outer[:, 0])]
    assert math.hypot(side[0], side[1] - centre) == pytest.approx(radius + 1.7, abs=0.02)


def test_a_click_finds_every_figure_of_the_list(planned: Callable[..., Plan]) -> None:
    made = planned(samples=0, head=WALL, fit={"method": "split-shoulder"}, shank={"width_mm": 4.4})
    keys = {text.key for text in ring_sheet(made, 186, 250).texts()}
    assert {
        "shank.split_from",
        "shank.branch",
        "shank.spread",
        "shank.bezel_notch",
        "shank.inside_diameter",
        "seat.table_above_finger",
    } <= keys
