"""Customers: known by their dockets, by a record, by several names; merged and taken apart again."""

from __future__ import annotations

import json
from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from tests.ready import morning
from yarvel.desk.papers.money_acts import bill_page, receipt_page
from yarvel.figures.errors import StoreError
from yarvel.figures.rules import HouseRules
from yarvel.workshop.acts import Act, PutCustomers, act_from, do
from yarvel.workshop.dockets.records import HANDED_OVER, DocketEdit, with_fields
from yarvel.workshop.money.pricing import bill_of
from yarvel.workshop.people.customers import Customer, KnownCustomer, begun, joined, known_of, merged
from yarvel.workshop.storage.authors import Author
from yarvel.workshop.storage.rights import BENCH, FRONT_DESK, OWNER, NotAllowedError
from yarvel.workshop.store import Store


def put(store: Store, *records: Customer, seen: tuple[Customer | None, ...] | None = None) -> PutCustomers:
    before = seen if seen is not None else (None,) * len(records)
    deed = PutCustomers(
        tuple(one.document() for one in records), tuple(None if one is None else one.document() for one in before)
    )
    do(store, Act(deed, morning(), Author("")))
    return deed


def names(store: Store, words: str = "") -> list[str]:
    return [one.name for one in store.customers.all(words)]


def test_whoever_stands_on_a_docket_is_known_without_a_record(store: Store) -> None:
    """Nothing is forced on a workshop that keeps no records; what was put aside counts for nobody."""
    first = store.new_docket("Wick & Sons", "ring")
    store.new_docket("Wick & Sons", "brooch")
    gone = store.new_docket("Old Mill", "ring")
    store.edit(gone.id, DocketEdit(job_patches=(), fields={"withdrawn": "by mistake"}))
    store.edit(first.id, DocketEdit(job_patches=(), fields={"released_by": "me", "release_reason": "x"}))
    store.edit(first.id, DocketEdit(job_patches=(), fields={"state": HANDED_OVER}))
    (known,) = store.customers.all()
    assert (known.name, known.record, known.dockets, known.in_house) == ("Wick & Sons", None, 2, 1)
    assert store.customers.of("Wick & Sons") is None
    assert {docket.item for docket in store.customers.dockets(known.names)} == {"ring", "brooch"}


def test_a_record_gathers_names_and_is_found_by_all_that_it_says(store: Store) -> None:
    for name in ("Wick", "Wick & Sons", "Tarn"):
        store.new_docket(name, "ring")
    wick = Customer(
        key="k",
        name="Wick & Sons",
        kind="shop",
        contact="Quay 3\n555 0100",
        terms="30 days",
        note="prefers Fridays",
        other_names=("Wick",),
    )
    put(store, wick)
    assert store.customers.of("Wick") == store.customers.of("Wick & Sons") == wick
    assert names(store, "quay fridays") == names(store, "wick") == names(store, "0100") == ["Wick & Sons"]
    assert next(one for one in store.customers.all() if one.record).dockets == 2
    assert len(store.customers.dockets(wick.names)) == 2 and names(store, "nobody") == []


def test_what_somebody_else_changed_meanwhile_is_not_written_over(store: Store) -> None:
    first = Customer(key="k", name="Tarn", contact="555 0101")
    put(store, first)
    put(store, replace(first, note="theirs"), seen=(first,))
    with pytest.raises(StoreError, match="changed meanwhile"):
        put(store, replace(first, note="mine"), seen=(first,))
    held = store.customers.of("Tarn")
    assert held is not None and held.note == "theirs"
    put(store, replace(first, note="theirs"), seen=(first,))  # once more, as after an answer that was lost


def test_two_records_do_not_go_by_one_name(store: Store) -> None:
    put(store, Customer(key="a", name="Tarn"))
    with pytest.raises(StoreError, match="by this name already"):
        put(store, Customer(key="b", name="Alder", other_names=("  TARN ",)))
    with pytest.raises(StoreError, match="a name"):
        put(store, Customer(key="c", name="  "))
    with pytest.raises(StoreError, match="at most"):
        put(store, Customer(key="c", name="x" * 500))


