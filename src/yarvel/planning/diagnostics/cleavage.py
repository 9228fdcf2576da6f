"""Cleavage: where a stone splits, pressure has to come evenly."""

from __future__ import annotations

from yarvel.planning.diagnostics.diagnostic import OK, Diagnostic, Situation

CODE = "mind-cleavage"
CODES = (CODE,)


def examine(situation: Situation) -> list[Diagnostic]:
    """By species."""
    species = situation.species
    message = (
        f"{species.label}: {species.note}. Let every claw bear before you press, close in small steps in opposite "
        "pairs, never lever against the girdle."
        if "cleavage" in species.note
        else f"{species.label} has no cleavage that setting has to mind."
    )
    return [Diagnostic(code=CODE, level=OK, title="Cleavage", message=message, about="stone")]
