"""Rubber wheels against the stone: coarse ones scratch what is softer than corundum."""

from __future__ import annotations

from yarvel.planning.calls.call import NOTE, OK, Call, Situation

CODE = "wheel-against-stone"


def examine(situation: Situation) -> list[Call]:
    """Mohs hardness against that from which coarse rubber is safe."""
    species, limit = situation.species, situation.rules.coarse_wheel_mohs
    level = OK if species.hardness >= limit else NOTE
    message = (
        f"Coarse rubber wheels do not mark {species.label.lower()}."
        if level == OK
        else f"Coarse rubber wheels scratch {species.label.lower()}: use the finest ones beside it, and no steel."
    )
    return [Call(CODE, level, "Wheels beside the stone", message, species.hardness, limit, "Mohs", "stone")]
