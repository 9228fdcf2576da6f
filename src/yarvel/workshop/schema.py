"""Tables of the store. Every change of them is a migration; ``layout.HEAD`` names the newest."""

from __future__ import annotations

from datetime import date, datetime

from sqlalchemy import JSON, Date, DateTime, ForeignKey, Index, String, Text
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column


class Base(DeclarativeBase):
    """Base of all tables."""


class DocketRow(Base):
    """One docket: what was taken in, its state, its job document, and what is typed but not yet accepted."""

    __tablename__ = "dockets"

    id: Mapped[int] = mapped_column(primary_key=True)
    number: Mapped[str] = mapped_column(String(20), unique=True)
    customer: Mapped[str] = mapped_column(Text, default="")
    item: Mapped[str] = mapped_column(Text, default="")
    promised_on: Mapped[date | None] = mapped_column(Date, default=None)
    state: Mapped[str] = mapped_column(String(20))
    job_document: Mapped[dict[str, object]] = mapped_column(JSON)
    drafts: Mapped[dict[str, str]] = mapped_column(JSON, default=dict)
    ticks: Mapped[list[str]] = mapped_column(JSON, default=list)
    version: Mapped[int] = mapped_column(default=1)
    created_at: Mapped[datetime] = mapped_column(DateTime)
    updated_at: Mapped[datetime] = mapped_column(DateTime)


class ChangeRow(Base):
    """One line of a docket's history: which field, what it was, what it became. Never edited."""

    __tablename__ = "changes"
    __table_args__ = (Index("changes_by_docket", "docket_id", "id"),)

    id: Mapped[int] = mapped_column(primary_key=True)
    docket_id: Mapped[int] = mapped_column(ForeignKey("dockets.id"))
    at: Mapped[datetime] = mapped_column(DateTime)
    field: Mapped[str] = mapped_column(String(40))
    before: Mapped[object] = mapped_column(JSON)
    after: Mapped[object] = mapped_column(JSON)


class SettingRow(Base):
    """A setting of the whole workshop, such as its house rules."""

    __tablename__ = "settings"

    name: Mapped[str] = mapped_column(String(40), primary_key=True)
    value: Mapped[object] = mapped_column(JSON)
