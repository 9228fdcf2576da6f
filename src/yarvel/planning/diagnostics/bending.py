"""Bending: closing the claws, and rounding up or spreading the shank, against what the metal bears."""

from __future__ import annotations

from yarvel.heads.style import CAST
from yarvel.metals import bending
from yarvel.metals.alloys import alloy_of
from yarvel.metals.bending import ANNEAL, AS_IT_IS, NOTCH_FIRST, verdict
from yarvel.planning.diagnostics.diagnostic import CAUTION, NOTE, OK, Diagnostic, Situation

CODE, CLAWS, BAND = "anneal-before-bending", "bend-at-the-notch", "anneal-the-band"
CODES = (CODE, CLAWS, BAND)
_MESSAGES = {
    AS_IT_IS: "The claws bend over the girdle as they are.",
    ANNEAL: "Have the claws annealed before they are bent, and do not straighten and bend them again: they harden.",
    NOTCH_FIRST: "Cut the seat first: bent whole, the outside of the claw cracks; what the notch leaves bends.",
}


def examine(situation: Situation) -> list[Diagnostic]:
    """The thinned tip, the claw at its notch, and the shank, each against elongation in its temper."""
    calls = []
    if situation.has(bending.bend_strain):
        calls.append(_tips(situation))
    if situation.has(bending.notch_strain) and situation.job.head.notch_ratio != 0:  # uncut, the dome asks instead
        calls.append(_claws(situation))
    return calls + _band(situation)


def _tips(situation: Situation) -> Diagnostic:
    strain, alloy = situation[bending.bend_strain], situation.alloy
    cast = situation.style.COMES == CAST
    as_made = alloy.elongation_cast if cast else alloy.elongation_drawn
    temper = "cast and filed" if cast else "drawn"
    if situation.claws_heated and strain <= alloy.elongation_annealed:
        level, limit = OK, alloy.elongation_annealed
        message = "The tips bend as the last soldering leaves them: annealed."
    elif strain <= as_made:
        level, limit, message = OK, as_made, "The tips bend as they are."
    elif strain <= alloy.elongation_annealed:
        level, limit = NOTE, as_made
        thinner = "" if alloy.soft else ", and thin the tips first"
        message = f"{alloy.label} as {temper} cracks at this bend: have the claws annealed{thinner}."
    else:
        level, limit = CAUTION, alloy.elongation_annealed
        thinner = "" if alloy.soft else " and thin the tips further"
        message = f"Too thick to bend even annealed in {alloy.label}: notch first{thinner}."
    return Diagnostic(
        code=CODE,
        level=level,
        title="Closing the claws",
        message=message,
        figure=strain,
        limit=limit,
        unit="",
        about="tip",
        of=bending.bend_strain,
    )


def _claws(situation: Situation) -> Diagnostic:
    cast = situation.style.COMES == CAST
    bend = verdict(
        situation[bending.whole_strain], situation[bending.notch_strain], situation.alloy, cast, situation.claws_heated
    )
    as_planned = bend.verdict in (AS_IT_IS, NOTCH_FIRST)  # every route cuts the seat before it closes the claw
    level = OK if as_planned else NOTE if bend.verdict in _MESSAGES else CAUTION
    message = _MESSAGES.get(
        bend.verdict,
        "Even annealed and notched the claw is too thick for this bend: "
        + ("" if situation.alloy.soft else "thinner wire, ")
        + "a deeper notch within the limit, or a wider bend.",
    )
    return Diagnostic(
        code=CLAWS,
        level=level,
        title=f"Claws at the notch: {bend.verdict}",
        message=message,
        figure=bend.strain,
        limit=bend.limit,
        unit="",
        about="claw",
        of=bending.notch_strain,
    )


def _band(situation: Situation) -> list[Diagnostic]:
    """Rounding up the blank; spreading a branch."""
    if situation.job.shank is None:
        return []
    alloy = alloy_of(situation.job.shank.metal, situation.rules)
    calls = []
    for key, title, what in (
        (bending.band_strain, "Rounding up the band", "blank"),
        (bending.spread_strain, "Spreading the branches", "branch"),
    ):
        if situation.has(key):
            strain = situation[key]
            level = OK if strain <= alloy.elongation_annealed else CAUTION
            message = {
                OK: f"Annealed first, the {what} bends: rolled hard, it cracks on its outside."
                if strain > alloy.elongation_drawn
                else f"The {what} bends as it is rolled.",
                CAUTION: f"More than {alloy.label} bears even annealed: in steps, with anneals between, or thinner.",
            }[level]
            calls.append(
                Diagnostic(
                    code=BAND,
                    level=level,
                    title=title,
                    message=message,
                    figure=strain,
                    limit=alloy.elongation_drawn if level != CAUTION else alloy.elongation_annealed,
                    unit="",
                    about="band",
                    of=key,
                )
            )
    return calls
