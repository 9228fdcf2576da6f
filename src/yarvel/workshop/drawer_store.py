"""The stock drawer in the store: bought heads, burs, wire, sheet, tube and solder, and the plate."""

from __future__ import annotations

from datetime import datetime
from typing import TYPE_CHECKING, Any

from sqlalchemy import func, insert, select, update

from yarvel.figures.errors import StoreError
from yarvel.workshop.accepting import check_value
from yarvel.workshop.schema import ChangeRow, SettingRow, StockRow
from yarvel.workshop.stock import NAMES, StockItem
from yarvel.workshop.who_may import CHANGE_DRAWER, WORK

if TYPE_CHECKING:
    from yarvel.workshop.store import Store


_AT_A_TIME = 1000
DRAWER = "drawer"
"""The field of a docket's history that tells what was taken for it."""


class DrawerStore:
    """The drawer of an open store. Every method is one transaction; nothing that was in it is ever deleted."""

    def __init__(self, store: Store) -> None:
        self._store = store

    def items(self) -> list[StockItem]:
        """Everything in the drawer, by kind, size and code."""
        columns = [getattr(StockRow, name) for name in (*NAMES, "id")]
        query = (
            select(*columns)
            .where(StockRow.removed_at.is_(None))
            .order_by(StockRow.kind, StockRow.size_mm, StockRow.code, StockRow.id)
        )
        with self._store.transaction() as session:
            return [StockItem(*row) for row in session.execute(query)]

    def mark(self) -> tuple[Any, ...]:
        """Something that is another when the drawer or the house rules have changed; quick to ask for."""
        query = select(
            func.count(),
            func.max(StockRow.id),
            func.max(StockRow.removed_at),
            func.sum(StockRow.quantity),
            func.sum(func.length(StockRow.note)),
        )
        with self._store.transaction() as session:
            rules = session.get(SettingRow, "house_rules")
            return (*session.execute(query).one(), repr(None if rules is None else rules.value))

    def add(self, items: list[StockItem], replacing: tuple[str, ...] = ()) -> None:
        """Put things into the drawer; what it held of the kinds named in ``replacing`` goes out of use (it is kept)."""
        now = self._store.now()
        for item in items:
            check_value(item.code or "drawer", [getattr(item, name) for name in NAMES])
        rows = [{**{name: getattr(item, name) for name in NAMES}, "added_at": now} for item in items]
        with self._store.transaction() as session:
            self._store.guard(session, CHANGE_DRAWER)
            if replacing:
                session.execute(
                    update(StockRow)
                    .where(StockRow.kind.in_(replacing), StockRow.removed_at.is_(None))
                    .values(removed_at=now)
                )
            for first in range(0, len(rows), _AT_A_TIME):  # each of them answers well within a server's deadline
                session.execute(insert(StockRow), rows[first : first + _AT_A_TIME])

    def change(
        self, item_id: int, quantity: float | None, note: str, seen: tuple[float | None, str] | None = None
    ) -> None:
        """Count again, or note something; ``seen`` are count and note before, as they stood on the screen.

        Raises
        ------
        StoreError : somebody else counted or noted something else meanwhile; nothing is changed.
        """
        check_value("drawer", [quantity, note])
        with self._store.transaction() as session:
            self._store.guard(session, CHANGE_DRAWER)
            row = session.get(StockRow, item_id, with_for_update=True)
            if row is None:
                raise StoreError(f"drawer: {item_id} is not in this store: something that is in the drawer")
            counted, noted = (row.quantity, row.note) if seen is None else seen
            if quantity != counted and row.quantity not in (counted, quantity):
                held = "not counted" if row.quantity is None else f"{row.quantity:g}"
                raise StoreError(f"{row.code}: counted by somebody else meanwhile, {held}: look again, then count")
            if note != noted and row.note not in (noted, note):
                raise StoreError(f"{row.code}: noted by somebody else meanwhile, “{row.note}”: look again, then note")
            if quantity != counted:
                row.quantity = quantity
            if note != noted:
                row.note = note

    def take(self, item_id: int, docket_id: int, count: int, at: datetime) -> None:
        """Take so many of something out of the drawer for a docket, or put them back (negative); told in the docket's
        history. Done already at this moment, nothing changes.

        Raises
        ------
        StoreError : it is not in the drawer, is not counted, or there are not so many.
        """
        with self._store.transaction() as session:
            self._store.guard(session, WORK)
            row = session.get(StockRow, item_id, with_for_update=True)
            if row is None or row.removed_at is not None:
                raise StoreError(f"drawer: {item_id} is not in this store: something that is in the drawer")
            told = f"{row.code or row.kind} {'taken from' if count > 0 else 'put back into'} the drawer"
            same = select(ChangeRow.id).where(
                ChangeRow.docket_id == docket_id, ChangeRow.at == at, ChangeRow.field == DRAWER
            )
            if session.scalars(same).first() is not None:
                return
            if row.quantity is None or row.quantity < count:
                held = "is not counted" if row.quantity is None else f"there are {row.quantity:g}"
                raise StoreError(f"{row.code}: {held}: count it first, or choose another")
            row.quantity -= count
            line = ChangeRow(docket_id=docket_id, at=at, by=self._store.by, field=DRAWER, before=None, after=told)
            session.add(line)

    def remove(self, item_ids: list[int]) -> None:
        """Take things out of use; they are kept."""
        with self._store.transaction() as session:
            self._store.guard(session, CHANGE_DRAWER)
            session.execute(update(StockRow).where(StockRow.id.in_(item_ids)).values(removed_at=self._store.now()))
