"""Small rounds in the shoulders: marked, drilled, seated, held; flush, or in little bezels let into the band."""

from __future__ import annotations

from yarvel.operations.stone_state import BEARING, SHOULDERS
from yarvel.route import lots
from yarvel.route.offer import FIT, SEAT, SET, SHANK, Offers
from yarvel.shanks import shoulders
from yarvel.shanks.shoulders import FLUSH

RING = ("shank",)
BEZELS = "bezels"


def offer(offers: Offers) -> None:
    """Nothing without them, or on a ring that is there."""
    shank, figures = offers.plan.job.shank, offers.plan.figures
    if shank is None or shank.shoulder is None or shoulders.first_mm not in figures or offers.exists:
        return
    many = 2 * round(offers.plan[shoulders.COUNT])
    offers.add(
        "mark-out",
        "shoulders",
        RING,
        "Mark the middles {shoulder.first} from the ring's middle on both sides, then every {shoulder.pitch}.",
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
    )
    if shank.shoulder.setting == FLUSH:
        text = "Setting bur of {shoulder.diameter}: sink it {shoulder.sink}, its teeth just hidden seen from the side."
    else:
        _bezels(offers, shank.metal, many)
        text = "Cut a seat of {shoulder.sink} into every little bezel."
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
        after=("drill-shoulders", "pickle-bezels", "pickle-head-to-shank"),
    )
    offers.add(
        "push-edge",
        "shoulders",
        RING,
        "Push the edge over all round with a polished point."
        if shank.shoulder.setting == FLUSH
        else "Press every little rim over all round.",
        "no small round turns under the point",
        place=SHOULDERS,
        stage=SET,
        count=many,
        after=("countersink-shoulders",),
    )


def _bezels(offers: Offers, metal: str, many: int) -> None:
    """Little bezels of tube, let in and soldered before the head."""
    if shoulders.bezel_outer_mm not in offers.plan.figures:
        return
    plan = offers.plan
    lip, outer = plan.rules.shoulder_lip_mm, plan[shoulders.bezel_outer_mm]
    stock = lots.tube(plan, "Little bezels", "bezels", metal, outer, lip, plan[shoulders.sink_mm] + lip + 1.0, many)
    offers.stock("bezels", metal=metal, shape="tube")
    offers.add(
        "cut-length",
        "bezels",
        ("bezels",),
        "Little bezels of {shoulder.outer}: cut them from tube, let them into the band.",
        "no gap under their rims",
        stage=FIT,
        count=many,
        after=("drill-shoulders",),
        takes=(stock,),
    )
    offers.solder(BEZELS, "bezels", ("shank", "bezels"), stage=FIT, after=("cut-length-bezels", "round-up-shank"))
