"""A docket that is not taken in yet: it is taken in with the first thing typed, in one act, and not while nothing
is."""

from __future__ import annotations

from yarvel.desk.session.session import Session
from yarvel.desk.storing.keeper import Keeper
from yarvel.workshop.dockets.records import Docket, DocketEdit
from yarvel.workshop.storage.identity import new_id


class NewDocket:
    """Has what is in hand without a docket taken in, once there is anything to keep. It waits like every other edit:
    nobody who opens another docket meanwhile waits for it."""

    def __init__(self, session: Session, keeper: Keeper) -> None:
        self._session, self._keeper = session, keeper
        self._key = ""
        keeper.taken_in.connect(self._on_taken_in)

    @property
    def awaited(self) -> bool:
        """Whether something was typed in hand that has no docket yet."""
        return self._key != ""

    @property
    def key(self) -> str:
        """What the docket in hand waits under; "" for none."""
        return self._key

    def begin(self) -> None:
        """An empty docket in hand."""
        self._key = ""
        self._session.begin_new()

    def open(self, docket: Docket) -> None:
        """Another docket in hand, as it is stored with what is not written yet on top of it."""
        self._key = ""
        self._session.open(self._keeper.laid_over(docket))

    def take(self, edit: DocketEdit) -> None:
        """Something was typed: it is on disk at once, and a docket as soon as the store answers."""
        self._key = self._key or new_id()
        self._keeper.keep(self._key, edit)

    def _on_taken_in(self, key: str, docket: Docket) -> None:
        if key == self._key:
            self._key = ""
            self._session.adopt(docket)
