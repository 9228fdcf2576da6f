"""Somebody who works here, as the rest of the program sees them: a frozen record, no ORM."""

from __future__ import annotations

from msgspec import Struct


class Person(Struct, frozen=True):
    """Somebody who works here."""

    id: int
    name: str
    role: str
    skills: tuple[str, ...]
    has_pin: bool = False
