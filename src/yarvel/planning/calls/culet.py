"""Culet and finger: whether the stone's point stays clear of what lies below it."""

from __future__ import annotations

from yarvel.planning.calls.call import CAUTION, OK, STOP, Call, Situation

CODE = "culet-reaches-finger"
_BELOW = {
    "inset": "the finger",
    "split-shoulder": "the finger",
    "on-flat": "the band under the flat",
    "basket-point": "the claws where they meet",
}


def examine(situation: Situation) -> list[Call]:
    """Clearance under the culet against the house's least; below nothing it is a stop."""
    if not situation.has("seat.culet_clearance"):
        return []
    clearance, limit = round(situation["seat.culet_clearance"], 6), situation.rules.culet_clearance_mm
    level = STOP if clearance <= 0 else CAUTION if clearance < limit else OK
    below = _BELOW.get(situation.method or "", "the band")
    remedy = None if level == OK else {"head": {"height_mm": None, "trim_mm": None}, "fit": {"height": "lowest"}}
    return [
        Call(
            CODE,
            level,
            "Culet clearance",
            f"A culet that reaches {below} lifts the stone off its seat or cuts the finger.",
            clearance,
            limit,
            "mm",
            "culet",
            "seat.culet_clearance",
            remedy,
            "" if level == OK else "Raise the seat to clear",
        )
    ]
