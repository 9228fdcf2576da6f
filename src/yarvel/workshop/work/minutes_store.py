"""What tasks really took: clocks as they ran, and corrections with their reason."""

from __future__ import annotations

from datetime import datetime
from typing import TYPE_CHECKING

from yarvel.clock import here
from yarvel.figures.errors import StoreError
from yarvel.workshop.dockets.accepting import check_text
from yarvel.workshop.storage.rights import WORK
from yarvel.workshop.storage.schema import ChangeRow, TaskRow, TaskTimeRow
from yarvel.workshop.work.counting import TIMES, Clocked, ClockTime, clock_times, clocked
from yarvel.workshop.work.standards import label_of

if TYPE_CHECKING:
    from yarvel.workshop.storage.connection import Connected

MOST_MINUTES = 6000.0
"""A task's minutes are corrected to at the most: two weeks of somebody's work."""


class MinutesStore:
    """One transaction a method."""

    def __init__(self, store: Connected) -> None:
        self._store = store

    def correct(self, task_id: int, minutes: float, why: str, at: datetime | None = None) -> None:
        """What a task really took up to now (``at``), with the reason; what is clocked after that counts beside it.

        Raises
        ------
        StoreError : no such task, no such minutes, no reason, or somebody corrected it since ``at``.
        """
        check_text("why", why, 500)
        if not 0 <= minutes <= MOST_MINUTES:
            raise StoreError(f"minutes: {minutes:g} is not accepted: 0 to {MOST_MINUTES:g}")
        if not why.strip():
            raise StoreError("minutes: no reason: a word on what really was")
        with self._store.transaction() as session:
            self._store.guard(session, WORK)
            row, moment = session.get(TaskRow, task_id), at or self._store.now()
            if row is None or row.dropped_at is not None:
                raise StoreError(f"task {task_id}: not in this store: a task of a docket")
            if row.corrected_at is not None and row.corrected_at > moment:
                raise StoreError(
                    f"{label_of(row.operation)}: was corrected again after {here(moment):%H:%M}: look again"
                )
            took = clocked(session, [task_id], moment).get(task_id, Clocked()).minutes
            row.corrected_minutes, row.corrected_at = minutes, moment
            change_row = ChangeRow(docket_id=row.docket_id, at=moment, by=self._store.by)
            change_row.field = f"{label_of(row.operation)}, minutes"
            change_row.before, change_row.after = f"{took:.0f}", f"{minutes:.0f} – {why.strip()}"
            session.add(change_row)

    def clocks(self, task_id: int) -> list[ClockTime]:
        """From when to when a task was in hand, the first first, and what of it counts."""
        with self._store.transaction() as session:
            row = session.get(TaskRow, task_id)
            corrected = {} if row is None or row.corrected_at is None else {task_id: row.corrected_at}
            query = TIMES.where(TaskTimeRow.task_id == task_id).order_by(TaskTimeRow.started_at)
            times = clock_times(session, session.execute(query), corrected, self._store.now())
        return [one for one in times if one.minutes > 0]
