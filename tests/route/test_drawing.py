"""Stock brought to its section: drawn and rolled as hands can; what a ring that is there is told."""

from __future__ import annotations

import math
from collections.abc import Callable

import pytest
from hypothesis import given

from tests.strategies import jobs
from tests.told import said
from yarvel.figures.rules import HouseRules, WorkshopData
from yarvel.metals.alloys import ALLOYS
from yarvel.operations.lot import BAR
from yarvel.planning.job import Job
from yarvel.planning.plan import Plan, plan
from yarvel.route.balance import taken
from yarvel.route.drawing import DownTo, down_text, drawn, rolled_from
from yarvel.route.running import route_of


def wires(made: Plan) -> DownTo:
    found = drawn(made, taken(route_of(made)))
    assert found is not None
    return found


@given(jobs())
def test_every_jobs_stock_comes_down_to_its_section(job: Job) -> None:
    made = plan(job, HouseRules(), samples=0)
    lots = taken(route_of(made))
    assert all(lot.count >= 1 and math.isfinite(lot.volume_mm3) and lot.volume_mm3 >= 0 for lot in lots)
    bands = [rolled_from(made, lot) for lot in lots if lot.form == BAR and lot.part == "shank"]
    for down in filter(None, (drawn(made, lots), *bands)):
        sizes = [one.size_mm for one in down.passes]
        assert sizes == sorted(sizes, reverse=True) and down_text(down).endswith(".")


@pytest.mark.parametrize(
    ("stock", "comes", "level"),
    [((2.5, 2.5, 45.0), 45 * 6.25 / (2.4 * 2.0), "caution"), ((3.0, 3.0, 60.0), 60 * 9.0 / (2.4 * 2.0), "ok")],
)
def test_stock_in_hand_comes_as_far_as_its_volume(
    stock: tuple[float, float, float], comes: float, level: str, planned: Callable[..., Plan]
) -> None:
    """Rolling keeps volume (geometry): 2.5 × 2.5 × 45 rolled to 60 has a mean section of 4.69 mm², a handbook case."""
    assert math.isclose(2.5 * 2.5 * 45 / 60, 4.69, abs_tol=0.01)
    held = dict(zip(("across_mm", "down_mm", "length_mm"), stock, strict=True))
    made = planned(samples=0, shank={"width_mm": 2.4, "thickness_mm": 2.0, "stock": held}, fit={"method": "inset"})
    call = next(call for call in made.diagnostics if call.code == "stock-short")
    assert (call.figure, call.level) == (pytest.approx(comes), level)
    assert "the stock in hand" in said(made, "stock")
    if level == "caution":
        assert call.remedy is not None
        shank = {"width_mm": 2.4, "stock": held, **call.remedy["shank"]}
        thinner = planned(samples=0, shank=shank, fit={"method": "inset"})
        assert next(call.level for call in thinner.diagnostics if call.code == "stock-short") == "ok"


def test_an_old_seam_is_shielded_and_not_made(planned: Callable[..., Plan]) -> None:
    slot = {"method": "inset", "height": None, "slot": {"inside_mm": 4.6}}
    told = said(planned(samples=0, fit=slot))
    assert "shield the shank's seam" in told and "Shank seam. Hard" not in told


def test_the_workshops_plate_is_drawn_through(planned: Callable[..., Plan]) -> None:
    house = HouseRules(custom=WorkshopData(plate_mm=(2.2, 1.9, 1.6, 1.3, 1.02)), draw_from_mm=2.5)
    made = planned(samples=0, house=house, head={"claw_mm": 1.0, "ring_mm": 1.0})
    text = down_text(wires(made))
    assert "2.20 → 1.90 – anneal – 1.60" in text
    assert "1.02; cut" in text and "stretch it straight to 1.00" in text


@pytest.mark.parametrize("claw", [0.8, 0.95, 1.15, 1.2])
@pytest.mark.parametrize("metal", ["18k-yellow", "platinum-950", "sterling-silver"])
def test_wire_is_drawn_as_hands_can(claw: float, metal: str, planned: Callable[..., Plan]) -> None:
    """The last stretch by lengths (volume kept): beyond what drawn metal bears it is annealed first; the rod is never a
    stub, and holds all that is cut from it."""
    made = planned(samples=0, head={"claw_mm": claw, "ring_mm": 0.85, "metal": metal})
    down = wires(made)
    bears = ALLOYS[metal].elongation_drawn
    size = None
    for one in down.drawn:
        size = one.passes[-1].size_mm if one.passes else size
        assert size is not None and size >= one.size_mm - 1e-9
        longer = (math.pi / 4 * size**2) / (math.pi / 4 * one.size_mm**2) - 1
        assert one.anneal_before == (longer > bears + 1e-9)
        assert ("anneal and stretch" in down_text(down)) or not one.anneal_before
    rod = down.figures[0].value
    start = float(down.start.split()[-1])
    volume = sum(math.pi / 4 * one.size_mm**2 * one.length_mm for one in down.drawn)
    spare = down.figures[1].value * math.pi / 4 * down.drawn[-1].size_mm ** 2
    assert rod >= 40 and math.pi / 4 * start**2 * rod >= volume + spare - 1e-6


def test_a_thick_rod_is_rolled_square_first(planned: Callable[..., Plan]) -> None:
    made = planned(samples=0, house=HouseRules(draw_from_mm=4.0))
    down = wires(made)
    assert down.square[0] == pytest.approx(4.0 * math.sqrt(math.pi) / 2), "a square of the same section"
    assert "rolled square to" in down_text(down)


def test_a_resizing_and_an_old_slot_are_told(planned: Callable[..., Plan]) -> None:
    made = planned(
        samples=0,
        head={"style": "bought", "made_for_mm": 6.5},
        fit={"method": "inset", "slot": {"inside_mm": 4.0}},
        shank={"resized_from": {"system": "ISO", "value": "52"}},
    )
    text = said(made)
    assert "Open the old head's joints" in text and "put in a piece of 2.00 mm" in text
    smaller = planned(samples=0, shank={"resized_from": {"system": "ISO", "value": "57"}})
    assert "take out 3.00 mm" in said(smaller)
