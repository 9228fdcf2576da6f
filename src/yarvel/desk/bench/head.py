"""Station: head. Which style, how many claws, which wire."""

from __future__ import annotations

from PySide6.QtWidgets import QWidget

from yarvel.desk.bench.stations import Station, figure_text
from yarvel.heads.claws import LEAST_CLAWS, MOST_CLAWS
from yarvel.heads.styles import STYLES
from yarvel.metals.alloys import ALLOYS
from yarvel.planning.job import HeadJob


class HeadStation(Station):
    """Style and metal; claws, rings and splay, or wall and length, as the style has them."""

    TITLE = "Head"
    ROOMS = ("head", "claw", "plan", "upper-ring")

    def build(self) -> None:
        """The station's fields."""
        self.choice("head.style", "Style", [(key, style.LABEL) for key, style in STYLES.items()])
        self.choice("head.metal", "Metal", [(alloy.key, alloy.label) for alloy in ALLOYS.values()])
        clawed: list[QWidget] = [
            self.choice("head.claws", "Claws", [(count, str(count)) for count in range(LEAST_CLAWS, MOST_CLAWS + 1)]),
            self.choice("head.orientation", "Turned", [("in-line", "In line"), ("square", "Square")]),
            self.number("head.claw_mm", "Claw wire", derived="head.claw"),
            self.number("head.splay_deg", "Splay", "°", derived="head.splay"),
            self.number("head.ring_mm", "Ring wire", derived="head.ring_wire"),
            self.number("head.ring_drop_mm", "Ring below girdle", derived="head.ring_drop"),
        ]
        walled: list[QWidget] = [
            self.number("head.wall_mm", "Wall", derived="head.wall"),
            self.number("head.height_mm", "Tube length", derived="head.tube_length"),
            self.choice("head.seated", "Seat", [(False, "Still to be cut"), (True, "Cut already")]),
        ]
        self.figures("head.inner_opening", "head.outer_over_claws", "head.tube_outer", "head.tube_length",
                     "head.height", "head.upper_ring_outer", "head.upper_ring_wire_length", "head.lower_ring_outer",
                     "head.lower_ring_wire_length", "head.ring_groove", "head.countersink", "head.claw_length",
                     "head.u_piece_length", "head.mass")
        self._parts = {True: clawed, False: walled}

    def refresh(self) -> None:
        """Only the fields that the style has are shown."""
        super().refresh()
        has_claws = STYLES[str(self.chosen_value("head.style"))].HAS_CLAWS
        for clawed, parts in self._parts.items():
            for part in parts:
                part.setVisible(clawed == has_claws)

    def chosen_value(self, path: str) -> object:
        """The job's value, or the one that is taken where the job says nothing."""
        held = super().chosen_value(path)
        return getattr(HeadJob(), path.split(".")[1]) if held is None else held

    def telling(self) -> str:
        """Claws and wire, or the tube's outside and wall."""
        plan = self.session.plan
        if plan is None:
            return "waits for the stone"
        if plan.claw_azimuths_deg:
            return f"{len(plan.claw_azimuths_deg)} claws of {figure_text(self, 'head.claw')} · " \
                   f"opening {figure_text(self, 'head.inner_opening')}"
        return f"tube Ø {figure_text(self, 'head.tube_outer')} · wall {figure_text(self, 'head.wall')}"
