"""Made-up instruments that speak the same lines over a pseudo-terminal, from a process of their own.

What is typed into the process is what lies under the instrument: a number is read and sent, with its noise and its
drift; a word is sent as it is. Faults on asking: half lines, doubled ones, another unit, silence, noise between lines.
"""

from __future__ import annotations

import contextlib
import os
import random
import tty
from collections.abc import Callable, Iterator
from pathlib import Path

from msgspec import Struct

from yarvel.instruments.kind import InstrumentKind
from yarvel.instruments.reading import Reading

RESOLUTION = {"gauge": 0.01, "carat-scale": 0.001, "gram-scale": 0.001}
FAULTS = ("none", "half", "doubled", "unit", "garbage", "moving", "silent")


class Manner(Struct, frozen=True):
    """How a made-up instrument behaves: ``noise`` (standard deviation) and ``drift`` (a reading) in its unit, one of
    the faults, and the seed of its chance."""

    noise: float = 0.0
    drift: float = 0.0
    fault: str = "none"
    seed: int = 1


class Instrument:
    """Makes lines out of what lies under it."""

    def __init__(self, kind: InstrumentKind, manner: Manner) -> None:
        self._kind, self._manner = kind, manner
        self._chance = random.Random(manner.seed)
        self._count = 0

    def lines(self, typed: str) -> list[bytes]:
        """What is sent for one thing under it."""
        word = typed.strip()
        if not word or self._manner.fault == "silent":
            return []
        try:
            value = float(word)
        except ValueError:
            return [word.encode("ascii", "replace") + b"\r\n"]
        value += self._chance.gauss(0.0, self._manner.noise) + self._manner.drift * self._count
        self._count += 1
        return self._with_faults(Reading(value, self._kind.unit, RESOLUTION.get(self._kind.key, 0.01)))

    def _with_faults(self, reading: Reading) -> list[bytes]:
        line = f"{reading.text()} {reading.unit}".encode()
        fault = self._manner.fault
        if fault == "half":
            return [line[: len(line) // 2]]
        if fault == "doubled":
            return [line + b"\r\n", line + b"\r\n"]
        if fault == "unit":
            other = reading.into({"mm": "in", "g": "ct", "ct": "g"}[reading.unit])
            return [f"{other.text()} {other.unit}\r\n".encode()]
        if fault == "garbage":
            return [b"\x00\xff\xfe", b"#" * 200 + b"\r\n", line + b"\r\n"]
        if fault == "moving":
            nearly = Reading(reading.value * 0.98, reading.unit, reading.resolution)
            return [f"{nearly.text()} {nearly.unit} ?\r\n".encode(), line + b"\r\n"]
        return [line + b"\r\n"]


@contextlib.contextmanager
def terminal(link: Path | None = None) -> Iterator[tuple[Callable[[bytes], None], str]]:
    """A pseudo-terminal: what sends into it, and the name of the port at its other end (linked to by ``link``)."""
    master, slave = os.openpty()
    tty.setraw(slave)
    name = os.ttyname(slave)
    try:
        if link is not None:
            link.unlink(missing_ok=True)
            link.symlink_to(name)
        yield lambda data: _write(master, data), name
    finally:
        os.close(slave)
        os.close(master)
        if link is not None:
            link.unlink(missing_ok=True)


def _write(master: int, data: bytes) -> None:
    while data:
        data = data[os.write(master, data) :]


def run(
    kind: InstrumentKind, manner: Manner, typed: Iterator[str], link: Path | None, say: Callable[[str], None]
) -> None:
    """Be an instrument until nothing more is typed: says its port first, then each line as it is sent."""
    instrument = Instrument(kind, manner)
    with terminal(link) as (send, name):
        say(str(link or name))
        for word in typed:
            for line in instrument.lines(word):
                send(line)
                say(repr(line)[2:-1])
