"""How windows ask the store and have it do something: both come back on the GUI thread."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

Ask = Callable[[Callable[[Any], Any], Callable[[Any], None]], None]
"""Puts a question to the store in the background; the second function gets its answer."""
DoAct = Callable[[str, dict[str, Any], Callable[[str], None]], None]
"""Does an act (``workshop.acts``) by name and arguments; the function gets "" or what became of it in a line."""
