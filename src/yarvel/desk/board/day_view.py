"""The plan of the day on the board: a line that says how things stand, the chart, and what could be better."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING

from msgspec.structs import replace
from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from yarvel import clock
from yarvel.clock import kept
from yarvel.desk.board.bare_dockets import BareDockets
from yarvel.desk.board.day_canvas import DAY, WEEK
from yarvel.desk.board.day_chart import DayChart, Wish
from yarvel.desk.board.day_planner import DayPlanner, PlanKnowledge
from yarvel.desk.board.heat_button import HeatButton
from yarvel.desk.board.late_list import LateButton, days_text, late_text
from yarvel.desk.board.remedies import OfferRow, WayRow
from yarvel.desk.board.standing_plan import StandingPlan
from yarvel.desk.session.taken_back import UndoStep
from yarvel.desk.storing.asking import Ask, DoAct
from yarvel.desk.widgets.words import Words
from yarvel.figures.lookup import first_of
from yarvel.figures.rules import HouseRules
from yarvel.planning.documents import Document
from yarvel.workshop.acts import JoinTasks, PinTask, PlanTasks, SendOut
from yarvel.workshop.work.day_reading import DayPlan, DayReading, Outcome, TaskBlock, read, shown_document
from yarvel.workshop.work.kept_plan import BY_OFFER, BY_UNDO, CAUSES
from yarvel.workshop.work.proposing import of_ten
from yarvel.workshop.work.snapshot import Brief
from yarvel.workshop.work.standards import skill_of
from yarvel.workshop.work.tasks import Task

if TYPE_CHECKING:
    from yarvel.workshop.store import Store

_MOST_NAMED = 3
_UNSURE = 0.75
_CORNER_AIR = 4  # below the buttons that stand beside the names of pages


class DayView(QWidget):
    """Asks the store what there is to do and the planner who does it when; shows the plan and keeps it."""

    chosen = Signal()

    replanned = Signal()
    """What is chosen stands anew: nobody has chosen it now."""
    docket_wanted = Signal(int)
    said = Signal(str)
    hours_wanted = Signal()

    changed = Signal(object)
    """Something that can be taken back: an ``UndoStep``."""

    def __init__(
        self,
        ask: Ask,
        look: Ask,
        act: DoAct,
        rules: Callable[[], HouseRules],
        colours: dict[str, str],
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self._ask, self._look, self._act, self._rules = ask, look, act, rules
        self._bare = BareDockets(look, rules, self.reload)
        self._late_before: dict[int, int] | None = None
        self._known = PlanKnowledge(None, ())
        self._reading: DayReading | None = None
        self.stands = StandingPlan(ask, self)
        self.stands.again.connect(self.reload)
        self.came_for = ""
        """The docket that somebody came to the board with, until what comes next of it is chosen, or something else."""
        self.planner = DayPlanner(self)
        self.chart = DayChart(colours, self)
        self.standing = _lines(self, "board.standing")
        self.moved = _words(self, "board.moved")
        self.trouble = _words(self, "board.trouble")
        self.trouble.setProperty("problem", True)
        self.about = _lines(self, "board.about")
        self.better = OfferRow(self)
        self.better.take.clicked.connect(lambda _checked=False: self._take_offer())
        self.better.keep.clicked.connect(lambda _checked=False: self.planner.refuse())
        self.out = WayRow(self)
        self.out.wished.connect(self._give_out)
        self.out.unmade.connect(self._make_tasks)
        self.heat = HeatButton(self)
        self.heat.refused.connect(self.said)
        self.heat.wished.connect(lambda deed: self._act(deed, self._on_done))
        self._lay_out()
        self.chart.chosen.connect(lambda: self._on_chosen())
        self.chart.opened.connect(self.docket_wanted)
        self.chart.wished.connect(self.pin)
        self.chart.joined.connect(lambda keys: self._act(JoinTasks(keys), self._on_done))
        self.planner.planned.connect(self._on_planned)
        self.planner.known.connect(self._on_known)
        self.planner.offered.connect(self.better.show_for)
        self.planner.problem.connect(self._on_no_plan)
        self.planner.working.connect(self._on_no_plan)
        self.planner.unpinned.connect(self._tell_trouble)
        self.destroyed.connect(self.planner.finish)

    def _lay_out(self) -> None:
        self.corner = QWidget(self)
        """What the plan is looked at by: beside the name of its page."""
        top = QHBoxLayout(self.corner)
        top.setContentsMargins(0, 0, 0, _CORNER_AIR)
        self.late = LateButton(self)
        self.late.wished.connect(lambda key: self.chart.choose((key,)))
        self.late.setProperty("slim", True)
        top.addWidget(self.late)
        self.looks: dict[str, QPushButton] = {}
        for name, text, act in (
            ("day", "A day", lambda: self.chart.zoom(DAY)),
            ("week", "A week", lambda: self.chart.zoom(WEEK)),
            ("now", "Now", self.chart.show_now),
            ("hours", "Hours and absences…", self.hours_wanted.emit),
        ):
            button = QPushButton(text, self)
            button.setObjectName(f"board.look.{name}")
            button.setProperty("slim", True)
            button.clicked.connect(lambda _checked=False, act=act: act())
            self.looks[name] = button
            top.addWidget(button)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 6, 0, 0)
        column.addWidget(self.standing)
        column.addWidget(self.trouble)
        column.addWidget(self.moved)
        column.addWidget(self.better)
        column.addWidget(self.out)
        column.addWidget(self.chart, 1)
        below = QHBoxLayout()
        below.addWidget(self.about, 1)
        below.addWidget(self.heat)
        column.addLayout(below)
        self.trouble.hide()
        self.moved.hide()

    # --- what is chosen -------------------------------------------------------------------------------------------

    def _on_chosen(self, by_hand: bool = True) -> None:
        plan, bars = self.chart.plan, self.chart.bars()
        self.heat.show_for(plan, self.tasks())
        not_together = f"Not together: {self.heat.why_not}. " if self.heat.why_not else ""
        self.about.setText("" if plan is None or not bars else f"{not_together}{about(plan, bars[-1])}")
        (self.chosen if by_hand else self.replanned).emit()

    def tasks(self) -> list[Task]:
        """The chosen tasks that the store has."""
        return [bar.job.task for bar in self.chart.bars() if bar.job.task is not None]

    def hands_of(self, task: Task) -> int | None:
        """Who has a task by the plan: a person's id."""
        plan = self.chart.plan
        if plan is None or (task.id, 0) not in plan.plan:
            return None
        person = plan.reading.people[plan.reading.hands_of(task.id, plan.plan[task.id, 0])]
        return None if person is None else person.id

    def first_of(self, docket_number: str) -> TaskBlock | None:
        """What of a docket comes next."""
        plan = self.chart.plan
        return (
            None if plan is None else next((bar for bar in plan.bars if bar.job.docket.number == docket_number), None)
        )

    # --- planning -------------------------------------------------------------------------------------------------

    def reload(self) -> None:
        """Ask the store what there is to do, and plan it."""
        today, known = clock.today(), dict(self._bare.counted)

        def look(store: Store) -> tuple[DayReading, list[Brief]]:
            snapshot = store.day.snapshot(today)
            bare = [brief for brief in snapshot.dockets if brief.id in snapshot.bare]
            known_briefs = {brief.id: known.get((brief.id, brief.version)) for brief in bare}
            counted = {docket_id: wanted for docket_id, wanted in known_briefs.items() if wanted}
            return read(replace(snapshot, counted=counted)), bare

        moment = self.stands.moment()
        self._look(look, lambda told: self._on_read(told, moment))

    def _on_read(self, told: tuple[DayReading, list[Brief]], moment: int) -> None:
        if not self.stands.read(told[0].standing, moment):
            return
        self._reading, bare = told
        self._tell_trouble("")
        self.planner.plan(self._reading)
        self._bare.count(bare)

    def come_for(self, docket_number: str) -> None:
        """Somebody comes to the board with a docket in hand: what of it comes next is chosen, once there is a plan;
        what was chosen before they left stays."""
        self.came_for = docket_number or self.came_for
        bar = self.first_of(self.came_for) if self.came_for and not self.chart.bars() else None
        if bar is not None:
            self.came_for = ""
            self.chart.choose((bar.job.key,), see=False)  # the board opens at now

    def _on_planned(self, plan: DayPlan) -> None:
        self.chart.show_plan(plan)
        self.chart.set_former(False)
        self.come_for("")
        text = moves_text(plan, self._late_before)
        self.moved.setText(text)
        self.moved.setVisible(bool(text))
        self._say_standing()
        self._on_chosen(by_hand=False)
        if self.planner.busy and not plan.reading.shown:
            return  # a better one may follow in a moment
        self._keep(plan)

    def _keep(self, plan: DayPlan) -> None:
        """The plan that is shown is kept, for what comes after it."""
        reading = plan.reading
        if plan.plan == reading.shown or not plan.plan:
            return
        made_from = replace(reading, standing=self.stands.document)  # what this window kept since it read counts too
        made_at = reading.shop.axis.moment_of(reading.now)
        document = shown_document(made_from, plan.plan, made_at, self.planner.cause)
        self.stands.keep(document)
        self.standing.setToolTip(f"{self.standing.text()} {_cause(self.stands.document)}")

    def _on_no_plan(self, text: str = "") -> None:
        """It is being worked out: the former plan stays in sight, grey. With a ``text``: nothing came of it, and the
        former plan is all there is."""
        self.chart.set_former(not text)
        if text:
            self._say_standing()
            self.said.emit(text)
        else:
            self.standing.setText("Being worked out: what has happened would make somebody late…")

    def _take_offer(self) -> None:
        """It becomes that plan; taken back, the one before."""
        plan, offer = self.chart.plan, self.planner.offer
        if plan is None or offer is None:
            return
        before, after = plan.plan, offer.plan
        self.planner.take()
        self.changed.emit(
            UndoStep(
                "another order",
                lambda: self.planner.put(before, BY_UNDO),
                lambda: self.planner.put(after, BY_OFFER),
            )
        )

    def _tell_trouble(self, text: str) -> None:
        """What cannot be as somebody wanted it: told while it is so, and no longer."""
        refused = () if self._reading is None else self._reading.refused
        self.trouble.setText(" ".join(filter(None, ("; ".join(refused), text))))
        self.trouble.setVisible(bool(self.trouble.text()))

    def _on_known(self, known: PlanKnowledge) -> None:
        self._known = known
        self._say_standing()
        if not self.planner.busy and self.planner.shown is not None:
            self._keep(self.planner.shown)

    # --- pins -----------------------------------------------------------------------------------------------------

    def pin(self, wishes: list[Wish]) -> None:
        """Set tasks to where somebody wants them; what becomes late by it is told with the plan that follows."""
        plan = self.chart.plan
        if plan is None or not wishes:
            return
        self._late_before = {outcome.docket.id: outcome.late for outcome in plan.outcomes}
        for wish in wishes:
            job = wish.bar.job
            if job.task is None:
                self._make_tasks(job.docket)
                return
            person = None if wish.hands < 0 else plan.reading.people[wish.hands]
            begins = None if wish.begins is None or person is None else kept(wish.begins).isoformat()
            if person is not None and skill_of(job.operation) not in person.skills:
                self.said.emit(f"{person.name} has no {skill_of(job.operation)} among their skills; it is theirs now.")
            task = job.task
            seen = (task.person, None if task.pinned_at is None else task.pinned_at.isoformat())
            self._act(PinTask(task.id, None if person is None else person.id, begins, seen), self._on_done)

    def _give_out(self, deed: SendOut) -> None:
        """Work is given to an outworker; what is kept by it is told with the plan that follows."""
        if self.chart.plan is not None:
            self._late_before = {outcome.docket.id: outcome.late for outcome in self.chart.plan.outcomes}
        self._act(deed, self._on_done)

    def _make_tasks(self, docket: Brief) -> None:
        """A docket whose tasks nobody has made gets them; one that is not measured cannot."""
        wanted = self._bare.counted.get((docket.id, docket.version))
        if not wanted:
            self.said.emit(f"{docket.number} is not measured yet: open it, measure its stone, then give its work out.")
            return
        self.said.emit(f"{docket.number}: its {len(wanted)} tasks are made; Undo takes them back. Now give them out.")
        self._act(PlanTasks(docket.id, wanted), self._on_done)

    def _on_done(self, text: str) -> None:
        if text:
            self.said.emit(text)
        self.reload()

    # --- words ----------------------------------------------------------------------------------------------------

    def _say_standing(self) -> None:
        plan = self.chart.plan
        if plan is None:
            return
        self.standing.setText(standing(plan, self._known))
        self.standing.setToolTip(f"{self.standing.text()} {_cause(self.stands.document)}")
        self.late.show_for(plan)
        self.out.show_for(plan, self._known)


