"""Tables of the store. Every change of them is a migration; ``layout.HEAD`` names the newest."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated

from sqlalchemy import JSON, BigInteger, Date, DateTime, ForeignKey, Index, Integer, LargeBinary, String, Text
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column

Number = Annotated[int, mapped_column(BigInteger().with_variant(Integer, "sqlite"))]
"""The number of a row of which there are many: 64 bits on every kind of store."""

OF_ONE_SERVER = {"info": {"stays": True}}
"""Of a table that is not carried over when a store moves."""


class Base(DeclarativeBase):
    """Base of all tables."""


class DocketRow(Base):
    """One docket: what was taken in, its state, its job document, and what is typed but not yet accepted."""

    __tablename__ = "dockets"
    __table_args__ = (Index("dockets_by_change", "updated_at", "id"),)

    id: Mapped[Number] = mapped_column(primary_key=True)
    number: Mapped[str] = mapped_column(String(20), unique=True)
    customer: Mapped[str] = mapped_column(Text, default="")
    item: Mapped[str] = mapped_column(Text, default="")
    promised_on: Mapped[date | None] = mapped_column(Date, default=None)
    state: Mapped[str] = mapped_column(String(20))
    job_document: Mapped[dict[str, object]] = mapped_column(JSON)
    drafts: Mapped[dict[str, str]] = mapped_column(JSON, default=dict)
    ticks: Mapped[list[str]] = mapped_column(JSON, default=list)
    customer_kind: Mapped[str] = mapped_column(Text, default="")
    metal: Mapped[str] = mapped_column(Text, default="")
    mark: Mapped[str] = mapped_column(Text, default="")
    reported: Mapped[str] = mapped_column(Text, default="")
    condition: Mapped[str] = mapped_column(Text, default="")
    weight_in_g: Mapped[float | None] = mapped_column(default=None)
    earlier_number: Mapped[str] = mapped_column(Text, default="")
    claw_chart: Mapped[dict[str, object]] = mapped_column(JSON, default=dict)
    measured: Mapped[dict[str, object]] = mapped_column(JSON, default=dict)
    released_by: Mapped[str] = mapped_column(Text, default="")
    release_reason: Mapped[str] = mapped_column(Text, default="")
    stones_price: Mapped[float | None] = mapped_column(default=None)
    estimate: Mapped[dict[str, object]] = mapped_column(JSON, default=dict)
    withdrawn: Mapped[str] = mapped_column(Text, default="")
    importance: Mapped[str] = mapped_column(Text, default="")
    outside_price: Mapped[float | None] = mapped_column(default=None)
    deposit: Mapped[float | None] = mapped_column(default=None)
    approved: Mapped[dict[str, object]] = mapped_column(JSON, default=dict)
    words: Mapped[str] = mapped_column(Text, default="")
    version: Mapped[int] = mapped_column(default=1)
    created_at: Mapped[datetime] = mapped_column(DateTime)
    updated_at: Mapped[datetime] = mapped_column(DateTime)


class ActRow(Base):
    """One thing that was done, once: its name, what it was, when it was pressed and when stored. Never edited; ``seq``
    is the order in which things were done."""

    __tablename__ = "acts"

    seq: Mapped[Number] = mapped_column(primary_key=True)
    id: Mapped[str] = mapped_column(String(36), unique=True)
    deed: Mapped[str] = mapped_column(Text)
    digest: Mapped[str] = mapped_column(Text, default="")
    pressed_at: Mapped[datetime | None] = mapped_column(DateTime, default=None)
    stored_at: Mapped[datetime] = mapped_column(DateTime)
    by: Mapped[str] = mapped_column(Text, default="")
    follows: Mapped[str] = mapped_column(String(36), default="")


class EffectRow(Base):
    """What an act came to beside what the history tells: which row, what was different in it before, and after. The
    database writes it itself; never edited."""

    __tablename__ = "effects"
    __table_args__ = (Index("effects_by_row", "table_name", "row_key"),)

    id: Mapped[Number] = mapped_column(primary_key=True)
    act: Mapped[str] = mapped_column(String(36), default="")
    table_name: Mapped[str] = mapped_column(Text)
    row_key: Mapped[str] = mapped_column(Text)
    before: Mapped[object] = mapped_column(JSON)
    after: Mapped[object] = mapped_column(JSON)


class TouchesRow(Base):
    """Which role may change a column, or what of it (``part``): rights as a server reads them."""

    __tablename__ = "touches"
    __table_args__ = OF_ONE_SERVER

    table_name: Mapped[str] = mapped_column(Text, primary_key=True)
    column_name: Mapped[str] = mapped_column(Text, primary_key=True)
    part: Mapped[str] = mapped_column(Text, primary_key=True)
    role: Mapped[str] = mapped_column(Text, primary_key=True)


class MachineRow(Base):
    """A login of the server's from which somebody signed in: wrong PINs count apart there."""

    __tablename__ = "machines"
    __table_args__ = OF_ONE_SERVER

    role: Mapped[str] = mapped_column(Text, primary_key=True)
    since: Mapped[datetime] = mapped_column(DateTime)


