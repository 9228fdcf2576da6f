"""Station: shank. Finger size, band, and how the head meets it."""

from __future__ import annotations

from html import escape

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QGridLayout, QPushButton, QSizePolicy, QWidget

from yarvel.desk.session.edits import method_patch
from yarvel.desk.session.session import Session
from yarvel.desk.stations.fit_fields import FitFields
from yarvel.desk.stations.measures_line import STOCK, MeasuresLine
from yarvel.desk.stations.sections_line import SectionsLine
from yarvel.desk.stations.station import MISSING, Station, figure_text, metals_known, number_text, problem_text
from yarvel.desk.widgets.choice import Choice
from yarvel.desk.widgets.fields import LABEL_WIDTH, GaugeEdit, mark_wrong
from yarvel.desk.widgets.words import Words
from yarvel.figures.errors import SizeError
from yarvel.heads import heights
from yarvel.metals import alloys
from yarvel.metals.alloys import alloy_of
from yarvel.planning.documents import Document, value_at
from yarvel.planning.job import FitJob, ShankJob, ShoulderJob, SizeJob
from yarvel.planning.plan import Plan
from yarvel.route.card import metal_lines
from yarvel.route.running import route_of
from yarvel.shanks import (
    basket_point,
    blanks,
    cast_on,
    fish_mouth,
    fitting,
    inset,
    let_in,
    on_flat,
    peg,
    pendant,
    resizing,
    shoulders,
    sizes,
    slot,
    split_shoulder,
)
from yarvel.shanks.band import PROFILES
from yarvel.shanks.shoulders import BEZEL, CARVED, FLUSH
from yarvel.shanks.sizes import SYSTEMS, in_all_systems, said, understood
from yarvel.workshop.work.docket_work import work_of

_SHOULDER = "shank.shoulder.setting"
_RESIZED = "shank.resized_from"
_RESIZE_BY = "shank.resize_by"
_HEAD_PROFILE = "shank.head_profile"
_ALONG = "Changes along the ring"
_PROFILES: list[tuple[object, str]] = [(profile, profile.capitalize()) for profile in PROFILES]
_FIGURES = (
    blanks.full_length_mm,
    blanks.blank_length_mm,
    blanks.cut_length_mm,
    inset.gap_inside_mm,
    inset.gap_outside_mm,
    inset.MARK_HALF,
    inset.MARK_HALF_OUTSIDE,
    inset.hollow_limit_mm,
    inset.hollow_mm,
    inset.beside_head_mm,
    blanks.removed_arc_deg,
    on_flat.flat_depth_mm,
    on_flat.left_under_flat_mm,
    let_in.DEPTH,
    let_in.left_under_mm,
    let_in.MARK,
    let_in.limit_mm,
    fish_mouth.saddle_depth_mm,
    cast_on.foot_sunk_mm,
    fish_mouth.saved_mm,
    fitting.HOLE,
    fitting.HOLE_DEPTH,
    peg.peg_length_mm,
    fitting.BESIDE_HOLE,
    basket_point.point_depth_mm,
    basket_point.point_angle_deg,
    basket_point.bevel_deg,
    split_shoulder.split_from_mm,
    split_shoulder.branch_mm,
    split_shoulder.branch_length_mm,
    split_shoulder.spread_deg,
    split_shoulder.tip_out_mm,
    split_shoulder.tip_side_mm,
    split_shoulder.notch_mm,
    split_shoulder.ring_gripped_mm,
    slot.spare_mm,
    slot.trim_mm,
    slot.open_each_mm,
    slot.taper_mm,
    slot.lower_left_mm,
    slot.lean_deg,
    resizing.change_mm,
    resizing.strain_percent,
    resizing.thinner_mm,
    resizing.piece_mass_g,
    resizing.foot_gap_mm,
    resizing.turn_deg,
    pendant.HEIGHT,
    pendant.CENTRE,
    pendant.tilt_deg,
    pendant.turn_deg,
    pendant.wire_length_mm,
    pendant.chain_room_mm,
    pendant.ring_mass_g,
    fitting.PLANE_ABOVE_FINGER,
    fitting.CULET_CLEARANCE,
    heights.table_above_finger_mm,
    sizes.inside_circumference_mm,
    inset.size_if_sprung_mm,
    alloys.shank_mass_g,
    shoulders.first_mm,
    shoulders.pitch_mm,
    shoulders.pilot_mm,
    shoulders.sink_mm,
    shoulders.culet_below_mm,
    shoulders.bezel_outer_mm,
    shoulders.tube_wall_mm,
    shoulders.tube_length_mm,
    shoulders.let_mm,
    shoulders.cut_down_mm,
    shoulders.left_under_mm,
    shoulders.NECK,
    shoulders.side_cut_mm,
    shoulders.beside_mm,
    shoulders.last_angle_deg,
)
_SETTINGS = {FLUSH: "Flush", BEZEL: "In little bezels", CARVED: "In carved bezels"}


