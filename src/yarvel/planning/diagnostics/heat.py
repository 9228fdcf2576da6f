"""Stone and heat: whether any later torch work means taking the stone out."""

from __future__ import annotations

from yarvel.planning.diagnostics.diagnostic import NOTE, OK, Diagnostic, Situation

CODE = "remove-stone-before-heat"
CODES = (CODE,)


def examine(situation: Situation) -> list[Diagnostic]:
    """By species; a stone whose treatment is unknown counts as sensitive."""
    species = situation.species
    never = species.heat == "never"
    level = NOTE if never and situation.job.ring_exists else OK
    if never:
        more = f" ({species.note})" if species.note else ""
        message = f"{species.label} bears no heat{more}: set it after all soldering; unset it for any later torch work."
    else:
        message = f"{species.label} bears some heat untreated; treatment unknown, treat it as sensitive."
    return [Diagnostic(code=CODE, level=level, title="Heat and the stone", message=message, about="stone")]
