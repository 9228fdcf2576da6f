"""What every station of the run is: a name, a telling figure, a state, and its few inputs."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QLabel, QVBoxLayout, QWidget

from yarvel.desk.session.session import Session
from yarvel.desk.widgets.fields import ChoiceField, NumberField
from yarvel.desk.widgets.figure_list import FigureList
from yarvel.desk.widgets.fold import Fold
from yarvel.desk.widgets.words import Words
from yarvel.figures.figure import FigureKey, format_number
from yarvel.figures.rules import HouseRules
from yarvel.metals.alloys import alloys_of
from yarvel.planning.diagnostics.diagnostic import CAUTION, OK, STOP, Diagnostic
from yarvel.planning.documents import value_at
from yarvel.stones.species import all_species

MISSING = "missing"
Choices = list[tuple[object, str]]


class Station(QWidget):
    """One station. Fields bound here show the job, send what is typed to the session, and carry its problems."""

    TITLE = ""

    OF_NEW_RINGS: tuple[FigureKey, ...] = ()
    """Figures that are not told of a ring that is there already."""
    ROOMS: tuple[str, ...] = ()

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.numbers: dict[str, NumberField] = {}
        self.choices: dict[str, ChoiceField] = {}
        self._derived: dict[str, FigureKey | None] = {}
        self._offered: dict[str, Callable[[HouseRules], Choices]] = {}
        self._built = False
        self._listed: tuple[FigureKey, ...] = ()
        self._shown_in = ""
        self._figures: FigureList | None = None
        self.folds: dict[str, Fold] = {}
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(12, 6, 10, 12)
        self.column.setSpacing(6)
        self._whole = self.column

    def fold(self, title: str) -> Fold:
        """What is added from now on goes under a title that opens and closes."""
        folded = Fold(title, self)
        self.folds[title] = folded
        self._whole.addWidget(folded)
        self.column = folded.column
        return folded

    def end_fold(self) -> None:
        """What is added from now on stands in the open again."""
        self.column = self._whole

    def build(self) -> None:
        """Make the fields; called once, when the station is opened first, so that a start builds one station only."""

    def ensure_built(self) -> None:
        """Build the station where that has not been done."""
        if not self._built:
            self._built = True
            self.build()

    def number(self, path: str, label: str, unit: str = "mm", derived: FigureKey | None = None) -> NumberField:
        """Add a number field; ``derived`` is the figure that stands in while the job gives no value."""
        field = NumberField(path, label, unit, self)
        field.typed.connect(self._on_typed)
        field.left.connect(self.session.end_burst)
        field.put_back.connect(self._on_put_back)
        self.numbers[path] = field
        self._derived[path] = derived
        self.column.addWidget(field)
        return field

    def choice(self, path: str, label: str, choices: Choices | Callable[[HouseRules], Choices]) -> ChoiceField:
        """Add a list of words, or of what this workshop knows, which its rules may add to."""
        if callable(choices):
            self._offered[path] = choices
            choices = choices(self.session.rules)
        field = ChoiceField(path, label, choices, self)
        field.chosen.connect(self._on_chosen)
        self.choices[path] = field
        self.column.addWidget(field)
        return field

    def remark(self, text: str = "") -> QLabel:
        """Add a line of quiet text."""
        label = Words(text, self)
        label.setProperty("quiet", True)
        label.setWordWrap(True)
        self.column.addWidget(label)
        return label

    def account(self) -> QLabel:
        """Add a longer text, rich, in the ordinary colour."""
        label = self.remark()
        label.setProperty("quiet", False)
        label.setTextFormat(Qt.TextFormat.RichText)
        label.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        return label

    def figures(self, *keys: FigureKey, shown_in: str = "") -> None:
        """Add a list of figures, those of the keys that the plan has, and those that are ``shown_in`` this station."""
        self._listed, self._shown_in = keys, shown_in
        self._figures = FigureList(self)
        self._figures.chosen.connect(self.session.figure_chosen)
        self.column.addWidget(self._figures)

    def telling(self) -> str:
        """The one figure that tells how this station stands."""
        return ""

    @classmethod
    def has(cls, call: Diagnostic) -> bool:
        """Whether a call is this station's."""
        return (call.figure_key or call.about).split(".")[0] in cls.ROOMS

    def state(self) -> str:
        """The worst level among the calls of this station's rooms, or that something is missing."""
        plan = self.session.plan
        if plan is None:
            return MISSING
        levels = {call.level for call in plan.diagnostics if call.open and self.has(call)}
        return next((level for level in (STOP, CAUTION) if level in levels), OK)

    def refresh(self) -> None:
        """Show the job as it is now."""
        plan = self.session.plan
        for path, field in self.numbers.items():
            value = value_at(self.session.document, path)
            draft = self.session.drafts.get(path)
            derived = self._derived[path]
            instead = ""
            if plan is not None and derived is not None and derived in plan.figures:
                instead = plan.figures[derived].text(unit=False)
            field.show_value(draft if draft is not None else number_text(value), instead)
        if self._figures is not None:
            value = {} if plan is None else plan.figures
            untold = self.OF_NEW_RINGS if plan is not None and plan.job.ring_exists else ()
            own = [
                figure for figure in value.values() if figure.spec.shown_in and figure.spec.shown_in == self._shown_in
            ]
            listed = [value[key] for key in self._listed if key in value and key not in untold]
            self._figures.show_figures([*listed, *own])
        for path, known in self._offered.items():
            self.choices[path].offer(known(self.session.rules))
        for path, choice in self.choices.items():
            choice.show_value(self.chosen_value(path))

    def chosen_value(self, path: str) -> object:
        """What a list shows for the job as it is."""
        return value_at(self.session.document, path)

    def show_problems(self) -> None:
        """Put every problem beside its field."""
        for path, field in self.numbers.items():
            problem = self.session.problems.get(path)
            text = number_text(value_at(self.session.document, path))
            until = f". Until then {text} holds" if text and problem is not None else ""
            field.show_problem("" if problem is None else problem_text(problem.wrong, problem.accepted) + until)

    def first_field(self) -> QWidget | None:
        """Where typing starts when the station opens."""
        return next((field.edit for field in self.numbers.values()), None)

    def _on_typed(self, path: str, text: str) -> None:
        self.session.enter_text(path, text, self.numbers[path].label)

    def _on_put_back(self, path: str) -> None:
        self.session.enter_text(path, number_text(value_at(self.session.document, path)), self.numbers[path].label)
        self.numbers[path].edit.setText(number_text(value_at(self.session.document, path)))

    def _on_chosen(self, path: str, value: object) -> None:
        self.session.end_burst()
        self.session.set_value(path, value, self.choices[path].label)


def metals_known(rules: HouseRules) -> Choices:
    """All alloys of this workshop, to choose from."""
    return [(alloy.key, alloy.label) for alloy in alloys_of(rules).values()]


def species_known(rules: HouseRules) -> Choices:
    """All species of this workshop, to choose from."""
    return [(species.key, species.label) for species in all_species(rules).values()]


def number_text(value: object) -> str:
    """A job's number as it is typed; nothing for what is not given."""
    if value is None or isinstance(value, str):
        return "" if value is None else str(value)
    return f"{value:g}" if isinstance(value, int | float) else str(value)


def problem_text(wrong: str, accepted: str) -> str:
    """A problem in one sentence for the window."""
    return f"{wrong}. Accepted: {accepted}" if accepted else wrong


def figure_text(station: Station, key: FigureKey, places: int | None = None) -> str:
    """A figure of the plan as text, empty where there is none."""
    plan = station.session.plan
    if plan is None or key not in plan.figures:
        return ""
    figure = plan.figures[key]
    return figure.text(unit=False) if places is None else format_number(figure.value, places)
