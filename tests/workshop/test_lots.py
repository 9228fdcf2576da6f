"""Lots: what suits a piece, what is short, and grams that agree in lot, fine book and history."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import asdict, replace

from yarvel.figures.errors import StoreError
from yarvel.operations.lot import BAR, BOUGHT, MELT, ROUND, SOLDER, STRIP, TUBE, Lot
from yarvel.planning.plan import Plan
from yarvel.planning.weighing import weighed
from yarvel.route.balance import given_back, taken
from yarvel.route.running import route_of
from yarvel.workshop.acts import Act, GiveBack, TakeLot, act_from, do
from yarvel.workshop.drawer.lots import (
    Need,
    back_as_lots,
    cut_length_mm,
    needs_of,
    order_text,
    proposed,
    section_mm2,
    suiting,
    suits,
)
from yarvel.workshop.drawer.stock import LOT, NAMES, StockItem
from yarvel.workshop.metal.fine_book import BOUGHT as BOUGHT_IN
from yarvel.workshop.metal.fine_book import ISSUED, OFFCUTS, RETURNED
from yarvel.workshop.store import Store

NOW = datetime(2031, 4, 9, 9, 0)
ROD = StockItem(LOT, "L1", "18k-yellow", 2.5, length_mm=60.0, mass_g=4.565, shape="round", id=1)
BARS = StockItem(LOT, "L2", "18k-yellow", 3.0, thickness_mm=2.5, length_mm=80.0, mass_g=9.3, shape="bar", id=2)
SHEET = StockItem(LOT, "L3", "18k-yellow", 20.0, thickness_mm=0.8, length_mm=30.0, mass_g=7.44, shape="strip", id=3)
PIPE = StockItem(LOT, "L4", "18k-yellow", 5.0, wall_mm=0.8, length_mm=40.0, mass_g=6.55, shape="tube", id=4)
SCRAP = StockItem(LOT, "L5", "18k-yellow", mass_g=12.0, shape="melt", id=5)
ALL = [ROD, BARS, SHEET, PIPE, SCRAP]


def need(form: str, across: float, down: float, length: float, wall: float = 0.0) -> Need:
    area = {
        ROUND: 3.14159 / 4 * across**2,
        TUBE: 3.14159 * (across - wall) * wall,
        MELT: 0.0,
    }.get(form, across * down)
    mass = area * length * 15.5 / 1000 if form != MELT else 3.0
    return Need(
        piece="piece",
        part="head",
        metal="18k-yellow",
        form=form,
        across_mm=across,
        down_mm=down,
        wall_mm=wall,
        area_mm2=area,
        length_mm=length if form != MELT else 0.0,
        mass_g=mass,
    )


@pytest.mark.parametrize(
    ("wanted", "codes"),
    [
        (need(ROUND, 1.0, 1.0, 40), ["L1", "L2", "L3"]),
        (need(BAR, 2.4, 1.8, 50), ["L2", "L1", "L3"]),
        (need(BAR, 2.8, 2.4, 50), ["L2"]),
        (need(STRIP, 4.0, 0.8, 20), ["L3", "L1", "L2"]),
        (need(TUBE, 5.0, 5.0, 6, 0.8), ["L4"]),
        (need(TUBE, 5.4, 5.4, 6, 0.8), []),
        (need(MELT, 0, 0, 0), ["L5", "L1", "L2", "L3", "L4"]),
        (need(BAR, 2.4, 1.8, 500), []),
    ],
)
def test_metal_only_becomes_thinner(wanted: Need, codes: list[str]) -> None:
    """A fact of the trade, common practice: rod and bar are drawn and rolled down; tube is cut from its own kind."""
    found = [item.code for item in suiting(wanted, ALL)]
    assert set(found) <= set(codes) and found[:1] == codes[:1], found


@given(st.floats(0.3, 4), st.floats(5, 200), st.sampled_from([ROUND, BAR]))
def test_a_lot_that_suits_has_the_metal_and_the_section(across: float, length: float, form: str) -> None:
    wanted = need(form, across, across, length)
    for item in suiting(wanted, ALL):
        area = section_mm2(item)
        assert item.mass_g is not None and item.mass_g >= wanted.mass_g - 0.001
        assert area is not None and area >= 0.97 * wanted.area_mm2
        cut = cut_length_mm(wanted, item, wanted.mass_g)
        assert cut is not None and cut <= (item.length_mm or 0)
        assert cut * area * 15.5 / 1000 == pytest.approx(wanted.mass_g, rel=0.03), "so long in the lot's own section"


def test_no_lot_is_given_away_twice_and_what_is_short_is_ordered() -> None:
    wanted = [need(ROUND, 1.0, 1.0, 240), need(ROUND, 1.0, 1.0, 90), need(ROUND, 1.0, 1.0, 90)]
    found = proposed(wanted, [ROD])
    assert [item and item.code for item in found] == ["L1", "L1", None]
    told = order_text(wanted, found, str.upper)
    assert told == "18K-YELLOW, wire: 1.10 g for piece (Ø 1.00, 90.0 mm)"
    theirs = replace(ROD, owner="Orrery House")
    assert proposed(wanted[:1], [theirs, BARS])[0] == BARS, "the workshop's own comes first"
    assert not suits(wanted[0], replace(ROD, metal="sterling-silver"), 5.0)


def test_what_a_route_takes_and_gives_is_what_lots_are_asked_for(planned: Callable[..., Plan]) -> None:
    route = route_of(weighed(planned(samples=0, fit={"method": "inset"})))
    lots, backs = taken(route), given_back(route)
    asked = needs_of(lots)
    assert sum(one.mass_g for one in asked) == pytest.approx(
        sum(lot.grams for lot in lots if lot.form not in (BOUGHT, SOLDER))
    )
    given_lots = back_as_lots(backs, "31-0001", {"18k-yellow": "Orrery House"})
    assert given_lots and {lot.owner for lot in given_lots} == {"Orrery House"}
    assert len({lot.code for lot in given_lots}) == len(given_lots)
    assert sum(lot.mass_g or 0 for lot in given_lots) <= sum(lot.grams for lot in backs) + 0.01
    assert (
        needs_of(
            [
                Lot(
                    piece="head",
                    part="head",
                    metal="18k-yellow",
                    form=BOUGHT,
                    source="drawer",
                    volume_mm3=50.0,
                    density_g_cm3=15.5,
                )
            ]
        )
        == ()
    )


@pytest.fixture
def held(store: Store) -> tuple[Store, int, int, StockItem]:
    docket = store.new_docket("Saltmarsh")
    person = store.people.add("Orla")
    store.fine.add(BOUGHT_IN, "18k-yellow", 50.0)
    store.drawer.add([replace(ROD, id=0), replace(BARS, id=0, owner="Orrery House")])
    rod = next(item for item in store.drawer.items() if item.code == "L1")
    return store, docket.id, person.id, rod


def lot(store: Store, code: str) -> StockItem | None:
    return next((item for item in store.drawer.items() if item.code == code), None)


def test_a_lots_grams_go_through_the_fine_book(held: tuple[Store, int, int, StockItem]) -> None:
    store, docket, person, rod = held
    deed = TakeLot(rod.id, docket, 1.25, 16.4, person)
    reversal = do(store, Act(deed, NOW))
    do(store, Act(deed, NOW))  # once more, as after a crash: nothing changes
    left = lot(store, "L1")
    assert left is not None and left.mass_g == pytest.approx(3.315) and left.length_mm == pytest.approx(43.6)
    lines = store.fine.of_docket(docket)
    assert [(line.kind, line.mass, line.person, line.note) for line in lines] == [(ISSUED, 1.25, "Orla", "lot L1")]
    assert "1.250 g taken from lot L1" in [str(change.after) for change in store.history(docket)]
    assert reversal is not None
    do(store, Act(reversal.back, NOW + timedelta(minutes=1)))
    left = lot(store, "L1")
    assert left is not None and left.mass_g == pytest.approx(4.565) and left.length_mm == pytest.approx(60.0)
    assert [line.kind for line in store.fine.of_docket(docket)] == [ISSUED, RETURNED]


def test_an_empty_lot_goes_out_of_use_and_comes_back_with_undo(held: tuple[Store, int, int, StockItem]) -> None:
    store, docket, person, rod = held
    reversal = do(store, Act(TakeLot(rod.id, docket, 4.565, 60.0, person), NOW))
    assert lot(store, "L1") is None and reversal is not None
    do(store, Act(reversal.back, NOW + timedelta(minutes=1)))
    assert lot(store, "L1") == rod


def test_a_customers_gold_is_not_the_safes(held: tuple[Store, int, int, StockItem]) -> None:
    store, docket, person, _ = held
    theirs = lot(store, "L2")
    assert theirs is not None
    do(store, Act(TakeLot(theirs.id, docket, 2.0, None, person), NOW))
    assert store.fine.of_docket(docket) == [] and store.drawer.owners_of(docket) == {"18k-yellow": "Orrery House"}
    assert "2.000 g of Orrery House's taken from lot L2" in [str(change.after) for change in store.history(docket)]


def test_offcuts_become_a_lot(held: tuple[Store, int, int, StockItem]) -> None:
    store, docket, person, _ = held
    back = StockItem(LOT, "31-0001-a", "18k-yellow", 1.9, thickness_mm=1.7, length_mm=4.1, mass_g=0.207, shape="bar")
    deed = GiveBack({name: value for name, value in asdict(back).items() if name in NAMES}, docket, person)
    act = act_from(Act(deed, NOW).document())  # as it comes back from what waited on disk
    for _ in range(2):
        assert do(store, act) is None
    assert replace(lot(store, "31-0001-a") or ROD, id=0) == back
    assert [(line.kind, line.mass) for line in store.fine.of_docket(docket)] == [(OFFCUTS, 0.207)]


@pytest.mark.parametrize(
    ("mass", "who", "told"),
    [(9.0, True, "weigh it again"), (0.0, True, "weigh it again"), (1.0, False, "taken by nobody")],
)
def test_what_cannot_be_taken_is_told(
    held: tuple[Store, int, int, StockItem], mass: float, who: bool, told: str
) -> None:
    store, docket, person, rod = held
    with pytest.raises(StoreError, match=told):
        do(store, Act(TakeLot(rod.id, docket, mass, None, person if who else None), NOW))
    assert lot(store, "L1") == rod and store.fine.of_docket(docket) == []
