"""The fine book: grams are kept, balances add up, the month's end is that of its lines."""

from __future__ import annotations

from datetime import datetime, timedelta
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from yarvel.figures.errors import StoreError
from yarvel.workshop.metal.fine_book import (
    BOUGHT,
    COUNTED,
    FILINGS,
    ISSUED,
    KINDS,
    OFFCUTS,
    RETURNED,
    SENT,
    USED,
    FineEntry,
    balances,
    month,
)
from yarvel.workshop.metal.fine_sums import metal_balances, overview
from yarvel.workshop.store import Store

_LINES = st.lists(
    st.tuples(
        st.sampled_from(tuple(KINDS)),
        st.sampled_from(["18k-yellow", "platinum-950"]),
        st.floats(0.01, 50),
        st.sampled_from(["Orla", "Benno"]),
        st.sampled_from(["31-0001", "31-0002", ""]),
        st.integers(0, 120),
    ),
    max_size=40,
)


def entries(lines: list[tuple[str, str, float, str, str, int]]) -> list[FineEntry]:
    start = datetime(2031, 1, 10)
    return [
        FineEntry(
            id=number,
            at=start + timedelta(days=day),
            by="",
            kind=kind,
            alloy=alloy,
            mass=mass,
            person=person,
            docket=docket,
        )
        for number, (kind, alloy, mass, person, docket, day) in enumerate(sorted(lines, key=lambda line: line[5]))
    ]


@given(_LINES)
def test_no_gram_is_made_or_lost(lines: list[tuple[str, str, float, str, str, int]]) -> None:
    """Bought and counted = in the safe + at the benches + in pieces + sent away, by alloy."""
    made = entries(lines)
    for row in month(made, 2031, 12):
        mine = [entry for entry in made if entry.alloy == row.alloy]

        def total(kind: str, mine: list[FineEntry] = mine) -> float:
            return sum(entry.mass for entry in mine if entry.kind == kind)

        came = total(BOUGHT) + total(COUNTED)
        assert came == pytest.approx(row.closing + row.at_benches + total(USED) + total(SENT), abs=1e-9)


@given(_LINES)
def test_months_follow_each_other(lines: list[tuple[str, str, float, str, str, int]]) -> None:
    made = entries(lines)
    for number in range(1, 6):
        closing = {row.alloy: row.closing for row in month(made, 2031, number)}
        opening = {row.alloy: row.opening for row in month(made, 2031, number + 1)}
        assert all(opening[alloy] == pytest.approx(mass) for alloy, mass in closing.items())


@given(_LINES)
def test_people_and_dockets_are_balanced_apart(lines: list[tuple[str, str, float, str, str, int]]) -> None:
    made = entries(lines)
    everybody = sum(balance.open for balance in balances(made, "person"))
    assert everybody == pytest.approx(sum(row.at_benches for row in month(made, 2031, 12)), abs=1e-9)
    named = [entry for entry in made if entry.docket]
    assert {(balance.of, balance.alloy) for balance in balances(made, "docket")} <= {
        (entry.docket, entry.alloy) for entry in named
    }


def test_a_dockets_loss_is_a_share_of_what_was_worked() -> None:
    made = [
        FineEntry(
            id=number,
            at=datetime(2031, 1, 1),
            by="",
            kind=kind,
            alloy="18k-yellow",
            mass=mass,
            person="Orla",
            docket="31-0001",
        )
        for number, (kind, mass) in enumerate(
            ((ISSUED, 10.0), (RETURNED, 2.0), (OFFCUTS, 1.0), (FILINGS, 0.6), (USED, 6.2))
        )
    ]
    balance = balances(made, "docket")[0]
    assert balance.open == pytest.approx(0.2) and balance.loss_share() == pytest.approx(0.2 / 8)


def test_what_is_in_work_is_not_lost(store: Store) -> None:
    """Of a docket that is under way and of which nothing is in a piece yet; once something is, the rest is missing."""
    person = store.people.add("Orla")
    work, ready = store.new_docket("A", state="in work"), store.new_docket("B", state="ready")
    for docket, issued, used in ((work, 6.0, 0.0), (ready, 10.0, 9.4)):
        store.fine.add(BOUGHT, "18k-yellow", 50.0)
        store.fine.add(ISSUED, "18k-yellow", issued, person.id, docket.number)
        if used:
            store.fine.add(USED, "18k-yellow", used, person.id, docket.number)
    (orla,) = overview(store).people
    assert (orla.in_work, orla.lost, orla.worked) == pytest.approx((6.0, 0.6, 10.0))
    assert orla.loss_share() == pytest.approx(0.06) == metal_balances(store)[0].loss_share()
    store.fine.add(USED, "18k-yellow", 5.5, person.id, work.number)
    (orla,) = overview(store).people
    assert (orla.in_work, orla.lost) == pytest.approx((0.0, 1.1))


