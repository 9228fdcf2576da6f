"""What each role means: the weight and dash of its line. Colours come from the palette of the painter."""

from __future__ import annotations

from msgspec import Struct


class LineStyle(Struct, frozen=True):
    """``weight`` in mm on paper; ``dash`` as on/off lengths in mm, empty for a full line."""

    weight: float
    dash: tuple[float, ...] = ()


LINES: dict[str, LineStyle] = {
    "outline": LineStyle(0.35),
    "cut": LineStyle(0.5),
    "stone-edge": LineStyle(0.35),
    "facet": LineStyle(0.13),
    "hidden": LineStyle(0.18, (1.2, 0.8)),
    "centre": LineStyle(0.13, (4.0, 0.8, 0.6, 0.8)),
    "dimension": LineStyle(0.18),
    "hatch": LineStyle(0.13),
    "finger-edge": LineStyle(0.25),
    "break": LineStyle(0.18),
    "seat-line": LineStyle(0.3),
    "stretch": LineStyle(0.7, (0.5, 1.1)),
    "mark-stop": LineStyle(0.6),
    "mark-caution": LineStyle(0.6),
    "mark-note": LineStyle(0.6),
    "fine": LineStyle(0.13),
    "fine-stone": LineStyle(0.13),
    "rule": LineStyle(0.13),
    "frame": LineStyle(0.35),
}

PRINT: dict[str, str] = {
    "paper": "#ffffff",
    "text": "#111111",
    "text-quiet": "#4a4a4a",
    "figure": "#111111",
    "chosen": "#111111",
    "outline": "#1a1a1a",
    "cut": "#000000",
    "stone-edge": "#1f3d4d",
    "facet": "#5b7f92",
    "hidden": "#555555",
    "centre": "#7a5230",
    "dimension": "#333333",
    "hatch": "#444444",
    "finger-edge": "#96604a",
    "break": "#555555",
    "seat-line": "#0a5c4c",
    "stretch": "#0a5c4c",
    "rule": "#999999",
    "fine": "#1a1a1a",
    "fine-stone": "#1f3d4d",
    "frame": "#222222",
    "mark-stop": "#a3152a",
    "mark-caution": "#8a5a00",
    "mark-note": "#2a5599",
    "metal": "#ece7dc",
    "metal-cut": "#f6f3ec",
    "stone": "#dcebf0",
    "stone-cut": "#eef6f8",
    "finger": "#f4e3da",
}
"""Colours on white paper."""


def shaded(colour: str, shade: float) -> str:
    """A colour lightened (shade > 0) or darkened (< 0), −1 … 1."""
    target, share = (255 if shade > 0 else 0), min(abs(shade), 1.0)
    values = [int(colour[place : place + 2], 16) for place in (1, 3, 5)]
    return "#" + "".join(f"{round(value + (target - value) * share):02x}" for value in values)
