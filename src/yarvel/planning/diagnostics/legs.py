"""Free claws in the gap of an inset: each end of the shank must have one, or the ring, to be soldered to."""

from __future__ import annotations

from typing import Any

from yarvel.heads import claws
from yarvel.heads.envelope import legs_within, on_legs
from yarvel.heads.style import UNDER
from yarvel.planning.diagnostics.diagnostic import OK, STOP, Diagnostic, Situation
from yarvel.planning.job import LOWEST
from yarvel.shanks import inset

CODE = "legs-beside-band"
CODES = (CODE,)
_LEAST = 1


def examine(situation: Situation) -> list[Diagnostic]:
    """How many legs each end meets, the poorer end counted."""
    shape, band = situation.shape, situation.band
    if situation.method != inset.METHOD or band is None or not on_legs(shape, -shape.height_mm):
        return []
    met = min(legs_within(shape, band.width_mm))
    half = shape.rings[-1].high_mm / 2 if shape.rings else 0.0
    between = not on_legs(shape, band.thickness_mm - half - shape.height_mm)
    level = OK if met >= _LEAST or between else STOP
    message = (
        "Each end of the shank meets a leg of the head."
        if met >= _LEAST
        else "Each end of the shank meets the ring."
        if level == OK
        else "The legs come down beside the band: an end of the shank meets none of them, and nothing holds the head."
    )
    remedy, label = (None, "") if level == OK else _remedy(situation)
    return [
        Diagnostic(
            code=CODE,
            level=level,
            title="Legs between the ends",
            message=message,
            figure=float(met),
            limit=float(_LEAST),
            unit="",
            about="gap",
            of=None,
            remedy=remedy,
            remedy_label=label,
        )
    ]


def _remedy(situation: Situation) -> tuple[dict[str, Any], str]:
    """Turned so that two legs stand in the band's middle; bent in, so that the ring lies between the ends; or on a ring
    at the foot."""
    head, band = situation.job.head, situation.band
    if situation.can_set("orientation") and head.orientation == "square" and len(situation.shape.places) % 2 == 0:
        return {"head": {"orientation": "in-line"}}, "Claws in line with the band"
    thick = 0.0 if band is None else band.thickness_mm
    half = situation.shape.rings[-1].high_mm / 2 if situation.shape.rings else 0.0
    low = bool(situation.shape.rings) and situation[claws.CLAW] + half <= thick
    plain = head.legs is None and situation.shape.vees is None and head.ring_drop_mm is None
    fit = situation.job.fit
    if low and plain and situation.can_set("legs") and fit is not None and fit.height == LOWEST:
        return {"head": {"legs": UNDER}}, "Legs bent in under the ring"
    return {"head": {"rings": 2}}, "Two rings"


def one_ring(situation: Situation) -> dict[str, Any]:
    """The patch that leaves the lower ring away; the claws of an inset then stand in line with the band, so that its
    ends meet them."""
    head: dict[str, Any] = {"rings": 1, "ring_lift_mm": None}
    even = len(situation.shape.places) % 2 == 0
    if situation.method == inset.METHOD and even and situation.can_set("orientation"):
        head["orientation"] = "in-line"
    return {"head": head}
