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
    "sqrt": math.sqrt,
    "ln": math.log,
    "abs": abs,
    "min": min,
    "max": max,
    "pi": math.pi,
    "sin": lambda angle: math.sin(math.radians(angle)),
    "cos": lambda angle: math.cos(math.radians(angle)),
    "tan": lambda angle: math.tan(math.radians(angle)),
    "asin": lambda x: math.degrees(math.asin(x)),
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
    "inset, measured whole": {
        "stone": {
            "diameters_mm": [6.5, 6.56],
            "girdle_mm": 0.2,
            "crown_height_mm": 0.96,
            "pavilion_depth_mm": 2.81,
            "depth_mm": 3.97,
        },
        "fit": {"method": "inset"},
    },
    "three readings, depth assumed": {
        "stone": {"diameters_mm": [4.1, 4.2, 4.14], "depth_mm": None},
        "head": {"claws": 5, "claw_mm": 0.7},
    },
    "no shank": {"shank": None, "fit": None},
    "tube, inset": {"head": {"style": "tube", "claw_mm": None, "notch_ratio": None}, "fit": {"method": "inset"}},
    "tapered collet, bezel": {"head": {"style": "tapered-collet", "notch_ratio": None}, "fit": {"method": "inset"}},
    "tapered collet, claws": {"head": {"style": "tapered-collet", "cut": "claws", "included_angle_deg": 28}},
    "bought": {"head": {"style": "bought", "made_for_mm": 6.4, "height_mm": 5.5, "trim_mm": 0.5}},
    "oval": {
        "stone": {"cut": "oval", "diameters_mm": None, "length_mm": 8.6, "width_mm": 6.3},
        "head": {"claws": None},
        "fit": {"method": "inset"},
    },
    "princess in V-claws, two tabs": {
        "stone": {"cut": "princess", "diameters_mm": None, "length_mm": 5.6, "width_mm": 5.5, "depth_mm": None},
        "head": {"style": "v-claw", "claws": None, "school": "tabs"},
    },
    "emerald in pairs": {
        "stone": {"cut": "emerald", "diameters_mm": None, "length_mm": 8.2, "width_mm": 6.1},
        "head": {"style": "paired-corner", "claws": None},
        "fit": {"method": "inset"},
    },
    "cabochon under cast claws": {
        "stone": {"cut": "oval-cabochon", "diameters_mm": None, "length_mm": 12, "width_mm": 9, "depth_mm": 4.2},
        "head": {"style": "cast-claw", "claws": None},
    },
    "pear in a strip": {
        "stone": {"cut": "pear", "diameters_mm": None, "length_mm": 9.0, "width_mm": 6.0},
        "head": {"style": "tube", "claw_mm": None, "notch_ratio": None},
    },
    "tapered baguette": {
        "stone": {"cut": "tapered-baguette", "diameters_mm": None, "length_mm": 6.2, "width_mm": 3.1, "depth_mm": 1.9},
        "head": {"claws": None, "claw_mm": 0.7},
    },
    "claws on a hidden collet": {"head": {"style": "applied-collet", "claws": 4}, "fit": {"method": "inset"}},
    "one ring of square wire, posts": {
        "head": {"rings": 1, "ring_section": "square", "posts": "drilled", "claw_mm": None}
    },
    "one ring of strip": {"head": {"rings": 1, "ring_section": "strip", "ring_high_mm": 1.3, "claw_mm": None}},
    "bought, foot to tip": {"head": {"style": "bought", "made_for_mm": 6.5, "height_tip_mm": 7.0, "notch_ratio": None}},
    "collet from the tube in hand": {
        "head": {
            "style": "tapered-collet",
            "claw_mm": None,
            "notch_ratio": None,
            "tube": {"outside_mm": 7.4, "wall_mm": 0.7, "length_mm": 5.0},
        },
        "fit": {"method": "inset"},
    },
    "fish-mouth": {"head": {"style": "tube", "claw_mm": None, "notch_ratio": None}, "fit": {"method": "fish-mouth"}},
    "peg": {
        "head": {"style": "bought", "made_for_mm": 6.5, "peg_mm": 0.9},
        "fit": {"method": "peg", "hole": "through"},
    },
    "peg, blind": {"head": {"style": "bought", "made_for_mm": 6.5}, "fit": {"method": "peg"}},
    "basket point": {"fit": {"method": "basket-point"}},
    "split shoulders": {
        "head": {"style": "tube", "claw_mm": None, "notch_ratio": None},
        "shank": {"width_mm": 4.0},
        "fit": {"method": "split-shoulder"},
    },
    "tapering, resized": {
        "shank": {"head_width_mm": 3.5, "head_thickness_mm": 1.6, "resized_from": {"system": "ISO", "value": "52"}}
    },
    "old slot": {
        "head": {"style": "tapered-collet", "notch_ratio": None},
        "fit": {"method": "inset", "slot": {"inside_mm": 6.6, "outside_mm": 6.9, "left_mm": 1.4, "right_mm": 1.5}},
    },
    "wide band, bored": {"shank": {"width_mm": 12.0}, "fit": {"method": "inset"}},
    "pendant": {"shank": None, "fit": {"method": "pendant", "height": None, "bail": {"chain_end_mm": 2.5}}},
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
                figure.source.startswith("published: ")
            ), (name, figure.key, figure.source)
