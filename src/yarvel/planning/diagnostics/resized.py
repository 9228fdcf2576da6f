"""Resizing with the head in: how far it may go, and what it does to the head."""

from __future__ import annotations

from yarvel.metals.alloys import alloy_of
from yarvel.planning.diagnostics.diagnostic import CAUTION, NOTE, OK, STOP, Diagnostic, Situation
from yarvel.shanks import blanks, resizing

FAR, HEAD, STRETCHED = "resize-too-far", "resize-strains-head", "stretched-too-far"
CODES = (FAR, HEAD, STRETCHED)


def examine(situation: Situation) -> list[Diagnostic]:
    """The change of diameter against the house's most, and the foot's fit to the new curve."""
    if not situation.has(resizing.FROM_DIAMETER):
        return []
    change = abs(situation[blanks.INSIDE_DIAMETER] - situation[resizing.FROM_DIAMETER])
    most, gap, play = situation.rules.resize_most_mm, situation[resizing.foot_gap_mm], situation.rules.resize_gap_mm
    side = "opens under the edges of the foot" if gap > 0 else "presses on the edges of the foot and lifts its middle"
    return [
        Diagnostic(
            code=FAR,
            level=OK if change <= most else CAUTION,
            title="Size to size",
            message="So far from one size to the other the curve no longer fits the head: unset it, or make "
            "the shank anew."
            if change > most
            else "A change that a set head bears, with the head supported.",
            figure=change,
            limit=most,
            unit="mm",
            about="band",
            of=None if situation.has(resizing.strain_percent) else resizing.change_mm,
        ),
        *_stretched(situation, change),
        Diagnostic(
            code=HEAD,
            level=OK if abs(gap) <= play else NOTE,
            title="Head on a new curve",
            message=f"Rounded up to the new size, the band {side}: round up beside the head, not through it, "
            "and look at every "
            "seat afterwards."
            if abs(gap) > play
            else "The new curve hardly moves the head; look at every seat afterwards all the same.",
            figure=abs(gap),
            limit=play,
            unit="mm",
            about="joints",
            of=resizing.foot_gap_mm,
        ),
    ]


def _stretched(situation: Situation, change: float) -> list[Diagnostic]:
    """What stretching asks of the metal, in the temper that nobody knows: as if it were drawn."""
    if not situation.has(resizing.strain_percent):
        return []
    strain, most = situation[resizing.strain_percent], situation.rules.resize_stretch_mm
    shank = situation.job.shank
    metal = situation.alloy if shank is None else alloy_of(shank.metal, situation.rules)
    bears = 100 * metal.elongation_drawn
    cracks = strain > bears
    far = cracks or change > most
    return [
        Diagnostic(
            code=STRETCHED,
            level=STOP if cracks else CAUTION if change > most else OK,
            title="Stretched",
            message=_words(cracks, change > most, bears, situation[resizing.thinner_mm]),
            figure=change,
            limit=most,
            unit="mm",
            about="band",
            of=resizing.strain_percent,
            remedy={"shank": {"resize_by": resizing.PIECE}} if far else None,
            remedy_label="Put a piece in instead" if far else "",
        )
    ]


def _words(cracks: bool, far: bool, bears: float, thinner: float) -> str:
    if cracks:
        return f"Hard metal bears {bears:.0f} % before it cracks, and nobody knows how hard this is: put a piece in."
    if far:
        return (
            f"Farther than a ring is stretched in one go; it thins by {thinner:.2f} mm, most at its seam: look there "
            "after every turn, or put a piece in."
        )
    return "Little by little, round about, never through the head; look at the seam after every turn."
