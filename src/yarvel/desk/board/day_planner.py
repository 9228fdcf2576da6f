"""Asks a process of its own for plans, and hands them back as they come: at once, then better ones."""

from __future__ import annotations

from msgspec import Struct, convert, to_builtins
from msgspec.structs import replace
from PySide6.QtCore import QObject, Signal

from yarvel.day.documents import plan_document, plan_from, shop_document
from yarvel.day.mending import is_moved
from yarvel.day.outwork import Way
from yarvel.day.shop import Schedule, cost
from yarvel.desk.background.side_process import SideProcess
from yarvel.planning.documents import Document
from yarvel.workshop.work.day_reading import DayPlan, DayReading, day_plan, frozen

FRESH_SECONDS, AGAIN_SECONDS = 8.0, 4.0
"""How long a better plan is looked for: where none was shown yet, and where one was."""


class PlanKnowledge(Struct, frozen=True):
    """What is known of the plan shown: how many dockets nobody could keep (0: not known; None: not sought yet), what
    would help, whether it was proved that no plan is better, and what an outworker could keep."""

    floor: int | None
    helps: tuple[tuple[str, int], ...]
    proved: bool = False
    ways: tuple[Way, ...] = ()


class Offer(Struct, frozen=True):
    """A better plan than the one shown: so many fewer late, so many ``days`` late together and not ``days_now``, so
    many tasks moved."""

    plan: Schedule
    days: int
    days_now: int
    fewer: int
    moved: int


class DayPlanner(QObject):
    """One request at a time; a newer one ends an older one. ``planned`` tells of a plan to show, ``known`` of what is
    known of it, ``offered`` of a better one that moves what people have seen."""

    planned = Signal(object)
    known = Signal(object)
    offered = Signal(object)
    problem = Signal(str)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.seconds = FRESH_SECONDS, AGAIN_SECONDS
        self.process = SideProcess("yarvel.day.server", self)
        self.process.answered.connect(self._on_answer)
        self.process.ended.connect(self._on_ended)
        self._number = 0
        self._reading: DayReading | None = None
        self._asked: Document = {}
        self.shown: DayPlan | None = None
        self._known = PlanKnowledge(None, ())
        self._chances: dict[int, float] = {}
        self._taken = False
        self.busy = False

    def plan(self, reading: DayReading) -> None:
        """Plan this shop; nothing happens where it is what was planned last, and is shown so."""
        shop = shop_document(reading.shop)
        current = self.shown is not None and self.shown.plan == reading.shown
        if self._asked.get("shop") == shop and (current or not reading.shown) and not self._taken:
            return
        self._taken = False
        self._reading, self._number = reading, self._number + 1
        fresh, again = self.seconds
        self._asked = {
            "id": self._number,
            "shop": shop,
            "shown": plan_document(reading.shown),
            "spreads": {str(key): value for key, value in reading.spreads.items()},
            "seconds": again if reading.shown else fresh,
        }
        if reading.outwork is not None:
            self._asked["outwork"] = to_builtins(reading.outwork)
        if reading.shown:
            self._asked["held"] = shop_document(frozen(reading, reading.shown))
        self._chances = {}
        self.busy = True
        self._send()

    def take(self, offer: Offer) -> None:
        """Show the better plan that was offered; how sure its promises are is asked for with the next request."""
        self._taken, self._chances = True, {}
        self._show(offer.plan)

    def finish(self) -> None:
        """End the process."""
        self.process.finish()

    def _send(self) -> None:
        if not self.process.send(self._asked):
            self.problem.emit("The plan cannot be worked out here; the list beside it is not touched by that.")

    def _on_ended(self) -> None:
        """The process ended by itself: once more, without looking for a better plan, but not for ever."""
        self._asked["seconds"] = 0
        if self.busy:
            self._send()

    def _on_answer(self, found: Document) -> None:
        if found["id"] == self._number:
            self._take(found)

    def _take(self, found: Document) -> None:
        kind = found["kind"]
        if kind == "problem":
            self.busy = False
            self.problem.emit(str(found["text"]))
        elif kind == "plan":
            self._show(plan_from(found["plan"]))
        elif kind == "known":
            self._take_chances(found)
            helps = tuple((skill_help["skill"], skill_help["late"]) for skill_help in found["helps"])
            self._known = PlanKnowledge(int(found["floor"]), helps, False, convert(found["ways"], tuple[Way, ...]))
            self.known.emit(self._known)
        elif kind == "better":
            self._better(plan_from(found["plan"]))
        elif kind == "done":
            self.busy = False
            if found["proved"]:
                self._known = replace(self._known, proved=True)
            if "chances" in found:
                self._take_chances(found)
                self._known = replace(self._known, ways=convert(found["ways"], tuple[Way, ...]))
            self.known.emit(self._known)

    def _take_chances(self, found: Document) -> None:
        """How sure the promises are by the plan that is shown."""
        self._chances = {int(key): float(value) for key, value in found["chances"].items()}
        if self.shown is not None:
            self._show(self.shown.plan)

    def _show(self, plan: Schedule) -> None:
        if self._reading is not None:
            self.shown = day_plan(self._reading, plan, self._chances)
            self.planned.emit(self.shown)

    def _better(self, plan: Schedule) -> None:
        """Shown at once where nobody has seen another; else offered, where fewer are late."""
        if self._reading is None or self.shown is None:
            return
        if not self._reading.shown:
            self._chances = {}
            self._show(plan)
            return
        shop = self._reading.shop
        here, there = cost(shop, self.shown.plan), cost(shop, plan)
        if there.days < here.days or (there.days == here.days and there.slots < here.slots - 12):
            before = self.shown.plan
            moved = {key[0] for key, place in plan.items() if key in before and is_moved(before[key], place)}
            better = day_plan(self._reading, plan)
            days, days_now = (sum(outcome_row.late for outcome_row in day.late) for day in (better, self.shown))
            self.offered.emit(Offer(plan, days, days_now, len(self.shown.late) - len(better.late), len(moved)))
