"""Station: shank. Finger size, band, and how the head meets it."""

from __future__ import annotations

from PySide6.QtWidgets import QGridLayout, QLabel, QPushButton, QSizePolicy, QWidget

from yarvel.desk.bench.stations import MISSING, Station, figure_text, number_text, problem_text
from yarvel.desk.session import value_at
from yarvel.desk.widgets.fields import LABEL_WIDTH, GaugeEdit, QuietCombo, mark_wrong
from yarvel.metals.alloys import ALLOYS
from yarvel.planning.job import LOWEST, FitJob, ShankJob, SizeJob
from yarvel.shanks.blanks import PROFILES
from yarvel.shanks.methods import METHODS
from yarvel.shanks.sizes import SYSTEMS, in_all_systems


class ShankStation(Station):
    """Size in any system, the band, the fit and its height. A job may have no shank yet."""

    TITLE = "Shank"
    ROOMS = ("shank", "band", "gap", "culet")
    PATH = "shank.size.value"

    def build(self) -> None:
        """The station's fields."""
        self._size_row()
        self.number("shank.width_mm", "Band width", derived="shank.width")
        self.number("shank.thickness_mm", "Band thickness", derived="shank.thickness")
        self.choice("shank.profile", "Profile", [(profile, profile.capitalize()) for profile in PROFILES])
        self.choice("shank.metal", "Metal", [(alloy.key, alloy.label) for alloy in ALLOYS.values()])
        self.choice("fit.method", "Head meets it", [(key, method.LABEL) for key, method in METHODS.items()])
        self.number("fit.height", "Seat height", derived="seat.plane_above_finger")
        self._lowest = QPushButton("As low as it goes", self)
        self._lowest.clicked.connect(lambda: self.session.patch({"fit": {"height": LOWEST}}, "As low as it goes"))
        self.column.addWidget(self._lowest)
        self._without = QPushButton("Take the shank away", self)
        self._without.clicked.connect(lambda: self.session.patch({"shank": None, "fit": None}, "Take the shank away"))
        self.column.addWidget(self._without)
        self.figures("shank.blank_length", "shank.cut_length", "shank.gap_inside", "shank.gap_outside",
                     "shank.mark_half", "shank.removed_arc_deg", "shank.flat_depth", "shank.left_under_flat",
                     "seat.plane_above_finger", "seat.culet_clearance", "seat.table_above_finger",
                     "shank.inside_circumference", "shank.size_if_sprung", "shank.mass")
        self._sizes = self.remark()

    def _size_row(self) -> None:
        row = QWidget(self)
        grid = QGridLayout(row)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setHorizontalSpacing(6)
        title = QLabel("Finger size", row)
        title.setMinimumWidth(LABEL_WIDTH)
        self._system = QuietCombo(row)
        self._system.setObjectName("shank.size.system")
        self._system.setAccessibleName("Size system")
        for system in SYSTEMS.values():
            self._system.addItem(system.label, system.key)
        self._system.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
        self._size = GaugeEdit(row)
        self._size.setObjectName(self.PATH)
        self._size.setAccessibleName("Finger size")
        title.setBuddy(self._size)
        self._mark = QLabel(row)
        self._mark.setProperty("problem", True)
        self._mark.setWordWrap(True)
        self._mark.hide()
        grid.addWidget(title, 0, 0)
        grid.addWidget(self._system, 0, 1)
        grid.addWidget(self._size, 0, 2)
        grid.addWidget(self._mark, 1, 0, 1, 3)
        grid.setColumnStretch(1, 3)
        grid.setColumnStretch(2, 4)
        self.column.addWidget(row)
        self._system.activated.connect(self._on_system)
        self._size.textEdited.connect(self._on_size)
        self._size.left.connect(self._on_left)

    def _on_system(self) -> None:
        self.session.end_burst()
        if not self._size.text().strip():
            return
        plan = self.session.plan
        system = SYSTEMS[self._system.currentData()]
        if plan is not None and plan.band is not None and self.PATH not in self.session.drafts:
            named = system.name(plan.band.inside_diameter)
            self.session.patch({"shank": {"size": {"system": system.key, "value": named}}}, "Size system")
        else:
            self._on_size(self._size.text())

    def _on_left(self) -> None:
        """An empty size is no size: what holds is shown again."""
        self.session.end_burst()
        if not self._size.text().strip():
            self.refresh()

    def _on_size(self, text: str) -> None:
        if not text.strip():
            return
        change = {"system": self._system.currentData(), "value": text.strip(), "eased_for_width": None}
        self.session.set_size(change, text)

    def refresh(self) -> None:
        """Size, and its name in the other systems."""
        super().refresh()
        size = value_at(self.session.document, "shank.size") or {}
        draft = self.session.drafts.get(self.PATH)
        if not self._size.hasFocus() or (draft is None and self._size.text().strip() != size.get("value", "")):
            self._size.setText(draft if draft is not None else str(size.get("value", "")))
        if size:
            self._system.setCurrentIndex(self._system.findData(size["system"]))
        plan = self.session.plan
        band = None if plan is None else plan.band
        for field in (*self.numbers.values(), *self.choices.values(), self._lowest, self._without):
            field.setVisible(bool(size))
        self._sizes.setText(in_all_systems(band.inside_diameter) if band is not None
                            else "Type a finger size to fit the head to a shank.")
        self.numbers["shank.width_mm"].edit.setPlaceholderText(number_text(ShankJob.width_mm))
        self.numbers["shank.thickness_mm"].edit.setPlaceholderText(number_text(ShankJob.thickness_mm))
        height = value_at(self.session.document, "fit.height")
        if height == LOWEST and "fit.height" not in self.session.drafts:
            self.numbers["fit.height"].show_value("", figure_text(self, "seat.plane_above_finger"))

    def show_problems(self) -> None:
        """The size has a mark of its own."""
        super().show_problems()
        problem = self.session.problems.get(self.PATH)
        mark_wrong(self._size, problem is not None)
        self._mark.setText("" if problem is None else problem_text(problem.wrong, problem.accepted))
        self._mark.setVisible(problem is not None)

    def chosen_value(self, path: str) -> object:
        """The job's value, or what is taken where the job says nothing."""
        held = super().chosen_value(path)
        if held is not None:
            return held
        stand_in = FitJob() if path.startswith("fit.") else ShankJob(SizeJob("ISO", ""))
        return getattr(stand_in, path.split(".")[1])

    def state(self) -> str:
        """Missing until there is a size."""
        plan = self.session.plan
        return MISSING if plan is None or plan.band is None else super().state()

    def telling(self) -> str:
        """Size and the seat's height."""
        size = value_at(self.session.document, "shank.size")
        if not size:
            return "no finger size yet"
        return f"{SYSTEMS[size['system']].label} {size['value']} · seat " \
               f"{figure_text(self, 'seat.plane_above_finger')} up"

    def first_field(self) -> QWidget | None:
        """The size."""
        return self._size
