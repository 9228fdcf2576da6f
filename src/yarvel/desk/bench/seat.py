"""Station: seat. How deep the stone lies in the metal, and how the seat is cut."""

from __future__ import annotations

from yarvel.desk.bench.stations import Station, figure_text


class SeatStation(Station):
    """The notch ratio, and what follows from it."""

    TITLE = "Seat"
    ROOMS = ("seat", "notch", "tip")

    def build(self) -> None:
        """The station's fields."""
        self.number("head.notch_ratio", "Notch, of the claw", "", derived="seat.notch_ratio")
        self._lines = self.remark()

    def refresh(self) -> None:
        """Depth, first cut, what is left, burs."""
        super().refresh()
        plan = self.session.plan
        if plan is None:
            self._lines.setText("")
            return
        keys = ("seat.depth", "seat.first_cut", "seat.remaining", "seat.opening")
        lines = [f"{plan.figures[key].label}: {plan.figures[key].text()}" for key in keys if key in plan.figures]
        if plan.bur_steps_mm and not plan.job.head.seated:
            lines.append("Burs: " + " → ".join(f"{size:.1f}" for size in plan.bur_steps_mm) + " mm")
        self._lines.setText("\n".join(lines))

    def telling(self) -> str:
        """Depth and ratio."""
        if self.session.plan is None:
            return "waits for the stone"
        return f"{figure_text(self, 'seat.depth')} deep · {figure_text(self, 'seat.notch_ratio')} of the metal"