def _cause(document: Document) -> str:
    """Why the plan that stands is another than the one before."""
    said = CAUSES.get(str(document.get("cause", "")), "")
    return f"The plan that stands: {said}." if said else ""


def standing(plan: DayPlan, known: PlanKnowledge) -> str:
    """How things stand, in a few sentences."""
    if not plan.outcomes:
        return "Nothing to do is on the board. Take a docket in and measure its stone: its work is planned here."
    hours = sum(outcome.minutes for outcome in plan.outcomes) / 60
    count = len(plan.outcomes)
    lines = [f"{count} docket{'s' if count > 1 else ''}, {hours:.0f} h of work."]
    if plan.reading.left_out:
        lines.append(f"{plan.reading.left_out:,} more, promised later, are not planned yet.")
    late = plan.late
    if not late:
        lines.append("Nobody is late.")
    else:
        lines.append(f"{len(late)} late: {named(late)}.")
        lines += _proved(len(late), known)
        skill, left = known.helps[0] if known.helps else ("", len(late))
        if left < len(late):
            lines.append(f"One more pair of hands for {skill} would leave {left} late.")
    unsure = [
        outcome
        for outcome in plan.outcomes
        if not outcome.late and outcome.chance is not None and outcome.chance < _UNSURE
    ]
    if unsure:
        worst = min(unsure, key=lambda one: one.chance or 0.0)
        lines.append(f"Least sure: {worst.docket.number}, kept {of_ten(worst.chance or 0.0)}.")
    if out := plan.reading.out:
        names = [f"{docket.number} ({docket.where}, back {docket.back:%a %-d %b})" for docket in out[:_MOST_NAMED]]
        more = f" and {len(out) - _MOST_NAMED} more" if len(out) > _MOST_NAMED else ""
        lines.append(f"Out of the house: {', '.join(names)}{more}.")
    if known.proved:
        lines.append("Proved: no plan is better.")
    return " ".join(lines)


