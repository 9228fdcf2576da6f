"""Public functions of the core say what a stranger has to know: shapes of arrays, units of numbers, errors."""

from __future__ import annotations

import ast
import re
from collections.abc import Iterator
from pathlib import Path

import yarvel
from tests.sources import tree

TOP = Path(yarvel.__file__).parent
CORE = (
    "figures",
    "stones",
    "heads",
    "shanks",
    "metals",
    "operations",
    "planning",
    "route",
    "solids",
    "drawing",
    "drawing/painters",
)
ARRAYS = re.compile(r"NDArray|Points|Polygon")
SHAPE = re.compile(r"\((?:\w+)?,(?: ?\w+)*,?\)|shape of")


def functions() -> Iterator[tuple[str, ast.FunctionDef, str]]:
    """Every public function and method of the core, with its docstring."""
    for room in CORE:
        for path in sorted((TOP / room).glob("*.py")) + sorted((TOP / room).glob("calls/*.py")):
            for owner in tree(path).body:
                inside = owner.body if isinstance(owner, ast.ClassDef) and not owner.name.startswith("_") else []
                for node in (owner, *inside):
                    if isinstance(node, ast.FunctionDef) and not node.name.startswith("_"):
                        yield f"{path.relative_to(TOP)}:{node.name}", node, ast.get_docstring(node) or ""


def annotations(node: ast.FunctionDef) -> list[str]:
    every = [one.annotation for one in (*node.args.args, *node.args.kwonlyargs)]
    return [ast.unparse(one) for one in (*every, node.returns) if one is not None]


def test_arrays_have_their_shapes_told() -> None:
    untold = [
        name
        for name, node, told in functions()
        if any(ARRAYS.search(one) for one in annotations(node)) and not SHAPE.search(told)
    ]
    assert untold == []


def test_errors_that_are_raised_are_named() -> None:
    untold = {}
    for name, node, told in functions():
        raised = [one.exc for one in ast.walk(node) if isinstance(one, ast.Raise) and one.exc is not None]
        names = {ast.unparse(one.func if isinstance(one, ast.Call) else one).split(".")[-1] for one in raised}
        if missing := {one for one in names if one not in told and one[0].isupper()}:
            untold[name] = missing
    assert untold == {}


def test_numbers_that_a_figure_takes_carry_their_unit_or_have_none() -> None:
    """Parameters of figures: a length ends in _mm, an angle in _deg; what has no suffix has no unit."""
    lengths = {
        "length",
        "width",
        "height",
        "depth",
        "radius",
        "diameter",
        "thickness",
        "wall",
        "wire",
        "angle",
        "splay",
    }
    bare = [
        f"{name}({one.arg})"
        for name, node, _ in functions()
        if any(isinstance(one, ast.Call) and getattr(one.func, "id", "") == "figure" for one in node.decorator_list)
        for one in node.args.args
        if one.arg in lengths
    ]
    assert bare == []
