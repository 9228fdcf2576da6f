"""Stock in hand for the shank: rolled to its section, whether it comes far enough."""

from __future__ import annotations

from yarvel.planning.diagnostics.diagnostic import CAUTION, OK, Diagnostic, Situation
from yarvel.shanks import blanks

CODE = "stock-short"
CODES = (CODE,)
_LEAST_THICK_MM = 0.8


def examine(situation: Situation) -> list[Diagnostic]:
    """Rolling keeps volume: so much length of the section that is wanted; a thinner band where it is short."""
    shank, band = situation.job.shank, situation.band
    if shank is None or band is None or shank.stock is None or blanks.cut_length_mm not in situation.figures:
        return []
    stock, wanted = shank.stock, situation[blanks.cut_length_mm]
    wide = max(band.width_mm, float(band.width_at(180.0)))
    thick = max(band.thickness_mm, float(band.thickness_at(180.0)))
    comes = stock.across_mm * stock.down_mm * stock.length_mm / (wide * thick)
    if comes >= wanted:
        return [
            Diagnostic(
                code=CODE,
                level=OK,
                title="Stock in hand",
                message=f"Rolled to {wide:.2f} by {thick:.2f} it comes to {comes:.1f} mm; {wanted:.1f} are wanted.",
                figure=comes,
                limit=wanted,
                unit="mm",
                about="band",
            )
        ]
    thinner = int(thick * comes / wanted * 100) / 100
    remedy = situation.thicker_band(thinner) if thinner >= _LEAST_THICK_MM and not band.tapers else None
    return [
        Diagnostic(
            code=CODE,
            level=CAUTION,
            title="Stock in hand is short",
            message=f"Rolled to {wide:.2f} by {thick:.2f} it comes to {comes:.1f} mm, {wanted - comes:.1f} too "
            "short: let a "
            "piece in, take more stock, or roll the band thinner.",
            figure=comes,
            limit=wanted,
            unit="mm",
            about="band",
            remedy=remedy,
            remedy_label=f"Band {thinner:.2f} mm thick" if remedy else "",
        )
    ]
