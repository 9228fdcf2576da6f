"""What would make the plan that is shown better, each with a button: another order, or work given to an outworker."""

from __future__ import annotations

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QWidget

from yarvel.day.outwork import Way
from yarvel.desk.board.day_planner import Offer, PlanKnowledge
from yarvel.desk.widgets.words import Words
from yarvel.workshop.acts import SendOut
from yarvel.workshop.work.day_reading import DayPlan
from yarvel.workshop.work.standards import label_of

_MOST_NAMED = 4
"""Names in one line."""


class OfferRow(QWidget):
    """A better plan that moves what people have seen: who gains, who loses, what moves today. It holds still until it
    is taken or refused."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.words = Words(self)
        self.words.setObjectName("board.offer")
        self.words.setWordWrap(True)
        self.take, self.keep = QPushButton("Take that order", self), QPushButton("Keep this plan", self)
        self.take.setObjectName("board.better")
        self.keep.setObjectName("board.better.keep")
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(self.words, 1)
        row.addWidget(self.take)
        row.addWidget(self.keep)
        self.hide()

    def show_for(self, offer: Offer | None) -> None:
        """Say what it would bring, and what it moves; None: there is none."""
        self.setVisible(offer is not None)
        self.words.setText("" if offer is None else offer_text(offer))


def offer_text(offer: Offer) -> str:
    """What a better plan would bring, in a few sentences."""
    fewer = f"{offer.fewer} fewer late" if offer.fewer > 0 else "less late"
    if offer.fewer <= 0 and offer.days < offer.days_now:
        fewer = f"late by {offer.days} and not {offer.days_now} days together"
    lines = [f"A better order: {fewer}."]
    lines += [f"Sooner: {_some(offer.gains)}."] if offer.gains else []
    lines += [f"Later: {_some(offer.loses)}."] if offer.loses else ["Nobody becomes later."]
    today = f", today {_some(offer.today)}" if offer.today else ", none of today’s"
    lines.append(f"{offer.moved} task{'s' if offer.moved != 1 else ''} moved{today}.")
    return " ".join(lines)


def _some(names: tuple[str, ...]) -> str:
    more = f" and {len(names) - _MOST_NAMED} more" if len(names) > _MOST_NAMED else ""
    return ", ".join(names[:_MOST_NAMED]) + more


class WayRow(QWidget):
    """What an outworker could keep, that helps most, and a button that gives it out. ``unmade``: a docket whose tasks
    have to be made first."""

    wished = Signal(object)
    unmade = Signal(object)

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.words = Words(self)
        self.words.setObjectName("board.way")
        self.words.setWordWrap(True)
        self.button = QPushButton("Give it out", self)
        self.button.setObjectName("board.give-out")
        self.button.clicked.connect(lambda _checked=False: self._give_out())
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(self.words, 1)
        row.addWidget(self.button)
        self._plan: DayPlan | None = None
        self._way: Way | None = None
        self.hide()

    def show_for(self, plan: DayPlan, known: PlanKnowledge) -> None:
        """What is known of an older plan counts where it holds still."""
        late, jobs = (
            {outcome_row.docket.id: outcome_row.late - outcome_row.past for outcome_row in plan.late},
            plan.reading.jobs,
        )
        ways_held = (way for way in known.ways if late.get(way.order) == way.now and set(way.tasks) <= jobs.keys())
        self._plan, self._way = plan, next(ways_held, None)
        self.setVisible(self._way is not None)
        self.words.setText("" if self._way is None else way_text(plan, self._way))

    def _give_out(self) -> None:
        plan, way = self._plan, self._way
        if plan is None or way is None or plan.reading.outwork is None:
            return
        jobs = [plan.reading.jobs[task] for task in way.tasks]
        tasks = [job.task.id for job in jobs if job.task is not None]
        if len(tasks) < len(jobs):
            self.unmade.emit(jobs[0].docket)
        else:
            station = plan.reading.outwork.station
            self.wished.emit(SendOut(tasks[0], jobs[0].docket.id, station, more=tuple(tasks[1:])))


def way_text(plan: DayPlan, way: Way) -> str:
    """What an outworker could keep, in a sentence."""
    jobs, axis = [plan.reading.jobs[task] for task in way.tasks], plan.reading.shop.axis
    did = " and ".join(f"“{label_of(job.operation)}”" for job in jobs)
    past = next((outcome.past for outcome in plan.outcomes if outcome.docket.id == way.order), 0)
    kept = "would be kept" if not way.late else f"would be late by {way.late + past} and not {way.now + past} days"
    packed, back = axis.moment_of(way.packed), axis.moment_of(way.back)
    return (
        f"{jobs[0].docket.number} {kept} if an outworker did {did}: "
        f"packed {packed:%a %-d %b %-H:%M}, back {back:%a %-d %b}."
    )
