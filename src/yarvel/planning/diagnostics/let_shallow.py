"""A head let into its band by too little: its foot is longer than the floor, and rocks on it."""

from __future__ import annotations

from yarvel.planning.diagnostics.diagnostic import OK, STOP, Diagnostic, Situation
from yarvel.shanks import let_in

CODE = "let-in-too-shallow"
CODES = (CODE,)


def examine(situation: Situation) -> list[Diagnostic]:
    """The depth against the least that gives the whole foot a floor."""
    if not situation.has(let_in.DEPTH):
        return []
    depth, least = situation[let_in.DEPTH], round(situation[let_in.least_depth_mm], 6)
    level = OK if depth >= least - _SAME_MM else STOP
    message = "The whole foot stands on the floor of its recess."
    if level == STOP:
        message = "The floor is shorter than the foot along the band, which rocks on it: let it in deeper."
    remedy = None if level == OK else {"fit": {"let_mm": None}}
    title, label = "Let into the band", "Let in as usual" if remedy else ""
    return [
        Diagnostic(
            code=CODE,
            level=level,
            title=title,
            message=message,
            figure=depth,
            limit=least,
            unit="mm",
            about="foot",
            of=let_in.DEPTH,
            remedy=remedy,
            remedy_label=label,
        )
    ]


_SAME_MM = 5e-3
