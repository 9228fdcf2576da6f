"""Who may: PINs, roles as one table, locks; the history that nothing alters."""

from __future__ import annotations

import base64
from collections.abc import Callable
from datetime import datetime, timedelta
from pathlib import Path
from typing import Any

import pytest
from sqlalchemy import text

from tests.conftest import SHIPPED_COST
from tests.ready import Fill, blank
from yarvel.figures.errors import StoreError
from yarvel.figures.rules import HouseRules
from yarvel.workshop.dockets.records import DocketEdit
from yarvel.workshop.people import pins
from yarvel.workshop.people.pins import digest_of, proof_of
from yarvel.workshop.storage.rights import ROLES, WHO_MAY, NotAllowedError
from yarvel.workshop.store import Store

PINS = {"Oona": "4411", "Ferran": "90210", "Yusra": "73731", "Ib": "555500"}


def with_people(store: Store) -> None:
    """One person a role, each with a PIN; nobody signed in."""
    owner = store.people.first_owner("Oona", PINS["Oona"])
    for name, role in zip(("Ferran", "Yusra", "Ib"), ("front desk", "bench", "lead"), strict=True):
        person = store.people.add(name, role)
        store.people.set_pin(person.id, PINS[name])
    assert owner.role == "owner"
    store.people.sign_out()


@pytest.fixture
def filling(request: pytest.FixtureRequest) -> Fill:
    return with_people if "staffed" in request.fixturenames else blank


@pytest.fixture
def staffed(store: Store) -> Store:
    return store


def test_without_a_pin_everybody_is_trusted(store: Store) -> None:
    store.people.first_owner("Oona", "")
    assert not store.people.wanted()
    assert store.new_docket("Saltmarsh").number == "31-0001"


DEEDS: dict[str, Callable[[Store, Any], object]] = {
    "take in dockets and change what was taken in": lambda store, _docket: store.new_docket("Ferry"),
    "measure stones": lambda store, docket: store.edit(
        docket.id, DocketEdit(job_patches=({"stone": {"depth_mm": 3.3}},))
    ),
    "plan heads, shanks and repairs": lambda store, docket: store.edit(
        docket.id, DocketEdit(job_patches=({"head": {"claws": 6}},))
    ),
    "tick and measure checks": lambda store, docket: store.edit(
        docket.id, DocketEdit(job_patches=(), fields={"ticks": ["level"]})
    ),
    "move a docket on": lambda store, docket: store.edit(
        docket.id, DocketEdit(job_patches=(), fields={"state": "in work"})
    ),
    "hand over": lambda store, docket: store.edit(
        docket.id,
        DocketEdit(
            job_patches=(),
            fields={"state": "handed over", "released_by": store.by, "release_reason": "fetched in a hurry"},
        ),
    ),
    "work on tasks and hand them on": lambda store, _docket: store.tasks.start(1, 2),
    "make tasks and give them to others": lambda store, docket: store.tasks.plan_tasks(docket.id, [("Close", 20.0)]),
    "write in the fine book": lambda store, _docket: store.fine.add("issued", "18k-yellow", 2.0, 1),
    "change the drawer": lambda store, _docket: store.drawer.remove([1]),
    "change house rules, alloys and standard minutes": lambda store, _docket: store.house.keep(HouseRules()),
    "change people, roles and PINs": lambda store, _docket: store.people.add("Somebody"),
}


@pytest.mark.parametrize("name", PINS)
def test_the_store_holds_everybody_to_the_table(name: str, staffed: Store) -> None:
    """Each deed on a docket and a task of its own; one store for all of them, for people and PINs take long to make."""
    staffed.people.sign_in("Oona", PINS["Oona"])
    dockets = {act: staffed.new_docket("Saltmarsh") for act in DEEDS}
    for docket in dockets.values():
        staffed.tasks.plan_tasks(docket.id, [("Close", 30.0)])
    role = staffed.people.sign_in(name, PINS[name]).role
    for act, deed in DEEDS.items():
        if role in WHO_MAY[act]:
            deed(staffed, dockets[act])
        else:
            with pytest.raises(NotAllowedError, match=f"{role}: may not {act}"):
                deed(staffed, dockets[act])
    staffed.people.sign_out()
    for act, deed in DEEDS.items():
        with pytest.raises(NotAllowedError, match="nobody is signed in"):
            deed(staffed, dockets[act])


def test_the_table_names_only_roles_and_the_owner_may_all() -> None:
    assert all(set(roles) <= set(ROLES) and "owner" in roles for roles in WHO_MAY.values())


