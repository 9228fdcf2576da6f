"""What a dialog has the store do: named where the key is pressed, and done once however often it is asked for."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import TYPE_CHECKING, TypeVar

from yarvel.clock import now
from yarvel.figures.errors import DoneAlreadyError, StoreGoneError
from yarvel.workshop.storage.identity import Stamp, digest_of, new_id

if TYPE_CHECKING:
    from yarvel.workshop.storage.authors import Author
    from yarvel.workshop.store import Store

T = TypeVar("T")


class Presses:
    """Names of what was pressed. One whose answer never came keeps its name: whoever presses again for the same thing
    asks for that one, so that a COMMIT which a wire delivers late is not followed by a second."""

    def __init__(self, author: Callable[[], Author]) -> None:
        self._author = author
        self._unanswered: dict[tuple[str, str], Stamp] = {}

    def once(
        self,
        deed: str,
        content: Mapping[str, object],
        work: Callable[[Store], T],
        found: Callable[[Store, str], T],
    ) -> Callable[[Store], T]:
        """A question to the store that does one thing, in one transaction: its ``deed`` with this ``content``, by
        ``work``, in the name of whoever is here now. Where it turns out to be done already, ``found`` looks up what
        came of it by the name of the act.

        Raises
        ------
        StoreGoneError : from the question, where no answer came at all.
        """
        key = deed, digest_of(content)
        stamp = self._unanswered.get(key) or Stamp(id=new_id(), deed=deed, digest=key[1], pressed=now())
        author = self._author()

        def attempt(store: Store) -> T:
            try:
                return work(store.acting(author if author.signed else store.author, stamp))
            except DoneAlreadyError:
                return found(store, stamp.id)

        def ask(store: Store) -> T:
            try:
                answer = attempt(store)
            except StoreGoneError:
                self._unanswered[key] = stamp
                answer = attempt(store)  # a connection that has gone is replaced; a store that is gone is told of
            self._unanswered.pop(key, None)
            return answer

        return ask
