"""Texts in CSV that no spreadsheet runs: whatever separator it parts cells by, no cell begins as a formula does."""

from __future__ import annotations

import re

_RISKY = re.compile(r"(?:^|(?<=[;,|\t\r\n]))( *)('*[=+\-@\t\r\n])")
_MADE_SAFE = re.compile(r"(?:^|(?<=[;,|\t\r\n]))( *)'('*[=+\-@\t\r\n])")

_SIGNS = frozenset("=+-@\t\r\n")
"""Without one of these no cell begins a formula; most texts are done with that look."""


def safe(text: str) -> str:
    """A text that no spreadsheet takes for a formula: a ' before each sign that would begin one, at the beginning or
    behind what some program takes for the end of a cell; numbers stay numbers."""
    if _SIGNS.isdisjoint(text):
        return text
    try:
        float(text)
    except ValueError:
        return _RISKY.sub(r"\1'\2", text)
    return text.strip()


def plain(text: str) -> str:
    """A text as it was before it was made safe."""
    return _MADE_SAFE.sub(r"\1\2", text) if "'" in text else text
