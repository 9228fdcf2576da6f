"""Bought head that is too tall: its base can be trimmed."""

from __future__ import annotations

from typing import Any

from yarvel.figures.figure import Ledger
from yarvel.heads import bought
from yarvel.planning.compute import choice_of
from yarvel.planning.diagnostics.diagnostic import NOTE, OK, Diagnostic, Situation
from yarvel.planning.job import LOWEST
from yarvel.planning.trimming import WORTH_MM, Under, clearance, most_trim
from yarvel.shanks import fitting
from yarvel.stones import stone as stones

CODE = "trim-base"
CODES = (CODE,)


def examine(situation: Situation) -> list[Diagnostic]:
    """How much lower the head could sit and still clear its culet."""
    head, key = situation.job.head, fitting.CULET_CLEARANCE
    if not situation.has(bought.trimmed_height_mm) or not situation.has(key) or head.exists:
        return []
    begin = bought.begin(Ledger(), choice_of(situation.job, situation.rules), situation.facts, situation.rules)
    open_mm = situation.figures[key].plus_minus
    pavilion = situation[stones.PAVILION_DEPTH]
    under = Under(pavilion, open_mm, situation.band, situation.method, situation.rules)
    trim = float(most_trim(begin, under))
    spare = situation[key] - under.wanted_mm
    level = NOTE if spare >= WORTH_MM and trim >= (head.trim_mm or 0.0) + WORTH_MM else OK
    message = "Taller than this stone needs: the base can be trimmed, if nothing in the gallery is in the way."
    if level == NOTE:
        left = float(clearance(begin, under, float(begin.sold_mm or 0.0) - trim))
        message += f" Trimmed by {trim:.2f} mm the culet keeps {left:.2f} mm."
    elif spare >= WORTH_MM:
        message = "Taller than this stone needs, but trimmed it would lose its base ring."
    remedy: dict[str, Any] | None = {"head": {"trim_mm": trim}} if level == NOTE else None
    if remedy is not None and situation.job.fit is not None and situation.job.fit.height != LOWEST:
        remedy["fit"] = {"height": LOWEST}  # what is trimmed decides the height
    label = f"Trim the base by {trim:.2f} mm" if remedy else ""
    figure = bought.trimmed_height_mm
    return [
        Diagnostic(
            code=CODE,
            level=level,
            title="Height of the head",
            message=message,
            figure=spare,
            limit=WORTH_MM,
            unit="mm",
            about="culet",
            of=figure,
            remedy=remedy,
            remedy_label=label,
        )
    ]