def test_five_wrong_pins_lock_for_five_minutes_and_no_clock_put_back_opens(tmp_path: Path) -> None:
    """A file knows no clock but the window's: put back, the lock begins anew, it neither falls nor lasts for ever."""
    now = [datetime(2031, 4, 9, 8, 30)]
    store = Store(tmp_path / "store.sqlite", clock=lambda: now[0])
    store.people.first_owner("Oona", "4411")
    store.people.sign_out()
    for _ in range(4):
        with pytest.raises(NotAllowedError, match="name or PIN is wrong"):
            store.people.sign_in("Oona", "0000")
    with pytest.raises(NotAllowedError, match="locked after 5 wrong PINs"):
        store.people.sign_in("Oona", "0000")
    for back in (timedelta(days=300), timedelta(minutes=9), timedelta(hours=2)):
        now[0] -= back
        with pytest.raises(NotAllowedError, match="locked"):
            store.people.sign_in("Oona", "4411")
    now[0] += timedelta(minutes=6)
    assert store.people.sign_in("Oona", "4411").name == "Oona"
    store.close()


@pytest.mark.keeper
def test_the_lock_of_a_team_goes_by_the_servers_clock(team_store: str) -> None:
    """Forty wrong PINs with a window's clock that goes backwards are refused as five are."""
    now = [datetime(2031, 4, 9, 8, 30)]
    store = Store(team_store, clock=lambda: now[0])
    store.people.first_owner("Oona", "4411")
    store.people.sign_out()
    told = []
    for _ in range(12):
        now[0] -= timedelta(minutes=30)
        with pytest.raises(NotAllowedError) as caught:
            store.people.sign_in("Oona", "0000")
        told.append("locked" in str(caught.value))
    assert told == [False] * 4 + [True] * 8
    now[0] += timedelta(days=900)
    with pytest.raises(NotAllowedError, match="locked"):
        store.people.sign_in("Oona", "4411")
    with store.transaction() as session:
        session.execute(text("UPDATE pin_tries SET locked_until = locked_until - interval '6 minutes'"))
    assert store.people.sign_in("Oona", "4411").name == "Oona"
    store.close()


def test_wrong_old_pins_count_as_wrong_pins_do(staffed: Store) -> None:
    yusra = staffed.people.sign_in("Yusra", PINS["Yusra"])
    for _ in range(4):
        with pytest.raises(NotAllowedError, match="old one is wrong"):
            staffed.people.set_pin(yusra.id, "24682", "0000")
    for _ in range(2):
        with pytest.raises(NotAllowedError, match="locked"):
            staffed.people.set_pin(yusra.id, "24682", "0000")
    with pytest.raises(NotAllowedError, match="locked"):
        staffed.people.sign_in("Yusra", PINS["Yusra"])


@pytest.mark.keeper
def test_no_secret_is_readable_where_a_salt_is(staffed: Store) -> None:
    with staffed.transaction() as session:
        row = session.execute(text("SELECT * FROM people WHERE name = 'Yusra'")).mappings().one()
        assert row["pin_salt"].startswith("argon2id$v=19$m=") and "pin_hash" not in row
        digest = session.execute(text(f"SELECT digest FROM pins WHERE person_id = {row['id']}")).scalar_one()
    assert digest == digest_of(proof_of(PINS["Yusra"], row["pin_salt"])) != proof_of(PINS["Yusra"], row["pin_salt"])


def test_a_pin_costs_what_the_standard_recommends(staffed: Store, monkeypatch: pytest.MonkeyPatch) -> None:
    # RFC 9106, section 4, second recommended option: Argon2id, 3 passes, 4 lanes, 64 MiB, salt 128 bit, tag 256 bit
    monkeypatch.setattr(pins, "COST", SHIPPED_COST)
    yusra = next(person for person in staffed.people.all() if person.name == "Yusra")
    staffed.people.sign_in("Oona", PINS["Oona"])
    staffed.people.set_pin(yusra.id, "97531")
    with staffed.transaction() as session:
        kind, version, cost, salt = (
            session.execute(text(f"SELECT pin_salt FROM people WHERE id = {yusra.id}")).scalar_one().split("$")
        )
    assert (kind, version, cost) == ("argon2id", "v=19", f"m={64 * 1024},t=3,p=4")
    assert len(base64.b64decode(salt + "==")) * 8 == 128
    assert len(bytes.fromhex(proof_of("97531", f"{kind}${version}${cost}${salt}"))) * 8 == 256
    assert staffed.people.sign_in("Yusra", "97531")