@pytest.fixture
def book(tmp_path: Path) -> Store:
    store = Store(tmp_path / "s.sqlite", clock=lambda: datetime(2031, 4, 9), by="Yusra")
    store.new_docket("Saltmarsh")
    store.people.add("Orla")
    return store


def test_lines_are_kept_with_who_and_for_what(book: Store) -> None:
    person = book.people.all()[0]
    book.fine.add(BOUGHT, "18k-yellow", 50.0)
    book.fine.add(ISSUED, "18k-yellow", 7.25, person.id, "31-0001", "for the head")
    lines = book.fine.entries()
    assert [(line.kind, line.mass, line.person, line.docket, line.note, line.by) for line in lines] == [
        (BOUGHT, 50.0, "", "", "", "Yusra"),
        (ISSUED, 7.25, "Orla", "31-0001", "for the head", "Yusra"),
    ]
    assert book.fine.entries(datetime(2031, 4, 10)) == []
    book.close()


@pytest.mark.parametrize(
    ("line", "word"),
    [
        (("lost", "18k-yellow", 1.0, 1, ""), "one of issued"),
        ((ISSUED, "tin", 1.0, 1, ""), "alloy"),
        ((ISSUED, "18k-yellow", -1.0, 1, ""), "0.001 to 20000"),
        ((ISSUED, "18k-yellow", float("nan"), 1, ""), "not accepted"),
        ((ISSUED, "18k-yellow", 1.0, None, ""), "to nobody"),
        ((USED, "18k-yellow", 1.0, 1, ""), "in no docket"),
        ((ISSUED, "18k-yellow", 1.0, 1, "99-9999"), "no docket has the number"),
        ((COUNTED, "18k-yellow", 0.0, None, ""), "not nothing"),
    ],
)
def test_what_cannot_be_is_refused_and_nothing_is_written(
    line: tuple[str, str, float, int | None, str], word: str, book: Store
) -> None:
    with pytest.raises(StoreError, match=word):
        book.fine.add(*line)
    assert book.fine.entries() == []
    book.close()


def test_a_count_may_find_less(book: Store) -> None:
    book.fine.add(BOUGHT, "sterling-silver", 100.0)
    book.fine.add(COUNTED, "sterling-silver", -0.4, note="scale was off")
    assert month(book.fine.entries(), 2031, 4)[0].closing == pytest.approx(99.6)
    book.close()


@given(_LINES, st.integers(0, 40))
def test_a_line_and_the_one_that_takes_it_back_come_to_nothing(
    lines: list[tuple[str, str, float, str, str, int]], place: int
) -> None:
    made = entries(lines)
    if not made:
        return
    one = made[place % len(made)]
    back = replace(one, id=1000, mass=-one.mass, reverses=one.id)
    for of in ("person", "docket"):
        without = {(held.of, held.alloy): held.open for held in balances([e for e in made if e is not one], of)}
        both = {(held.of, held.alloy): held.open for held in balances([*made, back], of)}
        assert all(both[key] == pytest.approx(value, abs=1e-9) for key, value in without.items())
        assert all(both[key] == pytest.approx(0, abs=1e-9) for key in both.keys() - without.keys())


@pytest.mark.keeper
def test_a_line_is_taken_back_once_also_after_a_crash(store: Store) -> None:
    """The same act done again changes nothing; another one of the same line is refused, by the database too."""
    line = store.fine.add(BOUGHT, "18k-yellow", 50.0)
    at = datetime(2031, 4, 9, 10)
    first = store.fine.reverse(line.id, "", at)
    assert store.fine.reverse(line.id, "", at) == first and first.mass == -50
    with pytest.raises(StoreError, match="is taken back already"):
        store.fine.reverse(line.id, "again", datetime(2031, 4, 9, 11))
    with pytest.raises(StoreError, match="not in this fine book"):
        store.fine.reverse(9999, "", at)
    assert [entry.mass for entry in store.fine.entries()] == [50, -50]
    with pytest.raises(StoreError, match="0\\.001 to 20000 g"):
        store.fine.add(BOUGHT, "18k-yellow", -5.0)
