"""What the drawer holds for the stone in hand: heads and ready mounts, tubes and bezels, or a pendant's bails; and what
making a head by hand takes."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from yarvel.figures.errors import JobError
from yarvel.figures.figure import format_number
from yarvel.figures.rules import HouseRules
from yarvel.heads import bought, notches, tube, wire_basket
from yarvel.heads.claws import CLAW
from yarvel.heads.rings import lower_ring_wire_length_mm, upper_ring_wire_length_mm
from yarvel.metals.alloys import head_mass_g
from yarvel.planning.documents import Document
from yarvel.planning.job import Job, StoneJob, from_document, merge_patch, to_document
from yarvel.planning.match import RESIZED_FROM_MM, Column, match, same_outline, why
from yarvel.planning.match_bails import WIDER, match_bails, takes_bail, why_bail
from yarvel.planning.match_tubes import match_tubes, why_tube
from yarvel.planning.plan import plan
from yarvel.planning.weighing import weighed
from yarvel.shanks.sizes import inside_diameter_mm
from yarvel.workshop.drawer.stock import BAIL, BEZEL, HEAD, MOUNT, NOTCHED, SEATED, TUBE, StockItem
from yarvel.workshop.drawer.stock_columns import bails_of, heads_of, is_tube, tubes_of

Columns = tuple[tuple[str, str], ...]
_OF_HEADS: Columns = (
    ("kind", "Kind"),
    ("size_mm", "Made for"),
    ("claws", "Claws"),
    ("claw_mm", "Claw wire"),
    ("tall", "Height"),
    ("quantity", "Held"),
    ("price", "Price"),
    ("verdict", "Verdict"),
    ("notch", "Notch"),
    ("culet", "Under the culet"),
    ("trim", "Trim"),
    ("covered", "Hides"),
    ("why", "Why"),
)
_OF_TUBES: Columns = (
    ("kind", "Kind"),
    ("size_mm", "Outside"),
    ("wall_mm", "Wall"),
    ("height_mm", "Height"),
    ("quantity", "Held"),
    ("price", "Price"),
    ("verdict", "Verdict"),
    ("lip", "Rim"),
    ("ledge", "Ledge"),
    ("why", "Why"),
)

_OF_BAILS: Columns = (
    ("size_mm", "Opening"),
    ("thickness_mm", "Through ring"),
    ("mass_g", "Weighs, g"),
    ("state", "Joint"),
    ("quantity", "Held"),
    ("price", "Price"),
    ("verdict", "Verdict"),
    ("chain", "Chain room"),
    ("ring", "Ring room"),
    ("why", "Why"),
)


class Ranking(Struct, frozen=True, kw_only=True):
    """Things judged: ``places`` their positions in the drawer's list, all else in the same order.

    ``other_metal`` tells those that are not of the job's metal: they come after their equals. ``told`` gives what is
    said in a column of a row; ``what`` is being ranked, for people.
    """

    places: tuple[int, ...]
    other_metal: tuple[bool, ...]
    cost: Column
    columns: Columns
    told: Callable[[int, str], str]
    what: str

    def order(self) -> list[int]:
        """Positions in the drawer's list, the best first."""
        rows = np.lexsort((np.array(self.other_metal), np.round(self.cost, 6)))
        return [self.places[row] for row in rows.tolist()]

    def row_of(self) -> dict[int, int]:
        """Row of the matches by position in the drawer's list."""
        return {place: row for row, place in enumerate(self.places)}

    @property
    def judged(self) -> set[str]:
        """Columns that are said of a match, not of the thing."""
        return {name for name, _ in self.columns} & _JUDGED


BAILS = "bails"
_JUDGED = {"verdict", "notch", "culet", "trim", "covered", "why", "lip", "ledge", "chain", "ring"}


