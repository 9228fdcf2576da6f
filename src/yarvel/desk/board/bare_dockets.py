"""What dockets take whose tasks nobody has made yet, worked out one after the other beside the window."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from yarvel.desk.storing.asking import Ask
from yarvel.figures.errors import JobError
from yarvel.figures.rules import HouseRules
from yarvel.workshop.work.snapshot import Brief
from yarvel.workshop.work.tasks import Wanted

if TYPE_CHECKING:
    from yarvel.workshop.store import Store


class BareDockets:
    """``counted`` by docket and its version: the tasks that its plan has; None where that cannot be told."""

    def __init__(self, look: Ask, rules: Callable[[], HouseRules], then: Callable[[], None]) -> None:
        self._look, self._rules, self._then = look, rules, then
        self.counted: dict[tuple[int, int], tuple[Wanted, ...] | None] = {}
        self._counting = False

    def count(self, briefs: list[Brief]) -> None:
        """Work out those that are not known yet; ``then`` is called when all of them are."""
        todo = [brief for brief in briefs if (brief.id, brief.version) not in self.counted]
        if self._counting or not todo:
            return
        self._counting = True
        brief, rest, rules = todo[0], todo[1:], self._rules()

        def work(store: Store) -> tuple[Wanted, ...] | None:
            from yarvel.planning.job import from_document, is_measured
            from yarvel.planning.plan import plan
            from yarvel.workshop.money.estimate import tasks_of

            docket = store.docket(brief.id)
            if not is_measured(docket.job_document.get("stone") or {}):
                return None
            try:
                plan_made = plan(from_document(docket.job_document), rules, samples=0)
            except JobError:
                return None
            return tuple(tasks_of(plan_made, docket, rules, store.tasks.standards()))

        def counted(found: tuple[Wanted, ...] | None) -> None:
            self._counting = False
            self.counted[brief.id, brief.version] = found
            if rest:
                self.count(rest)
            else:
                self._then()

        self._look(work, counted)
