"""Solder order: each grade has to flow well below the one before."""

from __future__ import annotations

from yarvel.metals.joints import least_step_c
from yarvel.planning.calls.call import CAUTION, OK, Call, Situation

CODE = "solder-order"


def examine(situation: Situation) -> list[Call]:
    """Smallest drop from one grade to the next against the house's least."""
    step = least_step_c(situation.joints)
    if step is None:
        return []
    limit = situation.rules.solder_step_c
    level = OK if step >= limit else CAUTION
    message = ("Hottest first; each later joint flows well below the earlier ones." if level == OK else
               "Two grades flow so close together that the earlier joint may run: shield it, or change a metal.")
    return [Call(CODE, level, "Solder order", message, step, limit, "°C", "joints")]
