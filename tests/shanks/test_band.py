"""A band whose section changes along the ring: its figures by integration, its body by what it is built of."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.integrate import quad

from tests.conftest import BASE
from tests.strategies import BUILT
from yarvel.desk.stations.sections_line import sections_of, sections_text
from yarvel.drawing.ring_sheet import ring_sheet
from yarvel.exchange.job_file import checked_job
from yarvel.exchange.plan_file import plan_document
from yarvel.figures.errors import JobError
from yarvel.figures.figure import FigureKey
from yarvel.figures.rules import HouseRules
from yarvel.planning.bodies import bodies
from yarvel.planning.job import merge_patch
from yarvel.planning.plan import Plan
from yarvel.planning.weighing import weighed
from yarvel.route.running import route_of
from yarvel.shanks.band import _GAUSS, FILL, PROFILES, Band, BandStation
from yarvel.shanks.joinery import Joinery
from yarvel.shanks.resizing import stretched
from yarvel.solids.bodies import Fineness
from yarvel.solids.shank import Seating, round_about

RULES = HouseRules()
FINE = Fineness(96, 24)
BACK: dict[str, Any] = {
    "profile": "half-round",
    "head_profile": "flat",
    "head_width_mm": 4.2,
    "stations": [
        {"turn_deg": 45, "width_mm": 3.8, "profile": "flat"},
        {"turn_deg": 95, "width_mm": 2.7, "thickness_mm": 1.9, "profile": "half-round"},
    ],
}
_WIDE, _THICK = st.floats(1.5, 6), st.floats(1.0, 3)


@st.composite
def bands(draw: st.DrawFn) -> Band:
    profiles = st.sampled_from(PROFILES)
    turns = sorted(draw(st.lists(st.integers(2, 34).map(lambda part: part * 5.0), max_size=4, unique=True)))
    between = [
        BandStation(turn, draw(st.none() | _WIDE), draw(st.none() | _THICK), draw(st.none() | profiles))
        for turn in turns
    ]
    return Band(
        inside_diameter_mm=draw(st.floats(14, 21)),
        width_mm=draw(_WIDE),
        thickness_mm=draw(_THICK),
        profile=draw(profiles),
        back_width_mm=draw(_WIDE),
        back_thickness_mm=draw(_THICK),
        back_profile=draw(profiles),
        between=tuple(between),
    )


@given(bands())
def test_means_and_volume_by_integration(band: Band) -> None:
    """scipy.quad from station to station; half an ellipse has its centroid 4·h/(3·π) over its base."""
    corners = [one.turn_deg for one in band.stations]

    def mean(value: Callable[[float], float]) -> float:
        return sum(quad(value, *ends)[0] for ends in zip(corners, corners[1:], strict=False)) / 180

    def area(turn: float) -> float:
        thick, crown = float(band.thickness_at(turn)), float(band.crown_at(turn))
        return float(band.width_at(turn)) * thick * ((1 - crown) + crown * math.pi / 4)

    def swept(turn: float) -> float:
        wide, thick, crown = (float(value(turn)) for value in (band.width_at, band.thickness_at, band.crown_at))
        upright, round_part = wide * thick * (1 - crown), wide * thick * crown * math.pi / 4
        way = upright * (band.inside_radius + thick * (1 - crown) / 2)
        return way + round_part * (band.inside_radius + thick * (1 - crown) + 4 * crown * thick / (3 * math.pi))

    assert band.section_mm2 == pytest.approx(mean(area))
    assert band.mean_thickness == pytest.approx(mean(lambda turn: float(band.thickness_at(turn))))
    assert band.volume_mm3 == pytest.approx(2 * math.pi * mean(swept), rel=1e-5)


@BUILT
@given(bands())
def test_the_body_is_whole_and_holds_its_metal(band: Band) -> None:
    """One piece, as much as the integral; cut across at a station it shows that section."""
    body = round_about(Seating(band, -5.0, Joinery()), FINE)
    assert len(body.decompose()) == 1
    assert body.volume() == pytest.approx(band.volume_mm3, rel=0.01)
    for station in band.stations[1:-1]:
        turned = body.translate((0, 0, 5.0 + band.inside_radius)).rotate((0, -station.turn_deg, 0))
        cut = turned.rotate((0, 90, 0)).slice(0.0).to_polygons()  # x is down now, y along the finger
        there = [loop for loop in cut if np.asarray(loop)[:, 0].mean() > 0]
        low, high = np.asarray(there[0]).min(axis=0), np.asarray(there[0]).max(axis=0)
        assert high[1] - low[1] == pytest.approx(float(band.width_at(station.turn_deg)), rel=0.02)
        assert high[0] - low[0] == pytest.approx(float(band.thickness_at(station.turn_deg)), rel=0.03)


def test_between_stations_each_measure_runs_on_evenly() -> None:
    """What a station does not say is taken from its neighbours that do."""
    band = Band(
        inside_diameter_mm=17.0,
        width_mm=4.0,
        thickness_mm=1.6,
        profile="flat",
        back_width_mm=2.0,
        back_thickness_mm=2.0,
        back_profile="half-round",
        between=(BandStation(60.0, 3.7), BandStation(120.0, None, 1.0)),
    )
    assert float(band.width_at(90.0)) == pytest.approx((3.7 * 90 + 2.0 * 30) / 120)
    assert float(band.thickness_at(60.0)) == pytest.approx(1.3) and band.widest == (4.0, 2.0)
    assert float(band.fill_at(180.0)) == pytest.approx(FILL["half-round"]) and float(band.fill_at(0.0)) == 1.0
    assert Band(inside_diameter_mm=17.0, width_mm=4.0, thickness_mm=1.6, profile="court").section_mm2 == pytest.approx(
        4.0 * 1.6 * FILL["court"]
    )


def test_a_stretched_band_gives_at_every_station() -> None:
    band = Band(
        inside_diameter_mm=17.0,
        width_mm=4.0,
        thickness_mm=1.6,
        profile="flat",
        back_width_mm=None,
        back_thickness_mm=None,
        back_profile=None,
        between=(BandStation(90.0, 3.0, 1.2),),
    )
    after = stretched(band, 16.0)
    share = after.width_mm / band.width_mm
    assert share < 1 and float(after.width_at(90.0)) == pytest.approx(3.0 * share)
    assert float(after.thickness_at(90.0)) == pytest.approx(1.2 * share)


@pytest.mark.parametrize("method", ["inset", "on-flat", "peg", "split-shoulder", "basket-point"])
def test_a_flat_top_with_a_half_round_back(method: str, planned: Callable[..., Plan]) -> None:
    """Planned, built in one piece, its grams add up; the route and the paper tell every section with where it is."""
    made = weighed(planned(samples=0, shank=BACK, fit={"method": method}))
    assert len(bodies(made).parts["shank"].decompose()) == 1
    balance = plan_document(made)["balance"]
    left = balance["issue_g"] - balance["finished_g"] - balance["back_g"] - balance["filings_g"]
    assert left == pytest.approx(0, abs=1e-4) and balance["filings_g"] >= 0
    told = next(step.operation.text for step in route_of(made).steps if step.operation.key == "file-to-shape-shank")
    band = made.band
    assert band is not None
    outside = math.radians(45) * (band.inside_radius + float(band.thickness_at(45)))
    assert f"flat at 45° on both sides, {outside:.1f} mm from" in told and "half-round at the back" in told
    words = {item.text for item in ring_sheet(made, 190, 260).items if hasattr(item, "text")}
    assert {"45° round", "95° round", "2.70 × 1.90 half-round"} <= words


def test_the_stock_is_as_thick_as_the_band_gets_anywhere(planned: Callable[..., Plan]) -> None:
    thick = {"stations": [{"turn_deg": 60, "thickness_mm": 2.6}], "thickness_mm": 1.8}
    made = weighed(planned(samples=0, shank=thick))
    bar = next(lot for step in route_of(made).steps for lot in step.operation.takes if lot.part == "shank")
    assert bar.down_mm == pytest.approx(2.6)
    even = planned(samples=0, shank={"thickness_mm": 1.8})
    key = FigureKey("shank.blank_length")
    assert made[key] - even[key] == pytest.approx(math.pi * 0.4), "half the bulge, all along the mid-line"


@pytest.mark.parametrize(
    ("stations", "path"),
    [
        ([{"turn_deg": 60, "width_mm": 3.0}, {"turn_deg": 60, "width_mm": 2.0}], "shank.stations"),
        ([{"turn_deg": 90, "width_mm": 3.0}, {"turn_deg": 60, "width_mm": 2.0}], "shank.stations"),
        ([{"turn_deg": 60}], "shank.stations.0"),
        ([{"turn_deg": 60, "profile": "oval"}], "shank.stations.0.profile"),
        ([{"turn_deg": 178, "width_mm": 3.0}], "shank.stations.0.turn_deg"),
        ([{"turn_deg": 60, "thickness_mm": 0.3}], "shank.stations.0.thickness_mm"),
    ],
)
def test_stations_that_cannot_be_are_refused(stations: list[dict[str, Any]], path: str) -> None:
    with pytest.raises(JobError) as refused:
        checked_job(merge_patch(BASE, {"shank": {"stations": stations}}), RULES)
    assert path in [problem.path for problem in refused.value.problems]
    assert all(problem.accepted for problem in refused.value.problems)


_SIZE = st.none() | st.floats(1.5, 4).map(lambda size: round(size, 2))


@given(
    st.lists(
        st.tuples(st.integers(5, 175), _SIZE, _SIZE, st.none() | st.sampled_from(PROFILES)),
        min_size=1,
        max_size=5,
        unique_by=lambda one: one[0],
    )
)
def test_what_is_typed_for_the_sections_says_the_same_again(rows: list[tuple[Any, ...]]) -> None:
    names = ("turn_deg", "width_mm", "thickness_mm", "profile")
    stations = [
        {name: value for name, value in zip(names, row, strict=True) if value is not None}
        for row in sorted(rows)
        if row[1:] != (None, None, None)
    ]
    if stations:
        assert sections_of(sections_text(stations)) == stations


@pytest.mark.parametrize(
    ("text", "count"),
    [
        ("40° 3.4 × 1.9 flat; 110° 2,6 x 1,7", 2),
        ("40: 3.4 by 1.9", 1),
        ("60 half-round", 1),
        ("60 – × 2.2 Court;", 1),
        ("40", None),
        ("40 3.4", None),
        ("110 3 x 2; 40 3 x 2", None),
        ("2 3 x 2", None),
        ("40 30 x 2", None),
        ("40 3 x 2 oval", None),
        ("nonsense", None),
    ],
)
def test_how_sections_are_typed(text: str, count: int | None) -> None:
    found = sections_of(text)
    assert (None if found is None else len(found)) == count


def test_the_rule_that_means_are_taken_by_is_gauss_and_legendres() -> None:
    """NumPy's own rule of eight spots."""
    spots, weights = np.polynomial.legendre.leggauss(8)
    order = np.argsort(_GAUSS[0])
    assert _GAUSS[0][order] == pytest.approx(spots, abs=1e-14) and _GAUSS[1][order] == pytest.approx(weights, abs=1e-14)
