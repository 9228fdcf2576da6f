"""A closing school that does not suit what holds the stone: said, and another one told in its place."""

from __future__ import annotations

from yarvel.planning.diagnostics.diagnostic import NOTE, OK, Diagnostic, Situation
from yarvel.planning.work_methods import closings_for

CODE = "closing-school"
CODES = (CODE,)


def examine(situation: Situation) -> list[Diagnostic]:
    """Pliers asked for on a rim (stores of before have them)."""
    setting = situation.job.setting
    if setting is None:
        return []
    suiting = closings_for(bool(situation.shape.places), situation.facts.cut.is_round)
    if setting.closing in suiting:
        return [
            Diagnostic(
                code=CODE,
                level=OK,
                title="Closing school",
                message="The school chosen suits what holds the stone.",
                about="tip",
            )
        ]
    return [
        Diagnostic(
            code=CODE,
            level=NOTE,
            title="Closing school",
            message=f"{setting.closing.capitalize()} are for claws, and this stone is held by a rim: the work tells "
            f"a pusher.",
            about="tip",
            remedy={"setting": {"closing": None}},
            remedy_label="Close it with a pusher",
        )
    ]
