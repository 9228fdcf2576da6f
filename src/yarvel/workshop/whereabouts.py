"""Where a docket is: in whose hands, out of the house, or what comes next and when by the plan that was shown."""

from __future__ import annotations

from datetime import datetime
from typing import TYPE_CHECKING

from yarvel.clock import here
from yarvel.workshop.dockets.records import HANDED_OVER, READY, Docket
from yarvel.workshop.storage.task_states import DONE, STARTED
from yarvel.workshop.work.tasks import Task

if TYPE_CHECKING:
    from yarvel.workshop.store import Store


def whereabouts(store: Store, docket: Docket) -> str:
    """Where it is and when it is ready, in a few sentences; "" where its state says it all."""
    if docket.state in (HANDED_OVER, READY) or docket.withdrawn:
        return ""
    tasks = sorted(store.tasks.tasks(docket.id), key=lambda task: task.position)
    left = [task for task in tasks if task.state != DONE]
    out = store.day.errands.out_of(docket.id)
    if out is not None:
        lines = [f"Out of the house: {out.where}, back {out.back:%a %-d %b}."]
    elif any(task.state == STARTED for task in left):
        lines = [_in_hand(task) for task in left if task.state == STARTED]
    elif left:
        lines = []
    else:
        return "Nobody has been given its work yet." if not tasks else "All its work is done."
    waiting = next((task for task in left if task.state != STARTED), None)
    if waiting is not None:
        who = f", {waiting.person}" if waiting.person else ""
        begins = store.day.begins(waiting.id)
        when = "" if begins is None else f", by the plan {begins:%a %-d %b %-H:%M}"
        lines.append(f"Next: {waiting.label}{who}{when}.")
    ready = store.day.ready().get(docket.id)
    if ready is not None:
        lines.append(f"Ready by the plan {ready:%a %-d %b}.")
    return "\n".join(lines)


def _in_hand(task: Task) -> str:
    since: datetime | None = None if task.started_at is None else here(task.started_at)
    return f"In {task.person}'s hands{'' if since is None else f' since {since:%-H:%M}'}: {task.label}."
