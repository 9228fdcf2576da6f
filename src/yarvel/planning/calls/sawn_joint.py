"""A collet's claws sawn in its shank: the cuts end above the joint that holds it."""

from __future__ import annotations

from yarvel.planning.calls.call import OK, STOP, Call, Situation

CODE = "sawn-into-joint"
CODES = (CODE,)


def examine(situation: Situation) -> list[Call]:
    """How far over the band's top at the gap the saw cuts end; a higher seat lifts them."""
    wanted = ("collet.saw_depth", "shank.band_at_gap", "seat.plane_above_finger")
    if any(key not in situation.figures for key in wanted):
        return []
    over = situation["seat.plane_above_finger"] - situation["collet.saw_depth"] - situation["shank.band_at_gap"]
    if over >= -1e-9:
        message = f"The saw cuts end {over:.2f} mm above the joint with the shank."
        return [Call(CODE, OK, "Claws and joint", message, over, 0.0, "mm", "gap", "collet.saw_depth")]
    height, sagitta = situation["head.height"], situation["seat.finger_sagitta"]
    share = situation["collet.saw_depth"] / height
    # A taller collet has a narrower foot, and the band's ends then stand higher: at most as high as it is thick.
    higher = round((situation["shank.thickness"] + sagitta) / (1 - share) - sagitta, 2)
    return [
        Call(
            CODE,
            STOP,
            "Claws sawn into the joint",
            f"The saw cuts would run {-over:.2f} mm into the joint that holds the collet: a higher seat lifts them.",
            over,
            0.0,
            "mm",
            "gap",
            "collet.saw_depth",
            {"fit": {"height": higher}},
            f"Seat {higher:.2f} mm above the finger",
        )
    ]
