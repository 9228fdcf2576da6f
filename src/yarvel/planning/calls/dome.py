"""Cast claws over a dome: what the metal bends to against what the dome asks."""

from __future__ import annotations

from yarvel.planning.calls.call import CAUTION, OK, Call, Situation

CODE = "bend-to-dome"
CODES = (CODE,)


def examine(situation: Situation) -> list[Call]:
    """The dome's radius where the tip ends against the least radius that annealed metal bends to."""
    if not situation.has("head.dome_radius"):
        return []
    dome, limit = situation["head.dome_radius"], situation["head.least_bend_radius"]
    level = OK if dome >= limit else CAUTION
    message = (
        "Cast and filed metal is brittle: anneal, then curve the claws to the dome before the stone goes in."
        if level == OK
        else "The dome turns tighter than the claw can bend: thin its tip before bending."
    )
    return [Call(CODE, level, "Claw over the dome", message, dome, limit, "mm", "tip", "head.dome_radius")]
