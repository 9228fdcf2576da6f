"""Month's ends that are signed off, and the balance by eye."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import datetime
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests import stated
from yarvel.clock import here, kept
from yarvel.desk.fine.balance_view import bar_of
from yarvel.drawing.balance import PARTS, balance
from yarvel.drawing.metrics import box
from yarvel.drawing.primitives import Path as Drawn
from yarvel.figures.errors import StoreError
from yarvel.figures.rules import HouseRules
from yarvel.workshop.acts import Act, WeighMetal, do
from yarvel.workshop.metal.fine_book import BOUGHT, Balance, month_of
from yarvel.workshop.metal.fine_sums import month_sums
from yarvel.workshop.store import Store


class Clock:
    now = datetime(2031, 4, 9, 8, 30)

    def __call__(self) -> datetime:
        return self.now


@pytest.fixture
def store(tmp_path: Path) -> Iterator[Store]:
    made = Store(tmp_path / "a.sqlite", clock=Clock(), by="Yusra")
    made.fine.add(BOUGHT, "18k-yellow", 50.0, at=datetime(2031, 3, 4))
    yield made
    made.close()


def test_a_month_that_is_signed_off_takes_no_line(store: Store) -> None:
    """Neither typed nor waiting on a machine since: what was weighed in it stands in the month that is open, and says
    when that was. It is never opened again."""
    store.closings.close("2031-03")
    assert {month: (one.by, one.on) for month, one in store.closings.all().items()} == {
        "2031-03": ("Yusra", "2031-04-09")
    }
    late = Act(WeighMetal(kind=BOUGHT, alloy="18k-yellow", mass_g=1.5), kept(datetime(2031, 3, 31, 23, 59)))
    do(store, late)
    store.fine.add(BOUGHT, "18k-yellow", 2.0)
    entry = next(entry for entry in store.fine.entries() if entry.mass == 1.5)
    assert (entry.at, entry.note) == (Clock.now, "weighed 2031-03-31 23:59")
    year = {month: month_sums(store, 2031, month)[0].closing for month in (3, 4)}
    assert year == {3: 50.0, 4: 53.5} and store.closings.verify() == []
    assert not hasattr(store.closings, "open")


@pytest.mark.parametrize(
    ("month", "said"), [("2031-04", "not over yet"), ("2031-13", "is no month"), ("March", "no month")]
)
def test_what_is_no_month_or_not_over_is_refused(store: Store, month: str, said: str) -> None:
    with pytest.raises(StoreError, match=said):
        store.closings.close(month)


grams = st.floats(0, 500)


@given(
    st.lists(st.tuples(grams, grams, grams, grams, grams), min_size=1, max_size=8),
    st.floats(0, 0.2),
    st.floats(120, 300),
)
def test_a_bar_is_as_long_as_its_grams(rows: list[tuple[float, ...]], allowance: float, width: float) -> None:
    """All bars in one scale, parts side by side, nothing off the paper."""
    rules = HouseRules(loss_allowance=allowance)
    held = [Balance(f"Orla {place}", "18k-yellow", sum(row), *row[:4]) for place, row in enumerate(rows)]
    bars = [bar_of(one, rules) for one in held]
    drawn = balance(bars, width)
    boxes = [item for item in drawn.items if isinstance(item, Drawn) and item.fill][len(PARTS) :]
    long = sum(float(np.ptp(np.asarray(item.points)[:, 0])) for item in boxes)
    issued = sum(max(part, 0.0) for bar in bars for part in bar.grams)
    most = max(sum(max(part, 0.0) for part in bar.grams) for bar in bars)  # the widest of them
    if most > 1:
        widest = max(
            sum(float(np.ptp(np.asarray(item.points)[:, 0])) for item in boxes if abs(_top(item) - top) < 0.1)
            for top in {_top(item) for item in boxes}
        )
        assert long == pytest.approx(widest * issued / most, rel=0.03, abs=1.5)
    for text in drawn.texts():
        left, _, right, bottom = box(text)
        assert left >= -0.3 and right <= width + 0.3 and bottom <= drawn.height + 0.5


def _top(item: Drawn) -> float:
    return float(np.asarray(item.points)[:, 1].min())


def test_words_at_a_bar() -> None:
    rules = HouseRules(loss_allowance=0.03)
    told = bar_of(
        Balance(of="Orla", alloy="18k-yellow", issued=10.0, returned=2.0, offcuts=1.0, filings=0.5, used=6.1), rules
    )
    assert told.text == "0.40 g lost of 10.00, over 0.24" and told.marked and told.label == "Orla, 18k yellow gold"
    assert bar_of(
        Balance(of="Orla", alloy="18k-yellow", issued=10.0, returned=2.0, offcuts=1.0, filings=0.5, used=6.4), rules
    ).text.endswith("within 0.24")
    assert (
        bar_of(
            Balance(of="Orla", alloy="18k-yellow", issued=10.0, returned=0, offcuts=0, filings=0, used=0), rules
        ).text
        == "10.00 g open of 10.00"
    )
    under_way = bar_of(
        Balance(
            of="Orla", alloy="18k-yellow", issued=10.0, returned=2.0, offcuts=1.0, filings=0.5, used=5.1, in_work=1.0
        ),
        rules,
    )
    assert under_way.text == "0.40 g lost of 10.00, over 0.21; 1.00 g in work"
    more = bar_of(Balance(of="Orla", alloy="18k-yellow", issued=5.0, returned=6.0, offcuts=0, filings=0, used=0), rules)
    assert more.marked and more.text == "1.00 g more came back than went out"


@pytest.mark.parametrize(
    ("zone", "month"),
    [
        pytest.param("UTC0", "2031-02", id="UTC-2031-02"),
        pytest.param("EAST-9", "2031-03", id="Etc/GMT-9-2031-03"),
        pytest.param("WEST9", "2031-02", id="Etc/GMT+9-2031-02"),
    ],
)
def test_a_months_end_is_that_of_the_clock_on_the_wall(zone: str, month: str, tmp_path: Path) -> None:
    """Weighed at 20:00 UTC on the last of February, nine hours farther east it is March: told, summed and signed off
    alike."""
    stated.live_in(zone)
    store = Store(tmp_path / "store.sqlite", clock=lambda: datetime(2031, 4, 9))
    at = datetime(2031, 2, 28, 20)
    store.fine.add("bought", "18k-yellow", 5.0, None, "", "", at)
    assert f"{here(store.fine.entries()[0].at):%Y-%m}" == month
    start, end = month_of(*(int(part) for part in month.split("-")))
    assert start <= at < end
    store.closings.close(month)
    late = store.fine.add("bought", "18k-yellow", 1.0, None, "", "", at)
    assert (late.at, late.note) == (datetime(2031, 4, 9), f"weighed {here(at):%Y-%m-%d %H:%M}")
    store.close()
