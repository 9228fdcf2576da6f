"""Rubber wheels against the stone: coarse ones scratch what is softer than corundum."""

from __future__ import annotations

from yarvel.planning.diagnostics.diagnostic import OK, Diagnostic, Situation

CODE = "wheel-against-stone"
CODES = (CODE,)


def examine(situation: Situation) -> list[Diagnostic]:
    """Mohs hardness against that from which coarse rubber is safe."""
    species, limit = situation.species, situation.rules.coarse_wheel_mohs
    message = (
        f"Coarse rubber wheels do not mark {species.label.lower()}."
        if species.hardness >= limit
        else f"Coarse rubber wheels scratch {species.label.lower()}: use the finest ones beside it, and no steel."
    )
    return [
        Diagnostic(
            code=CODE,
            level=OK,
            title="Wheels beside the stone",
            message=message,
            figure=species.hardness,
            limit=limit,
            unit="Mohs",
            about="stone",
        )
    ]
