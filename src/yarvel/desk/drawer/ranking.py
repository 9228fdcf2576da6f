"""Bought heads of the drawer against the stone in hand, and against making one by hand."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from yarvel.figures.errors import JobError
from yarvel.figures.rules import HouseRules
from yarvel.heads import notches, wire_basket
from yarvel.heads.claws import CLAW
from yarvel.heads.notches import made_for_opening_mm
from yarvel.heads.rings import lower_ring_wire_length_mm, upper_ring_wire_length_mm
from yarvel.metals.alloys import head_mass_g
from yarvel.planning.job import Job, from_document, merge_patch, to_document
from yarvel.planning.match import Matches, Stock, match, why, worth_a_look
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
    """Judge the heads among these items; None where there are none, or the stone is not round."""
    places = tuple(place for place, item in enumerate(items) if item.kind == HEAD)
    if not places or not worth_a_look(job):
        return None
    heads = [items[place] for place in places]

    def column(name: str) -> np.ndarray[tuple[int, ...], np.dtype[np.float64]]:
        values = [getattr(head, name) for head in heads]
        return np.array([np.nan if value is None else value for value in values], dtype=float)

    made_for, claw, opening = column("size_mm"), column("claw_mm"), column("opening_mm")
    usual = np.asarray(made_for_opening_mm(made_for, rules.notch_target, claw))
    stock = Stock(
        tuple(head.code for head in heads),
        made_for,
        claw,
        column("claws"),
        np.where(np.isnan(opening), usual, opening),
        column("height_mm"),
    )
    try:
        return Ranking(places, tuple(head.metal != job.head.metal for head in heads), match(job, rules, stock), rules)
    except JobError:
        return None


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
                            "made_for_mm": None,
                            "opening_mm": None,
                            "height_mm": None,
                            "trim_mm": None,
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
