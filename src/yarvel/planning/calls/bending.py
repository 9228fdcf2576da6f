"""Closing the claws: strain at the bend against what the metal bears."""

from __future__ import annotations

from yarvel.planning.calls.call import CAUTION, NOTE, OK, Call, Situation

CODE = "anneal-before-bending"


def examine(situation: Situation) -> list[Call]:
    """Strain of the thinned tip at the house's bend radius, against drawn and annealed elongation."""
    if not situation.has("head.bend_strain"):
        return []
    strain, alloy = situation["head.bend_strain"], situation.alloy
    if strain <= alloy.elongation_drawn:
        level, limit, message = OK, alloy.elongation_drawn, "The tips bend as they are."
    elif strain <= alloy.elongation_annealed:
        level, limit = NOTE, alloy.elongation_drawn
        message = f"{alloy.label} as drawn cracks at this bend: have the claws annealed, and thin the tips first."
    else:
        level, limit = CAUTION, alloy.elongation_annealed
        message = f"Too thick to bend even annealed in {alloy.label}: notch first and thin the tips further."
    return [Call(CODE, level, "Closing the claws", message, strain, limit, "", "tip", "head.bend_strain")]
