"""The board: the plan of the day and the list of tasks; start and stop, hand on, pin."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PySide6.QtCore import Qt, QTimer, Signal
from PySide6.QtGui import QKeySequence, QShortcut, QUndoStack
from PySide6.QtWidgets import QSplitter, QTabWidget, QVBoxLayout, QWidget

from yarvel.desk.board.day_view import DayView
from yarvel.desk.board.finishing import Finishing
from yarvel.desk.board.hours_dialog import HoursDialog
from yarvel.desk.board.minutes import MinutesCorrected, StillRow, stopped_text
from yarvel.desk.board.scanned_deeds import ScannedDeeds, print_codes
from yarvel.desk.board.step_list import StepList
from yarvel.desk.board.task_bar import TaskBar, board_button
from yarvel.desk.board.task_list import TaskList
from yarvel.desk.board.today_page import TodayPage
from yarvel.desk.session.taken_back import UndoStep, remember
from yarvel.desk.storing.asking import Ask, DoAct
from yarvel.desk.widgets.manners import close_on_keys, open_at
from yarvel.desk.widgets.words import Words
from yarvel.figures.rules import HouseRules
from yarvel.workshop.acts import Deed, StartTask, StopTask, TickCheck
from yarvel.workshop.people.person import Person
from yarvel.workshop.work.errands import errand_of
from yarvel.workshop.work.tasks import Task

_TICK_MS = 20_000
_CHART_PX, _STEP_PX = 880, 380

_MESSAGE_MS = 60_000
"""How long a line about something done or refused stays; what is not so any more goes at once."""


class BoardWindow(QWidget):
    """Every change goes to the store and comes back from there; what was chosen last, in plan or list, is in hand."""

    docket_wanted = Signal(int)
    told = Signal(str)
    help_wanted = Signal()

    def __init__(
        self,
        ask: Ask,
        look: Ask,
        act: DoAct,
        rules: Callable[[], HouseRules],
        colours: dict[str, str],
        undo_stack: QUndoStack,
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent, Qt.WindowType.Window)
        self._ask, self._look, self._act, self._rules = ask, look, act, rules
        self._undo_stack = undo_stack
        self.setWindowTitle("The board")
        open_at(self, 1280, 800)
        close_on_keys(self)
        self.day = DayView(ask, look, act, rules, colours, self)
        self.today = TodayPage(look, self)
        self.list = TaskList(look, self)
        self.loads, self.rows, self.name = self.list.loads, self.list.rows, self.list.name
        self._from_plan = True
        acts: dict[str, Callable[[Task], Deed | None]] = {
            "start": self._start,
            "stop": lambda task: StopTask(task.id, False, self.note.text().strip()),
            "done": lambda task: self.finishing.deed(task, self.note.text().strip()),
            "open": self._open_docket,
        }
        doing: dict[str, Callable[[], None]] = {name: partial(self._with, act) for name, act in acts.items()}
        doing["hand"] = self._hand_on
        doing["minutes"] = lambda: self.minutes.ask(next(reversed(self._chosen_tasks()), None))
        self.bar = TaskBar(doing, undo_stack, self)
        self.note, self.next = self.bar.note, self.bar.next
        self.buttons = {
            **self.bar.buttons,
            "add": board_button(self, "add", "Add", self._add_person),
            "codes": board_button(self, "codes", "Codes for the scanner…", lambda: print_codes(self, self.people)),
        }
        self.scan = ScannedDeeds(self)
        self.problem = Words(self)
        self.problem.setProperty("problem", True)
        self.problem.setObjectName("board.problem")
        self.problem.setWordWrap(True)
        self.problem.hide()
        self._message = QTimer(self)
        self._message.setSingleShot(True)
        self._message.timeout.connect(lambda: self._say(""))
        self.still, self.minutes = StillRow(self), MinutesCorrected(look, self)
        self.step = StepList(self)
        self._lay_out()
        self.step.hide()
        self._connect()
        self.hours: HoursDialog | None = None
        self._clock = QTimer(self)
        self._clock.timeout.connect(self._on_clock)
        self._clock.start(_TICK_MS)

    def _connect(self) -> None:
        """Who hears whom."""
        self.step.ticked.connect(self._on_tick)
        self.finishing = Finishing(self.step)
        self.finishing.said.connect(self._say)
        self.finishing.ready.connect(self.bar.buttons["done"].click)
        self.list.chosen.connect(lambda: self._on_chosen(from_plan=False))
        self.list.people_known.connect(lambda: self.bar.show_people(self.people))
        self.list.docket_wanted.connect(self.docket_wanted)
        self.day.chosen.connect(lambda: self._on_chosen(from_plan=True))
        self.day.replanned.connect(lambda: self._on_chosen(True) if self._from_plan else None)
        self.list.refreshed.connect(lambda: None if self._from_plan else self._on_chosen(False))
        self.day.docket_wanted.connect(self.docket_wanted)
        self.day.said.connect(self._say)
        self.day.planner.planned.connect(self.today.show_plan)
        self.day.planner.planned.connect(self.still.show_for)
        self.still.wished.connect(lambda deed: self._act(deed, self._on_done))
        self.still.correction_wanted.connect(self.minutes.ask)
        self.minutes.wished.connect(lambda deed: self._act(deed, self._on_done))
        self.today.docket_wanted.connect(self.docket_wanted)
        self.tabs.currentChanged.connect(lambda _at: self._on_chosen(self._from_plan))
        self.tabs.currentChanged.connect(lambda at: self.day.corner.setVisible(self.tabs.widget(at) is self.day))
        QShortcut(QKeySequence.StandardKey.HelpContents, self, self.help_wanted.emit)
        self.day.hours_wanted.connect(lambda: self.open_hours())
        self.day.changed.connect(lambda step: remember(step, self._undo_stack))

    def _lay_out(self) -> None:
        self.list.lay_out(self.buttons["add"], self.buttons["codes"])
        self.tabs = QTabWidget(self)
        self.tabs.setObjectName("board.tabs")
        self.tabs.setDocumentMode(True)
        self.tabs.addTab(self.today, "Today")
        self.tabs.addTab(self.day, "Plan of the day")
        self.tabs.addTab(self.list, "All tasks")
        self.tabs.setCurrentWidget(self.day)
        self.tabs.setCornerWidget(self.day.corner)
        self.panes = QSplitter(Qt.Orientation.Horizontal, self)
        self.panes.setObjectName("board.panes")
        self.panes.setChildrenCollapsible(False)
        self.panes.addWidget(self.tabs)
        self.panes.addWidget(self.step)
        self.panes.setStretchFactor(0, 1)
        whole = QVBoxLayout(self)
        whole.addWidget(self.panes, 1)
        for widget in (self.still, self.problem, self.bar, self.scan):
            whole.addWidget(widget)

    @property
    def tasks(self) -> list[Task]:
        """What the list shows."""
        return self.list.tasks

    @property
    def people(self) -> list[Person]:
        """Everybody who works here."""
        return self.list.people

    def reload(self) -> None:
        """Ask the store how things stand."""
        self.list.reload()
        self.day.reload()

    def _on_clock(self) -> None:
        """Time goes on: minutes taken, and what cannot begin any more when it should have."""
        if self.isVisible():
            self.reload()

    def _chosen_tasks(self) -> list[Task]:
        if self._from_plan:
            return self.day.tasks()
        return self.list.chosen_tasks

    def _on_chosen(self, from_plan: bool) -> None:
        """What was chosen last is in hand; a list that chooses nothing takes nothing out of it."""
        mine = self.day.tasks() if from_plan else self.list.task
        if mine and not from_plan:
            self.day.came_for = ""  # what somebody chooses is not taken out of their hand by a plan that comes later
        if from_plan == self._from_plan or mine:
            self._from_plan = from_plan
            task = next(reversed(self._chosen_tasks()), None)
            self.bar.show_task(task, self.people)
            self.step.ask_for(task, self._look, self._rules())
            on_today = self.tabs.currentWidget() is self.today  # which has the room to itself
            self._show_step(task is not None and not errand_of(task.operation) and not on_today)

    def _show_step(self, wanted: bool) -> None:
        """The step opens beside the plan, whose rows stay where they are."""
        if wanted == self.step.isHidden():
            self.step.setVisible(wanted)
            self.panes.setSizes([_CHART_PX, _STEP_PX])

    def _on_tick(self, line: str, ticked: bool) -> None:
        """A tick stands with the docket: the bench shows it too."""
        task = next(reversed(self._chosen_tasks()), None)
        if task is not None:
            self._act(TickCheck(task.docket_id, line, ticked), self._on_done)

    def _say(self, text: str) -> None:
        """What is refused is said where the hand is, for a while."""
        self.problem.setText(text)
        self.problem.setVisible(bool(text))
        if text:
            self._message.start(_MESSAGE_MS)
        else:
            self._message.stop()

    def _on_done(self, text: str, said: str = "") -> None:
        self._say(text or said)
        self.reload()

    def _with(self, act: Callable[[Task], Deed | None]) -> None:
        tasks = self._chosen_tasks()
        if act in (self._start, self._open_docket):  # one at a time
            tasks = tasks[-1:]
        self._say("")
        for task in tasks:
            wanted = act(task)
            if wanted is not None:
                said = stopped_text(task) if isinstance(wanted, StopTask) else ""
                self._act(wanted, partial(self._on_done, said=said))
                self.note.clear()

    def _hand_on(self) -> None:
        self._say("")
        for deed in self.bar.handed_on(self._chosen_tasks()):
            self._act(deed, self._on_done)
        self.note.clear()

    def _start(self, task: Task) -> Deed | None:
        """By whom the task is given to, else who has it by the plan, whose bench is shown, or who is chosen."""
        names = {person.name: person.id for person in self.people}
        shown = self.list.person if not self._from_plan else 0
        planned = self.day.hands_of(task) if self._from_plan else None
        who = names.get(task.person) or planned or (shown if shown > 0 else None) or self.bar.next_person
        if who is None:
            self._say("Who starts it? Choose a person at the left, or beside “Hand on”.")
            return None
        return StartTask(task.id, who)

    def scanned(self, number: str) -> bool:
        """A label was scanned while the board is in front: what comes next of its docket is chosen and started, or
        whatever deed was scanned before it is done. Whether there is anything."""
        deed = self.scan.take(number, self.people)
        bar = None if deed is None else self.day.first_of(number)
        if deed is None or bar is None or bar.job.task is None:
            return deed is None
        self.day.chart.choose((bar.job.key,))
        if not self.bar.do(deed):
            what = f"{number} {bar.job.task.label} is {bar.job.task.state}"
            self._say(f"{what}: “{deed.words(self.people)}” does nothing.")
        return True

    def open_hours(self) -> None:
        """When the workshop is open, and who is away."""
        if self.hours is None:
            self.hours = HoursDialog(self._ask, self._undo_stack, lambda: self.day.stands.document, self)
            self.hours.changed.connect(self.reload)
        self.hours.reload()
        self.hours.show()
        self.hours.raise_()

    def _add_person(self) -> None:
        name = self.name.text().strip()

        def added(person: Person) -> None:
            step = UndoStep(
                f"add {name}",
                lambda: self._ask(lambda store: store.people.left(person.id), lambda _done: self.reload()),
                lambda: self._ask(lambda store: store.people.add(name), lambda _done: self.reload()),
            )
            remember(step, self._undo_stack)
            self.name.clear()
            self.reload()

        self._ask(lambda store: store.people.add(name), added)

    def _open_docket(self, task: Task) -> None:
        self.docket_wanted.emit(task.docket_id)
