"""Formulas as trees: the same value as their text, by Python's own arithmetic; every formula of a plan can be set."""

from __future__ import annotations

import math
import re

import pytest
from hypothesis import given

from tests.strategies import jobs
from yarvel.drawing.mathematics import formula_drawing
from yarvel.drawing.metrics import box
from yarvel.drawing.symbols import symbols_drawing
from yarvel.figures.mathematics import (
    Call,
    Fraction,
    Group,
    Node,
    Power,
    Product,
    Root,
    Sum,
    Word,
    filled,
    read,
    symbols,
)
from yarvel.figures.rule_groups import GROUPS, group_of
from yarvel.figures.rules import RULES, HouseRules
from yarvel.figures.working import told, trees
from yarvel.planning.job import Job
from yarvel.planning.plan import plan
from yarvel.planning.rule_effects import effects

FUNCTIONS = {
    "sin": lambda x: math.sin(math.radians(x)),
    "cos": lambda x: math.cos(math.radians(x)),
    "tan": lambda x: math.tan(math.radians(x)),
    "asin": lambda x: math.degrees(math.asin(x)),
    "atan": lambda x: math.degrees(math.atan(x)),
    "ln": math.log,
    "abs": abs,
    "min": min,
    "max": max,
}


def value(node: Node) -> float:
    """What a filled tree comes to; angles in degrees as in the figures."""
    if isinstance(node, Word):
        return math.pi if node.text == "π" else float(node.text.replace("−", "-"))
    if isinstance(node, Sum):
        return sum(value(term) * (1 if sign == "+" else -1) for sign, term in node.terms)
    if isinstance(node, Product):
        return math.prod(value(factor) for factor in node.factors)
    if isinstance(node, Fraction):
        return value(node.over) / value(node.under)
    if isinstance(node, Root):
        return math.sqrt(value(node.of))
    if isinstance(node, Power):
        return value(node.base) ** int(node.exponent)
    if isinstance(node, Call):
        return float(FUNCTIONS[node.name](*(value(part) for part in node.of)))
    return value(node.of)


@pytest.mark.parametrize(
    ("formula", "numbers", "wanted"),
    [
        ("D − 2·ρ·w", {"D": "6", "ρ": "0.3", "w": "1"}, 5.4),
        ("R_o − √(R_o² − b²/4)", {"R_o": "10", "b": "4"}, 10 - math.sqrt(96)),
        ("(D − o)/(2·w)", {"D": "6", "o": "5.2", "w": "0.9"}, 0.8 / 1.8),
        ("a/b·c", {"a": "6", "b": "4", "c": "3"}, 4.5),
        ("a − b + c", {"a": "1", "b": "2", "c": "−4"}, -5.0),
        ("max(0, v/2 − (z_o + v/2))", {"v": "1", "z_o": "0.2"}, 0.0),
        ("−a·b²", {"a": "2", "b": "3"}, -18.0),
    ],
)
def test_a_tree_is_worth_what_its_formula_is(formula: str, numbers: dict[str, str], wanted: float) -> None:
    tree = read(formula)
    assert tree is not None
    assert value(filled(tree, numbers)) == pytest.approx(wanted)
    assert set(symbols(tree)) == set(numbers)


@pytest.mark.parametrize("words", ["by finger size", "area of the head's surface on the stone's", "(a", "a +", "√a"])
def test_words_are_no_formula(words: str) -> None:
    assert read(words) is None or isinstance(read(words), Word)


@given(jobs())
def test_every_formula_of_a_plan_is_set_within_its_paper(job: Job) -> None:
    """Nothing runs off the paper, and the numbers are those that went in."""
    made = plan(job, HouseRules(), samples=0)
    for figure in made.figures.values():
        lines = trees(figure)
        assert lines or not figure.inputs, f"{figure.key}: {figure.formula} cannot be read"
        if not lines:
            continue
        drawn = formula_drawing(lines, 60.0, 4.0)
        for text in drawn.texts():
            left, top, right, low = box(text)
            assert left >= -0.1 and top >= -0.3 and low <= drawn.height + 0.3, (figure.key, text.text)
            assert right <= 60.0 + 0.5, (figure.key, text.text)
        assert told(figure)[0].startswith("=") and told(figure)[1].startswith("Origin:")


def test_symbols_are_marked_where_they_lie() -> None:
    from tests.conftest import job_with

    made = plan(job_with(fit={"method": "on-flat"}), HouseRules(), samples=0)
    drawn = symbols_drawing(made, "seat.notch_ratio", ("D", "o", "w"), 58.0)
    assert drawn is not None
    assert {text.text for text in drawn.texts()} == {"D", "o", "w"}
    assert all(box(text)[0] >= 0 and box(text)[2] <= 58.0 for text in drawn.texts())
    assert symbols_drawing(made, "seat.notch_ratio", ("ρ",), 58.0) is None


def test_every_rule_has_one_group_and_tells_what_it_changes() -> None:
    from tests.conftest import job_with

    assert {group_of(info.name) for info in RULES} == set(GROUPS)
    figures, calls = effects(job_with(head={"notch_ratio": None}), HouseRules(), "notch_target")
    assert "Opening between the claws" in figures and not re.search("Weight", " ".join(figures))
    figures, calls = effects(job_with(head={"notch_ratio": 0.39}), HouseRules(), "notch_caution")
    assert figures == [] and "Notch depth" in calls


def test_groups_keep_their_brackets_where_they_are_needed() -> None:
    together = Sum((("+", Word("a", "", True)), ("+", Word("b", "", True))))
    assert read("2·(a + b)") == Product((Word("2"), Group(together)))
