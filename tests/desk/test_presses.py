"""What a dialog has the store do is done once: where the answer is lost, and where somebody presses again."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any, NamedTuple

import pytest
from PySide6.QtGui import QImage
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from tests.desk.conftest import Hand
from tests.stated import MOMENT
from yarvel.desk.storing.presses import Presses
from yarvel.figures.errors import StoreError, StoreGoneError
from yarvel.workshop.dockets.archive_store import Brought
from yarvel.workshop.dockets.finding import dockets_of
from yarvel.workshop.dockets.records import Photograph
from yarvel.workshop.drawer.stock import StockItem
from yarvel.workshop.storage.authors import NOBODY
from yarvel.workshop.storage.schema import ActRow
from yarvel.workshop.store import Store


@pytest.fixture
def store(each_store: Store) -> Store:
    return each_store


def lose_answers(store: Store, count: int) -> None:
    """The next ``count`` transactions are committed, and nobody hears of it."""
    whole, left = store.transaction, [None] * count

    @contextmanager
    def transaction() -> Iterator[Session]:
        with whole() as session:
            yield session
        if left:
            left.pop()
            raise StoreGoneError("the wire was cut")

    store.transaction = transaction  # type: ignore[method-assign]


PICTURE = Photograph(id=0, at=MOMENT, by="", caption="", width=2, height=2, jpeg=b"\xff\xd8\xff\xd9")


class Case(NamedTuple):
    """Something a dialog does, how what came of it is looked up, and what is counted of it."""

    work: Callable[[Store], Any]
    found: Callable[[Store, str], Any]
    counted: Callable[[Store], int]


def _nothing(_store: Store, _act: str) -> None:
    return None


CASES = {
    "photograph": Case(
        lambda store: store.photographs.add(1, PICTURE, "as it came"),
        lambda store, act: store.photographs.of_act(act),
        lambda store: len(store.photographs.of(1)),
    ),
    "stone": Case(
        lambda store: store.add_stone(1),
        lambda store, act: dockets_of(store, act)[0],
        lambda store: len(store.stones(1)) - 1,
    ),
    "archive": Case(
        lambda store: store.archives.bring_in([Brought(store.docket(1), store.history(1), ())]),
        lambda store, act: dockets_of(store, act),
        lambda store: len(store.dockets()) - 1,
    ),
    "drawer": Case(
        lambda store: store.drawer.add([StockItem(kind="head", code="H-1", quantity=5.0)]),
        _nothing,
        lambda store: len(store.drawer.items()),
    ),
    "people": Case(lambda store: store.people.add("Orla"), _nothing, lambda store: len(store.people.all())),
}


def acts(store: Store) -> int:
    with store.transaction() as session:
        return session.scalar(select(func.count()).select_from(ActRow)) or 0


@pytest.mark.parametrize("what", CASES)
def test_an_answer_that_is_lost_is_asked_for_again_and_nothing_is_done_twice(what: str, store: Store) -> None:
    store.new_docket("Saltmarsh")
    case, presses, before = CASES[what], Presses(lambda: NOBODY), acts(store)
    pressed = presses.once(what, {"of": 1}, case.work, case.found)
    lose_answers(store, 1)
    told = pressed(store)
    assert case.counted(store) == 1 and acts(store) == before + 1
    if case.found is not _nothing:
        made = told[0] if isinstance(told, list) else told
        assert made.id in [one.id for one in (store.photographs.of(1) if what == "photograph" else store.dockets())]


@pytest.mark.parametrize("what", CASES)
def test_whoever_presses_again_after_no_answer_at_all_asks_for_the_same_thing(what: str, store: Store) -> None:
    """Both attempts are committed late, told as gone; pressed again it is found done. Afterwards it is a new thing."""
    store.new_docket("Saltmarsh")
    case, presses = CASES[what], Presses(lambda: NOBODY)
    lose_answers(store, 2)  # what looks it up hears nothing either
    with pytest.raises(StoreGoneError):
        presses.once(what, {"of": 1}, case.work, lambda held, act: (held.dockets(), case.found(held, act)))(store)
    presses.once(what, {"of": 1}, case.work, case.found)(store)
    assert case.counted(store) == 1
    if what == "people":
        with pytest.raises(StoreError, match="is here already"):
            presses.once(what, {"of": 1}, case.work, case.found)(store)
    else:
        presses.once(what, {"of": 1}, case.work, case.found)(store)
        assert case.counted(store) == 2, "answered: pressed once more it is another one"


def test_another_content_has_another_name(store: Store) -> None:
    presses = Presses(lambda: NOBODY)
    store.new_docket("Saltmarsh")
    lose_answers(store, 2)
    add = CASES["drawer"].work
    with pytest.raises(StoreGoneError):
        presses.once("drawer", {"file": "a.csv"}, add, lambda held, _act: held.dockets())(store)
    presses.once("drawer", {"file": "b.csv"}, add, _nothing)(store)
    assert len(store.drawer.items()) == 2


def test_a_photograph_whose_answer_is_lost_is_kept_once_and_shown(hand: Hand, demo_path: Path, tmp_path: Path) -> None:
    hand.settle()
    docket, store = hand.window.session.docket, hand.window.dockets.gateway.store
    assert docket is not None and store is not None
    before = len(store.photographs.of(docket.id))
    picture = QImage(40, 30, QImage.Format.Format_RGB32)
    picture.fill(0x808080)
    assert picture.save(str(tmp_path / "as it came.png"))
    told: list[str] = []
    hand.window.intake.told.connect(told.append)
    lose_answers(store, 1)
    hand.window.intake.take_photograph(tmp_path / "as it came.png", docket)
    hand.bot.waitUntil(lambda: bool(told))
    assert "“as it came” kept with" in told[0]
    other = Store(demo_path)
    assert [kept.caption for kept in other.photographs.of(docket.id)[before:]] == ["as it came"]
    other.close()
