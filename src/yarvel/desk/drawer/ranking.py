"""Bought heads of the drawer against the stone in hand, and against making one by hand."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from yarvel.figures.errors import JobError
from yarvel.figures.rules import HouseRules
from yarvel.heads import bought, notches, wire_basket
from yarvel.heads.claws import CLAW
from yarvel.heads.rings import lower_ring_wire_length_mm, upper_ring_wire_length_mm
from yarvel.metals.alloys import head_mass_g
from yarvel.planning.job import Job, StoneJob, from_document, merge_patch, to_document
from yarvel.planning.match import Matches, Stock, match, same_outline, why
from yarvel.planning.plan import plan
from yarvel.planning.weighing import weighed
from yarvel.workshop.stock import HEAD, StockItem


@dataclass(frozen=True)
class Ranking:
    """Heads judged: ``places`` their positions in the drawer's list, ``matches`` in the same order.

    ``other_metal`` tells those that are not of the job's metal: they come after their equals.
    """

    places: tuple[int, ...]
    other_metal: tuple[bool, ...]
    matches: Matches
    rules: HouseRules

    def order(self) -> list[int]:
        """Positions in the drawer's list, best head first."""
        rows = np.lexsort((np.array(self.other_metal), np.round(self.matches.cost, 6)))
        return [self.places[row] for row in rows.tolist()]

    def row_of(self) -> dict[int, int]:
        """Row of the matches by position in the drawer's list."""
        return {place: row for row, place in enumerate(self.places)}

    def why(self, row: int) -> str:
        """In one sentence, what speaks for or against a head."""
        return why(self.matches, row, self.rules)


def rank(job: Job, rules: HouseRules, items: list[StockItem]) -> Ranking | None:
    """Judge the heads among these items that are made for the stone's outline; None where there are none."""
    kin = same_outline(job.stone.cut)
    places = tuple(place for place, item in enumerate(items) if item.kind == HEAD and (item.cut or StoneJob.cut) in kin)
    if not places:
        return None
    heads = [items[place] for place in places]

    def column(name: str) -> np.ndarray[tuple[int, ...], np.dtype[np.float64]]:
        values = [getattr(head, name) for head in heads]
        return np.array([np.nan if value is None else value for value in values], dtype=float)

    stock = Stock(
        tuple(head.code for head in heads),
        column("size_mm"),
        column("claw_mm"),
        column("claws"),
        column("opening_mm"),
        column("height_mm"),
        tuple(head.cut or StoneJob.cut for head in heads),
        column("made_for_width_mm"),
        column("height_tip_mm"),
        column("foot_mm"),
        column("rail_mm"),
        column("quantity"),
        column("label_ct"),
    )
    try:
        return Ranking(places, tuple(head.metal != job.head.metal for head in heads), match(job, rules, stock), rules)
    except JobError:
        return None


_OF_BOUGHT = tuple(name for name in bought.FIELDS if name not in (*wire_basket.FIELDS, "claws"))


def by_hand(job: Job, rules: HouseRules) -> str:
    """What it takes to make a basket by hand for the same stone, in one line; nothing where it cannot be."""
    try:
        made = plan(
            from_document(
                merge_patch(
                    to_document(job),
                    {
                        "head": {
                            "style": wire_basket.STYLE,
                            **dict.fromkeys(_OF_BOUGHT),
                            "claw_mm": None,
                            "notch_ratio": None,
                        }
                    },
                )
            ),
            rules,
            samples=0,
        )
    except JobError:
        return ""
    made = weighed(made)
    rings = sum(made[key] for key in (upper_ring_wire_length_mm, lower_ring_wire_length_mm) if key in made.figures)
    return (
        f"By hand: notch {made.figures[notches.notch_ratio].text()}, {made.figures[head_mass_g].text()} of metal, "
        f"{len(made.joints)} joints, claw wire {made[CLAW]:.2f} mm, ring wire {rings:.0f} mm long."
    )