def test_merged_customers_keep_all_that_was_known_and_come_apart_by_undo(store: Store) -> None:
    for name in ("Tarn", "Tarn Jewels", "Mr Tarn"):
        store.new_docket(name, "ring")
    mine, theirs = (
        Customer(key="a", name="Tarn", contact="one"),
        Customer(key="b", name="Tarn Jewels", kind="shop", contact="two", note="n"),
    )
    put(store, mine, theirs)
    by_name = {one.name: one for one in store.customers.all()}
    records = merged(by_name["Tarn"], by_name["Tarn Jewels"])
    deed = put(store, *records, seen=(mine, theirs))
    found = {one.name: one for one in store.customers.all()}
    assert set(found) == {"Tarn", "Mr Tarn"} and found["Tarn"].dockets == 2
    whole = found["Tarn"].record
    assert whole is not None and (whole.kind, whole.contact, whole.note) == ("shop", "one\ntwo", "n")
    put(store, *merged(found["Tarn"], found["Mr Tarn"]), seen=(whole,))
    assert names(store) == ["Tarn"] and store.customers.all()[0].dockets == 3
    put(store, whole, seen=(store.customers.of("Tarn"),))
    do(store, Act(deed.back, morning(), Author("")))
    assert {one.name: one.dockets for one in store.customers.all()} == {"Tarn": 1, "Tarn Jewels": 1, "Mr Tarn": 1}
    assert store.customers.of("Tarn Jewels") == theirs
    do(store, Act(deed.back.back, morning(), Author("")))
    assert store.customers.of("Tarn Jewels") == whole


def test_what_was_new_is_gone_when_it_is_taken_back(store: Store) -> None:
    store.new_docket("Tarn", "ring")
    deed = put(store, Customer(key="a", name="Tarn", contact="one"))
    do(store, Act(deed.back, morning(), Author("")))
    assert store.customers.of("Tarn") is None and names(store) == ["Tarn"]
    do(store, Act(deed.back.back, morning(), Author("")))
    held = store.customers.of("Tarn")
    assert held is not None and held.contact == "one"


def test_the_act_can_wait_on_this_machine() -> None:
    """Written down and read again it is the same."""
    deed = PutCustomers((Customer(key="a", name="Tarn", other_names=("T",)).document(),), (None,))
    read = act_from(json.loads(json.dumps(Act(deed, morning(), Author("somebody")).document())))
    assert isinstance(read.deed, PutCustomers) and list(read.deed.records) == list(deed.records)


def test_whoever_may_take_in_changes_customers(store: Store) -> None:
    people = {role: store.people.add(role, role) for role in (OWNER, FRONT_DESK, BENCH)}
    store.people.set_pin(people[OWNER].id, "8642")
    store.people.sign_in(OWNER, "8642")
    for role, pin in ((FRONT_DESK, "4711"), (BENCH, "4712")):
        store.people.set_pin(people[role].id, pin)
    store.people.sign_in(FRONT_DESK, "4711")
    do(store, Act(PutCustomers((Customer(key="a", name="Tarn").document(),), (None,)), morning(), store.author))
    store.people.sign_in(BENCH, "4712")
    with pytest.raises(NotAllowedError):
        do(store, Act(PutCustomers((Customer(key="b", name="Alder").document(),), (None,)), morning(), store.author))


@given(
    st.lists(st.sampled_from("abcdefgh"), min_size=2, max_size=8, unique=True),
    st.lists(st.sampled_from("abcdefgh"), min_size=1, max_size=30),
)
def test_every_docket_is_somebodys_once_however_they_are_merged(people: list[str], on_dockets: list[str]) -> None:
    counted = [(name, on_dockets.count(name), 0, None) for name in dict.fromkeys(on_dockets)]
    known = list(known_of((), counted))
    while len(known) > 1:
        record, *gone = merged(known[0], known[-1])
        records = [one.record for one in known[1:-1] if one.record is not None] + [record]
        assert all(one.gone for one in gone)
        known = list(known_of(records, counted))
        assert sum(one.dockets for one in known) == len(on_dockets)
    assert set(known[0].names) == set(on_dockets)


def test_two_texts_become_one_with_nothing_said_twice() -> None:
    assert joined("a\nb", "b\nc") == "a\nb\nc" and joined("", "x") == "x" and joined("x", "") == "x"
    assert begun(KnownCustomer("Tarn", None, 1, 1, None)).name == "Tarn"


def test_papers_say_how_the_customer_is_reached_and_what_was_agreed(store: Store) -> None:
    docket = with_fields(
        store.new_docket("Tarn", "ring"), {"estimate": {"labour": 80.0, "metal": 12.0, "minutes": 90.0}}
    )
    whose = Customer(key="a", name="Tarn", contact="Quay 3\n555 0100", terms="payable in 30 days")
    bill = bill_of(docket, HouseRules())
    assert bill is not None
    day = date(2031, 3, 4)
    for page in (
        receipt_page(docket, HouseRules(), day, whose),
        bill_page("Invoice", docket, bill, HouseRules(), day, whose),
    ):
        texts = [text.text for text in page.texts()]
        assert texts.index("Tarn") < texts.index("Quay 3") < texts.index("555 0100") < texts.index("ring")
    assert "payable in 30 days" in texts
    assert "Quay 3" not in [text.text for text in receipt_page(docket, HouseRules(), day).texts()]
