"""Alloys of the workshop's own in its store: booked, moved, and kept while anything names them."""

from __future__ import annotations

import pytest
from msgspec.structs import replace

from tests.figures.test_own import BENITOITE, GREEN
from yarvel.figures.errors import StoreError
from yarvel.figures.rules import HouseRules, WorkshopData
from yarvel.metals.alloys import ALLOYS
from yarvel.workshop.metal.fine_book import BOUGHT
from yarvel.workshop.store import Store

RULES = HouseRules(custom=WorkshopData(metals=(GREEN,), species=(BENITOITE,)))


def test_every_alloy_can_be_booked(store: Store) -> None:
    store.house.keep(RULES)
    for key in (*ALLOYS, GREEN.key):
        assert store.fine.add(BOUGHT, key, 5.0).alloy == key
    assert {entry.alloy for entry in store.fine.entries()} == {*ALLOYS, GREEN.key}


def test_an_alloy_of_another_workshop_is_not_booked(store: Store) -> None:
    with pytest.raises(StoreError, match="'own-green-gold' is not accepted: one of 18k-yellow"):
        store.fine.add(BOUGHT, GREEN.key, 5.0)


def test_what_nothing_names_can_be_left_out(store: Store) -> None:
    store.house.keep(RULES)
    kept = store.house.keep(HouseRules(), RULES)
    assert kept.custom.metals == kept.custom.species == store.house.rules().custom.metals == ()


@pytest.mark.parametrize("where", ["docket", "the fine book", "the drawer"])
def test_what_something_names_stays(store: Store, where: str) -> None:
    store.house.keep(RULES)
    if where == "docket":
        store.new_docket(job_document={"format": "yarvel-job/1", "head": {"metal": GREEN.key}})
    elif where == "the fine book":
        store.fine.add(BOUGHT, GREEN.key, 5.0)
    else:
        from yarvel.workshop.drawer.stock import StockItem

        store.drawer.add([StockItem(kind="sheet", code="S1", metal=GREEN.key, size_mm=1.0)])
    with pytest.raises(StoreError, match=f"own-green-gold is named by {where}"):
        store.house.keep(HouseRules(), RULES)
    assert store.house.rules() == RULES


def test_two_people_put_in_an_alloy_each(store: Store) -> None:
    other = replace(GREEN, key="own-red-gold", label="Red gold")
    store.house.keep(HouseRules(custom=WorkshopData(metals=(GREEN,))), HouseRules())
    kept = store.house.keep(HouseRules(custom=WorkshopData(metals=(other,))), HouseRules())
    assert kept.custom.metals == (GREEN, other)
