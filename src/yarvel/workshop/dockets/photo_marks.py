"""Marks of claws on a docket's photographs: where a claw is seen, as shares of a picture's width and height."""

from __future__ import annotations

from typing import Any

_NEAR = 0.03
"""A press so near to a claw's own mark takes it away."""

Spots = dict[int, tuple[float, float]]
"""By the claw's number, from the left and from the top, each 0 to 1."""


def spots_on(chart: dict[str, Any], photograph_id: int) -> Spots:
    """Where a chart marks claws on one photograph; what is no place is left out."""
    marks = chart.get("marks")
    held = marks.get(str(photograph_id)) if isinstance(marks, dict) else None
    spots: Spots = {}
    for number, place in (held if isinstance(held, dict) else {}).items():
        if str(number).isdigit() and isinstance(place, list) and len(place) == 2:
            x, y = place
            if all(isinstance(share, int | float) and 0 <= share <= 1 for share in (x, y)):
                spots[int(number)] = (float(x), float(y))
    return spots


def with_spot(chart: dict[str, Any], photograph_id: int, number: int, place: tuple[float, float]) -> dict[str, Any]:
    """The chart with a claw marked there on a photograph; a press on the claw's own mark takes it away."""
    spots = spots_on(chart, photograph_id)
    before = spots.pop(number, None)
    if before is None or max(abs(before[0] - place[0]), abs(before[1] - place[1])) > _NEAR:
        spots[number] = place
    marks_before = chart.get("marks")
    marks = dict(marks_before) if isinstance(marks_before, dict) else {}
    marks[str(photograph_id)] = {
        str(claw_number): [round(x, 4), round(y, 4)] for claw_number, (x, y) in sorted(spots.items())
    }
    if not spots:
        del marks[str(photograph_id)]
    return {**chart, "marks": marks}
