"""Listening at a port: what comes is read and told; a plug that is pulled is told once, and waited for."""

from __future__ import annotations

import threading
import time
from collections.abc import Callable

import serial
from msgspec import Struct

from yarvel.instruments.frame import Frames
from yarvel.instruments.gate import Gate
from yarvel.instruments.kind import InstrumentKind
from yarvel.instruments.reading import USUAL_PATTERN, NoReadingError, Reading, read

_LOOK_S = 0.1
_AGAIN_S = 1.0


class Setting(Struct, frozen=True):
    """Where an instrument is: its port ("" for none), speed in baud, the pattern of its lines."""

    port: str = ""
    speed: int = 9600
    pattern: str = USUAL_PATTERN


class PortEvent(Struct, frozen=True):
    """What came of a port: that it is ``open`` now, a reading, a label, or a problem in words."""

    kind: InstrumentKind
    reading: Reading | None = None
    label: str = ""
    problem: str = ""
    open: bool = False


def listen(kind: InstrumentKind, setting: Setting, stop: threading.Event, tell: Callable[[PortEvent], None]) -> None:
    """Tell of everything that comes, until ``stop`` is set. For a thread of its own."""
    away = False
    while not stop.is_set():
        try:
            with serial.Serial(setting.port, setting.speed, timeout=_LOOK_S, exclusive=True) as port:
                tell(PortEvent(kind, open=True))
                away = False
                _read(port, kind, setting, stop, tell)
        except (serial.SerialException, OSError, ValueError):
            if not away:
                name = kind.label.removeprefix("A ").casefold()
                where = f"The {name} at {setting.port}"
                tell(PortEvent(kind, problem=f"{where} does not answer: is it plugged in, and its port right?"))
            away = True
            stop.wait(_AGAIN_S)


def _read(
    port: serial.Serial,
    kind: InstrumentKind,
    setting: Setting,
    stop: threading.Event,
    tell: Callable[[PortEvent], None],
) -> None:
    frames, gate = Frames(), Gate(kind.unit, kind.low, kind.high)
    while not stop.is_set():
        data = port.read(max(port.in_waiting, 1))
        at = time.monotonic()
        for line in frames.feed(data, at):
            for reading in heard(line, kind, setting.pattern, gate, at):
                tell(reading)


def heard(line: str, kind: InstrumentKind, pattern: str, gate: Gate, at: float) -> list[PortEvent]:
    """What a line of an instrument says; nothing for a reading that does not count."""
    if not kind.unit:
        return [PortEvent(kind, label=line)]
    try:
        reading = gate.let(read(line, kind.unit, pattern), at)
    except NoReadingError as error:
        return [PortEvent(kind, problem=str(error))]
    return [] if reading is None else [PortEvent(kind, reading=reading)]
