"""What an edit of a docket amounts to, of all that rights are given for."""

from __future__ import annotations

from yarvel.workshop.dockets.fields import CHECKED_BY, PLANNED_BY, RELEASED_BY, STATE_BY, TAKEN_IN_BY
from yarvel.workshop.dockets.records import FIELDS, HANDED_OVER, DocketEdit
from yarvel.workshop.storage.rights import CHECK, HAND_OVER, MEASURE, MOVE_ON, PLAN, TAKE_IN

RIGHT_OF = {TAKEN_IN_BY: TAKE_IN, CHECKED_BY: CHECK, PLANNED_BY: PLAN, RELEASED_BY: HAND_OVER}
"""The act that a change of a field amounts to, by who changes it."""
STATE_RIGHTS = {HANDED_OVER: HAND_OVER}
"""What a new state of a docket amounts to, where it is more than moving it on."""


def acts_of(edit: DocketEdit) -> set[str]:
    """What an edit of a docket amounts to."""
    acts = set()
    for patch in edit.job_patches:
        touched = set(patch) - {"format"}
        acts |= ({MEASURE} if "stone" in touched else set()) | ({PLAN} if touched - {"stone"} else set())
    for name, value in edit.fields.items():
        by = FIELDS[name].by if name in FIELDS else TAKEN_IN_BY
        if by == STATE_BY:
            acts.add(STATE_RIGHTS.get(value, MOVE_ON))
        elif by in RIGHT_OF:
            acts.add(RIGHT_OF[by])
    return acts
