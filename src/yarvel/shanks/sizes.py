"""Finger sizes: ISO, US, UK, Japanese, Swiss and plain inside diameter."""

from __future__ import annotations

import math
import re
from collections.abc import Callable

from msgspec import Struct

from yarvel.figures.errors import SizeError
from yarvel.figures.figure import GEOMETRY, Number, figure, published

LEAST_MM, MOST_MM = 10.0, 28.0
_FRACTIONS = {"¼": 0.25, "½": 0.5, "¾": 0.75, "⅛": 0.125, "⅜": 0.375, "⅝": 0.625, "⅞": 0.875}
_NUMBER = re.compile(r"(\d+(?:[.,]\d+)?)?\s*(?:(\d)/(\d)|([¼½¾⅛⅜⅝⅞]))?")
_UK = re.compile(r"([A-Za-z])\s*(?:\+\s*(\d{1,2}(?:\.5)?))?\s*(1/2|½)?")


class SizeSystem(Struct, frozen=True, kw_only=True):
    """One way of naming finger sizes.

    ``read`` turns its text into an inside diameter in mm (SizeError where it cannot);
    ``name`` the reverse, to the nearest step; ``wider`` is the step worn easier under a wide band, as text maker.
    """

    key: str
    label: str
    accepted: str
    origin: str
    read: Callable[[str], float]
    name: Callable[[float], str]
    wide_step_mm: float


def _number(text: str, accepted: str) -> float:
    match = _NUMBER.fullmatch(text.strip())
    if match is None or not text.strip():
        raise SizeError(f"{text!r} is no size", accepted)
    whole, over, under, mark = match.groups()
    value = float((whole or "0").replace(",", "."))
    if over:
        if under == "0":
            raise SizeError(f"{text!r} is no size", accepted)
        value += int(over) / int(under)
    if mark:
        value += _FRACTIONS[mark]
    return value


def _fraction_text(value: float, parts: int) -> str:
    stepped = round(value * parts) / parts
    whole, rest = divmod(stepped, 1)
    mark = {share: sign for sign, share in _FRACTIONS.items()}.get(rest, "")
    return f"{int(whole)}{mark}" if whole or not mark else mark


_ISO = "ISO 8653 inside circumference in mm, such as 54 or 54.5"
_US = "US size, such as 6, 6.5, 6 1/2 or 6¾"
_UK_TEXT = "UK letter A to Z, then Z+1 to Z+6, halves as M½ or M1/2"
_JP = "Japanese size number, such as 13"
_CH = "Swiss or Italian size number, such as 14"
_MM = "inside diameter in mm, such as 16.9"


def _read_uk(text: str) -> float:
    match = _UK.fullmatch(text.strip())
    if match is None or (match.group(2) and match.group(1).upper() != "Z"):
        raise SizeError(f"{text!r} is no UK size", _UK_TEXT)
    letter, beyond, half = match.groups()
    step = ord(letter.upper()) - ord("A") + float(beyond or 0) + (0.5 if half else 0)
    return (37.5 + 1.25 * step) / math.pi


_UK_STEPS = 31
"""Steps from A to Z+6."""


def _from(least: int, name: str, value: float) -> str:
    """A size's name, or that it is below the first that the system has."""
    return name if value >= least else f"below {least}"


def _name_uk(diameter: float) -> str:
    steps = round((diameter * math.pi - 37.5) / 1.25 * 2)
    if steps < 0:
        return "below A"
    if steps > 2 * _UK_STEPS:
        return "over Z+6"
    whole, half = divmod(steps, 2)
    letter = chr(ord("A") + whole) if whole <= 25 else f"Z+{whole - 25}"
    return letter + ("½" if half else "")