def rank(job: Job, rules: HouseRules, items: list[StockItem], kind: str = "") -> Ranking | None:
    """Judge what is for the stone in hand: tubes and bezels where the head is to be one, else heads and mounts of its
    outline; bails where that is the ``kind`` that is looked at; None where there are none, or nothing of that kind is
    ever ranked."""
    try:
        if kind == BAIL:
            return _bails(job, rules, items)
        if kind and kind not in (HEAD, MOUNT, TUBE, BEZEL):
            return None
        return _tubes(job, rules, items) if job.head.style == tube.STYLE else _heads(job, rules, items)
    except JobError:
        return None


def _heads(job: Job, rules: HouseRules, items: list[StockItem]) -> Ranking | None:
    kin = same_outline(job.stone.cut)
    places = _places(items, lambda item: item.kind in (HEAD, MOUNT) and (item.cut or StoneJob.cut) in kin)
    if not places:
        return None
    heads = [items[place] for place in places]
    ranking = match(job, rules, heads_of(heads))

    def told(row: int, name: str) -> str:
        if name == "why":
            return why(ranking, row, rules)
        if name == "covered":
            return f"{ranking.covered[row] * 100:.0f} %"
        if name == "verdict":
            return str(ranking.verdict[row])
        value = {"notch": ranking.notch_ratio, "culet": ranking.culet_clearance, "trim": ranking.trim}[name][row]
        return format_number(float(value), 2)

    return Ranking(
        places=places,
        other_metal=_others(job, heads),
        cost=ranking.cost,
        columns=_OF_HEADS,
        told=told,
        what="heads and mounts",
    )


def _told_by(
    verdict: NDArray[np.str_], why: Callable[[int], str], values: Mapping[str, Column]
) -> Callable[[int, str], str]:
    """What is said of a row under a name: the verdict, why, or one of the values in mm, nothing where it is unknown."""

    def told(row: int, name: str) -> str:
        if name == "why":
            return why(row)
        if name == "verdict":
            return str(verdict[row])
        value = float(values[name][row])
        return "" if math.isnan(value) else format_number(value, 2)

    return told


def _tubes(job: Job, rules: HouseRules, items: list[StockItem]) -> Ranking | None:
    places = _places(items, is_tube)
    if not places:
        return None
    tubes_kept = [items[place] for place in places]
    ranking = match_tubes(job, rules, tubes_of(tubes_kept))
    reason_of = _told_by(
        ranking.verdict, lambda row: why_tube(ranking, row, rules), {"lip": ranking.lip, "ledge": ranking.ledge}
    )
    return Ranking(
        places=places,
        other_metal=_others(job, tubes_kept),
        cost=ranking.cost,
        columns=_OF_TUBES,
        told=reason_of,
        what="tubes and bezels",
    )


def _bails(job: Job, rules: HouseRules, items: list[StockItem]) -> Ranking | None:
    places = _places(items, lambda item: item.kind == BAIL)
    if not places or not takes_bail(job):
        return None
    bails_kept = [items[place] for place in places]
    ranking = match_bails(job, rules, bails_of(bails_kept))
    rooms = {"chain": ranking.chain_room, "ring": ranking.ring_room}
    reason_of = _told_by(ranking.verdict, lambda row: why_bail(ranking, row, rules), rooms)
    return Ranking(
        places=places,
        other_metal=_others(job, bails_kept),
        cost=ranking.cost,
        columns=_OF_BAILS,
        told=reason_of,
        what=BAILS,
    )


def bail_patch(item: StockItem, job: Job, rules: HouseRules) -> Document:
    """The merge patch that hangs the job's pendant by a bail from the drawer; its ring as wide as that needs."""
    ranking = match_bails(job, rules, bails_of([item]))
    bought_bail = {"opening_mm": item.size_mm, "wire_mm": item.thickness_mm, "mass_g": item.mass_g}
    bail: Document = {"bought": {**bought_bail, "joint": item.state or None}}
    if ranking.verdict[0] == WIDER:
        bail["inside_mm"] = float(ranking.ring_mm[0])
    return {"fit": {"bail": bail}}


