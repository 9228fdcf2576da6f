"""Small rounds in the shoulders: metal beside them, and how far round they go."""

from __future__ import annotations

from yarvel.planning.calls.call import CAUTION, NOTE, OK, STOP, Call, Situation
from yarvel.shanks import blanks, shoulders

BESIDE, THROUGH, ROUND = "shoulder-thin", "shoulder-through", "shoulder-too-far"
CODES = (BESIDE, THROUGH, ROUND)


def examine(situation: Situation) -> list[Call]:
    """Metal beside a stone against the house's least, the culet against the band, the last stone against the finger."""
    if not situation.has(shoulders.beside_mm) or situation.job.shank is None:
        return []
    beside, least = round(situation[shoulders.beside_mm], 6), situation.rules.shoulder_beside_mm
    level = OK if beside >= least else STOP if beside <= 0 else CAUTION
    wider = round(situation[blanks.WIDTH] + 2 * (least - beside) + 0.05, 1)
    deep, thick = situation[shoulders.culet_below_mm], situation[blanks.THICKNESS]
    angle, limit = situation[shoulders.last_angle_deg], situation.rules.shoulder_most_deg
    return [
        Call(
            BESIDE,
            level,
            "Beside the small stones",
            "Thin walls beside a stone tear when metal is pushed over it.",
            beside,
            least,
            "mm",
            "band",
            shoulders.beside_mm,
            None if level == OK else situation.wider_band(wider),
            "" if level == OK else f"Band {wider:.1f} mm wide",
        ),
        Call(
            THROUGH,
            NOTE if deep > thick else OK,
            "Holes in the shoulders",
            "The hole goes through: open it from the finger's side, smoothly, so that it can be cleaned and does not "
            "scratch."
            if deep > thick
            else "The culets end inside the band.",
            deep,
            thick,
            "mm",
            "band",
            shoulders.culet_below_mm,
        ),
        Call(
            ROUND,
            OK if angle <= limit else CAUTION,
            "Shoulders and fingers",
            "Stones this far round rub against the neighbouring fingers.",
            angle,
            limit,
            "°",
            "band",
            shoulders.last_angle_deg,
        ),
    ]