class PinTriesRow(Base):
    """Wrong PINs on a server: of whom, on which machine ("": those where nobody signed in yet, together)."""

    __tablename__ = "pin_tries"
    __table_args__ = OF_ONE_SERVER

    person_id: Mapped[int] = mapped_column(ForeignKey("people.id"), primary_key=True)
    machine: Mapped[str] = mapped_column(Text, primary_key=True)
    wrong: Mapped[int] = mapped_column(default=0)
    locked_until: Mapped[datetime | None] = mapped_column(DateTime, default=None)


class ChangeRow(Base):
    """One line of a docket's history: which field, what it was, what it became. Never edited."""

    __tablename__ = "changes"
    __table_args__ = (Index("changes_by_docket", "docket_id", "id"),)

    id: Mapped[Number] = mapped_column(primary_key=True)
    docket_id: Mapped[Number] = mapped_column(ForeignKey("dockets.id"))
    at: Mapped[datetime] = mapped_column(DateTime)
    by: Mapped[str] = mapped_column(Text, default="")
    field: Mapped[str] = mapped_column(String(40))
    before: Mapped[object] = mapped_column(JSON)
    after: Mapped[object] = mapped_column(JSON)
    act: Mapped[str] = mapped_column(String(36), default="")


class CustomerRow(Base):
    """A record of a customer as it was from then on; the newest of a key is what holds. Never edited, never removed."""

    __tablename__ = "customers"
    __table_args__ = (Index("customers_by_key", "key", "id"),)

    id: Mapped[Number] = mapped_column(primary_key=True)
    key: Mapped[str] = mapped_column(Text)
    at: Mapped[datetime] = mapped_column(DateTime)
    by: Mapped[str] = mapped_column(Text, default="")
    name: Mapped[str] = mapped_column(Text)
    kind: Mapped[str] = mapped_column(Text, default="")
    contact: Mapped[str] = mapped_column(Text, default="")
    terms: Mapped[str] = mapped_column(Text, default="")
    note: Mapped[str] = mapped_column(Text, default="")
    other_names: Mapped[list[str]] = mapped_column(JSON, default=list)
    gone: Mapped[bool] = mapped_column(default=False)
    act: Mapped[str] = mapped_column(String(36), default="")


class PhotographRow(Base):
    """A photograph of a docket, made smaller when it came in. Never edited, never removed."""

    __tablename__ = "photographs"
    __table_args__ = (Index("photographs_by_docket", "docket_id", "id"),)

    id: Mapped[Number] = mapped_column(primary_key=True)
    docket_id: Mapped[Number] = mapped_column(ForeignKey("dockets.id"))
    at: Mapped[datetime] = mapped_column(DateTime)
    by: Mapped[str] = mapped_column(Text, default="")
    caption: Mapped[str] = mapped_column(Text, default="")
    width: Mapped[int]
    height: Mapped[int]
    jpeg: Mapped[bytes] = mapped_column(LargeBinary)
    act: Mapped[str] = mapped_column(String(36), default="")


class PersonRow(Base):
    """Somebody who works here, or did."""

    __tablename__ = "people"

    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(Text, unique=True)
    role: Mapped[str] = mapped_column(Text)
    skills: Mapped[list[str]] = mapped_column(JSON, default=list)
    left_at: Mapped[datetime | None] = mapped_column(DateTime, default=None)
    pin_salt: Mapped[str] = mapped_column(Text, default="")
    database_role: Mapped[str] = mapped_column(Text, default="")


