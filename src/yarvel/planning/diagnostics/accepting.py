"""Calls that somebody takes as they are: by name and reason, until their figure moves."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from msgspec.structs import replace

from yarvel.figures.figure import Figure, FigureKey
from yarvel.planning.diagnostics.diagnostic import OK, Diagnostic
from yarvel.planning.job import AcceptedJob

_MOVED = 0.01
"""A figure has moved when it is this share of it away from what it was, or more than its own ±."""


def with_accepted(
    calls: Iterable[Diagnostic], accepted: tuple[AcceptedJob, ...], figures: Mapping[FigureKey, Figure]
) -> list[Diagnostic]:
    """Calls, those marked that are accepted and whose figure is still what it was then."""
    return [_marked(call, accepted, figures) for call in calls]


def _marked(call: Diagnostic, accepted: tuple[AcceptedJob, ...], figures: Mapping[FigureKey, Figure]) -> Diagnostic:
    if call.level == OK:
        return call
    for acceptance in accepted:
        if (acceptance.code, acceptance.place) == (call.code, call.place) and not _moved(acceptance, call, figures):
            return replace(call, accepted_by=acceptance.by, accepted_why=acceptance.why)
    return replace(call, accepted_by="", accepted_why="")


def _moved(one: AcceptedJob, call: Diagnostic, figures: Mapping[FigureKey, Figure]) -> bool:
    if one.figure is None or call.figure is None:
        return one.figure is not call.figure
    figure = figures.get(call.of) if call.of is not None else None
    own = figure.plus_minus if figure is not None else 0.0
    return abs(call.figure - one.figure) > max(own, _MOVED * abs(one.figure)) + 1e-9
