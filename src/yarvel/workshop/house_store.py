"""The house in the store: its rules, and which store this is."""

from __future__ import annotations

import uuid
from collections.abc import Callable
from typing import TYPE_CHECKING

from sqlalchemy import Text, cast, func, select
from sqlalchemy.orm import Session

from yarvel.clock import is_zone, live_in, zone_here
from yarvel.figures.errors import StoreError
from yarvel.figures.rules import HouseRules, changed_rules, readable, rules_from
from yarvel.workshop.dockets.accepting import check_value
from yarvel.workshop.dockets.merging import merge_object
from yarvel.workshop.storage.rights import CHANGE_RULES
from yarvel.workshop.storage.schema import DocketRow, FineRow, PutAsideRow, SettingRow, StockRow
from yarvel.workshop.storage.settings import IDENTITY, RULES, RULES_UNREAD, document, document_to_change

if TYPE_CHECKING:
    from yarvel.workshop.storage.connection import Connected


class HouseStore:
    """House rules of an open store. Every method is one transaction."""

    def __init__(self, store: Connected) -> None:
        self._store = store

    def identity(self) -> str:
        """Which store this is: made once, and carried along wherever the store goes."""
        with self._store.transaction() as session:
            row = session.get(SettingRow, IDENTITY)
            if row is None:
                if not self._store.location.is_server:  # where nobody needs to have signed in for it
                    self._store.enter(session, deed=IDENTITY)
                row = SettingRow(name=IDENTITY, value=str(uuid.uuid4()))
                session.add(row)
            if not self._store.location.is_server:  # whose keeper prepares it
                settle(session, lambda: self._store.enter(session, deed=IDENTITY))
            return str(row.value)

    def put_aside(self) -> list[tuple[str, int, str, str]]:
        """What the checks found when they came: table, row, what was wrong, what was done."""
        query = select(PutAsideRow).order_by(PutAsideRow.id)
        with self._store.transaction() as session:
            return [(row.table_name, row.row_id, row.why, row.done) for row in session.scalars(query)]

    def put_aside_count(self) -> int:
        """How many rows the checks found."""
        with self._store.transaction() as session:
            return session.scalar(select(func.count()).select_from(PutAsideRow)) or 0

    def rules(self) -> HouseRules:
        """The workshop's house rules."""
        with self._store.transaction() as session:
            stored = document(session, RULES)
        rules = rules_from(readable(stored)[0])
        live_in(rules.custom.zone)
        return rules

    def unreadable_rules(self) -> list[str]:
        """House rules that stand in the store and cannot be read: the usual ones count in their place."""
        with self._store.transaction() as session:
            return sorted(readable(document(session, RULES))[1])

    def keep(self, rules: HouseRules, seen: HouseRules | None = None) -> HouseRules:
        """Keep what is changed in the house rules since they were ``seen`` (the stored ones where that is not said);
        others' changes of other rules stay. Returns the rules as they are then.

        Raises
        ------
        StoreError : somebody else changed the same rule meanwhile; nothing is kept.
        """
        check_value("house rules", changed_rules(rules))
        with self._store.transaction() as session:
            self._store.guard(session, CHANGE_RULES)
            stored, unread = readable(document_to_change(session, RULES))
            merged_rules, clashes = merge_object(
                stored, stored if seen is None else changed_rules(seen), changed_rules(rules), "rules"
            )
            if clashes:
                clashing = "; ".join(
                    f"{clash.path.removeprefix('rules.')} is {clash.theirs} by now" for clash in clashes
                )
                raise StoreError(
                    f"house rules: changed meanwhile by somebody else ({clashing}): look again, then change what "
                    "should be otherwise"
                )
            kept = rules_from(merged_rules)
            if kept.custom.zone and not is_zone(kept.custom.zone):
                raise StoreError(f"zone: {kept.custom.zone!r} is not known here: a name such as Europe/Lisbon")
            _check_unused(session, own_keys(rules_from(stored)) - own_keys(kept))
            session.merge(SettingRow(name=RULES, value=merged_rules))
            if unread:  # nothing is lost: it lies beside them
                beside = document_to_change(session, RULES_UNREAD)
                session.merge(SettingRow(name=RULES_UNREAD, value={**beside, **unread}))
        live_in(kept.custom.zone)
        return kept


def settle(session: Session, enter: Callable[[], None] = lambda: None) -> None:
    """A house that has named no zone yet is in this machine's; ``enter`` writes down beforehand that it is settled."""
    zone, stored = zone_here(), document(session, RULES)
    if zone and "zone" not in stored:
        enter()
        session.merge(SettingRow(name=RULES, value={**stored, "zone": zone}))
        live_in(zone)


def own_keys(rules: HouseRules) -> set[str]:
    """Keys of the alloys and species of the workshop's own."""
    return {metal.key for metal in rules.custom.metals} | {species.key for species in rules.custom.species}


def _check_unused(session: Session, keys: set[str]) -> None:
    """StoreError for something of the workshop's own that is to go while a docket, the fine book or the drawer names
    it: those would no longer be read."""
    for key in sorted(keys):
        named = cast(DocketRow.job_document, Text).like(f'%"{key}"%')
        number = session.scalars(select(DocketRow.number).where(named).limit(1)).first()
        booked = session.scalars(select(FineRow.id).where(FineRow.alloy == key).limit(1)).first()
        code_using = session.scalars(select(StockRow.code).where(StockRow.metal == key).limit(1)).first()
        where = (
            f"docket {number}"
            if number
            else "the fine book"
            if booked
            else f"the drawer ({code_using})"
            if code_using
            else ""
        )
        if where:
            raise StoreError(f"house rules: {key} is named by {where}: one that nothing names can be left out")
