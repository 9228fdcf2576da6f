"""A docket that is not taken in yet: it gets its number with the first thing typed, and none while nothing is."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from yarvel.desk.session.session import Session
from yarvel.desk.storing.asking import Ask
from yarvel.desk.storing.keeper import Keeper
from yarvel.workshop.dockets.records import Docket, DocketEdit
from yarvel.workshop.waiting import NEW

if TYPE_CHECKING:
    from yarvel.workshop.store import Store


class NewDocket:
    """Takes in what is in hand without a docket, once there is anything to keep."""

    def __init__(self, session: Session, keeper: Keeper, ask: Ask) -> None:
        self._session, self._keeper, self._ask = session, keeper, ask
        self._typed: DocketEdit | None = None
        self._asked_for: object = None
        self._wanted: list[Callable[[], None]] = []

    @property
    def awaited(self) -> bool:
        """Whether something was typed that has no docket yet."""
        return self._typed is not None

    def begin(self) -> None:
        """An empty docket in hand."""
        if self.awaited:
            self._wanted = [self._session.begin_new]
        else:
            self._session.begin_new()

    def open(self, docket: Docket) -> None:
        """Another docket in hand; what was typed without one is taken in first."""
        if self.awaited:
            self._wanted = [lambda: self._session.open(docket)]
        else:
            self._session.open(docket)

    def take(self, edit: DocketEdit) -> None:
        """Something was typed: it is on disk at once, and in a docket as soon as the store answers."""
        self._keeper.note(NEW, edit)
        if self._typed is not None:
            self._typed = self._typed.then(edit)
            return
        self._typed = edit

        def take_in(store: Store) -> Docket:
            return store.acting(edit.author).new_docket()

        self._ask(take_in, self._on_taken_in)

    def _on_taken_in(self, docket: Docket) -> None:
        typed, self._typed = self._typed, None
        assert typed is not None
        self._session.adopt(docket)
        self._keeper.keep(docket.id, typed)
        wanted, self._wanted = self._wanted, []
        for then in wanted:
            then()
