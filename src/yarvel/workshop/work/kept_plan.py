"""The plan that stands, in the store: kept on top of the one that it was made from, brought back by undo."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from yarvel.workshop.dockets.accepting import check_value
from yarvel.workshop.storage.identity import new_id
from yarvel.workshop.storage.rights import GIVE_OUT
from yarvel.workshop.storage.schema import SettingRow
from yarvel.workshop.storage.settings import SHOWN, setting, setting_to_change

if TYPE_CHECKING:
    from yarvel.workshop.storage.connection import Connected

KEEP_PLAN = "keep-plan"
"""The deed of keeping a plan: a cause for no other."""


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
            standing = setting_to_change(session, SHOWN)
            if "replaces" in document and document["replaces"] != standing.get("id", ""):
                return False
            if standing != document:
                session.merge(SettingRow(name=SHOWN, value=document))
            return True

    def standing(self) -> dict[str, Any]:
        """The plan that stands, as it is kept; {} where there is none."""
        with self._store.transaction() as session:
            return setting(session, SHOWN)

    def bring_back(self, before: dict[str, Any]) -> bool:
        """The plan that stood before an act that is taken back stands again, if nothing but time has passed since that
        act; False where something else has happened, and a plan is sought."""
        standing = self.standing()
        if not before.get("id") or standing.get("before") != before.get("root"):
            return False
        return self.keep({**before, "id": new_id(), "replaces": standing.get("id", "")})
