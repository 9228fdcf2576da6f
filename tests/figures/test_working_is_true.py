"""The formula shown, with the numbers shown, gives the figure shown: checked by evaluating the text."""

from __future__ import annotations

import math
import re
from collections.abc import Callable

import pytest

from yarvel.figures.figure import Figure
from yarvel.figures.working import with_numbers
from yarvel.planning.plan import Plan

_FUNCTIONS = {
    "sqrt": math.sqrt, "ln": math.log, "abs": abs, "min": min, "max": max, "pi": math.pi,
    "sin": lambda angle: math.sin(math.radians(angle)), "cos": lambda angle: math.cos(math.radians(angle)),
    "tan": lambda angle: math.tan(math.radians(angle)), "asin": lambda x: math.degrees(math.asin(x)),
    "atan": lambda x: math.degrees(math.atan(x)),
}


def evaluated(figure: Figure) -> float:
    """The value of a figure's formula once its numbers are put in."""
    text = with_numbers(figure.formula, figure.inputs)
    for sign, stands_for in (("·", "*"), ("−", "-"), ("√", "sqrt"), ("²", "**2"), ("π", "pi")):
        text = text.replace(sign, stands_for)
    assert re.fullmatch(r"[-+*/().,\d\sa-z]+", text), f"{figure.key}: {text!r} has symbols without a number"
    return float(eval(text, {"__builtins__": {}}, _FUNCTIONS))


JOBS = {
    "on a flat": {},
    "inset, measured whole": {"stone": {"diameters_mm": [6.5, 6.56], "girdle_mm": 0.2, "crown_height_mm": 0.96,
                                        "pavilion_depth_mm": 2.81, "depth_mm": 3.97}, "fit": {"method": "inset"}},
    "three readings, depth assumed": {"stone": {"diameters_mm": [4.1, 4.2, 4.14], "depth_mm": None},
                                      "head": {"claws": 5, "claw_mm": 0.7}},
    "no shank": {"shank": None, "fit": None},
    "tube, inset": {"head": {"style": "tube", "claw_mm": None, "notch_ratio": None}, "fit": {"method": "inset"}},
    "tapered collet, bezel": {"head": {"style": "tapered-collet", "notch_ratio": None}, "fit": {"method": "inset"}},
    "tapered collet, claws": {"head": {"style": "tapered-collet", "cut": "claws", "included_angle_deg": 28}},
    "bought": {"head": {"style": "bought", "made_for_mm": 6.4, "height_mm": 5.5, "trim_mm": 0.5}},
    "tall, splay eased": {"head": {"splay_deg": 30}, "fit": {"height": 12}},
}


@pytest.mark.parametrize("name", JOBS)
def test_every_formula_gives_its_figure(name: str, planned: Callable[..., Plan]) -> None:
    plan = planned(**JOBS[name])
    worked = [figure for figure in plan.figures.values() if figure.inputs]
    assert len(worked) > 20
    for figure in worked:
        assert evaluated(figure) == pytest.approx(figure.value, rel=2e-3, abs=2e-3), figure.key


def test_every_figure_says_where_it_comes_from(planned: Callable[..., Plan]) -> None:
    for name, parts in JOBS.items():
        for figure in planned(**parts).figures.values():
            assert figure.label[0].isupper(), (name, figure.key)
            assert figure.source in ("geometry", "common practice", "from memory", "measured", "assumed", "chosen") or (
                figure.source.startswith("published: ")), (name, figure.key, figure.source)