SYSTEMS: dict[str, SizeSystem] = {
    system.key: system
    for system in (
        SizeSystem(
            key="ISO",
            label="ISO",
            accepted=_ISO,
            origin=published("ISO 8653"),
            read=lambda text: _number(text, _ISO) / math.pi,
            name=lambda d: f"{round(d * math.pi * 2) / 2:g}",
            wide_step_mm=1 / math.pi,
        ),
        SizeSystem(
            key="US",
            label="US",
            accepted=_US,
            origin=published("US size formula"),
            read=lambda text: 11.6332 + 0.8128 * _number(text, _US),
            name=lambda d: _from(0, _fraction_text((d - 11.6332) / 0.8128, 4), (d - 11.6332) / 0.8128 + 0.125),
            wide_step_mm=0.8128 * 0.5,
        ),
        SizeSystem(
            key="UK",
            label="UK",
            accepted=_UK_TEXT,
            origin=published("UK and Australian size steps"),
            read=_read_uk,
            name=_name_uk,
            wide_step_mm=1.25 / math.pi,
        ),
        SizeSystem(
            key="JP",
            label="Japan",
            accepted=_JP,
            origin=published("Japanese size formula"),
            read=lambda text: (_number(text, _JP) + 38) / 3,
            name=lambda d: _from(1, f"{round((3 * d - 38) * 2) / 2:g}", 3 * d - 38 + 0.25),
            wide_step_mm=1 / 3,
        ),
        SizeSystem(
            key="CH",
            label="Swiss",
            accepted=_CH,
            origin=published("Swiss and Italian size, circumference less 40"),
            read=lambda text: (_number(text, _CH) + 40) / math.pi,
            name=lambda d: _from(0, f"{round((d * math.pi - 40) * 2) / 2:g}", d * math.pi - 40 + 0.25),
            wide_step_mm=1 / math.pi,
        ),
        SizeSystem(
            key="mm",
            label="Inside ⌀ mm",
            accepted=_MM,
            origin="measured",
            read=lambda text: _number(text, _MM),
            name=lambda d: f"{d:.2f}",
            wide_step_mm=0.35,
        ),
    )
}


def inside_diameter_mm(system: str, value: str) -> float:
    """Inside diameter in mm of a finger size.

    Raises
    ------
    SizeError : the text is no size of its system, or the finger is under 10 or over 28 mm.
    """
    diameter = SYSTEMS[system].read(value)
    if not LEAST_MM <= diameter <= MOST_MM:
        raise SizeError(f"{value!r} is {diameter:.1f} mm inside", f"{LEAST_MM:g} to {MOST_MM:g} mm inside diameter")
    return diameter


_NAMED = {
    "iso": "ISO",
    "us": "US",
    "usa": "US",
    "uk": "UK",
    "au": "UK",
    "jp": "JP",
    "japan": "JP",
    "ch": "CH",
    "swiss": "CH",
    "it": "CH",
    "mm": "mm",
    "⌀": "mm",
    "ø": "mm",
}
"""How people name a system beside a size."""
_BEFORE, _BEHIND = re.compile(r"([A-Za-z⌀ø]+)[\s.:]*"), re.compile(r"\s*([A-Za-z⌀ø]+)$")


def understood(text: str, standing: str) -> tuple[str, str]:
    """In which system a size was typed, by its key, and its text there. One that is named beside it counts ("US 6½",
    "17.2 mm"), a letter is a UK size; a bare number is of the ``standing`` system where that makes a finger of it, else
    of the only one that does.

    Raises
    ------
    SizeError : no system makes a finger of it, or several do and none is named.
    """
    whole = text.strip()
    for named in (_BEFORE.match(whole), _BEHIND.search(whole)):
        if named is not None and named.group(1).casefold() in _NAMED:
            bare = whole.replace(named.group(0), "", 1)
            return _NAMED[named.group(1).casefold()], bare.strip()
    if _UK.fullmatch(whole):
        return "UK", whole
    if _is_finger(standing, whole):
        return standing, whole
    others = [key for key in SYSTEMS if key != standing and _is_finger(key, whole)]
    if len(others) == 1:
        return others[0], whole
    if others:
        told = ", ".join(said(key, whole, standing) for key in others)
        raise SizeError(f"{whole} is a finger in several systems, not in {SYSTEMS[standing].label}", f"one of {told}")
    inside_diameter_mm(standing, whole)
    return standing, whole


def said(system: str, value: str, standing: str) -> str:
    """A size as somebody would write it where sizes are of the ``standing`` system: another one is named."""
    if system in (standing, "UK"):
        return value
    return f"{value} mm" if system == "mm" else f"{SYSTEMS[system].label} {value}"


def _is_finger(system: str, text: str) -> bool:
    try:
        inside_diameter_mm(system, text)
    except SizeError:
        return False
    return True


def in_all_systems(diameter_mm: float) -> str:
    """One inside diameter named in every system that letters or numbers it."""
    return " · ".join(f"{system.label} {system.name(diameter_mm)}" for system in SYSTEMS.values() if system.key != "mm")


@figure("shank.inside_circumference", "Inside circumference", "mm", "π·d_i", GEOMETRY, diameter_mm="d_i")
def inside_circumference_mm(diameter_mm: Number) -> Number:
    """Inside circumference in mm of a band of this inside diameter."""
    return math.pi * diameter_mm
