"""Moments: kept in UTC, told on the clock of this machine."""

from __future__ import annotations

from datetime import UTC, datetime


def here(at: datetime) -> datetime:
    """A moment as the store keeps it (UTC, without a zone), on this machine's clock."""
    return at.replace(tzinfo=UTC).astimezone()


def kept(at: datetime) -> datetime:
    """A moment on this machine's clock (without a zone) as the store keeps it."""
    return at.astimezone(UTC).replace(tzinfo=None)
