"""One field of a head in the job, as a kind of head declares that it reads it."""

from __future__ import annotations

from collections.abc import Hashable

from msgspec import Struct


class HeadField(Struct, frozen=True, kw_only=True):
    """One field of ``head`` in a job. ``unit`` of a number ("" for a ratio); ``figure`` is derived where none is given;
    ``typed`` whether typing over that figure sets the field; ``choices`` the values to choose from, each with what it
    is called, for what is no number."""

    name: str
    label: str
    unit: str = "mm"
    figure: str = ""
    typed: bool = True
    choices: tuple[tuple[Hashable, str], ...] = ()
