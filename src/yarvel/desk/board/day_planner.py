"""Asks a process of its own for plans, and hands them back as they come: at once, then better ones."""

from __future__ import annotations

import json
from contextlib import suppress

from msgspec import Struct, convert, to_builtins
from msgspec.structs import replace
from PySide6.QtCore import QObject, Signal

from yarvel.day.checking import faults
from yarvel.day.dispatch import AxisTooShortError
from yarvel.day.documents import plan_document, plan_from, shop_document
from yarvel.day.mending import shift
from yarvel.day.outwork import Way
from yarvel.day.shop import Schedule, is_moved, weighed
from yarvel.desk.background.side_process import SideProcess
from yarvel.planning.documents import Document
from yarvel.workshop.storage.places import log_file
from yarvel.workshop.work.day_reading import DayPlan, DayReading, day_plan, frozen_until
from yarvel.workshop.work.kept_plan import BY_OFFER
from yarvel.workshop.work.standards import label_of

FRESH_SECONDS, AGAIN_SECONDS = 8.0, 4.0
"""How long a better plan is looked for: where none was shown yet, and where one was."""

_LEAST_GAIN_SLOTS = 12.0
"""What a better plan has to be worth, beside its moves, to be offered: an hour of somebody's lateness."""


class PlanKnowledge(Struct, frozen=True):
    """What is known of the plan shown: how many dockets nobody could keep (0: not known; None: not sought yet), what
    would help, whether it was proved that no plan is better, and what an outworker could keep."""

    floor: int | None
    helps: tuple[tuple[str, int], ...]
    proved: bool = False
    ways: tuple[Way, ...] = ()


class Offer(Struct, frozen=True, kw_only=True):
    """A better plan than the one shown: so many fewer late, so many ``days`` late together and not ``days_now``, so
    many tasks moved; whose dockets are sooner (``gains``) and later (``loses``) and what moves ``today``, by name."""

    plan: Schedule
    days: int
    days_now: int
    fewer: int
    moved: int
    gains: tuple[str, ...] = ()
    loses: tuple[str, ...] = ()
    today: tuple[str, ...] = ()


