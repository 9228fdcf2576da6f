"""The program's own source, read and parsed once a test process."""

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