def _proved(late: int, known: PlanKnowledge) -> list[str]:
    """What is proved of those that are late, and of how many it is not known whether they could be kept."""
    if known.floor is None:
        return []
    lines = [f"At least {known.floor} cannot be kept by any plan"] if known.floor else []
    left = late - known.floor
    if left > 0 and not known.proved:
        lines.append(f"of {left} it is not known" if lines else "whether they could be kept is not known")
    return [f"{'; '.join(lines).capitalize()}."] if lines else []


def about(plan: DayPlan, bar: TaskBlock) -> str:
    """The docket of a bar, in a line."""
    docket = bar.job.docket
    outcome = first_of(outcome_row for outcome_row in plan.outcomes if outcome_row.docket.id == docket.id)
    promised = "no date promised" if docket.promised is None else f"promised {docket.promised:%a %-d %b}"
    sure = "" if outcome.chance is None else f", kept {of_ten(outcome.chance)}"
    ready = (
        f"ready {outcome.ready:%a %-d %b}{sure}"
        if not outcome.late
        else f"ready {outcome.ready:%a %-d %b}, late by {days_text(outcome)}"
    )
    counted = (
        ""
        if bar.job.task is not None
        else (
            "not measured yet, counted as a usual one" if bar.job.guessed else "no tasks made yet, counted by its plan"
        )
    )
    heat = plan.reading.beside.get(bar.job.key)
    others = (
        [] if heat is None else [plan.reading.jobs[task].docket.number for task in heat.tasks if task != bar.job.key]
    )
    shared = f"together with {', '.join(others)}" if others else ""
    parts = (docket.title, docket.customer, docket.stone, docket.importance, promised, ready, counted, shared)
    return " · ".join(part for part in parts if part)


