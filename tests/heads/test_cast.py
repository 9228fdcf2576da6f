"""Castings: claws over a dome without a notch, their bed hidden; the ring in one piece with its head."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import job_with
from tests.strategies import BUILT
from yarvel.desk.session.edits import style_patch
from yarvel.exchange.plan_file import plan_document
from yarvel.figures.errors import JobError
from yarvel.figures.rules import HouseRules
from yarvel.heads import rings
from yarvel.planning.bodies import bodies
from yarvel.planning.checking import check
from yarvel.planning.plan import Plan
from yarvel.planning.weighing import weighed
from yarvel.route.running import route_of
from yarvel.shanks import blanks, cast_on, fitting

RULES = HouseRules()
DOME = {"cut": "oval-cabochon", "diameters_mm": None, "length_mm": 17.2, "width_mm": 12.6, "depth_mm": 5.8}
PARTS: dict[str, Any] = {
    "stone": {**DOME, "species": "labradorite", "table_percent": None},
    "head": {"style": "cast-claw", "claws": 4, "claw_mm": None, "notch_ratio": 0, "metal": "sterling-silver"},
    "shank": {"width_mm": 4.0, "thickness_mm": 2.0, "metal": "sterling-silver"},
    "fit": {"method": "cast-on"},
}


def test_a_ring_cast_in_one_piece(planned: Callable[..., Plan]) -> None:
    """Check piece, common practice: a large cabochon in a one-piece cast ring; no notch, annealed twice, curved to the
    dome, melt with sprue about half as much again as the finished piece, no joint and no blank."""
    made = weighed(planned(**PARTS))
    steps = [step.operation for step in route_of(made).steps]
    assert not made.joints and not [step.unmet for step in route_of(made).steps if step.unmet]
    kinds = [one.kind.key for one in steps]
    assert not {"solder", "fit-seam", "bend-to-shape", "cut-length", "guide-cut", "drill"} & set(kinds)
    assert kinds.count("anneal") == 2
    assert blanks.blank_length_mm not in made.figures
    melt = sum(lot.grams for one in steps for lot in one.takes)
    balance = plan_document(made)["balance"]
    assert melt == pytest.approx(RULES.cast_melt_share * balance["finished_g"], rel=0.12)
    left = balance["issue_g"] - balance["finished_g"] - balance["back_g"] - balance["filings_g"]
    assert abs(left) < 1e-4 and balance["back_g"] > 0
    assert not [call.code for call in made.diagnostics if call.level == "stop"]


@BUILT
@given(st.floats(8.0, 22.0), st.floats(1.0, 1.6), st.sampled_from(["flat", "court", "half-round"]))
def test_head_and_band_are_one_body(planned: Callable[..., Plan], width: float, long: float, profile: str) -> None:
    """Measured on the bodies: put together they are one, however wide the foot is over the band's curve."""
    stone = {**PARTS["stone"], "width_mm": round(width, 1), "length_mm": round(width * long, 1), "depth_mm": None}
    made = planned(samples=0, **{**PARTS, "stone": stone, "shank": {**PARTS["shank"], "profile": profile}})
    parts = bodies(made).parts
    pieces = [piece for piece in (parts["head"] + parts["shank"]).decompose() if piece.volume() > 1e-6]
    assert len(pieces) == 1, "faces in common leave dust of no volume"
    assert made[fitting.CULET_CLEARANCE] >= 0.3 - 1e-6
    assert made[cast_on.foot_sunk_mm] >= 0


def test_the_bed_of_uncut_claws_lies_under_the_stone(planned: Callable[..., Plan]) -> None:
    """Without a notch the claws stand at the stone's edge; a cast bed lies inside it all the same."""
    made = planned(samples=0, **PARTS)
    assert made[rings.ring_hidden_by_mm] >= 0
    call = next(call for call in made.diagnostics if call.code == "ring-shows-from-above")
    assert call.level == "ok"


@pytest.mark.parametrize(
    ("parts", "told"),
    [
        ({"shank": {"metal": "18k-yellow"}}, "shank.metal: one casting is of one metal: sterling-silver"),
        (
            {"shank": {"stock": {"across_mm": 3.0, "down_mm": 3.0, "length_mm": 60.0}}},
            "shank.stock: no bar becomes a cast band",
        ),
        ({"head": {"exists": True}}, "shank.exists: head and band come from one mould"),
        ({"setting": {"tack": "weld"}}, "setting.tack: no head goes into a shank here"),
        ({"stone": {"cut": "oval"}, "head": {"style": "wire-basket", "notch_ratio": 0.3}}, "fit.method"),
    ],
)
def test_what_no_casting_can_be_is_refused(parts: dict[str, Any], told: str) -> None:
    whole = {name: {**PARTS.get(name, {}), **parts.get(name, {})} for name in {*PARTS, *parts}}
    with pytest.raises(JobError) as caught:
        check(job_with(**whole), RULES)
    assert told in str(caught.value)


def test_the_window_takes_cast_claws_without_a_notch_and_a_job_file_as_it_always_meant() -> None:
    """An absent notch in a job file means what it always meant; choosing the style offers none, leaving it one."""
    document = {"stone": {"cut": "oval-cabochon"}, "head": {"style": "tube"}}
    assert style_patch(document, "cast-claw")["head"]["notch_ratio"] == 0
    cast = {"stone": {"cut": "oval-cabochon"}, "head": {"style": "cast-claw", "notch_ratio": 0}}
    assert style_patch(cast, "wire-basket")["head"]["notch_ratio"] is None
    assert "notch_ratio" not in style_patch(cast, "cast-claw")["head"]
