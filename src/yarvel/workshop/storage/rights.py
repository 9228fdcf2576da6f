"""Who may do what: one table, enforced by the store. It counts once anybody has a PIN; until then everybody is trusted.

On a file this keeps honest people from mistakes: whoever can write the file can write past it. On a team's database the
role of the windows cannot alter the history either (``share/team.sql``).
"""

from __future__ import annotations

from yarvel.figures.errors import StoreError

FRONT_DESK, BENCH, LEAD, OWNER = "front desk", "bench", "lead", "owner"

ROLES: dict[str, str] = {FRONT_DESK: "front desk", BENCH: "bench", LEAD: "lead", OWNER: "owner"}
"""What people may do here: a key that stays, and what it is called."""

TAKE_IN = "take in dockets and change what was taken in"
PHOTOGRAPH = "add photographs"
MEASURE = "measure stones"
PLAN = "plan heads, shanks and repairs"
CHECK = "tick and measure checks"
MOVE_ON = "move a docket on"
HAND_OVER = "hand over"
WORK = "work on tasks and hand them on"
GIVE_OUT = "make tasks and give them to others"
BOOK_METAL = "write in the fine book"
CHANGE_DRAWER = "change the drawer"
CHANGE_RULES = "change house rules, alloys and standard minutes"
BRING_IN = "bring in archives"
PEOPLE = "change people, roles and PINs"
WRITE = "write anything"

WHO_MAY: dict[str, tuple[str, ...]] = {
    TAKE_IN: (FRONT_DESK, LEAD, OWNER),
    PHOTOGRAPH: tuple(ROLES),
    MEASURE: tuple(ROLES),
    PLAN: (BENCH, LEAD, OWNER),
    CHECK: (BENCH, LEAD, OWNER),
    MOVE_ON: tuple(ROLES),
    HAND_OVER: (FRONT_DESK, LEAD, OWNER),
    WORK: (BENCH, LEAD, OWNER),
    GIVE_OUT: (LEAD, OWNER),
    BOOK_METAL: (LEAD, OWNER),
    CHANGE_DRAWER: (BENCH, LEAD, OWNER),
    CHANGE_RULES: (LEAD, OWNER),
    BRING_IN: (LEAD, OWNER),
    PEOPLE: (OWNER,),
}


class NotAllowedError(StoreError):
    """Somebody who is not signed in, or whose role may not do this."""


class NotSignedInError(NotAllowedError):
    """Nobody is signed in: what is wanted may wait until somebody is."""


def check_allowed(act: str, role: str | None) -> None:
    """Refuse what a role may not do; None: nobody is signed in.

    Raises
    ------
    NotAllowedError : with who may.
    """
    if role is None:
        raise NotSignedInError(f"nobody is signed in: to {act}, sign in with a PIN")
    if role not in WHO_MAY[act]:
        raise NotAllowedError(f"{role}: may not {act}: {' or '.join(WHO_MAY[act])} may")
