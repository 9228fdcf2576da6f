"""Station: stone. Readings from the gauge, in the order in which they are taken."""

from __future__ import annotations

from PySide6.QtWidgets import QWidget

from yarvel.desk.stations.station import Station, figure_text, number_text, problem_text, species_known
from yarvel.desk.widgets.readings import ReadingsField
from yarvel.planning.checking import MEASURES
from yarvel.planning.documents import value_at
from yarvel.planning.job import StoneJob
from yarvel.stones import stone as stones
from yarvel.stones import weight
from yarvel.stones.cuts import CUTS


class StoneStation(Station):
    """Cut, measures across, depth, species; then the proportions that were measured too."""

    TITLE = "Stone"
    ROOMS = ("stone",)
    PATH = "stone.diameters_mm"

    def build(self) -> None:
        """The station's fields."""
        self.choice("stone.cut", "Cut", [(cut.key, cut.label) for cut in CUTS.values()])
        self.readings = ReadingsField("Diameter", self)
        self.readings.changed.connect(self.session.set_readings)
        self.readings.left.connect(self.session.end_burst)
        self.column.addWidget(self.readings)
        self.number("stone.length_mm", "Length")
        self.number("stone.width_mm", "Width")
        self.number("stone.corner_mm", "Cut at a corner", derived=stones.CORNER)
        self.number("stone.narrow_width_mm", "Narrow end", derived=stones.NARROW_WIDTH)
        self.number("stone.depth_mm", "Depth", derived=stones.DEPTH)
        self.choice("stone.species", "Species", species_known)
        self.number("stone.declared_ct", "Declared", "ct")
        self.remark("Measured too, where you can; the rest is assumed from the cut:")
        self.number("stone.table_percent", "Table", "%")
        self.number("stone.crown_height_mm", "Crown height", derived=stones.CROWN_HEIGHT)
        self.number("stone.girdle_mm", "Girdle", derived=stones.GIRDLE)
        self.number("stone.pavilion_depth_mm", "Pavilion", derived=stones.PAVILION_DEPTH)
        self.number("stone.resolution_mm", "Gauge reads to")
        self.figures(
            weight.WEIGHT_FORMULA,
            weight.weight_model_ct,
            stones.MEAN_DIAMETER,
            stones.LARGEST_DIAMETER,
            stones.out_of_round,
            stones.elongation,
            stones.out_of_square,
            stones.perimeter_mm,
            stones.crown_angle_deg,
            stones.pavilion_angle_deg,
        )

    def refresh(self) -> None:
        """Readings, and what is assumed."""
        super().refresh()
        cut = CUTS[str(self.chosen_value("stone.cut"))]
        self.readings.setVisible(cut.is_round)
        for name in MEASURES[1:]:
            self.numbers[f"stone.{name}"].setVisible(name in cut.fields)
        self.numbers["stone.table_percent"].setVisible(not cut.domed)
        draft = self.session.drafts.get(self.PATH)
        held = value_at(self.session.document, self.PATH) or []
        self.readings.show_texts(
            [text.strip() for text in draft.split(";")] if draft is not None else [number_text(value) for value in held]
        )
        plan = self.session.plan
        self.numbers["stone.table_percent"].edit.setPlaceholderText(
            f"{plan.facts.cut.table * 100:g}" if plan is not None else ""
        )
        self.numbers["stone.resolution_mm"].edit.setPlaceholderText(f"{self.session.rules.gauge_resolution_mm:g}")

    def show_problems(self) -> None:
        """The readings share one mark."""
        super().show_problems()
        problem = self.session.problems.get(self.PATH)
        self.readings.show_problem("" if problem is None else problem_text(problem.wrong, problem.accepted))

    def chosen_value(self, path: str) -> object:
        """A stone is a round diamond until something else is said."""
        record = super().chosen_value(path)
        return getattr(StoneJob, path.split(".")[1]) if record is None else record

    def _on_chosen(self, path: str, value: object) -> None:
        if path == "stone.cut":
            self.session.set_cut(str(value))
        else:
            super()._on_chosen(path, value)

    def telling(self) -> str:
        """Weight, diameter or length and width by depth."""
        cut = CUTS[str(self.chosen_value("stone.cut"))]
        if self.session.plan is None:
            return "type the first diameter" if cut.is_round else "type length and width"
        if not cut.is_round:
            return (
                f"{figure_text(self, weight.weight_model_ct)} ct · {figure_text(self, stones.LENGTH)} × "
                f"{figure_text(self, stones.WIDTH)} × {figure_text(self, stones.DEPTH)}"
            )
        return (
            f"{figure_text(self, weight.weight_model_ct)} ct · {figure_text(self, stones.MEAN_DIAMETER)} × "
            f"{figure_text(self, stones.DEPTH)}"
        )

    def first_field(self) -> QWidget | None:
        """The first reading."""
        if CUTS[str(self.chosen_value("stone.cut"))].is_round:
            return self.readings.edits[0]
        return self.numbers["stone.length_mm"].edit
