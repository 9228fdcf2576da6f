"""Station: head. Which style, how many claws, which wire."""

from __future__ import annotations

from yarvel.desk.bench.stations import Station, figure_text
from yarvel.heads.claws import LEAST_CLAWS, MOST_CLAWS
from yarvel.heads.styles import STYLES
from yarvel.metals.alloys import ALLOYS
from yarvel.planning.job import HeadJob


class HeadStation(Station):
    """Style and metal; claws, rings and splay, or wall and length, as the style has them."""

    TITLE = "Head"
    ROOMS = ("head", "collet", "claw", "plan", "upper-ring")

    def build(self) -> None:
        """The station's fields."""
        self.choice("head.style", "Style", [(key, style.LABEL) for key, style in STYLES.items()])
        self.choice("head.metal", "Metal", [(alloy.key, alloy.label) for alloy in ALLOYS.values()])
        self.choice("head.cut", "Set as", [("bezel", "Bezel"), ("claws", "Claws")])
        self.number("head.made_for_mm", "Made for", derived="head.made_for")
        self.number("head.opening_mm", "Opening", derived="head.inner_opening")
        self.choice("head.claws", "Claws", [(count, str(count)) for count in range(LEAST_CLAWS, MOST_CLAWS + 1)])
        self.choice("head.orientation", "Turned", [("in-line", "In line"), ("square", "Square")])
        self.number("head.claw_mm", "Claw wire", derived="head.claw")
        self.number("head.splay_deg", "Splay", "°", derived="head.splay")
        self.number("head.included_angle_deg", "Included angle", "°", derived="head.included_angle")
        self.number("head.ring_mm", "Ring wire", derived="head.ring_wire")
        self.number("head.ring_drop_mm", "Ring below girdle", derived="head.ring_drop")
        self.number("head.wall_mm", "Wall", derived="head.wall")
        self.number("head.height_mm", "Height")
        self.number("head.trim_mm", "Trim the base by")
        self.choice("head.seated", "Seat", [(False, "Still to be cut"), (True, "Cut already")])
        self.figures("head.claw_gauge", "head.inner_opening", "head.outer_over_claws", "head.tube_outer",
                     "head.tube_length",
                     "collet.top_diameter", "collet.foot_diameter", "collet.height", "collet.pattern_inner_radius",
                     "collet.pattern_outer_radius", "collet.pattern_angle_deg",
                     "head.height", "head.upper_ring_outer", "head.upper_ring_wire_length", "head.lower_ring_outer",
                     "head.lower_ring_wire_length", "head.ring_groove", "head.countersink", "head.claw_length",
                     "head.u_piece_length", "head.mass")

    def refresh(self) -> None:
        """Only the fields that the style has are shown."""
        super().refresh()
        read = STYLES[str(self.chosen_value("head.style"))].FIELDS
        for path, field in (*self.numbers.items(), *self.choices.items()):
            name = path.split(".")[1]
            field.setVisible(name in read or name in ("style", "metal"))

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
            wire = figure_text(self, "head.claw")
            return (f"{len(plan.claw_azimuths_deg)} claws{f' of {wire}' if wire else ''} · "
                    f"opening {figure_text(self, 'head.inner_opening')}")
        return f"Ø {figure_text(self, plan.shape.outer_key)} · wall {figure_text(self, 'head.wall')}"
