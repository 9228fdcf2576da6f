"""How windows ask the store and have it do something: both come back on the GUI thread."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, Protocol, TypeVar

if TYPE_CHECKING:
    from yarvel.workshop.acts import Deed
    from yarvel.workshop.store import Store

T = TypeVar("T")


class Ask(Protocol):
    """Puts a question to the store in the background; the second function gets its answer. False while the door is
    locked: nothing is asked."""

    def __call__(self, question: Callable[[Store], T], then: Callable[[T], None]) -> bool: ...


DoAct = Callable[["Deed", Callable[[str], None]], None]
"""Does an act (``workshop.acts``); the function gets "" or what became of it in a line."""
