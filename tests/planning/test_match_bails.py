"""Bought bails: all at once they give what plans give one by one."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import job_with
from yarvel.figures.rules import HouseRules
from yarvel.planning.match import FITS, SMALL, TIGHT
from yarvel.planning.match_bails import WIDER, Bails, match_bails, takes_bail, why_bail
from yarvel.planning.plan import plan
from yarvel.shanks import pendant as hanging

RULES = HouseRules()


def bails(*rows: tuple[float, float, float, float]) -> Bails:
    opening, through, mass, held = (np.array(column, dtype=float) for column in zip(*rows, strict=True))
    return Bails(tuple(f"B{row}" for row in range(len(rows))), opening, through, mass, held)


def pendant(**bail: Any) -> Any:
    return job_with(shank=None, fit={"method": "pendant", "bail": {"inside_mm": 3.1, "wire_mm": 0.8, **bail}})


_ROWS = st.lists(
    st.tuples(st.floats(1.0, 6), st.floats(0.8, 4), st.floats(0.05, 2), st.just(3.0)), min_size=1, max_size=5
)


@given(_ROWS, st.floats(1, 4))
def test_bails_at_once_are_bails_one_by_one(rows: list[tuple[float, float, float, float]], chain: float) -> None:
    found = match_bails(pendant(chain_end_mm=chain), RULES, bails(*rows))
    for row, (opening, through, mass, _) in enumerate(rows):
        sold = {"opening_mm": opening, "wire_mm": through, "mass_g": mass}
        made = plan(pendant(chain_end_mm=chain, bought=sold), RULES, samples=0)
        levels = {call.code: call.level for call in made.diagnostics}
        assert found.chain_room[row] == pytest.approx(made[hanging.chain_room_mm])
        assert found.ring_room[row] == pytest.approx(made[hanging.hook_room_mm])
        assert (found.verdict[row] == SMALL) == (levels["chain-opening"] == "stop")
        assert (found.verdict[row] == FITS) == (levels["chain-opening"] == levels["bail-in-ring"] == "ok")
        wider = pendant(chain_end_mm=chain, bought=sold, inside_mm=float(found.ring_mm[row]))
        assert {call.code: call.level for call in plan(wider, RULES, samples=0).diagnostics}["bail-in-ring"] == "ok"


def test_the_one_that_fits_best_and_is_there_comes_first() -> None:
    """The least wide that lets the chain through; what is forced last, none in the drawer after those that are."""
    rows = (
        (2.0, 1.2, 0.2, 4),
        (3.2, 1.2, 0.2, 4),
        (3.5, 1.2, 0.2, 4),
        (2.6, 1.2, 0.2, 4),
        (3.2, 3.0, 0.2, 4),
        (3.2, 1.2, 0.2, 0),
    )
    found = match_bails(pendant(chain_end_mm=2.5), RULES, bails(*rows))
    assert found.verdict.tolist() == [SMALL, FITS, FITS, TIGHT, WIDER, FITS]
    assert np.argsort(found.cost, kind="stable").tolist() == [1, 2, 3, 4, 5, 0]
    assert "thicker than it is open" in why_bail(found, 0, RULES) and "it catches" in why_bail(found, 3, RULES)
    assert why_bail(found, 4, RULES) == f"binds in the ring: one of {found.ring_mm[4]:.1f} mm inside for it"


def test_what_nobody_has_said_is_told_and_not_guessed() -> None:
    found = match_bails(pendant(), RULES, bails((3.0, np.nan, np.nan, np.nan)))
    assert found.verdict[0] == FITS
    assert why_bail(found, 0, RULES) == "nobody has said how thick the chain's end is and what goes through the ring"


def test_only_a_ring_that_is_seen_takes_a_bail() -> None:
    assert takes_bail(pendant()) and not takes_bail(pendant(place="behind")) and not takes_bail(job_with())