def _places(items: list[StockItem], wanted: Callable[[StockItem], bool]) -> tuple[int, ...]:
    return tuple(place for place, item in enumerate(items) if wanted(item))


def _others(job: Job, items: list[StockItem]) -> tuple[bool, ...]:
    return tuple(item.metal != job.head.metal for item in items)


_AS_SOLD = (
    "made_for_width_mm",
    "label_ct",
    "claws",
    "claw_mm",
    "opening_mm",
    "height_mm",
    "height_tip_mm",
    "foot_mm",
    "rail_mm",
)
"""What a job says of a bought head by the same names as the drawer."""


def patch_for(item: StockItem, document: Document, style: Callable[[str], Document]) -> Document:
    """The merge patch that makes something from the drawer the job's: a head, a mount with its ring, a tube or a bezel.
    ``style`` gives the patch that changes the head's style."""
    metal = {"metal": item.metal} if item.metal else {}
    if item.kind in (TUBE, BEZEL):
        patch = style(tube.STYLE)
        patch["head"] |= {
            "outside_mm": item.size_mm,
            "wall_mm": item.wall_mm,
            "notch_ratio": None,
            "height_mm": item.height_mm if item.kind == BEZEL else None,
            "seated": item.state == SEATED or None,
            **metal,
        }
        return patch
    patch = style(bought.STYLE)
    patch["head"] |= {
        "made_for_mm": item.size_mm,
        **{name: getattr(item, name) for name in _AS_SOLD},
        "notched": item.state == NOTCHED or None,
        "trim_mm": None,
        "exists": item.kind == MOUNT or None,
        **metal,
    }
    if item.kind == MOUNT:
        patch["shank"] = {**_ring_of(item, document.get("shank")), **metal}
        patch["fit"] = {**dict.fromkeys(document.get("fit") or {}), "method": "on-flat", "height": "lowest"}
    return patch


def _ring_of(item: StockItem, shank: Document | None) -> Document:
    """The ring of a mount: it exists, and is resized where the job asks for another size."""
    assert item.inside_mm is not None
    own = {"system": "mm", "value": f"{item.inside_mm:g}"}
    ring: Document = {
        **{name: None for name in shank or {} if name not in ("size", "profile", "metal")},
        "exists": True,
        "width_mm": item.width_mm,
        "thickness_mm": item.thickness_mm,
    }
    size = (shank or {}).get("size")
    if size is None:
        return {**ring, "size": own}
    wanted = inside_diameter_mm(size["system"], size["value"])
    return {**ring, "resized_from": own if abs(wanted - item.inside_mm) > RESIZED_FROM_MM else None}


_OF_BOUGHT = tuple(name for name in bought.FIELDS if name not in (*wire_basket.FIELDS, "claws"))


def by_hand(job: Job, rules: HouseRules) -> str:
    """What it takes to make a basket by hand for the same stone, in one line; nothing where it cannot be."""
    if job.head.style == tube.STYLE:
        return ""
    patch: Document = {
        "head": {
            "style": wire_basket.STYLE,
            **dict.fromkeys(_OF_BOUGHT),
            "claw_mm": None,
            "notch_ratio": None,
            "exists": None,
        }
    }
    try:
        plan_made = plan(from_document(merge_patch(to_document(job), patch)), rules, samples=0)
    except JobError:
        return ""
    plan_made = weighed(plan_made)
    rings = sum(
        plan_made[key] for key in (upper_ring_wire_length_mm, lower_ring_wire_length_mm) if key in plan_made.figures
    )
    return (
        f"By hand: notch {plan_made.figures[notches.notch_ratio].text()}, "
        f"{plan_made.figures[head_mass_g].text()} of metal, {len(plan_made.joints)} joints, "
        f"claw wire {plan_made[CLAW]:.2f} mm, ring wire {rings:.0f} mm long."
    )
