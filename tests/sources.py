"""The program's own source, read and parsed once for the tests of a module that go by it."""

from __future__ import annotations

import ast
from functools import cache
from pathlib import Path

TOP = Path(__file__).parents[1]


@cache
def tree(path: Path) -> ast.Module:
    return ast.parse(path.read_text())


@cache
def nodes(path: Path) -> tuple[ast.AST, ...]:
    """All nodes of a file, as ``ast.walk`` gives them."""
    return tuple(ast.walk(tree(path)))


def forget() -> None:
    """A hundred megabytes that the next module's tests do not ask for."""
    nodes.cache_clear()
    tree.cache_clear()
