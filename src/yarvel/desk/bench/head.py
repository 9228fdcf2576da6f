"""Station: head. Which style, how many claws, which wire."""

from __future__ import annotations

from PySide6.QtWidgets import QPushButton

from yarvel.desk.bench.stations import Station, figure_text
from yarvel.desk.edits import schools_patch, style_patch
from yarvel.desk.undoable_docket import value_at
from yarvel.heads.claws import LEAST_CLAWS, MOST_CLAWS
from yarvel.heads.styles import STYLES, styles_for
from yarvel.heads.tapered_collet import BY_MEASURE
from yarvel.heads.vees import SCHOOLS
from yarvel.metals.alloys import ALLOYS
from yarvel.planning.in_words import masses_text
from yarvel.planning.job import ALONG_BAND, ALONG_FINGER, HeadJob, StoneJob
from yarvel.stones.cuts import CUTS

_SHOWN = (
    "head.claw_gauge",
    "head.inner_opening",
    "head.opening_long",
    "head.outer_over_claws",
    "head.outer_long",
    "head.open_stretch",
    "head.open_arc",
    "head.v_angle",
    "head.v_leg",
    "head.v_width",
    "head.relief_hole",
    "head.left_behind_relief",
    "head.keel_cut",
    "head.guide_line",
    "head.tab_strength",
    "head.corner_free",
    "head.gallery_skim",
    "head.dome_radius",
    "head.least_bend_radius",
    "head.strip_length",
    "head.tube_long",
    "head.tube_outer",
    "head.tube_length",
    "collet.top_diameter",
    "collet.foot_diameter",
    "collet.height",
    "collet.pattern_inner_radius",
    "collet.pattern_outer_radius",
    "collet.pattern_angle_deg",
    "head.height",
    "head.upper_ring_outer",
    "head.upper_ring_long",
    "head.upper_ring_wire_length",
    "head.upper_ring_former",
    "head.lower_ring_outer",
    "head.lower_ring_long",
    "head.lower_ring_wire_length",
    "head.lower_ring_former",
    "head.ring_groove",
    "head.countersink",
    "head.claw_length",
    "head.u_piece_length",
    "head.mass",
)
"""Figures of the head, as far as the style has them, in the order of the list."""


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
        self.choice("head.school", "School", list(SCHOOLS.items()))
        self.choice(
            "head.stone_axis", "Stone's length", [(ALONG_FINGER, "Along the finger"), (ALONG_BAND, "Along the band")]
        )
        self.choice("head.orientation", "Turned", [("in-line", "In line"), ("square", "Square")])
        self.number("head.claw_mm", "Claw wire", derived="head.claw")
        self.number("head.splay_deg", "Splay", "°", derived="head.splay")
        self.number("head.included_angle_deg", "Included angle", "°", derived="head.included_angle")
        self.number("head.ring_mm", "Ring wire", derived="head.ring_wire")
        self.number("head.ring_drop_mm", "Ring below girdle", derived="head.ring_drop")
        self.number("head.ring_lift_mm", "Lower ring lifted")
        self.number("head.wall_mm", "Wall", derived="head.wall")
        self.number("head.height_mm", "Height")
        self.number("head.trim_mm", "Trim the base by")
        self.choice("head.seated", "Seat", [(False, "Still to be cut"), (True, "Cut already")])
        self.masses = self.remark()
        self.masses.setObjectName("head.masses")
        self.usual = QPushButton("Claws back to their usual places", self)
        self.usual.setObjectName("head.usual_places")
        self.usual.clicked.connect(lambda: self.session.patch({"head": {"claw_places_deg": None}}, "Usual places"))
        self.column.addWidget(self.usual)
        self.figures(*_SHOWN)

    def refresh(self) -> None:
        """Only the styles that suit the cut, and the fields that the style has, are shown."""
        cut = CUTS[str(value_at(self.session.document, "stone.cut") or StoneJob.cut)]
        self.choices["head.style"].offer([(key, STYLES[key].LABEL) for key in styles_for(cut)])
        super().refresh()
        read = STYLES[str(self.chosen_value("head.style"))].FIELDS
        if value_at(self.session.document, "head.made"):
            read = tuple(name for name in read if name not in BY_MEASURE)
        for path, field in (*self.numbers.items(), *self.choices.items()):
            name = path.split(".")[1]
            shown = name in read or name in ("style", "metal")
            field.setVisible(shown and not (name == "stone_axis" and cut.is_round))
        plan = self.session.plan
        others = "" if plan is None else masses_text(plan)
        self.masses.setText(f"Head in other metals: {others}" if others else "")
        self.usual.setVisible(bool(value_at(self.session.document, "head.claw_places_deg")))

    def _on_chosen(self, path: str, value: object) -> None:
        """Another number of claws, or another turn, gives up places chosen by hand."""
        if path == "head.style":
            self.session.patch(style_patch(self.session.document, str(value)), self.choices[path].label)
        elif path == "head.cut":
            document = self.session.document
            style = str((document.get("head") or {}).get("style", HeadJob.style))
            patch = {"head": {"cut": value}, **schools_patch(document, style, str(value))}
            self.session.patch(patch, self.choices[path].label)
        elif path in ("head.claws", "head.orientation"):
            self.session.patch({"head": {path.split(".")[1]: value, "claw_places_deg": None}}, self.choices[path].label)
        else:
            super()._on_chosen(path, value)

    def chosen_value(self, path: str) -> object:
        """The job's value, or the one that is taken where the job says nothing."""
        held = super().chosen_value(path)
        if path == "head.claws" and held is None:
            return len(self.session.plan.claw_azimuths_deg) if self.session.plan is not None else 4
        return getattr(HeadJob(), path.split(".")[1]) if held is None else held

    def telling(self) -> str:
        """Claws and wire, or the tube's outside and wall."""
        plan = self.session.plan
        if plan is None:
            return "waits for the stone"
        if plan.claw_azimuths_deg:
            wire = figure_text(self, "head.claw")
            return (
                f"{len(plan.claw_azimuths_deg)} claws{f' of {wire}' if wire else ''} · "
                f"opening {figure_text(self, 'head.inner_opening')}"
            )
        return f"Ø {figure_text(self, plan.shape.outer_key)} · wall {figure_text(self, 'head.wall')}"
