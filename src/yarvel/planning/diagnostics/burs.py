"""Bur between sizes: finish on the smaller and push it to each claw."""

from __future__ import annotations

from yarvel.heads import seats
from yarvel.planning.diagnostics.diagnostic import NOTE, OK, Diagnostic, Situation

CODE = "bur-between-sizes"
CODES = (CODE,)


def examine(situation: Situation) -> list[Diagnostic]:
    """Stone less the largest bur that is not over it, against what still counts as on size."""
    if not situation.facts.cut.is_round:
        return [
            Diagnostic(
                code=CODE,
                level=OK,
                title="Bur for the seats",
                message="A setting bur is round and this stone is not: cut every seat at the scribed line with a "
                "hart bur of "
                f"about {situation.rules.hart_bur_mm:.1f} mm.",
                figure=situation.rules.hart_bur_mm,
                limit=None,
                unit="mm",
                about="notch",
            )
        ]
    if not situation.bur_steps_mm:
        return [
            Diagnostic(
                code=CODE,
                level=NOTE,
                title="Bur size",
                message="The stone is smaller than the smallest setting bur: cut the seats with a small hart bur "
                "at the "
                "scribed line.",
                figure=situation.diameter,
                limit=None,
                unit="mm",
                about="notch",
            )
        ]
    under = situation.diameter - situation.bur_steps_mm[-1]
    limit = situation.rules.bur_slack_mm
    message = (
        "A bur of the stone's size finishes the seat."
        if under <= limit
        else f"Finish on {situation.bur_steps_mm[-1]:.1f} mm and push it {under / 2:.2f} mm towards "
        + ("each claw in turn." if situation.shape.places else "the wall all round.")
    )
    return [
        Diagnostic(
            code=CODE,
            level=OK,
            title="Bur size",
            message=message,
            figure=under,
            limit=limit,
            unit="mm",
            about="notch",
            of=seats.push_to_claw_mm,
        )
    ]