class DayPlanner(QObject):
    """One request at a time; a newer one ends an older one. ``planned`` tells of a plan to show, ``working`` that
    another order is sought before that, ``known`` of what is known of it, ``unpinned`` of pins that fell out of it in
    words. ``offered`` tells of a better one that moves what people have seen: one at a time, and it holds still until
    it is taken, refused, or something happens by which it cannot be done (None)."""

    planned = Signal(object)
    working = Signal()
    known = Signal(object)
    offered = Signal(object)
    unpinned = Signal(str)
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
        self.cause = ""
        """Why what is shown is not what the last reading alone leads to; "" where it is."""
        self.offer: Offer | None = None
        self._better: Schedule | None = None
        self._refused: float | None = None
        self.busy = False

    def plan(self, reading: DayReading) -> None:
        """Plan this shop; where it is what was planned last, and is shown so, only what is said of it is looked at anew
        (whose, what, of which alloy)."""
        shop = shop_document(reading.shop)
        current = self.shown is not None and self.shown.plan == reading.shown
        if self._asked.get("shop") == shop and (current or not reading.shown) and not self._taken:
            known = self.shown is not None and self.shown.plan.keys() == {step.key for _, step in reading.shop.steps()}
            if known and self.shown is not None and reading.jobs != self.shown.reading.jobs:
                self._reading = reading
                self._show(self.shown.plan)
            return
        self._taken, self.cause = False, ""
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
            self._asked["until"], self._asked["by_time"] = frozen_until(reading), reading.by_time
        self._chances, self._better = {}, None
        if self.offer is not None:
            plan = _as_it_is_now(reading, self.offer.plan)
            if plan is None:
                self._put_offer(None)
            else:
                self.offer = replace(self.offer, plan=plan)
        self.busy = True
        self._send()

    def take(self) -> None:
        """Show the better plan that was offered, that one; how sure its promises are is asked for with the next
        request."""
        offer = self.offer
        self._put_offer(None)
        if offer is not None:
            self.put(offer.plan, BY_OFFER)

    def put(self, plan: Schedule, cause: str) -> None:
        """Show this plan (``cause`` as in ``kept_plan``), where it still stands for all that there is to do; what is
        being worked out is not waited for."""
        reading = self._reading
        now = None if reading is None else _as_it_is_now(reading, plan)
        if now is not None:
            self._taken, self._chances, self.cause = True, {}, cause
            self._number, self.busy = self._number + 1, False
            self._show(now)

    def refuse(self) -> None:
        """The plan that stands is kept: nothing is offered any more that is not better than what was refused."""
        if self.offer is not None and self._reading is not None:
            self._refused = weighed(self._reading.shop, self.offer.plan)
        self._put_offer(None)

    def _put_offer(self, offer: Offer | None) -> None:
        self.offer = offer
        self.offered.emit(offer)

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
        elif kind == "working":
            self.working.emit()
        elif kind == "unsound":
            write_down_plan(found)
        elif kind == "plan":
            self._show(plan_from(found["plan"]))
            self.unpinned.emit(self._unpinned_text(found["unpinned"]))
        elif kind == "known":
            self._take_chances(found)
            helps = tuple((skill_help["skill"], skill_help["late"]) for skill_help in found["helps"])
            self._known = PlanKnowledge(int(found["floor"]), helps, False, convert(found["ways"], tuple[Way, ...]))
            self.known.emit(self._known)
        elif kind == "better":
            self._take_better(plan_from(found["plan"]))
        elif kind == "done":
            self.busy = False
            self._offer_best()
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

    def _take_better(self, plan: Schedule) -> None:
        """Shown at once where nobody has seen another; else the best of all is offered once, when no more is sought."""
        if self._reading is None or self.shown is None:
            return
        if not self._reading.shown:
            self._chances = {}
            self._show(plan)
        else:
            self._better = plan

    def _offer_best(self) -> None:
        """One offer, that holds still; the same sum says whether it is one."""
        plan, reading, shown = self._better, self._reading, self.shown
        if plan is None or reading is None or shown is None or self.offer is not None:
            return
        before = shown.plan
        worth, now = weighed(reading.shop, plan, before), weighed(reading.shop, before)
        too_dear = self._refused is not None and weighed(reading.shop, plan) >= self._refused
        if worth < now - _LEAST_GAIN_SLOTS and not too_dear:
            self._put_offer(offer_of(reading, shown, day_plan(reading, plan)))

    def _unpinned_text(self, pins: list[Document]) -> str:
        """Pins that cannot hold, each with its reason and ways out."""
        reading, shown = self._reading, self.shown
        if reading is None or shown is None:
            return ""
        axis, told = reading.shop.axis, []
        for pin in pins:
            job = reading.jobs[pin["task"]]
            who = "" if job.task is None else f"{job.task.person}’s "
            before = [] if pin["after"] is None else [bar.ends for bar in shown.bars if bar.job.key == pin["after"]]
            reason = f": {label_of(reading.jobs[pin['after']].operation)} ends {before[-1]:%a %-H:%M}" if before else ""
            told.append(
                f"{who}{axis.moment_of(pin['start']):%a %-H:%M} for {job.docket.number} {label_of(job.operation)} "
                f"cannot be kept{reason}; unpin it (Del), or hand it on"
            )
        return f"{'. '.join(told)}." if told else ""


def offer_of(reading: DayReading, shown: DayPlan, better: DayPlan) -> Offer:
    """What another plan would bring, by name."""
    before, now = shown.plan, {outcome.docket.id: outcome for outcome in shown.outcomes}
    moved = {key[0] for key, place in better.plan.items() if key in before and is_moved(before[key], place)}
    pairs = [(outcome.docket.number, outcome.late, now[outcome.docket.id].late) for outcome in better.outcomes]
    today = reading.shop.axis.moment_of(reading.now).date()
    ours = {bar.job.key: bar for bar in better.bars if bar.piece == 0}
    return Offer(
        plan=better.plan,
        days=sum(outcome.late for outcome in better.late),
        days_now=sum(outcome.late for outcome in shown.late),
        fewer=len(shown.late) - len(better.late),
        moved=len(moved),
        gains=tuple(number for number, late, late_now in pairs if late < late_now),
        loses=tuple(number for number, late, late_now in pairs if late > late_now),
        today=tuple(
            f"{ours[key].job.docket.number} {label_of(ours[key].job.operation)}"
            for key in sorted(moved, key=lambda key: ours[key].begins)
            if ours[key].begins.date() == today
        ),
    )


def _as_it_is_now(reading: DayReading, plan: Schedule) -> Schedule | None:
    """What was offered, a little later: the same hands in the same order; None where there is other work by now, or
    something stands against it."""
    if plan.keys() != {step.key for _, step in reading.shop.steps()}:
        return None
    with suppress(AxisTooShortError):
        shifted = shift(reading.shop, plan)
        if not faults(reading.shop, shifted):
            return shifted
    return None


def write_down_plan(found: Document) -> None:
    """A plan that no checker passes, with its workshop: small enough to become a test."""
    path = log_file().with_name("faulty-plans.jsonl")
    with suppress(OSError):
        path.parent.mkdir(parents=True, exist_ok=True)
        with path.open("a", encoding="utf-8") as file:
            file.write(json.dumps({"problems": found["problems"], "shop": found["shop"]}) + "\n")
