"""What is chosen of the work: where it begins, the schools, how each group of joints is closed."""

from __future__ import annotations

from yarvel.desk.stations.grades import GradeFields
from yarvel.desk.stations.station import Station
from yarvel.metals.joints import SOLDER_METHODS
from yarvel.planning.job import JointsJob
from yarvel.planning.work_methods import (
    CLOSED_RING,
    CLOSINGS,
    CORNERS,
    DRILLED,
    JAWS,
    PUSHER,
    RINGS,
    SEATS,
    STONE_STATES,
    TACKS,
    TIPS,
    TIPS_BEFORE,
    WITH_PLIERS,
    closings_for,
)

USUAL: dict[str, object] = {
    "shank.exists": False,
    "head.exists": False,
    "stone.state": "absent",
    "joints.school": JointsJob().school,
    "setting.closing": PUSHER,
    "setting.corner": DRILLED,
    "setting.tips": TIPS_BEFORE,
    "fit.ring": CLOSED_RING,
}
"""What a job that says nothing means."""


class WorkChoices:
    """Adds its fields to the station, and shows those that this piece has."""

    def __init__(self, station: Station) -> None:
        self._station = station
        self._beginning()
        self._schools()
        self._solder()

    def _beginning(self) -> None:
        self._station.fold("Where the work begins")
        self._station.choice("shank.exists", "The band", [(False, "To be made"), (True, "It is there")])
        self._station.choice("head.exists", "The head", [(False, "To be made or picked"), (True, "It is there")])
        self._station.choice("stone.state", "The stone", list(STONE_STATES.items()))
        self._station.end_fold()

    def _schools(self) -> None:
        self._station.fold("Schools")
        self._station.choice("fit.ring", "The ring", list(RINGS.items()))
        self._station.choice("setting.tack", "Laser at the head", [("", "Only if it is loose"), *TACKS.items()])
        self._station.choice("setting.seat", "Notch cut", [("", "As usual"), *SEATS.items()])
        self._station.choice("setting.corner", "Corners of Vs", list(CORNERS.items()))
        self._station.choice(
            "setting.closing", "Closed with", [(key, closing.label) for key, closing in CLOSINGS.items()]
        )
        self._station.choice("setting.jaws", "Pliers' jaws", [("", "Smooth steel"), *JAWS.items()])
        self._station.choice("setting.tips", "Tips", list(TIPS.items()))
        self._station.end_fold()

    def _solder(self) -> None:
        self._grades_fold = self._station.fold("Solder, group by group")
        self._station.choice("joints.school", "School", list(SOLDER_METHODS.items()))
        self._grades = GradeFields(self._station.session, self._station)
        self._station.column.addWidget(self._grades)
        self._station.end_fold()

    def refresh(self) -> None:
        """Only what this piece has."""
        plan = self._station.session.plan
        self._grades_fold.setVisible(self._grades.refresh(plan))
        clawed = plan is not None and bool(plan.shape.places)
        job = None if plan is None else plan.job
        fit = None if job is None else job.fit
        inset = fit is not None and fit.method == "inset" and job is not None and not job.ring_exists
        self._station.choices["fit.ring"].setVisible(inset)
        self._station.choices["shank.exists"].setVisible(job is not None and job.shank is not None)
        self._station.choices["stone.state"].setVisible(job is not None and job.head.exists)
        self._station.choices["setting.tack"].setVisible(job is not None and job.shank is not None)
        self._station.choices["setting.seat"].setVisible(clawed)
        self._station.choices["setting.corner"].setVisible(plan is not None and plan.shape.vees is not None)
        self._station.choices["setting.tips"].setVisible(clawed)
        suiting = closings_for(clawed, plan is None or plan.facts.cut.is_round)
        closing = self._station.choices["setting.closing"]
        closing.offer([(school, CLOSINGS[school].label) for school in suiting])
        closing.show_value(self._station.chosen_value("setting.closing"))
        pliers = self._station.chosen_value("setting.closing") in WITH_PLIERS
        self._station.choices["setting.jaws"].setVisible(clawed and pliers)
