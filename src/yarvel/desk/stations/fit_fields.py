"""How the head meets the shank, or hangs: the fields of the fit, those that its method reads."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtWidgets import QPushButton

from yarvel.planning.compatibility import fits_of
from yarvel.planning.documents import value_at
from yarvel.planning.job import LOWEST, BailJob, FitJob, HeadJob
from yarvel.shanks import basket_point, fitting, let_in, peg, pendant, split_shoulder
from yarvel.shanks.fitting import ASKED, BLIND, CULET, GALLERY, LEAST, MADE, SAWN, THROUGH
from yarvel.shanks.methods import METHODS, PENDANT

if TYPE_CHECKING:
    from yarvel.desk.stations.station import Station

_SLOT = "fit.slot.inside_mm"
_BAIL, _PLACE = "fit.bail.bought", "fit.bail.place"
_TELLS_MM = 0.005
_DECIDES = {
    CULET: "the culet",
    GALLERY: "the gallery",
    SAWN: "the sawing of the claws",
    LEAST: "what has to stay of the head",
    ASKED: "the height asked for",
    MADE: "the head as it was made",
}


class FitFields:
    """Adds its fields to the station and shows those that belong to the job as it is."""

    def __init__(self, station: Station) -> None:
        self._station = station
        self._session = station.session

    def build(self) -> None:
        """Method, its own measures, height, what is worn beside it; and the pendant's ring."""
        add = self._station
        add.choice("fit.method", "Head meets it", [(key, method.LABEL) for key, method in METHODS.items()])
        add.number("fit.below_ring_mm", "Claws below ring", derived=basket_point.BELOW_RING)
        add.choice("fit.hole", "Hole", [(BLIND, "Blind"), (THROUGH, "Through")])
        add.number("head.peg_mm", "Peg", derived=peg.PEG)
        add.number("fit.split_mm", "Split from middle", derived=split_shoulder.split_from_mm)
        add.number("fit.let_mm", "Let in by", derived=let_in.DEPTH)
        add.number("fit.height", "Seat height", derived=fitting.PLANE_ABOVE_FINGER)
        self._lowest = QPushButton("As low as it goes", add)
        self._lowest.clicked.connect(lambda: self._session.patch({"fit": {"height": LOWEST}}, "As low as it goes"))
        add.column.addWidget(self._lowest)
        self._decided = add.remark()
        self._decided.setObjectName("fit.decided")
        add.number("fit.beside_mm", "Band beside")
        self._hang = QPushButton("Let it hang as a pendant", add)
        self._hang.setObjectName("fit.hang")
        self._hang.clicked.connect(lambda: self._session.patch({"fit": {"method": PENDANT}}, "Pendant"))
        add.column.addWidget(self._hang)
        add.number("fit.bail.inside_mm", "Ring, inside", derived=pendant.INSIDE)
        add.number("fit.bail.wire_mm", "Ring, wire", derived=pendant.WIRE)
        add.number("fit.bail.chain_end_mm", "Chain's end")
        add.choice("fit.bail.place", "Ring stands", list(pendant.PLACES.items()))
        add.number("fit.bail.height_mm", "Ring above foot", derived=pendant.HEIGHT)
        add.number(f"{_BAIL}.opening_mm", "Bought bail, opening")
        add.number(f"{_BAIL}.wire_mm", "Through the ring")
        add.number(f"{_BAIL}.mass_g", "Bail weighs", "g")
        add.choice(f"{_BAIL}.joint", "Bail closed", [(joint, joint.capitalize()) for joint in pendant.BAIL_JOINTS])
        self._unhang = QPushButton("No pendant", add)
        self._unhang.clicked.connect(lambda: self._session.patch({"fit": None}, "No pendant"))
        add.column.addWidget(self._unhang)

    def build_old_slot(self) -> None:
        """What an old head has left."""
        add = self._station
        add.number(_SLOT, "Slot, inside")
        add.number("fit.slot.outside_mm", "Slot, outside")
        add.number("fit.slot.left_mm", "Left end, height")
        add.number("fit.slot.right_mm", "Right end, height")

    @property
    def hangs(self) -> bool:
        """Whether the job is a pendant."""
        return str(value_at(self._session.document, "fit.method")) == PENDANT

    def typed(self, path: str, text: str) -> bool:
        """An old slot without its width is no slot; whether that was meant here."""
        if path == _SLOT and not text.strip():
            self._session.patch({"fit": {"slot": None}}, "No old slot")
            return True
        if path == f"{_BAIL}.opening_mm" and not text.strip():
            self._session.patch({"fit": {"bail": {"bought": None}}}, "No bought bail")
            return True
        return False

    def chosen(self, path: str, value: object) -> bool:
        """A ring that the stone hides has neither a height of its own nor a bail; whether that was meant here."""
        if path != _PLACE:
            return False
        bail = value_at(self._session.document, "fit.bail") or {}
        dropped = ("height_mm", "bought") if value == pendant.BEHIND else ()
        change = {"place": value, **{name: None for name in dropped if name in bail}}
        self._session.patch({"fit": {"bail": change}}, "Ring's place")
        return True

    def refresh(self) -> None:
        """Show what the method reads; say what decides the height."""
        station, document = self._station, self._session.document
        sized, hangs = bool(value_at(document, "shank.size")), self.hangs
        method = str(value_at(document, "fit.method") or FitJob.method)
        style = str(value_at(document, "head.style") or HeadJob.style)
        station.choices["fit.method"].offer([(key, METHODS[key].LABEL) for key in fits_of(style)])
        station.choices["fit.method"].show_value(method)
        read = METHODS[method].FIELDS if method in METHODS else ()
        for name in ("below_ring_mm", "split_mm", "let_mm"):
            station.numbers[f"fit.{name}"].setVisible(sized and name in read)
        station.choices["fit.hole"].setVisible(sized and "hole" in read)
        station.numbers["head.peg_mm"].setVisible(sized and method == "peg")
        behind = value_at(document, _PLACE) == pendant.BEHIND
        for name in ("inside_mm", "wire_mm", "chain_end_mm"):
            station.numbers[f"fit.bail.{name}"].setVisible(hangs)
        station.numbers["fit.bail.height_mm"].setVisible(hangs and not behind)
        station.choices[_PLACE].setVisible(hangs)
        station.choices[_PLACE].show_value(value_at(document, _PLACE) or pendant.ABOVE)
        bail = value_at(document, _BAIL) is not None
        station.numbers[f"{_BAIL}.opening_mm"].setVisible(hangs and not behind)
        for name in ("wire_mm", "mass_g"):
            station.numbers[f"{_BAIL}.{name}"].setVisible(hangs and bail)
        station.choices[f"{_BAIL}.joint"].setVisible(hangs and bail)
        if bail:
            station.choices[f"{_BAIL}.joint"].show_value(value_at(document, f"{_BAIL}.joint") or pendant.PINCHED)
        slot = value_at(document, "fit.slot") is not None
        station.numbers[_SLOT].setVisible(sized and method == "inset")
        for name in ("outside_mm", "left_mm", "right_mm"):
            station.numbers[f"fit.slot.{name}"].setVisible(sized and slot)
        if slot or value_at(document, "shank.resized_from"):
            station.folds["A ring that exists already"].open()
        self._lowest.setVisible(sized)
        self._hang.setVisible(not sized and not hangs)
        self._unhang.setVisible(hangs)
        self._tell_height(sized)
        usual = BailJob()
        station.numbers["fit.bail.inside_mm"].edit.setPlaceholderText(f"{usual.inside_mm:g}")
        station.numbers["fit.bail.wire_mm"].edit.setPlaceholderText(f"{usual.wire_mm:g}")

    def _tell_height(self, sized: bool) -> None:
        plan, numbers = self._session.plan, self._station.numbers
        if value_at(self._session.document, "fit.height") == LOWEST and "fit.height" not in self._session.drafts:
            stands = (
                ""
                if plan is None or fitting.PLANE_ABOVE_FINGER not in plan.figures
                else (plan.figures[fitting.PLANE_ABOVE_FINGER].text(unit=False))
            )
            numbers["fit.height"].show_value("", stands)
        ranked = [] if plan is None else sorted(plan.conditions.items(), key=lambda pair: -pair[1])
        self._decided.setVisible(sized and bool(ranked))
        if ranked:
            more = ""
            apart = ranked[0][1] - ranked[1][1] if len(ranked) > 1 else 0.0
            if apart >= _TELLS_MM and ranked[0][0] in (CULET, GALLERY, SAWN):
                more = f"; {_DECIDES[ranked[1][0]]} would let it {apart:.2f} mm lower"
            self._decided.setText(f"{_DECIDES[ranked[0][0]].capitalize()} decides the height{more}.")
