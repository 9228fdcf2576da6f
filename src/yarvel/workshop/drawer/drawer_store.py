"""The stock drawer in the store: bought heads, burs, wire, sheet, tube and solder, and the plate."""

from __future__ import annotations

from datetime import datetime
from typing import TYPE_CHECKING, Any

from sqlalchemy import func, insert, select, update
from sqlalchemy.orm import Session

from yarvel.figures.errors import StoreError
from yarvel.figures.rules import HouseRules, with_drawer
from yarvel.workshop.dockets.accepting import check_value
from yarvel.workshop.drawer.stock import LOT, NAMES, StockItem, bur_sizes, plate_holes
from yarvel.workshop.house_store import HouseStore
from yarvel.workshop.metal.fine_book import ISSUED, MOST_G, OFFCUTS, RETURNED
from yarvel.workshop.metal.fine_store import OF_A_LOT, write_line
from yarvel.workshop.storage.rights import BOOK_METAL, CHANGE_DRAWER, WORK
from yarvel.workshop.storage.schema import ChangeRow, PersonRow, SettingRow, StockRow

if TYPE_CHECKING:
    from yarvel.workshop.storage.connection import Connected


_AT_A_TIME = 1000
_NOTHING_G = 0.0005

DRAWER = "drawer"
"""The field of a docket's history that tells what was taken for it."""


class DrawerStore:
    """The drawer of an open store. Every method is one transaction; nothing that was in it is ever deleted."""

    def __init__(self, store: Connected) -> None:
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
            func.sum(StockRow.mass_g),
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
                count_text = "not counted" if row.quantity is None else f"{row.quantity:g}"
                raise StoreError(
                    f"{row.code}: counted by somebody else meanwhile, {count_text}: look again, then count"
                )
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
            text = f"{row.code or row.kind} {'taken from' if count > 0 else 'put back into'} the drawer"
            if self._told_at(session, docket_id, at):
                return
            if row.quantity is None or row.quantity < count:
                count_text = "is not counted" if row.quantity is None else f"there are {row.quantity:g}"
                raise StoreError(f"{row.code}: {count_text}: count it first, or choose another")
            row.quantity -= count
            self._tell(session, docket_id, at, text)

    def take_lot(
        self, item_id: int, docket_id: int, mass_g: float, length_mm: float | None, person_id: int | None, at: datetime
    ) -> None:
        """Take so much of a lot for a docket, or put it back (negative): the lot is lighter and shorter, the fine book
        has it issued to who takes it (what a customer owns is told in the docket's history alone). A lot of which
        nothing is left goes out of use. Done already at this moment, nothing changes.

        Raises
        ------
        StoreError : it is no lot of this drawer, has not so much, or nobody takes it.
        """
        check_value("lot", [mass_g, length_mm])
        with self._store.transaction() as session:
            row = session.get(StockRow, item_id, with_for_update=True)
            if row is None or row.kind != LOT:
                raise StoreError(f"lot: {item_id} is not in this store: a lot that is in the drawer")
            self._store.guard(session, WORK if row.owner else BOOK_METAL)
            if self._told_at(session, docket_id, at):
                return
            left = round((row.mass_g or 0.0) - mass_g, 4)
            if left < -_NOTHING_G or not 0 < abs(mass_g) <= MOST_G:
                raise StoreError(f"{row.code}: {mass_g:g} g cannot be taken of {row.mass_g or 0:g} g: weigh it again")
            person = None if person_id is None else session.get(PersonRow, person_id)
            if person is None:
                raise StoreError(f"{row.code}: taken by nobody: a person who works here")
            row.mass_g = max(left, 0.0)
            if row.length_mm is not None and length_mm is not None:
                row.length_mm = max(round(row.length_mm - length_mm, 2), 0.0)
            row.removed_at = at if row.mass_g <= _NOTHING_G else None
            if not row.owner:
                kind = ISSUED if mass_g > 0 else RETURNED
                note = f"{OF_A_LOT}{row.code}"
                write_line(session, self._store, at, kind, row.metal, abs(mass_g), person.id, docket_id, note)
            whose = f" of {row.owner}'s" if row.owner else ""
            done = "taken from" if mass_g > 0 else "put back into"
            self._tell(session, docket_id, at, f"{abs(mass_g):.3f} g{whose} {done} lot {row.code}")

    def give_back(self, item: StockItem, docket_id: int, person_id: int | None, at: datetime) -> None:
        """An offcut of a docket becomes a lot; the fine book has it back from who worked it. Done already at this
        moment, nothing changes.

        Raises
        ------
        StoreError : it weighs nothing, or nobody gives it back.
        """
        check_value("lot", [getattr(item, name) for name in NAMES])
        if item.kind != LOT or not 0 < (item.mass_g or 0.0) <= MOST_G:
            raise StoreError(f"{item.code}: weighs {item.mass_g or 0:g} g: more than nothing, up to {MOST_G:g} g")
        with self._store.transaction() as session:
            self._store.guard(session, WORK if item.owner else BOOK_METAL)
            if self._told_at(session, docket_id, at):
                return
            person = None if person_id is None else session.get(PersonRow, person_id)
            if person is None:
                raise StoreError(f"{item.code}: given back by nobody: a person who works here")
            session.add(StockRow(**{name: getattr(item, name) for name in NAMES}, added_at=at))
            mass = float(item.mass_g or 0.0)
            if not item.owner:
                note = f"{OF_A_LOT}{item.code}"
                write_line(session, self._store, at, OFFCUTS, item.metal, mass, person.id, docket_id, note)
            whose = f" of {item.owner}'s" if item.owner else ""
            self._tell(session, docket_id, at, f"{mass:.3f} g{whose} back as lot {item.code}")

    def owners_of(self, docket_id: int) -> dict[str, str]:
        """Whose metal was taken for a docket, by alloy, where it was not the workshop's."""
        query = (
            select(StockRow.code, StockRow.metal, StockRow.owner)
            .where(StockRow.kind == LOT, StockRow.owner != "")
            .order_by(StockRow.id)
        )
        with self._store.transaction() as session:
            changes = session.scalars(
                select(ChangeRow.after).where(ChangeRow.docket_id == docket_id, ChangeRow.field == DRAWER)
            ).all()
            lots = session.execute(query).all()
        codes = {str(text).rpartition("taken from lot ")[2] for text in changes if "taken from lot " in str(text)}
        return {metal: owner for code, metal, owner in lots if code in codes}

    def _told_at(self, session: Session, docket_id: int, at: datetime) -> bool:
        if self._store.stamp is not None:  # it has a name of its own, and is known by it
            return False
        same = select(ChangeRow.id).where(
            ChangeRow.docket_id == docket_id, ChangeRow.at == at, ChangeRow.field == DRAWER
        )
        return session.scalars(same).first() is not None

    def _tell(self, session: Session, docket_id: int, at: datetime, told: str) -> None:
        session.add(ChangeRow(docket_id=docket_id, at=at, by=self._store.by, field=DRAWER, before=None, after=told))

    def remove(self, item_ids: list[int]) -> None:
        """Take things out of use; they are kept."""
        with self._store.transaction() as session:
            self._store.guard(session, CHANGE_DRAWER)
            session.execute(update(StockRow).where(StockRow.id.in_(item_ids)).values(removed_at=self._store.now()))


def rules_of(store: Connected) -> HouseRules:
    """House rules, with the burs and the draw plate of the workshop's own drawer."""
    items = DrawerStore(store).items()
    return with_drawer(HouseStore(store).rules(), bur_sizes(items), plate_holes(items))
