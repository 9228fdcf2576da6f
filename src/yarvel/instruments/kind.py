"""What a kind of instrument is."""

from __future__ import annotations

from msgspec import Struct


class InstrumentKind(Struct, frozen=True, kw_only=True):
    """Key and label; the ``unit`` of its lines where they name none ("" for one that reads labels), between which
    values it reads, in that unit; the port's usual ``speed`` in baud (from memory, to be changed)."""

    key: str
    label: str
    unit: str
    low: float
    high: float
    speed: int