def moves_text(plan: DayPlan, before: dict[int, int] | None) -> str:
    """What moved, and what became late or is no longer; ``before``: by docket, by how many days it was late."""
    lines = []
    if plan.moved:
        lines.append(f"{plan.moved} task{'s' if plan.moved > 1 else ''} moved (marked).")
    if before is not None:
        worse = [outcome for outcome in plan.outcomes if outcome.late > before.get(outcome.docket.id, 0)]
        kept = [outcome for outcome in plan.outcomes if outcome.late < before.get(outcome.docket.id, 0)]
        lines += [f"Becomes late: {named(worse)}."] if worse else []
        numbers = ", ".join(outcome.docket.number for outcome in kept)
        lines += [f"Kept again or sooner: {numbers}."] if kept else []
    return " ".join(lines)


def named(outcomes: Sequence[Outcome]) -> str:
    """Late dockets by name, each with both dates; not more than a line holds."""
    names = [late_text(late) for late in outcomes[:_MOST_NAMED]]
    more = len(outcomes) - _MOST_NAMED
    return ", ".join(names) + (f" and {more} more" if more > 0 else "")


def _lines(parent: QWidget, name: str) -> Words:
    """Two lines, whatever is said in them: what is below stays where it is."""
    words = _words(parent, name)
    words.setFixedHeight(2 * words.fontMetrics().lineSpacing() + 2)
    words.setAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop)
    return words


def _words(parent: QWidget, name: str) -> Words:
    words = Words(parent)
    words.setObjectName(name)
    words.setWordWrap(True)
    return words
