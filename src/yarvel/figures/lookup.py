"""What must be there, or is told to be missing."""

from __future__ import annotations

from collections.abc import Iterable
from typing import TypeVar

T = TypeVar("T")


def first_of(items: Iterable[T]) -> T:
    """The first of several.

    Raises
    ------
    LookupError : there is none. (``next`` would end whatever loop it is called in, in silence.)
    """
    for item in items:
        return item
    raise LookupError("none of these is there")