class ShankStation(Station):
    """Size in any system, the band, the fit and its height. A job may have no shank yet."""

    TITLE = "Shank"
    ROOMS = ("shank", "band", "gap", "culet", "slot", "resize", "bail", "shoulder")
    PATH = "shank.size.value"
    OF_NEW_RINGS = blanks.OF_STOCK

    system_chosen = Signal(str)

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        self._usual = self._standing = "ISO"
        self.fit = FitFields(self)

    def build(self) -> None:
        """The station's fields."""
        self._size_row()
        self.number("shank.width_mm", "Band width", derived=blanks.WIDTH)
        self.number("shank.thickness_mm", "Band thickness", derived=blanks.THICKNESS)
        self.choice("shank.profile", "Profile", _PROFILES)
        self.choice("shank.metal", "Metal", metals_known)
        self.fit.build()
        self.fold(_ALONG)
        self.number("shank.head_width_mm", "Width at head", derived=blanks.WIDTH)
        self.number("shank.head_thickness_mm", "Thick at head", derived=blanks.THICKNESS)
        self.choice(_HEAD_PROFILE, "Profile there", [("", "As the band's"), *_PROFILES])
        self.sections = SectionsLine(self.session, self)
        self.column.addWidget(self.sections)
        self.fold("Small rounds in the shoulders")
        self.choice(_SHOULDER, "Shoulders", [("", "No stones"), *_SETTINGS.items()])
        self.number("shank.shoulder.diameter_mm", "Small rounds", derived=shoulders.DIAMETER)
        self.choice("shank.shoulder.count", "On each side", [(count, str(count)) for count in range(1, 9)])
        self.fold("A ring that exists already")
        self.number(_RESIZED, "Size now", "")
        self.choice(_RESIZE_BY, "Comes to size", list(resizing.WAYS.items()))
        self.fit.build_old_slot()
        self.fold("Metal to cut, draw and roll")
        self.stock = MeasuresLine(self.session, self, STOCK)
        self.column.addWidget(self.stock)
        self._metal = self.account()
        self._metal.setObjectName("shank.material")
        self.end_fold()
        self._without = QPushButton("Take the shank away", self)
        self._without.clicked.connect(lambda: self.session.patch({"shank": None, "fit": None}, "Take the shank away"))
        self.column.addWidget(self._without)
        self.figures(*_FIGURES)
        self._sizes = self.remark()

    def _size_row(self) -> None:
        row = QWidget(self)
        grid = QGridLayout(row)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setHorizontalSpacing(6)
        title = Words("Finger size", row)
        title.setMinimumWidth(LABEL_WIDTH)
        self._system = Choice(row)
        self._system.setObjectName("shank.size.system")
        self._system.setAccessibleName("Size system")
        for system in SYSTEMS.values():
            self._system.addItem(system.label, system.key)
        self._system.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
        self._size = GaugeEdit(row)
        self._size.setObjectName(self.PATH)
        self._size.setAccessibleName("Finger size")
        title.setBuddy(self._size)
        self._mark = Words(row)
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
        self._size_box = row
        self._system.activated.connect(self._on_system)
        self._size.textEdited.connect(self._on_size)
        self._size.left.connect(self._on_left)

    def _on_system(self) -> None:
        self.session.end_burst()
        self._usual = self._standing = str(self._system.currentData())
        self.system_chosen.emit(self._usual)
        if not self._size.text().strip():
            return
        plan = self.session.plan
        system = SYSTEMS[self._system.currentData()]
        if plan is not None and plan.band is not None and self.PATH not in self.session.drafts:
            named = system.name(plan.band.inside_diameter_mm)
            self.session.patch({"shank": {"size": {"system": system.key, "value": named}}}, "Size system")
        else:
            self._on_size(self._size.text())

    def _on_left(self) -> None:
        """What holds is shown, as its system writes it; an empty size is none."""
        self.session.end_burst()
        self.refresh()

    def _on_size(self, text: str) -> None:
        if not text.strip():
            return
        try:
            system, value = understood(text, self._standing)
        except SizeError as error:
            self.session.refuse_size(self.PATH, text, error)
            return
        self.session.set_size({"system": system, "value": value, "eased_for_width": None}, text)

    def _is_held(self, text: str, size: Document) -> bool:
        """Whether what is typed says the size that holds, as somebody may write it."""
        try:
            return understood(text, self._standing) == (size.get("system"), size.get("value"))
        except SizeError:
            return False

    def be_used_to(self, system: str) -> None:
        """The system in which sizes are typed here where none is named: the one that was chosen last."""
        if system in SYSTEMS:
            self._usual = self._standing = system

    def refresh(self) -> None:
        """Size, and its name in the other systems."""
        super().refresh()
        size = value_at(self.session.document, "shank.size") or {}
        draft = self.session.drafts.get(self.PATH)
        if not self._size.hasFocus():  # whatever is typed next is of the system that stands beside it
            self._standing = str(size.get("system", self._usual))
        if not self._size.hasFocus() or (draft is None and not self._is_held(self._size.text(), size)):
            self._size.setText(draft if draft is not None else str(size.get("value", "")))
        self._system.setCurrentIndex(self._system.findData(size.get("system", self._usual)))
        plan = self.session.plan
        band = None if plan is None else plan.band
        for field in (*self.numbers.values(), *self.choices.values(), *self.folds.values(), self._without):
            field.setVisible(bool(size))
        for path in ("shank.shoulder.count", "shank.shoulder.diameter_mm"):
            field = self.numbers.get(path) or self.choices[path]
            field.setVisible(bool(size) and bool(value_at(self.session.document, "shank.shoulder")))
        if bool(value_at(self.session.document, "shank.shoulder")):
            self.folds["Small rounds in the shoulders"].open()
        if band is not None and band.tapers:
            self.folds[_ALONG].open()
        if self.session.drafts.get(_RESIZED) is None:
            resized = value_at(self.session.document, "shank.resized_from") or {}
            now = said(resized["system"], resized["value"], size.get("system", self._usual)) if resized else ""
            self.numbers[_RESIZED].show_value(now, "")
        self.choices[_RESIZE_BY].setVisible(bool(value_at(self.session.document, _RESIZED)))
        self.fit.refresh()
        self._metal.setText(
            ""
            if plan is None
            else "".join(
                f"<p style='margin:2px 0 2px 10px; text-indent:-10px'>– {escape(line)}</p>"
                for line in self._metal_lines(plan)
            )
        )
        self.folds["Metal to cut, draw and roll"].setVisible(plan is not None)
        has_shank = self.session.plan is not None and self.session.plan.job.shank is not None
        self.stock.setVisible(has_shank and self.session.plan is not None and not self.session.plan.job.ring_exists)
        self.stock.refresh()
        self.sections.refresh()
        self._size_box.setVisible(not self.fit.hangs)
        self._sizes.setVisible(not self.fit.hangs)
        self._sizes.setText(
            in_all_systems(band.inside_diameter_mm)
            if band is not None
            else "Type a finger size to fit the head to a shank, or let it hang as a pendant."
        )
        self.numbers["shank.width_mm"].edit.setPlaceholderText(number_text(ShankJob.width_mm))
        self.numbers["shank.thickness_mm"].edit.setPlaceholderText(number_text(ShankJob.thickness_mm))

    def _on_typed(self, path: str, text: str) -> None:
        """A size of an existing ring is a word of the size's own system; an old slot ends with its width."""
        if path == _RESIZED:
            standing = value_at(self.session.document, "shank.size.system") or self._usual
            try:
                meant = understood(text, str(standing)) if text.strip() else None
            except SizeError as error:
                self.session.refuse_size(path, text, error)
                return
            whole = None if meant is None else {"system": meant[0], "value": meant[1]}
            self.session.set_value(_RESIZED, whole, "Size now", draft=text)
        elif not self.fit.typed(path, text):
            super()._on_typed(path, text)

    def show_problems(self) -> None:
        """The size has a mark of its own."""
        super().show_problems()
        problem = self.session.problems.get(self.PATH)
        mark_wrong(self._size, problem is not None)
        self._mark.setText("" if problem is None else problem_text(problem.wrong, problem.accepted))
        self._mark.setVisible(problem is not None)

    def chosen_value(self, path: str) -> object:
        """The job's value, or what is taken where the job says nothing."""
        record = super().chosen_value(path)
        if record is not None:
            return record
        if path == _HEAD_PROFILE:
            return ""
        if path.startswith("shank.shoulder."):
            asked = value_at(self.session.document, "shank.shoulder")
            return "" if asked is None else getattr(ShoulderJob(), path.rsplit(".", 1)[1])
        stand_in = FitJob() if path.startswith("fit.") else ShankJob(size=SizeJob("ISO", ""))
        return getattr(stand_in, path.split(".")[1], None)

    def _on_chosen(self, path: str, value: object) -> None:
        """No stones in the shoulders: nothing is said of them any more."""
        if path == "fit.method":
            self.session.patch(method_patch(self.session.document, str(value)), "Head meets it")
        elif path == _HEAD_PROFILE:
            self.session.patch({"shank": {"head_profile": value or None}}, "Profile at the head")
        elif path == _SHOULDER:
            change = {"setting": value} if value else None
            self.session.patch({"shank": {"shoulder": change}}, "Shoulders")
        elif self.fit.chosen(path, value):
            return
        else:
            super()._on_chosen(path, value)

    def state(self) -> str:
        """Missing until there is a size."""
        plan = self.session.plan
        if self.fit.hangs and plan is not None:
            return super().state()
        return MISSING if plan is None or plan.band is None else super().state()

    def _metal_lines(self, plan: Plan) -> tuple[str, ...]:
        work = work_of(plan, self.session.docket, self.session.rules) if self.session.docket else None
        route = route_of(plan) if work is None else work.route
        brought = (step.operation.text for step in route.steps if step.operation.kind.key in ("roll", "draw-wire"))
        return (*brought, *metal_lines(route, plan, lambda key: alloy_of(key, plan.rules).label))

    def telling(self) -> str:
        """Size and the seat's height."""
        size = value_at(self.session.document, "shank.size")
        if self.fit.hangs:
            return f"pendant · ring {figure_text(self, pendant.INSIDE)} inside"
        if not size:
            return "no finger size yet"
        return (
            f"{SYSTEMS[size['system']].label} {size['value']} · seat {figure_text(self, fitting.PLANE_ABOVE_FINGER)} up"
        )

    def first_field(self) -> QWidget | None:
        """The size."""
        return self._size
