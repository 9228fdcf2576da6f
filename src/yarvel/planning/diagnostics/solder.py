"""Solder order: each grade has to flow below the one before, and no heat may melt an earlier joint."""

from __future__ import annotations

from yarvel.metals.joints import ONE_GRADE, groups, least_step_c
from yarvel.operations.joint_groups import name_of
from yarvel.planning.diagnostics.diagnostic import CAUTION, NOTE, OK, STOP, Diagnostic, Situation

CODE, MELTS, AGAIN = "solder-order", "joint-melts", "one-grade-with-care"
CODES = (CODE, MELTS, AGAIN)


def examine(situation: Situation) -> list[Diagnostic]:
    """Smallest drop from one grade to the next; earlier joints that a later one would melt; joints of one grade."""
    calls = []
    step = least_step_c(situation.joints)
    if step is not None:
        limit = situation.rules.solder_step_c
        level = OK if step >= limit else CAUTION
        message = (
            "Hottest first; each later joint flows well below the earlier ones."
            if level == OK
            else "Two grades flow so close together that the earlier joint may run: shield it, or change a metal."
        )
        calls.append(
            Diagnostic(
                code=CODE,
                level=level,
                title="Solder order",
                message=message,
                figure=step,
                limit=limit,
                unit="°C",
                about="joints",
            )
        )
    melting = [(joint, joint.melts) for joint, _ in groups(situation.joints) if joint.melts]
    if melting:
        joint, melts = melting[0]
        calls.append(
            Diagnostic(
                code=MELTS,
                level=STOP,
                title="This order melts a joint",
                message=f"“{name_of(joint.group)}” is heated to {joint.heat_c:.0f} °C and would melt "
                f"“{name_of(melts[0])}”, "
                "made before it.",
                figure=joint.heat_c,
                limit=None,
                unit="°C",
                about="joints",
                of=None,
                remedy={"joints": {"order": None}},
                remedy_label="Back to hottest first",
            )
        )
    single_grade = situation.job.joints is not None and situation.job.joints.school == ONE_GRADE
    if single_grade:
        calls.append(
            Diagnostic(
                code=AGAIN,
                level=NOTE,
                title="One grade throughout",
                message="Every later joint can make the earlier ones flow again: coat them against flow, bind or pin "
                "what could move, heat from the new joint's side.",
                about="joints",
                remedy={"joints": {"school": None}},
                remedy_label="Grade by grade",
            )
        )
    return calls