class PinRow(Base):
    """The secret of somebody who signs in: of the PIN only the digest of what is derived from it. The windows of a team
    cannot read it."""

    __tablename__ = "pins"

    person_id: Mapped[int] = mapped_column(ForeignKey("people.id"), primary_key=True, autoincrement=False)
    digest: Mapped[str] = mapped_column(Text)
    wrong: Mapped[int] = mapped_column(default=0)
    tried_at: Mapped[datetime | None] = mapped_column(DateTime, default=None)
    locked_until: Mapped[datetime | None] = mapped_column(DateTime, default=None)


class SessionRow(Base):
    """Who a window of a team signed in as; it shows its token, of which only the digest stands here."""

    __tablename__ = "sessions"

    token_digest: Mapped[str] = mapped_column(Text, primary_key=True)
    person_id: Mapped[int] = mapped_column(ForeignKey("people.id"))
    since: Mapped[datetime] = mapped_column(DateTime)
    role: Mapped[str] = mapped_column(Text, default="")


class AlloyRow(Base):
    """An alloy that the fine book knows."""

    __tablename__ = "alloys"

    key: Mapped[str] = mapped_column(Text, primary_key=True)


class PutAsideRow(Base):
    """A row that a check refused when the checks came: as it was, why, and what was done with it."""

    __tablename__ = "put_aside"

    id: Mapped[Number] = mapped_column(primary_key=True)
    at: Mapped[datetime] = mapped_column(DateTime)
    table_name: Mapped[str] = mapped_column(Text)
    row_id: Mapped[int]
    why: Mapped[str] = mapped_column(Text)
    done: Mapped[str] = mapped_column(Text)
    held: Mapped[object] = mapped_column(JSON)


class TaskRow(Base):
    """One task of a docket. What is wanted no more is kept, with the time."""

    __tablename__ = "tasks"
    __table_args__ = (Index("tasks_by_docket", "docket_id", "position"), Index("tasks_by_person", "person_id", "state"))

    id: Mapped[Number] = mapped_column(primary_key=True)
    docket_id: Mapped[Number] = mapped_column(ForeignKey("dockets.id"))
    position: Mapped[int]
    operation: Mapped[str] = mapped_column(Text)
    state: Mapped[str] = mapped_column(Text)
    person_id: Mapped[int | None] = mapped_column(ForeignKey("people.id"), default=None)
    standard_minutes: Mapped[float]
    note: Mapped[str] = mapped_column(Text, default="")
    ticks: Mapped[list[str]] = mapped_column(JSON, default=list)
    dropped_at: Mapped[datetime | None] = mapped_column(DateTime, default=None)
    wait_minutes: Mapped[float] = mapped_column(default=0.0)
    station: Mapped[str] = mapped_column(Text, default="")
    pinned_at: Mapped[datetime | None] = mapped_column(DateTime, default=None)
    corrected_minutes: Mapped[float | None] = mapped_column(default=None)
    corrected_at: Mapped[datetime | None] = mapped_column(DateTime, default=None)


class TaskTimeRow(Base):
    """From when to when somebody had a task in hand; no end while the clock runs."""

    __tablename__ = "task_times"
    __table_args__ = (Index("task_times_by_task", "task_id"),)

    id: Mapped[Number] = mapped_column(primary_key=True)
    task_id: Mapped[Number] = mapped_column(ForeignKey("tasks.id"))
    person_id: Mapped[int] = mapped_column(ForeignKey("people.id"))
    started_at: Mapped[datetime] = mapped_column(DateTime)
    stopped_at: Mapped[datetime | None] = mapped_column(DateTime, default=None)


class FineRow(Base):
    """One line of the fine book. Never edited, never removed."""

    __tablename__ = "fine_entries"
    __table_args__ = (
        Index("fine_entries_by_docket", "docket_id", "alloy"),
        Index("fine_entries_by_person", "person_id", "alloy"),
        Index("fine_entries_by_time", "at"),
        Index("fine_entries_reversed_once", "reverses", unique=True),
    )

    id: Mapped[Number] = mapped_column(primary_key=True)
    at: Mapped[datetime] = mapped_column(DateTime)
    by: Mapped[str] = mapped_column(Text, default="")
    kind: Mapped[str] = mapped_column(Text)
    alloy: Mapped[str] = mapped_column(ForeignKey("alloys.key"))
    mass_g: Mapped[float]
    person_id: Mapped[int | None] = mapped_column(ForeignKey("people.id"), default=None)
    docket_id: Mapped[Number | None] = mapped_column(ForeignKey("dockets.id"), default=None)
    note: Mapped[str] = mapped_column(Text, default="")
    reverses: Mapped[Number | None] = mapped_column(default=None)
    act: Mapped[str] = mapped_column(String(36), default="")