def test_nothing_is_written_while_nobody_is_signed_in(staffed: Store) -> None:
    staffed.people.sign_in("Oona", PINS["Oona"])
    docket = staffed.new_docket("Saltmarsh")
    staffed.people.sign_out()
    held = staffed.docket(docket.id)
    for edit in (
        DocketEdit(job_patches=(), fields={"released_by": "Oona", "release_reason": "checked"}),
        DocketEdit(job_patches=(), fields={"estimate": {"total": 1.0}}),
        DocketEdit(job_patches=(), fields={"stones_price": 3.0}),
        DocketEdit(job_patches=(), fields={"drafts": {"stone.depth_mm": "3,"}}),
        DocketEdit(job_patches=({"format": None},)),
    ):
        with pytest.raises(NotAllowedError, match="nobody is signed in"):
            staffed.edit(docket.id, edit)
    assert staffed.docket(docket.id) == held


def test_nobody_releases_in_anothers_name(staffed: Store) -> None:
    staffed.people.sign_in("Ib", PINS["Ib"])
    docket = staffed.new_docket("Saltmarsh")
    said = {"state": "handed over", "release_reason": "checked"}
    with pytest.raises(NotAllowedError, match="nobody releases in another's name"):
        staffed.edit(docket.id, DocketEdit(job_patches=(), fields={**said, "released_by": "Oona"}))
    with pytest.raises(StoreError, match="nothing leaves without a name"):
        staffed.edit(docket.id, DocketEdit(job_patches=(), fields=said))
    mine = {**said, "released_by": "Ib"}
    with pytest.raises(StoreError, match="no check is ticked and nothing measured"):
        staffed.edit(docket.id, DocketEdit(fields=mine))
    assert staffed.docket(docket.id) == docket, "“checked”, and nobody looked at anything"
    assert staffed.edit(docket.id, DocketEdit(fields={**mine, "ticks": ["straight"]})).released_by == "Ib"


@pytest.mark.parametrize(
    "said",
    [
        {},
        {"released_by": "Ib"},
        {"release_reason": "checked"},
        {"released_by": " ", "release_reason": "checked"},
        {"released_by": "Ib", "release_reason": "  "},
    ],
)
def test_the_store_itself_hands_nothing_over_without_name_and_reason(staffed: Store, said: dict[str, str]) -> None:
    """Not only the window: whoever writes past it is refused, and nothing is changed."""
    staffed.people.sign_in("Ib", PINS["Ib"])
    docket = staffed.new_docket("Saltmarsh")
    with pytest.raises(StoreError, match="nothing leaves without a name and a reason"):
        staffed.edit(docket.id, DocketEdit(job_patches=(), fields={"state": "handed over", **said}))
    assert staffed.docket(docket.id) == docket and len(staffed.history(docket.id)) == 1


def test_what_cannot_be(staffed: Store) -> None:
    with pytest.raises(NotAllowedError, match="name or PIN is wrong"):
        staffed.people.sign_in("Nobody", "4411")
    oona = staffed.people.sign_in("Oona", PINS["Oona"])
    for pin in ("123", "12a4", "1" * 13, "١٢٣٤"):
        with pytest.raises(StoreError, match="4 to 12 digits"):
            staffed.people.set_pin(oona.id, pin)
    with pytest.raises(StoreError, match="last owner"):
        staffed.people.change(oona.id, "bench", ())
    with pytest.raises(StoreError, match="people here already"):
        staffed.people.first_owner("Me", "1111")
    yusra = staffed.people.sign_in("Yusra", PINS["Yusra"])
    with pytest.raises(NotAllowedError, match="old one is wrong"):
        staffed.people.set_pin(yusra.id, "24682", "0000")
    staffed.people.set_pin(yusra.id, "24682", PINS["Yusra"])
    assert staffed.people.sign_in("Yusra", "24682").role == "bench"
    with pytest.raises(NotAllowedError, match="bench: may not change people"):
        staffed.people.set_pin(oona.id, "9999")


def test_the_first_pin_is_an_owners(store: Store) -> None:
    hand = store.people.add("Yusra")
    with pytest.raises(StoreError, match="the first PIN is the owner's"):
        store.people.set_pin(hand.id, "2468")


@pytest.mark.keeper
@pytest.mark.parametrize(
    "statement",
    [
        "UPDATE changes SET after = 'null'",
        "DELETE FROM changes",
        "DELETE FROM photographs",
        "UPDATE fine_entries SET mass_g = 1",
    ],
)
def test_the_history_is_never_altered(statement: str, store: Store) -> None:
    from yarvel.exchange.photograph import SmallPhotograph

    docket = store.new_docket("Saltmarsh")
    store.photographs.add(docket.id, SmallPhotograph(1, 1, b"x"))
    store.people.add("Yusra")
    store.fine.add("issued", "18k-yellow", 2.0, 1)
    with pytest.raises(StoreError, match="never altered"), store.transaction() as session:
        session.execute(text(statement))
    assert len(store.history(docket.id)) == 2
