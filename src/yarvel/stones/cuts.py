"""The register of cuts: one module a cut, one line here."""

from __future__ import annotations

from types import ModuleType

from yarvel.stones import round_brilliant

CUTS: dict[str, ModuleType] = {
    round_brilliant.CUT: round_brilliant,
}
