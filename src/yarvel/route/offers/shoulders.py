"""Small rounds in the shoulders: marked, drilled, seated, held; flush, in bezels carved out of the band, or in little
ones let into it."""

from __future__ import annotations

from yarvel.operations.stone_state import BEARING, SHOULDERS
from yarvel.route import lots
from yarvel.route.offer import FIT, SEAT, SET, SHANK, Offers
from yarvel.shanks import shoulders
from yarvel.shanks.shoulders import BEZEL, CARVED, FLUSH

RING = ("shank",)
BEZELS = "bezels"


def offer(offers: Offers) -> None:
    """Nothing without them, or on a ring that is there."""
    shank, figures = offers.plan.job.shank, offers.plan.figures
    if shank is None or shank.shoulder is None or shoulders.first_mm not in figures or offers.exists:
        return
    many, setting = 2 * round(offers.plan[shoulders.COUNT]), shank.shoulder.setting
    _drilled(offers, setting, many)
    text = "Setting bur of {shoulder.diameter}: sink it {shoulder.sink}, its teeth just hidden seen from the side."
    if setting == BEZEL:
        _bezels(offers, shank.metal, many)
        text = "Cut a seat of {shoulder.sink} into every little bezel."
    elif setting == CARVED:
        _carved(offers, many)
        text = "Cut a seat of {shoulder.sink} into every carved bezel."
    _set(offers, setting, many, text)


def _drilled(offers: Offers, setting: str, many: int) -> None:
    """Marked and drilled, whatever they are set in."""
    offers.add(
        "mark-out",
        "shoulders",
        RING,
        "Mark the middles {shoulder.first} from the ring's middle on both sides, then every {shoulder.pitch}."
        + (" Scribe a circle of {shoulder.outer} round each." if setting == CARVED else ""),
        "both shoulders alike, a dimple at every middle",
        stage=SHANK,
        after=("round-up-shank", "check-size-shank", "file-to-shape-shank", "bend-to-shape-shank"),
    )
    offers.add(
        "drill",
        "shoulders",
        RING,
        "Drill {shoulder.pilot} at every middle.",
        "square to the band",
        stage=SHANK,
        count=many,
        after=("mark-out-shoulders",),
        off={RING[0]: offers.volumes.get("bored", 0.0)},
    )


def _set(offers: Offers, setting: str, many: int, text: str) -> None:
    """Seats cut, as ``text`` tells, and the metal pushed over."""
    offers.add(
        "countersink",
        "shoulders",
        RING,
        text,
        "every small round lies level in its seat",
        place=SHOULDERS,
        seat=BEARING,
        stage=SEAT,
        count=many,
        after=("drill-shoulders", "carve-bezels-shoulders", "pickle-bezels", "pickle-head-to-shank"),
        off={RING[0]: offers.volumes.get("small seats", 0.0)}
        | ({BEZELS: offers.volumes.get("bezels' seats", 0.0)} if setting == BEZEL else {}),
    )
    offers.add(
        "push-edge",
        "shoulders",
        RING,
        "Push the edge over all round with a polished point."
        if setting == FLUSH
        else "Press every little rim over all round.",
        "no small round turns under the point",
        place=SHOULDERS,
        stage=SET,
        count=many,
        after=("countersink-shoulders",),
    )


def _carved(offers: Offers, many: int) -> None:
    """Walls out of the solid: cuts from both sides between them, the ground down round them, a step to the head."""
    sides = "Saw in from both edges between the bezels, {shoulder.side_cut} each, {shoulder.neck} left between; "
    between = sides if shoulders.side_cut_mm in offers.plan.figures else ""
    rest = "file the ground down by {shoulder.cut_down} round every scribed circle, with a step of the same to the head"
    text = f"{between}{rest if between else rest.capitalize()}; {{shoulder.left_under}} of the band stays under it."
    offers.add(
        "carve-bezels",
        "shoulders",
        RING,
        text,
        "every wall round and upright, both shoulders alike",
        stage=SHANK,
        count=many,
        after=("drill-shoulders",),
        off={RING[0]: offers.volumes.get("carved", 0.0)},
    )


def _bezels(offers: Offers, metal: str, many: int) -> None:
    """Little bezels of tube, let in and soldered before the head."""
    if shoulders.bezel_outer_mm not in offers.plan.figures:
        return
    plan = offers.plan
    wall, outer, long = (
        plan[key] for key in (shoulders.tube_wall_mm, shoulders.bezel_outer_mm, shoulders.tube_length_mm)
    )
    stock = lots.tube(plan, "Little bezels", BEZELS, metal, outer, wall, long, many)
    volumes = offers.volumes
    offers.stock("bezels", metal=metal, shape="tube")
    offers.add(
        "cut-length",
        "bezels",
        ("bezels",),
        "Little bezels of {shoulder.outer}: cut {shoulder.tube_length} each of tube, wall {shoulder.wall}; open the "
        "holes to them and let them in by {shoulder.let}.",
        "no gap round them",
        stage=FIT,
        count=many,
        after=("drill-shoulders",),
        takes=(stock,),
        leaves={(BEZELS,): volumes["bezels"] + volumes["bezels' seats"]} if volumes.get("bezels") else {},
    )
    offers.solder(BEZELS, "bezels", ("shank", "bezels"), stage=FIT, after=("cut-length-bezels", "round-up-shank"))
