"""What reports ask of an open store, so that a hundred thousand dockets need not be read for the few that count."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from yarvel.workshop.dockets import HANDED_OVER, Docket
from yarvel.workshop.operations import Operation
from yarvel.workshop.tasks import DONE, Task

if TYPE_CHECKING:
    from sqlalchemy import ColumnElement

    from yarvel.workshop.store import Store


@dataclass(frozen=True)
class Reported:
    """Everything the reports are made from: open dockets, those with a claw chart, tasks, times over standard by
    operation and how many they rest on, the operations, how many people work at a bench."""

    open: list[Docket]
    charted: list[Docket]
    tasks: list[Task]
    ratios: dict[str, float]
    counts: dict[str, int]
    operations: dict[str, Operation]
    benches: int


def reported(store: Store) -> Reported:
    """Ask the store for all that the reports want."""
    from sqlalchemy import Text, cast

    from yarvel.workshop.schema import DocketRow

    tasks = store.tasks.tasks()
    ratios = store.tasks.against_standard()
    counts = {
        name: sum(task.operation == name and task.taken > 0 and task.state == DONE for task in tasks) for name in ratios
    }
    benches = sum(person.role != "front desk" for person in store.people.all())
    charted = _dockets(store, cast(DocketRow.claw_chart, Text).not_in(("{}", "null")))
    return Reported(
        _dockets(store, DocketRow.state != HANDED_OVER),
        charted,
        tasks,
        ratios,
        counts,
        store.tasks.operations(),
        benches,
    )


def _dockets(store: Store, wanted: ColumnElement[bool]) -> list[Docket]:
    from sqlalchemy import select

    from yarvel.workshop.docket_rows import docket_of
    from yarvel.workshop.schema import DocketRow

    with store.transaction() as session:
        rows = session.scalars(
            select(DocketRow).where(wanted).order_by(DocketRow.updated_at.desc(), DocketRow.id.desc())
        )
        return [docket_of(row) for row in rows]
