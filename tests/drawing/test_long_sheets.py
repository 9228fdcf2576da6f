"""The sheet of stones that are not round: both measures, holding marked, Vs with their fold, grips on claws."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np
import pytest

from yarvel.drawing.primitives import Drawing, Path
from yarvel.drawing.sheet import sheet
from yarvel.figures.figure import FigureKey
from yarvel.planning.plan import Plan

PEAR = {"cut": "pear", "diameters_mm": None, "depth_mm": None, "length_mm": 9.0, "width_mm": 6.2}


def drawn(planned: Callable[..., Plan], stone: dict[str, Any], **head: Any) -> Drawing:
    return sheet(planned(samples=0, stone=stone, head={"claws": None, **head}), 186, 168)


def strokes(drawing: Drawing, role: str) -> list[np.ndarray]:
    return [item.points for item in drawing.items if isinstance(item, Path) and item.stroke == role]


@pytest.mark.parametrize(
    ("axis", "front", "side"),
    [("along-finger", "stone.width", "stone.length"), ("along-band", "stone.length", "stone.width")],
)
def test_both_measures_stand_over_the_view_they_are_seen_in(
    planned: Callable[..., Plan], axis: str, front: str, side: str
) -> None:
    places = {text.key: text.at[0] for text in drawn(planned, PEAR, stone_axis=axis).texts() if text.key}
    assert places[front] < places[side]


def test_pushes_and_the_open_stretch_are_marked_on_long_stones_only(planned: Callable[..., Plan]) -> None:
    pear, plain = drawn(planned, PEAR), drawn(planned, {})
    assert len(strokes(pear, "stretch")) == 1 and strokes(plain, "stretch") == []
    run = strokes(pear, "stretch")[0]
    made = planned(samples=0, stone=PEAR, head={"claws": None})
    length = float(np.hypot(*np.diff(run, axis=0).T).sum()) / pear.scale
    assert length == pytest.approx(made[FigureKey("head.open_stretch")], rel=0.12)
    assert len(strokes(pear, "seat-line")) == len(strokes(plain, "seat-line")) + len(made.shape.places)


def test_every_claw_but_a_point_can_be_taken_hold_of(planned: Callable[..., Plan]) -> None:
    grips = [grip for grip in drawn(planned, PEAR).grips if grip.axis == "turn"]
    made = planned(samples=0, stone=PEAR, head={"claws": None})
    assert len(grips) == len([place for place in made.shape.places if place.kind == "claw"])
    for grip in grips:
        number = int(grip.name.removeprefix("claw-"))
        assert grip.value == pytest.approx(made.claw_azimuths_deg[number])
        off = np.array(grip.at) - grip.centre
        assert np.degrees(np.arctan2(-off[1], off[0])) % 360 == pytest.approx(grip.value, abs=6)


def test_paired_corners_have_nothing_to_move(planned: Callable[..., Plan]) -> None:
    drawing = drawn(planned, {**PEAR, "cut": "emerald"}, style="paired-corner")
    assert [grip for grip in drawing.grips if grip.axis == "turn"] == []


def test_a_v_is_drawn_with_its_fold(planned: Callable[..., Plan]) -> None:
    """Two Vs face the viewer in the front view of a princess, each with the line of its fold."""
    princess = {"cut": "princess", "diameters_mm": None, "depth_mm": None, "length_mm": 6.0, "width_mm": 6.0}
    vees, basket = drawn(planned, princess, style="v-claw"), drawn(planned, {**princess, "cut": "oval"})
    assert len(strokes(vees, "outline")) > 8
    folds = [points for points in strokes(vees, "outline") if 15 < len(points) < 30 and points[0][1] > points[-1][1]]
    assert len(folds) >= 4
    assert not [points for points in strokes(basket, "outline") if len(points) == 20 and points[0][1] > points[-1][1]]


def test_a_cabochon_has_a_base_and_no_culet(planned: Callable[..., Plan]) -> None:
    dome = {"cut": "oval-cabochon", "diameters_mm": None, "depth_mm": 3.4, "length_mm": 9.0, "width_mm": 7.0}
    texts = [text.text for text in drawn(planned, dome, style="cast-claw").texts()]
    assert not any(text.startswith(("culet", "table")) for text in texts)
    assert any(text.startswith("top") for text in texts) and any(text.startswith("seat") for text in texts)
