"""A collet's claws sawn in its shank: the cuts end above the joint that holds it."""

from __future__ import annotations

from yarvel.heads import tapered_collet
from yarvel.planning.diagnostics.diagnostic import OK, STOP, Diagnostic, Situation
from yarvel.shanks import blanks, fitting, inset

CODE = "sawn-into-joint"
CODES = (CODE,)


def examine(situation: Situation) -> list[Diagnostic]:
    """How far over the band's top at the gap the saw cuts end; a higher seat lifts them."""
    wanted = (tapered_collet.saw_depth_mm, inset.band_at_gap_mm, fitting.PLANE_ABOVE_FINGER)
    if any(key not in situation.figures for key in wanted):
        return []
    over = (
        situation[fitting.PLANE_ABOVE_FINGER] - situation[tapered_collet.saw_depth_mm] - situation[inset.band_at_gap_mm]
    )
    if over >= -1e-9:
        message = f"The saw cuts end {over:.2f} mm above the joint with the shank."
        return [
            Diagnostic(
                code=CODE,
                level=OK,
                title="Claws and joint",
                message=message,
                figure=over,
                limit=0.0,
                unit="mm",
                about="gap",
                of=tapered_collet.saw_depth_mm,
            )
        ]
    # A taller collet has a narrower foot, and the band's ends then stand higher: at most as high as it is thick.
    higher = round(situation[blanks.THICKNESS] + situation[tapered_collet.saw_depth_mm] + 0.005, 2)
    tube = situation.job.head.tube
    driven_on = {} if tube is None or tube.foot_mm is None else {"head": {"tube": {"foot_mm": None}}}
    return [
        Diagnostic(
            code=CODE,
            level=STOP,
            title="Claws sawn into the joint",
            message=f"The saw cuts would run {-over:.2f} mm into the joint that holds the collet: a higher seat "
            "lifts them.",
            figure=over,
            limit=0.0,
            unit="mm",
            about="gap",
            of=tapered_collet.saw_depth_mm,
            remedy={"fit": {"height": higher}, **driven_on},
            remedy_label=f"Seat {higher:.2f} mm above the finger",
        )
    ]
