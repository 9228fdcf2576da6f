"""Measures of stock in hand, typed in one line as people say them: across by down by length."""

from __future__ import annotations

import re

from msgspec import Struct
from PySide6.QtWidgets import QWidget

from yarvel.desk.session.session import Session
from yarvel.desk.stations.typed_line import TypedLine
from yarvel.heads.tapered_collet import BY_TUBE
from yarvel.planning.documents import value_at


class Measures(Struct, frozen=True, kw_only=True):
    """What one line holds: the job's object at ``path``, its fields ``names`` in the order in which they are typed,
    each within its ``limits`` in mm; an ``example``, and what nothing means; what
    would ``follow`` from it is no longer chosen."""

    path: str
    label: str
    names: tuple[str, ...]
    limits: tuple[tuple[float, float], ...]
    example: str
    nothing: str
    follow: tuple[str, ...] = ()


class MeasuresLine(TypedLine):
    """Lengths with a sign between them. Fields of the object beside those typed stay."""

    def __init__(self, session: Session, parent: QWidget, measures: Measures) -> None:
        super().__init__(session, parent, measures.path, f"{measures.label}, mm", measures.nothing)
        self._measures = measures

    def accepted(self) -> str:
        """So many numbers."""
        return f"{_COUNTS[len(self._measures.names)]} numbers in mm, such as {self._measures.example}"

    def means(self, text: str) -> object:
        """The lengths by name, where there are as many as are wanted and each is within its limits."""
        wanted = self._measures
        values = [float(number.replace(",", ".")) for number in re.findall(r"\d+(?:[.,]\d+)?", text)]
        fits = len(values) == len(wanted.limits) and all(
            low <= value <= high for value, (low, high) in zip(values, wanted.limits, strict=False)
        )
        return dict(zip(wanted.names, values, strict=True)) if fits else None

    def take(self, typed: object) -> None:
        """The lengths, and nothing any more of what would follow from them."""
        wanted, held_value = self._measures, self.held
        if typed != ({name: held_value.get(name) for name in wanted.names} if isinstance(held_value, dict) else None):
            part, name = wanted.path.split(".")
            other = value_at(self._session.document, part)
            chosen = {
                follower: None for follower in wanted.follow if typed and isinstance(other, dict) and follower in other
            }
            self._session.patch({part: {**chosen, name: typed}}, wanted.label)

    def said(self) -> str:
        """The lengths with a sign between them."""
        held_value = self.held
        return (
            " × ".join(f"{held_value[name]:g}" for name in self._measures.names) if isinstance(held_value, dict) else ""
        )


_COUNTS = {2: "two", 3: "three", 4: "four"}
STOCK = Measures(
    path="shank.stock",
    label="Stock in hand",
    names=("across_mm", "down_mm", "length_mm"),
    limits=((1.0, 20.0), (0.8, 10.0), (5.0, 1000.0)),
    example="2.5 × 2.5 × 45",
    nothing="none: the usual stock",
)
TUBE = Measures(
    path="head.tube",
    label="Tube in hand",
    names=("outside_mm", "wall_mm", "length_mm"),
    limits=((0.8, 40.0), (0.2, 3.0), (0.5, 30.0)),
    example="5.2 × 0.7 × 4.5: outside, wall, length",
    nothing="none: as it comes out",
    follow=BY_TUBE,
)
