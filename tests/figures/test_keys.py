"""Keys of figures: whoever names one in a text names one that is declared, and nobody asks for one by a text."""

from __future__ import annotations

import ast
import importlib
import re
from collections.abc import Iterator
from dataclasses import fields, is_dataclass
from functools import cache
from pathlib import Path
from typing import get_args, get_type_hints

import yarvel
from tests.sources import nodes, tree
from yarvel.figures.figure import FigureKey
from yarvel.heads.styles import head_fields
from yarvel.heads.tapered_collet import collet_height_mm
from yarvel.heads.tube import tube_length_mm
from yarvel.planning.job import Job

TOP = Path(yarvel.__file__).parent
ROOMS = "stone|head|seat|shank|collet|slot|resize|bail|shoulder"
KEY = re.compile(rf"(?:{ROOMS})\.[a-z_0-9]+")


def sources() -> Iterator[tuple[Path, ast.Module]]:
    for path in sorted(TOP.rglob("*.py")):
        if "migrations" not in path.parts and "demo" not in path.parts:
            yield path, tree(path)


@cache
def declared() -> set[str]:
    """By a figure's function, or by a key of its own where it is read, chosen or given by several."""
    found: set[str] = set()
    for path, _ in sources():
        name = ".".join(path.relative_to(TOP.parent).with_suffix("").parts).removesuffix(".__init__")
        if path.relative_to(TOP).parts[0] in ("stones", "heads", "shanks", "metals", "planning"):
            found |= {made.key for made in vars(importlib.import_module(name)).values() if isinstance(made, FigureKey)}
    return {key for key in found if KEY.fullmatch(key)}


def job_paths(kind: type = Job, path: str = "") -> set[str]:
    """Dotted paths of a job's fields, which look like keys."""
    found: set[str] = set()
    hints = get_type_hints(kind)
    for one in fields(kind):
        found.add(f"{path}{one.name}")
        for inner in (hints[one.name], *get_args(hints[one.name])):
            if is_dataclass(inner) and isinstance(inner, type):
                found |= job_paths(inner, f"{path}{one.name}.")
    return found


def test_no_figure_is_asked_for_that_nobody_declares() -> None:
    """A misspelt key would be missing for ever, in silence: whoever asks first looks whether it is there."""
    known = declared() | job_paths()
    assert len(declared()) > 150
    unknown = {}
    for path, _module in sources():
        calls = (node for node in nodes(path) if isinstance(node, ast.Call) and isinstance(node.func, ast.Attribute))
        names = {id(one) for call in calls if call.func.attr == "setObjectName" for one in call.args}
        for node in nodes(path):
            if isinstance(node, ast.Constant) and isinstance(node.value, str) and id(node) not in names:
                words = [node.value] if KEY.fullmatch(node.value) else re.findall(r"{([a-z_]+\.[a-z_]+)}", node.value)
                for word in words:
                    if KEY.fullmatch(word) and word not in known and not word.endswith("_"):  # the rest is put in
                        unknown[f"{path.name}:{node.lineno}"] = word
    assert unknown == {}


def test_fields_of_heads_stand_for_figures_that_there_are() -> None:
    known = declared()
    assert all(one.figure in known for one in head_fields().values() if one.figure)
    assert {one.name for one in head_fields().values()} <= {
        path[5:] for path in job_paths() if path.startswith("head.")
    }


def test_a_key_is_written_once_where_it_is_declared_and_asked_for_by_name() -> None:
    """``FigureKey("…")`` is a constant of its module; text becomes a key only where text comes in: in the window, from
    a document, in a sentence."""
    written = {}
    for path, module in sources():
        named = {id(node.value) for node in module.body if isinstance(node, ast.Assign)}
        for node in nodes(path):
            made = isinstance(node, ast.Call) and getattr(node.func, "id", "") == "FigureKey"
            if made and id(node) not in named and isinstance(node.args[0], ast.Constant | ast.JoinedStr):
                written[f"{path.name}:{node.lineno}"] = ast.unparse(node)
    assert written == {}


def test_two_that_name_one_figure_are_one_key() -> None:
    assert tube_length_mm == FigureKey("head.tube_length") and hash(tube_length_mm) == hash(
        FigureKey("head.tube_length")
    )
    assert tube_length_mm != collet_height_mm and tube_length_mm != "head.tube_length"
    assert {collet_height_mm: 1.0}[FigureKey("collet.height")] == 1.0
