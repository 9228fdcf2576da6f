"""An alloy's density against the mixture of its elements: a slip of the pen shows."""

from __future__ import annotations

from yarvel.metals import alloys
from yarvel.metals.alloys import alloy_of
from yarvel.metals.elements import mixture_density
from yarvel.planning.diagnostics.diagnostic import CAUTION, OK, Diagnostic, Situation

CODE = "alloy-density"
CODES = (CODE,)


def examine(situation: Situation) -> list[Diagnostic]:
    """The metals of this job, density as held against the rule of mixtures."""
    keys = {situation.job.head.metal, *((situation.job.shank.metal,) if situation.job.shank is not None else ())}
    calls = []
    for key in sorted(keys):
        alloy = alloy_of(key, situation.rules)
        mixed = mixture_density(alloy.parts)
        level = OK if abs(alloy.density / mixed - 1) <= situation.rules.density_gap else CAUTION
        calls.append(
            Diagnostic(
                code=CODE,
                level=level,
                title=f"Density of {alloy.label}",
                message="Elements and density agree."
                if level == OK
                else "The density held for this alloy is not that of its elements: every mass would be off.",
                figure=alloy.density,
                limit=mixed,
                unit="g/cm³",
                of=alloys.head_mass_g if key == situation.job.head.metal else alloys.shank_mass_g,
            )
        )
    return calls
