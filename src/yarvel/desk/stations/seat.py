"""Station: seat. How deep the stone lies in the metal, and how the seat is cut."""

from __future__ import annotations

from yarvel.desk.stations.station import Station, figure_text
from yarvel.heads import notches, seats
from yarvel.heads.styles import STYLES
from yarvel.planning.compatibility import fields_of
from yarvel.planning.job import HeadJob


class SeatStation(Station):
    """The notch ratio, and what follows from it."""

    TITLE = "Seat"
    ROOMS = ("seat", "notch", "tip")

    def build(self) -> None:
        """The station's fields."""
        self.number("head.notch_ratio", "Notch, of the claw", "", derived=notches.notch_ratio)
        self.figures(
            notches.SEAT_DEPTH,
            notches.notch_ratio,
            notches.first_cut_mm,
            notches.REMAINING,
            seats.seat_opening_mm,
            seats.push_to_claw_mm,
        )
        self._burs = self.remark()

    def refresh(self) -> None:
        """The figures, and the burs in their order."""
        super().refresh()
        plan = self.session.plan
        style = plan.job.head.style if plan is not None else HeadJob.style
        self.numbers["head.notch_ratio"].setVisible(
            "notch_ratio" in (STYLES[style].FIELDS if plan is None else fields_of(plan.job.head))
        )
        burs = plan.bur_steps_mm if plan is not None and not plan.job.head.seat_cut else ()
        self._burs.setText("Burs: " + " → ".join(f"{size:.1f}" for size in burs) + " mm" if burs else "")

    def telling(self) -> str:
        """Depth and ratio."""
        if self.session.plan is None:
            return "waits for the stone"
        return f"{figure_text(self, notches.SEAT_DEPTH)} deep · {figure_text(self, notches.notch_ratio)} of the metal"
