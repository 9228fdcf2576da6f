"""Small rounds in the shoulders: metal beside them, and how far round they go."""

from __future__ import annotations

from yarvel.planning.diagnostics.diagnostic import CAUTION, NOTE, OK, STOP, Diagnostic, Situation
from yarvel.shanks import blanks, shoulders

BESIDE, THROUGH, ROUND = "shoulder-thin", "shoulder-through", "shoulder-too-far"
DOWN = "shoulder-cut-down"
CODES = (BESIDE, THROUGH, ROUND, DOWN)


def examine(situation: Situation) -> list[Diagnostic]:
    """Metal beside a stone against the house's least, the culet against the band, the last stone against the finger."""
    if not situation.has(shoulders.beside_mm) or situation.job.shank is None:
        return []
    carved = situation.has(shoulders.cut_down_mm)  # the wall itself may reach the band's edge
    beside = round(situation[shoulders.beside_mm], 6)
    least = 0.0 if carved else situation.rules.shoulder_beside_mm
    level = OK if beside >= least else STOP if beside <= 0 else CAUTION
    wider = round(situation[blanks.WIDTH] + 2 * (least - beside) + 0.05, 1)
    deep, thick = situation[shoulders.culet_below_mm], situation[blanks.THICKNESS]
    angle, limit = situation[shoulders.last_angle_deg], situation.rules.shoulder_most_deg
    return [
        Diagnostic(
            code=BESIDE,
            level=level,
            title="Beside the small stones",
            message="The bezels are carved out of the band, and it is too narrow for their walls."
            if carved and level != OK
            else "Thin walls beside a stone tear when metal is pushed over it.",
            figure=beside,
            limit=least,
            unit="mm",
            about="band",
            of=shoulders.beside_mm,
            remedy=None if level == OK else situation.wider_band(wider),
            remedy_label="" if level == OK else f"Band {wider:.1f} mm wide",
        ),
        Diagnostic(
            code=THROUGH,
            level=NOTE if deep > thick else OK,
            title="Holes in the shoulders",
            message="The hole goes through: open it from the finger's side, smoothly, so that it can be "
            "cleaned and does not "
            "scratch."
            if deep > thick
            else "The culets end inside the band.",
            figure=deep,
            limit=thick,
            unit="mm",
            about="band",
            of=shoulders.culet_below_mm,
        ),
        Diagnostic(
            code=ROUND,
            level=OK if angle <= limit else CAUTION,
            title="Shoulders and fingers",
            message="Stones this far round rub against the neighbouring fingers.",
            figure=angle,
            limit=limit,
            unit="°",
            about="band",
            of=shoulders.last_angle_deg,
        ),
        *_cut_down(situation),
    ]


def _cut_down(situation: Situation) -> list[Diagnostic]:
    """What the band keeps under the ground round carved bezels, against the house's least."""
    if not situation.has(shoulders.left_under_mm):
        return []
    left, least = round(situation[shoulders.left_under_mm], 6), situation.rules.band_least_mm
    level = OK if left >= least else STOP if left <= _THROUGH_MM else CAUTION
    thicker = round(situation[blanks.THICKNESS] + least - left + 0.05, 1)
    remedy = None if level == OK or thicker > _THICKEST_MM else situation.thicker_band(thicker)
    message = "Cut down round the bezels, the band has to carry the head with what is left under them."
    title, label = "Band under carved bezels", f"Band {thicker:.1f} mm thick" if remedy else ""
    return [
        Diagnostic(
            code=DOWN,
            level=level,
            title=title,
            message=message,
            figure=left,
            limit=least,
            unit="mm",
            about="band",
            of=shoulders.left_under_mm,
            remedy=remedy,
            remedy_label=label,
        )
    ]


_THROUGH_MM, _THICKEST_MM = 0.3, 5.0
