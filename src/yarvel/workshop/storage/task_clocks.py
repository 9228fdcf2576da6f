"""A task's running clock, for every part of the store that takes work out of somebody's hands."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import select
from sqlalchemy.orm import Session

from yarvel.workshop.storage.schema import TaskRow, TaskTimeRow


def stop_clock(session: Session, task: TaskRow, now: datetime) -> None:
    """Stop whatever clock runs on a task; one that was set back meanwhile counts nothing."""
    for time in session.scalars(
        select(TaskTimeRow).where(TaskTimeRow.task_id == task.id, TaskTimeRow.stopped_at.is_(None))
    ):
        time.stopped_at = max(now, time.started_at)
