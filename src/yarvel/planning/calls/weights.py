"""Weights against each other: formula, model, and what was declared."""

from __future__ import annotations

from yarvel.planning.calls.call import CAUTION, OK, Call, Situation

CODE = "weight-mismatch"


def examine(situation: Situation) -> list[Call]:
    """Largest gap between any two of the weights, as a share, against the house's limit."""
    formula, model = situation["stone.weight_formula"], situation["stone.weight_model"]
    declared = situation.job.stone.declared_ct
    gap, limit = abs(model / formula - 1), situation.rules.weight_gap
    message = "Formula and model disagree: look again at the measurements."
    if declared is not None:
        apart = min(abs(declared / formula - 1), abs(declared / model - 1))
        if apart > gap:
            gap = apart
            message = (
                f"Declared {declared:.2f} ct is far from both: a mis-measure, another species, or a swapped stone."
            )
    level = OK if gap <= limit else CAUTION
    if level == OK:
        message = "The weights agree."
    return [Call(CODE, level, "Weights", message, gap, limit, "", "stone", "stone.weight_model")]