class SealRow(Base):
    """A month of the fine book that is signed off: until when its lines are (UTC), what they come to in whole
    milligrams, and a digest that goes on from the one before. Never edited."""

    __tablename__ = "month_seals"

    month: Mapped[str] = mapped_column(String(7), primary_key=True)
    until: Mapped[datetime] = mapped_column(DateTime)
    zone: Mapped[str] = mapped_column(Text, default="")
    at: Mapped[datetime] = mapped_column(DateTime)
    by: Mapped[str] = mapped_column(Text, default="")
    last_entry: Mapped[Number | None] = mapped_column(ForeignKey("fine_entries.id"), default=None)
    lines: Mapped[int] = mapped_column(default=0)
    sums: Mapped[dict[str, object]] = mapped_column(JSON, default=dict)
    digest: Mapped[str] = mapped_column(Text, default="")
    note: Mapped[str] = mapped_column(Text, default="")
    act: Mapped[str] = mapped_column(String(36), default="")


class SettingRow(Base):
    """A setting of the whole workshop, such as its house rules."""

    __tablename__ = "settings"

    name: Mapped[str] = mapped_column(String(40), primary_key=True)
    value: Mapped[object] = mapped_column(JSON)


class DayPlanRow(Base):
    """A plan of the day that stood: on top of the one that it ``replaces`` ("": the first), by which ``cause``, after
    which act; ``root``, the plan that this act was the cause of, and the root before. Never removed; only the newest
    has its ``content``."""

    __tablename__ = "day_plans"

    seq: Mapped[Number] = mapped_column(primary_key=True)
    id: Mapped[str] = mapped_column(String(36), unique=True)
    replaces: Mapped[str] = mapped_column(String(36), unique=True)
    cause: Mapped[str] = mapped_column(Text, default="")
    after_act: Mapped[Number] = mapped_column(default=0)
    root: Mapped[str] = mapped_column(String(36), default="")
    root_before: Mapped[str] = mapped_column(String(36), default="")
    content: Mapped[dict[str, object]] = mapped_column(JSON, default=dict)
    act: Mapped[str] = mapped_column(String(36), default="")


class StockRow(Base):
    """One thing in the drawer. What is taken out of use is kept, with the time."""

    __tablename__ = "stock_items"
    __table_args__ = (Index("stock_items_in_use", "removed_at", "kind"),)

    id: Mapped[Number] = mapped_column(primary_key=True)
    kind: Mapped[str] = mapped_column(String(20))
    code: Mapped[str] = mapped_column(Text, default="")
    metal: Mapped[str] = mapped_column(Text, default="")
    size_mm: Mapped[float | None] = mapped_column(default=None)
    claws: Mapped[int | None] = mapped_column(default=None)
    claw_mm: Mapped[float | None] = mapped_column(default=None)
    opening_mm: Mapped[float | None] = mapped_column(default=None)
    height_mm: Mapped[float | None] = mapped_column(default=None)
    wall_mm: Mapped[float | None] = mapped_column(default=None)
    made_for_width_mm: Mapped[float | None] = mapped_column(default=None)
    height_tip_mm: Mapped[float | None] = mapped_column(default=None)
    foot_mm: Mapped[float | None] = mapped_column(default=None)
    rail_mm: Mapped[float | None] = mapped_column(default=None)
    label_ct: Mapped[float | None] = mapped_column(default=None)
    inside_mm: Mapped[float | None] = mapped_column(default=None)
    width_mm: Mapped[float | None] = mapped_column(default=None)
    thickness_mm: Mapped[float | None] = mapped_column(default=None)
    length_mm: Mapped[float | None] = mapped_column(default=None)
    mass_g: Mapped[float | None] = mapped_column(default=None)
    owner: Mapped[str] = mapped_column(Text, default="")
    cut: Mapped[str] = mapped_column(Text, default="")
    state: Mapped[str] = mapped_column(Text, default="")
    shape: Mapped[str] = mapped_column(Text, default="")
    grade: Mapped[str] = mapped_column(Text, default="")
    quantity: Mapped[float | None] = mapped_column(default=None)
    price: Mapped[float | None] = mapped_column(default=None)
    note: Mapped[str] = mapped_column(Text, default="")
    added_at: Mapped[datetime] = mapped_column(DateTime)
    removed_at: Mapped[datetime | None] = mapped_column(DateTime, default=None)
