"""Station: stone. Readings from the gauge, in the order in which they are taken."""

from __future__ import annotations

from PySide6.QtWidgets import QWidget

from yarvel.desk.bench.stations import Station, figure_text, number_text, problem_text
from yarvel.desk.session import value_at
from yarvel.desk.widgets.readings import ReadingsField
from yarvel.planning.job import StoneJob
from yarvel.stones.cuts import CUTS
from yarvel.stones.species import SPECIES


class StoneStation(Station):
    """Diameters, depth, species; then the proportions that were measured too."""

    TITLE = "Stone"
    ROOMS = ("stone",)
    PATH = "stone.diameters_mm"

    def build(self) -> None:
        """The station's fields."""
        self.readings = ReadingsField("Diameter", self)
        self.readings.changed.connect(self.session.set_readings)
        self.readings.left.connect(self.session.end_burst)
        self.column.addWidget(self.readings)
        self.number("stone.depth_mm", "Depth", derived="stone.depth")
        self.choice("stone.species", "Species", [(species.key, species.label) for species in SPECIES.values()])
        self.number("stone.declared_ct", "Declared", "ct")
        self.remark("Measured too, where you can; the rest is assumed from the cut:")
        self.number("stone.table_percent", "Table", "%")
        self.number("stone.crown_height_mm", "Crown height", derived="stone.crown_height")
        self.number("stone.girdle_mm", "Girdle", derived="stone.girdle")
        self.number("stone.pavilion_depth_mm", "Pavilion", derived="stone.pavilion_depth")
        self.number("stone.resolution_mm", "Gauge reads to")
        self.figures("stone.weight_formula", "stone.weight_model", "stone.mean_diameter", "stone.largest_diameter",
                     "stone.out_of_round", "stone.crown_angle", "stone.pavilion_angle")

    def refresh(self) -> None:
        """Readings, and what is assumed."""
        super().refresh()
        draft = self.session.drafts.get(self.PATH)
        held = value_at(self.session.document, self.PATH) or []
        self.readings.show_texts([text.strip() for text in draft.split(";")] if draft is not None
                                 else [number_text(value) for value in held])
        plan = self.session.plan
        self.numbers["stone.table_percent"].edit.setPlaceholderText(
            f"{CUTS['round'].TABLE * 100:g}" if plan is not None else "")
        self.numbers["stone.resolution_mm"].edit.setPlaceholderText(f"{self.session.rules.gauge_resolution_mm:g}")

    def show_problems(self) -> None:
        """The readings share one mark."""
        super().show_problems()
        problem = self.session.problems.get(self.PATH)
        self.readings.show_problem("" if problem is None else problem_text(problem.wrong, problem.accepted))

    def chosen_value(self, path: str) -> object:
        """A stone is a diamond until something else is said."""
        held = super().chosen_value(path)
        return StoneJob.species if held is None else held

    def telling(self) -> str:
        """Weight, diameter by depth."""
        if self.session.plan is None:
            return "type the first diameter"
        return (f"{figure_text(self, 'stone.weight_model')} ct · {figure_text(self, 'stone.mean_diameter')} × "
                f"{figure_text(self, 'stone.depth')}")

    def first_field(self) -> QWidget | None:
        """The first reading."""
        return self.readings.edits[0]
