"""The plan that stands, in the store: a row on top of the one that it was made from, brought back by undo."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from sqlalchemy import select, update
from sqlalchemy.orm import Session

from yarvel.workshop.dockets.accepting import check_value
from yarvel.workshop.storage.identity import new_id
from yarvel.workshop.storage.inserting import insert_into
from yarvel.workshop.storage.rights import GIVE_OUT
from yarvel.workshop.storage.schema import DayPlanRow

if TYPE_CHECKING:
    from yarvel.workshop.storage.connection import Connected

KEEP_PLAN = "keep-plan"
"""The deed of keeping a plan: a cause for no other."""
BY_ACT, BY_TIME, BY_OFFER, BY_UNDO = "act", "time", "offer", "undo"
"""Causes of a plan: something was done; time passed; an offer was taken; an act was taken back."""
CAUSES = {
    BY_ACT: "made after what was done last",
    BY_TIME: "shifted with time",
    BY_OFFER: "another order that was offered and taken",
    BY_UNDO: "brought back: what it was changed for is taken back",
}
_CONTENT = ("on", "tasks", "minutes")


class KeptPlan:
    """One transaction a method."""

    def __init__(self, store: Connected) -> None:
        self._store = store

    def keep(self, document: dict[str, Any]) -> bool:
        """Keep the plan that is shown, for what comes after it; False where another window has kept one meanwhile that
        this one was not made from.

        Raises
        ------
        NotAllowedError : whoever works here shows plans and makes none.
        """
        check_value("plan", document)
        with self._store.transaction() as session:
            self._store.enter(session, deed=KEEP_PLAN)
            self._store.guard(session, GIVE_OUT)
            standing = plan_that_stands(session)
            if document == standing:
                return True
            before = standing.get("id", "")
            if document.get("replaces", before) != before:
                return False
            made = insert_into(DayPlanRow, self._store.location.is_server).values(
                id=document.get("id") or new_id(),
                replaces=before,
                cause=document.get("cause", BY_ACT),
                after_act=document.get("after", 0),
                root=document.get("root", ""),
                root_before=document.get("before", ""),
                content={name: document[name] for name in _CONTENT if name in document},
                act=session.info["act"],
            )
            on_top = made.on_conflict_do_nothing(index_elements=["replaces"]).returning(DayPlanRow.seq)
            if session.execute(on_top).first() is None:  # kept by another window while this one looked
                return False
            session.execute(update(DayPlanRow).where(DayPlanRow.id == before).values(content={}))
            return True

    def standing(self) -> dict[str, Any]:
        """The plan that stands, as it is kept; {} where there is none."""
        with self._store.transaction() as session:
            return plan_that_stands(session)

    def bring_back(self, before: dict[str, Any]) -> bool:
        """The plan that stood before an act that is taken back stands again, if nothing but time has passed since that
        act; False where something else has happened, and a plan is sought."""
        standing = self.standing()
        if not before.get("id") or standing.get("before") != before.get("root"):
            return False
        return self.keep({**before, "id": new_id(), "replaces": standing.get("id", ""), "cause": BY_UNDO})


def plan_that_stands(session: Session) -> dict[str, Any]:
    """The newest plan, within a transaction: its content, its ``id``, the plan that it ``replaces``, its ``cause``, the
    act ``after`` which it stands, its ``root`` and the root ``before``; {} where there is none."""
    row = session.scalars(select(DayPlanRow).order_by(DayPlanRow.seq.desc()).limit(1)).first()
    if row is None:
        return {}
    return {
        "id": row.id,
        "replaces": row.replaces,
        "cause": row.cause,
        "after": row.after_act,
        "root": row.root,
        "before": row.root_before,
        **row.content,
    }
