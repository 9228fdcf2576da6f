"""Sections of a band that changes along the ring, typed in one line: where, across by down, profile."""

from __future__ import annotations

import re
from collections.abc import Iterable
from itertools import pairwise

from PySide6.QtWidgets import QWidget

from yarvel.desk.session.session import Session
from yarvel.desk.stations.station import number_text
from yarvel.desk.stations.typed_line import TypedLine
from yarvel.shanks.band import PROFILES

PATH = "shank.stations"
_NUMBER = r"\d+(?:[.,]\d+)?"
_SECTION = re.compile(
    rf"^({_NUMBER})\s*°?\s*:?(?:\s*({_NUMBER}|[-–—])\s*(?:×|x|\*|by)\s*({_NUMBER}|[-–—]))?"
    rf"\s*,?\s*({'|'.join(PROFILES)})?$",
    re.IGNORECASE,
)

_LIMITS = ((5.0, 175.0), (1.0, 15.0), (0.8, 5.0))
"""Of the angle in degrees, the width and the thickness in mm, as the job takes them."""


class SectionsLine(TypedLine):
    """What the band is between its head and its back."""

    def __init__(self, session: Session, parent: QWidget) -> None:
        super().__init__(session, parent, PATH, "Between, ° and mm", "none: it runs on evenly")

    def accepted(self) -> str:
        """Angles from the head, rising, each with what the band is there."""
        return (
            "degrees from the head, rising, each with across × down, a profile or both, such as "
            "40° 3.4 × 1.9 flat; 110° 2.6 × 1.7 half-round (angles 5 to 175, – for what runs on evenly)"
        )

    def means(self, text: str) -> object:
        """The stations; None where a part of it is none, or they do not rise."""
        return sections_of(text)

    def take(self, typed: object) -> None:
        """The stations, where they are others than before."""
        if typed != self.held:
            self._session.patch({"shank": {"stations": typed}}, "Sections along the band")

    def said(self) -> str:
        """The stations as they are typed."""
        held_value = self.held
        return sections_text(held_value) if isinstance(held_value, list) else ""


def sections_of(text: str) -> list[dict[str, object]] | None:
    """The stations that a text says, as a job holds them; None where it says something else."""
    sections_found: list[dict[str, object]] = []
    turns: list[float] = []
    for piece in text.strip().strip(";").split(";"):
        read = _SECTION.match(piece.strip())
        if read is None:
            return None
        numbers = [_number(word) for word in read.groups()[:3]]
        for value, (low, high) in zip(numbers, _LIMITS, strict=True):
            if value is not None and not low <= value <= high:
                return None
        profile = None if read[4] is None else read[4].lower()
        named = dict(zip(("turn_deg", "width_mm", "thickness_mm", "profile"), (*numbers, profile), strict=True))
        sections_found.append({name: value for name, value in named.items() if value is not None})
        turns.append(numbers[0] or 0.0)
    rising = all(here < there for here, there in pairwise(turns))
    return sections_found if rising and all(len(section) > 1 for section in sections_found) else None


def _number(word: str | None) -> float | None:
    return None if word is None or not word[0].isdigit() else float(word.replace(",", "."))


def sections_text(stations: Iterable[dict[str, object]]) -> str:
    """The stations of a job as they are typed."""
    return "; ".join(_section_text(station) for station in stations)


def _section_text(one: dict[str, object]) -> str:
    turn, *sizes = (number_text(one.get(name)) for name in ("turn_deg", "width_mm", "thickness_mm"))
    size = " × ".join(text or "–" for text in sizes) if any(sizes) else ""
    return " ".join(text for text in (f"{turn}°", size, str(one.get("profile") or "")) if text)
