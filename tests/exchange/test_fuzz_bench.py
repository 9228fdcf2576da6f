"""The bench that spoils inputs by the thousand still runs: here with a few of them."""

from __future__ import annotations

from bench.fuzz import fuzz

from tests.exchange.importers import IMPORTERS


def test_spoiled_inputs_are_read_or_refused() -> None:
    told: dict[str, float] = {}
    fuzz(lambda what, value, _unit, _goal: told.update({what: value}), cases=12)
    assert {what for what in told if what.endswith("unforeseen errors")} == {
        f"{name}: 12 spoiled inputs, unforeseen errors" for name in IMPORTERS
    }
    assert all(told[f"{name}: refused in clear lines"] > 0 for name in IMPORTERS)
