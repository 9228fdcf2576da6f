"""What metal asks of the order of the work: drawn from something thicker, annealed before it is bent, tested sprung."""

from __future__ import annotations

import re
from collections.abc import Callable
from itertools import product
from typing import Any

import pytest

from yarvel.metals.alloys import ALLOYS
from yarvel.operations.piece import BEND, DRAW, HEAT
from yarvel.planning.plan import Plan
from yarvel.route.balance import taken
from yarvel.route.drawing import drawn
from yarvel.route.running import route_of

PlanMaker = Callable[..., Plan]


@pytest.mark.parametrize("claw", [0.8, 1.1, 1.4, 1.8, 2.1])
def test_every_wire_is_drawn_from_a_rod_that_is_thicker(claw: float, planned: PlanMaker) -> None:
    """A wire as thick as its rod was not drawn: neither round nor straight. Common practice: at least a fifth more."""
    made = planned(samples=0, head={"claw_mm": claw})
    down = drawn(made, taken(route_of(made)))
    assert down is not None and down.passes
    rod = float(re.findall(r"\d+\.\d+", down.start)[0])
    assert rod >= 1.2 * max(one.size_mm for one in down.drawn) - 0.01, down.start


COLLET: dict[str, Any] = {"style": "tapered-collet", "notch_ratio": None}
PIECES = [
    *product([{}, {"rings": 2}, COLLET], ["on-flat", "split-shoulder"]),
    *product([COLLET], ["inset", "fish-mouth"]),
    *product([{"style": "wire-basket"}], ["on-flat", "inset", "basket-point", "split-shoulder"]),
]


@pytest.mark.parametrize(("head", "fit"), PIECES)
def test_what_cannot_bear_its_bend_is_annealed_before(head: dict[str, Any], fit: str, planned: PlanMaker) -> None:
    """Followed by hand, apart from the route's own states: what was drawn or rolled hard is heated before a bend that
    hard metal does not bear."""
    made = planned(samples=0, head=head, fit={"method": fit}, shank={"width_mm": 4.0})
    bears = ALLOYS[made.job.head.metal].elongation_drawn
    hard, bent = set[str](), set[str]()
    for operation in (step.operation for step in route_of(made).steps):
        for name in operation.on:
            if operation.kind.temper == HEAT:
                hard.discard(name)
            elif operation.kind.temper == DRAW:
                hard.add(name)
            elif operation.kind.temper == BEND and not 0 < operation.strain <= bears:  # 0: not told how sharply
                bent.add(name)
                assert name not in hard, (operation.key, name)
    assert "shank" in bent
    keys = [step.operation.key for step in route_of(made).steps]
    if fit == "split-shoulder":  # sawn apart they have been bent once: soft again before they are spread
        assert keys.index("anneal-branches") < keys.index("spread-branches-shank")
