"""The plan that stands, as this window knows it: kept through the store in the order in which it was made here, and not
taken back by what was read before."""

from __future__ import annotations

from collections.abc import Mapping
from contextlib import suppress
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal

from yarvel.desk.storing.asking import Ask
from yarvel.planning.documents import Document
from yarvel.workshop.storage.rights import NotAllowedError

if TYPE_CHECKING:
    from yarvel.workshop.store import Store


class StandingPlan(QObject):
    """Readings come from a connection of their own and may have begun before a plan was kept: such a reading knows
    another plan than the screen, and is asked for again once the store has what this window kept."""

    again = Signal()
    """The store is to be read again: what was read is overtaken, or another window's plan stands."""
    _ended = Signal(bool)

    def __init__(self, ask: Ask, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._ask = ask
        self.document: Document = {}
        """As the store keeps it."""
        self._number = 0
        self._on_the_way = 0
        self._overtaken = False
        self._ended.connect(self._on_ended)

    def moment(self) -> int:
        """Where a reading that is asked for now stands among the plans that are kept: hand it to ``read``."""
        return -1 if self._on_the_way else self._number

    def read(self, standing: Mapping[str, object], moment: int) -> bool:
        """Whether a reading holds. One that a plan overtook is asked for again."""
        if moment == self._number and not self._on_the_way:
            self.document = dict(standing)
            return True
        self._overtaken = True
        if not self._on_the_way:
            self._ask_again()
        return False

    def keep(self, document: Document) -> None:
        """Have the store keep a plan that was made from what stands here."""
        self.document = document
        self._number += 1
        self._on_the_way += 1

        def keep(store: Store) -> None:
            mine = True
            try:
                with suppress(NotAllowedError):  # a lead's window keeps it
                    mine = store.day.kept.keep(document)
            finally:
                with suppress(RuntimeError):  # the window is gone
                    self._ended.emit(mine)

        if not self._ask(keep, lambda _done: None):
            self._on_the_way -= 1

    def _on_ended(self, mine: bool) -> None:
        self._on_the_way -= 1
        if not self._on_the_way and (self._overtaken or not mine):
            self._ask_again()

    def _ask_again(self) -> None:
        self._overtaken = False
        self.again.emit()
