"""A tube or collet wider than the band it stands on: it hangs over both edges, and is let in instead."""

from __future__ import annotations

from yarvel.heads.envelope import whole
from yarvel.planning.diagnostics.diagnostic import CAUTION, OK, Diagnostic, Situation
from yarvel.planning.job import LOWEST
from yarvel.shanks import let_in, on_flat

CODE = "wider-than-band"
CODES = (CODE,)
_PAST_MM = 0.05


def examine(situation: Situation) -> list[Diagnostic]:
    """The foot across the band against the band's width."""
    shape, band = situation.shape, situation.band
    if situation.method != on_flat.METHOD or not shape.walls or band is None:
        return []
    across = 2 * whole(shape, -shape.height_mm)[1]
    level = OK if across <= band.width_mm + _PAST_MM else CAUTION
    message = (
        "The foot stands within the band."
        if level == OK
        else "The foot is wider than the band and hangs over both edges, with nothing under it to solder to: let it in."
    )
    remedy = None if level == OK else {"fit": {"method": let_in.METHOD, "height": LOWEST}}
    label = "" if remedy is None else "Let it in"
    key, limit = shape.foot_key, band.width_mm
    return [
        Diagnostic(
            code=CODE,
            level=level,
            title="Foot across the band",
            message=message,
            figure=across,
            limit=limit,
            unit="mm",
            about="foot",
            of=key,
            remedy=remedy,
            remedy_label=label,
        )
    ]
