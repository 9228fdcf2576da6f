"""Codes that a scanner reads beside the labels: what is to be done with the dockets that are scanned after it."""

from __future__ import annotations

import re
from collections.abc import Iterable

from msgspec import Struct

from yarvel.workshop.people.person import Person

START, STOP, DONE, HAND_ON = "start", "stop", "done", "to"
PATTERN = r"start|stop|done|to-[0-9]{1,6}"
_CODE = re.compile(PATTERN)


class DeedCode(Struct, frozen=True):
    """One deed; of handing on, to whom (a person's id; 0: to nobody)."""

    deed: str
    person: int = 0

    @property
    def code(self) -> str:
        """What stands in the bars, without the label's mark."""
        return f"{self.deed}-{self.person}" if self.deed == HAND_ON else self.deed

    def words(self, people: Iterable[Person]) -> str:
        """What it is called."""
        if self.deed != HAND_ON:
            return self.deed.capitalize()
        name = next((person.name for person in people if person.id == self.person), "nobody")
        return f"Hand on to {name}"


def read_code(text: str) -> DeedCode | None:
    """The deed of a code; None where it is the number of a docket, or nothing of ours."""
    if not _CODE.fullmatch(text):
        return None
    deed, _, person = text.partition("-")
    return DeedCode(deed, int(person or 0))


def all_codes(people: Iterable[Person]) -> list[DeedCode]:
    """A code for every deed, and for everybody whom a task can be handed on to."""
    return [
        DeedCode(START),
        DeedCode(STOP),
        DeedCode(DONE),
        DeedCode(HAND_ON),
        *(DeedCode(HAND_ON, person.id) for person in people),
    ]
