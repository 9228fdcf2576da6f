"""Soft stone: what scratches or chips it while it is set."""

from __future__ import annotations

from yarvel.planning.diagnostics.diagnostic import CAUTION, OK, Diagnostic, Situation

CODE = "soft-stone"
CODES = (CODE,)


def examine(situation: Situation) -> list[Diagnostic]:
    """Mohs hardness against the house's limit."""
    species, limit = situation.species, situation.rules.soft_stone_mohs
    level = OK if species.hardness >= limit else CAUTION
    message = (
        f"{species.label} stands ordinary setting; keep steel off it."
        if level == OK
        else f"{species.label} is scratched by coarse wheels, files and steel: finest rubber only, burnish with "
        "care, light pressure."
    )
    return [
        Diagnostic(
            code=CODE,
            level=level,
            title="Hardness",
            message=message,
            figure=species.hardness,
            limit=limit,
            unit="Mohs",
            about="stone",
        )
    ]
