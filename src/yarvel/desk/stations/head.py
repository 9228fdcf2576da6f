"""Station: head. Which style, how many claws, which wire."""

from __future__ import annotations

from PySide6.QtWidgets import QPushButton

from yarvel.desk.session.edits import (
    metal_patch,
    posts_patch,
    rings_patch,
    section_patch,
    style_patch,
    vee_patch,
    work_methods_patch,
)
from yarvel.desk.stations.measures_line import TUBE, MeasuresLine
from yarvel.desk.stations.station import Station, figure_text, metals_known
from yarvel.figures.figure import FigureKey
from yarvel.heads import claws, style
from yarvel.heads.rings import STRIP
from yarvel.heads.styles import STYLES, head_fields, styles_for
from yarvel.heads.tapered_collet import BY_MEASURE, BY_TUBE, foot_diameter_mm
from yarvel.heads.vees import SOLID
from yarvel.planning.compatibility import RINGS_OWN
from yarvel.planning.documents import value_at
from yarvel.planning.in_words import masses_text
from yarvel.planning.job import HeadJob, StoneJob
from yarvel.stones.cuts import CUTS

_MASSES = "Mass in other metals"
_OF_VEES = ("school", "v_from", "v_foot_mm")

_PATCHES = {
    "head.metal": metal_patch,
    "head.rings": rings_patch,
    "head.ring_section": section_patch,
    "head.posts": posts_patch,
    "head.v_from": vee_patch,
}
"""What a choice changes beside its own field."""


class HeadStation(Station):
    """Style and metal; claws, rings and splay, or wall and length, as the style has them."""

    TITLE = "Head"
    ROOMS = ("head", "collet", "claw", "plan", "upper-ring")

    def build(self) -> None:
        """The station's fields."""
        self._aside: dict[int | None, dict[str, object]] = {}
        self.choice("head.style", "Style", [(key, style.LABEL) for key, style in STYLES.items()])
        self.choice("head.metal", "Metal", metals_known)
        for head_field in head_fields().values():
            if head_field.choices:
                self.choice(f"head.{head_field.name}", head_field.label, list(head_field.choices))
            else:
                self.number(
                    f"head.{head_field.name}",
                    head_field.label,
                    head_field.unit,
                    derived=FigureKey(head_field.figure) if head_field.figure else None,
                )
        self.tube = MeasuresLine(self.session, self, TUBE)
        self.column.addWidget(self.tube)
        self.number("head.tube.foot_mm", "Driven to a foot of", derived=foot_diameter_mm)
        self.usual = QPushButton("Claws back to their usual places", self)
        self.usual.setObjectName("head.usual_places")
        self.usual.clicked.connect(lambda: self.session.patch({"head": {"claw_places_deg": None}}, "Usual places"))
        self.column.addWidget(self.usual)
        self.fold(_MASSES)
        self.masses = self.remark()
        self.masses.setObjectName("head.masses")
        self.end_fold()
        self.figures(shown_in="head")

    def refresh(self) -> None:
        """Only the styles that suit the cut, and the fields that the style has, are shown."""
        cut = CUTS[str(value_at(self.session.document, "stone.cut") or StoneJob.cut)]
        self.choices["head.style"].offer([(key, STYLES[key].LABEL) for key in styles_for(cut)])
        super().refresh()
        is_made, tube = (bool(value_at(self.session.document, f"head.{name}")) for name in ("made", "tube"))
        unread: tuple[str, ...] = BY_MEASURE if is_made else BY_TUBE if tube else ()
        if self.chosen_value("head.rings") == 1:
            unread = (*unread, "ring_lift_mm")
        if self.chosen_value("head.ring_section") != STRIP:
            unread = (*unread, "ring_high_mm")
        if self.chosen_value("head.v_from") != SOLID:
            unread = (*unread, "v_foot_mm")
        if self.chosen_value("head.rings") == 0:
            unread = (*unread, *RINGS_OWN)
        read = [name for name in STYLES[str(self.chosen_value("head.style"))].FIELDS if name not in unread]
        for path, field in (*self.numbers.items(), *self.choices.items()):
            name = path.split(".")[1]
            shown = name in read or name in ("style", "metal")
            idle = (name == "stone_axis" and cut.is_round) or (name in _OF_VEES and not self._has_points())
            field.setVisible(shown and not idle)
        self.tube.setVisible("tube" in read and not is_made)
        self.tube.refresh()
        self.numbers["head.tube.foot_mm"].setVisible("tube" in read and tube and not is_made)
        plan = self.session.plan
        others = "" if plan is None else masses_text(plan)
        self.masses.setText(others.replace(" · ", "\n"))
        self.folds[_MASSES].setVisible(bool(others))
        self.usual.setVisible(bool(value_at(self.session.document, "head.claw_places_deg")))

    def _change_style(self, style: str) -> None:
        """Another style: what it does not read is put aside, and comes back with a style that does."""
        docket = None if self.session.docket is None else self.session.docket.id
        aside = self._aside.setdefault(docket, {})
        head = self.session.document.get("head") or {}
        patch = style_patch(self.session.document, style)
        aside.update({name: head[name] for name, given in patch["head"].items() if given is None and name in head})
        back = [name for name in STYLES[style].FIELDS if name in aside and name not in head]
        patch["head"].update({name: aside.pop(name) for name in back})
        self.session.patch(patch, self.choices["head.style"].label)

    def _has_points(self) -> bool:
        """Whether some claw is a V over a point of the stone: schools of the V matter only there."""
        plan = self.session.plan
        return plan is not None and plan.shape.vees is not None

    def _on_chosen(self, path: str, value: object) -> None:
        """Another number of claws, or another turn, gives up places chosen by hand."""
        if path == "head.style":
            self._change_style(str(value))
        elif path == "head.cut":
            document = self.session.document
            style = str((document.get("head") or {}).get("style", HeadJob.style))
            patch = {"head": {"cut": value}, **work_methods_patch(document, style, str(value))}
            self.session.patch(patch, self.choices[path].label)
        elif path in _PATCHES:
            self.session.patch(_PATCHES[path](self.session.document, value), self.choices[path].label)
        elif path in ("head.claws", "head.orientation"):
            self.session.patch({"head": {path.split(".")[1]: value, "claw_places_deg": None}}, self.choices[path].label)
        else:
            super()._on_chosen(path, value)

    def chosen_value(self, path: str) -> object:
        """The job's value, or the one that is taken where the job says nothing."""
        value = super().chosen_value(path)
        if path == "head.claws" and value is None:
            return len(self.session.plan.claw_azimuths_deg) if self.session.plan is not None else 4
        return getattr(HeadJob(), path.split(".")[1]) if value is None else value

    def telling(self) -> str:
        """Claws and wire, or the tube's outside and wall."""
        plan = self.session.plan
        if plan is None:
            return "waits for the stone"
        if plan.claw_azimuths_deg:
            wire = figure_text(self, claws.CLAW)
            return (
                f"{len(plan.claw_azimuths_deg)} claws{f' of {wire}' if wire else ''} · opening "
                f"{figure_text(self, style.INNER_OPENING)}"
            )
        return f"Ø {figure_text(self, plan.shape.outer_key)} · wall {figure_text(self, style.HEAD_WALL)}"
