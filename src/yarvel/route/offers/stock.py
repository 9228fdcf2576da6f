"""Stock brought to its section: one rod for all wires, one bar for the band. Runs after whoever takes them."""

from __future__ import annotations

from msgspec.structs import replace

from yarvel.figures.lookup import first_of
from yarvel.operations.lot import BAR
from yarvel.operations.operation import Operation
from yarvel.route.drawing import down_text, drawn, rolled_from
from yarvel.route.offer import Offers


def offer(offers: Offers) -> None:
    """Wires that are drawn for several parts are drawn in one go; what is rolled says how."""
    drawing = [operation for operation in offers.operations if operation.kind.key == "draw-wire"]
    if drawing:
        _one_rod(offers, drawing)
    for place, one in enumerate(offers.operations):
        if one.kind.key == "roll" and "shank" in one.on:
            bar = first_of(
                lot for cut in offers.operations for lot in cut.takes if lot.form == BAR and lot.part in one.on
            )
            down = rolled_from(offers.plan, bar)
            offers.operations[place] = replace(one, text=down_text(down), count=max(len(down.passes), 1))


def _one_rod(offers: Offers, drawing: list[Operation]) -> None:
    taken = tuple(lot for drawing_operation in drawing for lot in drawing_operation.takes)
    down = drawn(offers.plan, taken)
    if down is None:
        return
    first = first_of(place for place, operation in enumerate(offers.operations) if operation is drawing[0])
    figures = tuple(dict.fromkeys(key for drawing_operation in drawing for key in drawing_operation.figures))
    together = replace(
        drawing[0],
        key="draw-wire-wires",
        on=tuple(dict.fromkeys(name for drawing_operation in drawing for name in drawing_operation.on)),
        text=down_text(down),
        figures=figures,
        count=sum(len(drawn_wire.passes) for drawn_wire in down.drawn),
        takes=taken,
        stands_for=tuple(drawing_operation.key for drawing_operation in drawing),
    )
    offers.operations = [operation for operation in offers.operations if operation.kind.key != "draw-wire"]
    offers.operations.insert(first, together)
