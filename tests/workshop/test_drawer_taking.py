"""What is taken from the drawer for a docket leaves its count, once."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import datetime
from pathlib import Path

import pytest

from yarvel.figures.errors import StoreError
from yarvel.workshop.acts import Act, TakeStock, act_from, do
from yarvel.workshop.drawer.stock import HEAD, StockItem
from yarvel.workshop.store import Store

AT = datetime(2031, 4, 9, 8, 30)


@pytest.fixture
def store(tmp_path: Path) -> Iterator[Store]:
    made = Store(tmp_path / "a.sqlite", clock=lambda: AT)
    made.new_docket("Saltmarsh")
    made.drawer.add(
        [StockItem(kind=HEAD, code="H-1", metal="18k-yellow", size_mm=6.4, claws=6, claw_mm=1.0, quantity=1.0)]
    )
    made.drawer.add([StockItem(HEAD, "H-2", size_mm=5.1)])
    yield made
    made.close()


def item(store: Store, code: str) -> StockItem:
    return next(one for one in store.drawer.items() if one.code == code)


def test_taken_once_however_often_it_is_done(store: Store) -> None:
    """An act whose answer was lost is done again, and nothing happens twice; it is told in the docket's history."""
    act = Act(TakeStock(item(store, "H-1").id, 1), AT)
    back = do(store, act)
    do(store, act_from(act.document()))
    assert item(store, "H-1").quantity == 0
    assert [change.after for change in store.history(1)].count("H-1 taken from the drawer") == 1
    with pytest.raises(StoreError, match="there are 0: count it first, or choose another"):
        do(store, Act(act.deed, datetime(2031, 4, 9, 9)))
    assert back is not None
    do(store, Act(back.back, datetime(2031, 4, 9, 10)))
    assert item(store, "H-1").quantity == 1
    assert any(change.after == "H-1 put back into the drawer" for change in store.history(1))


def test_what_is_not_counted_or_gone_is_refused(store: Store) -> None:
    with pytest.raises(StoreError, match="is not counted: count it first"):
        do(store, Act(TakeStock(item(store, "H-2").id, 1), AT))
    gone = item(store, "H-1").id
    store.drawer.remove([gone])
    with pytest.raises(StoreError, match="something that is in the drawer"):
        do(store, Act(TakeStock(gone, 1), AT))
