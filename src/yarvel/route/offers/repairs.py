"""Repairs that keep the head: tightened, tips renewed, claws renewed, claw by claw as they were found."""

from __future__ import annotations

from collections.abc import Iterable

from yarvel.heads import claws
from yarvel.heads.wear import FINDINGS, judge_claw
from yarvel.heads.wear import NEW_CLAW as WANTS_CLAW
from yarvel.heads.wear import RE_TIP as WANTS_TIP
from yarvel.heads.wear import TIGHTEN as WANTS_TIGHTENING
from yarvel.operations.stone_state import ABSENT
from yarvel.planning.job import NEW_CLAWS, RE_TIP, TIGHTEN, RepairJob
from yarvel.planning.repair import claw_width_mm, decides
from yarvel.route import lots
from yarvel.route.offer import MEND, SET, STOCK, TAKE_IN, Offers
from yarvel.route.offers.existing import OLD

_TIP_SHARE = 0.15
"""Metal of a new tip, share of a claw's; from memory."""
_TIP_CUT = 2.0
"""A piece of wire for a tip is cut this many times as long as the claw is wide; from memory."""


def offer(offers: Offers) -> None:
    """Nothing where nothing is mended; what came in is charted first, whatever the way."""
    repair = offers.plan.job.repair
    if repair is None or not offers.plan.job.way:
        return
    offers.add(
        "chart-wear",
        "head",
        (offers.grip,) if offers.head_there else (OLD,),
        f"Photograph and chart every claw; write the cause before anything is touched. {charted_text(repair)}",
        "front, side and straight down",
        stage=TAKE_IN,
    )
    way = offers.plan.job.way
    if way == TIGHTEN:
        _tighten(offers)
    if way == NEW_CLAWS:
        _claws(offers)
    if way == RE_TIP or (way == NEW_CLAWS and wanted(offers, WANTS_TIP)):
        _tips(offers)
    if way in (RE_TIP, NEW_CLAWS):
        _straightened(offers)


def charted_text(repair: RepairJob) -> str:
    """What was found, claw by claw."""
    lines = [
        f"claw {number}: {', '.join(FINDINGS[key] for key in findings)}"
        for number, findings in sorted(repair.claws.items(), key=lambda pair: int(pair[0]))
    ]
    return f"Found: {'; '.join(lines)}." if lines else "Nothing was found on the claws."


def wanted(offers: Offers, work: str) -> list[str]:
    """Numbers of the claws that ask for this work by what was found on them."""
    repair = offers.plan.job.repair
    if repair is None:
        return []
    width = claw_width_mm(offers.plan)
    rules = offers.plan.rules
    heaviest = {
        number: judge_claw(decides(findings, width, rules), width, rules).work
        for number, findings in repair.claws.items()
    }
    return [number for number in sorted(heaviest, key=int) if heaviest[number] == work]


def _named(numbers: Iterable[str]) -> str:
    claw_numbers = list(numbers)
    return f"claw{'s' if len(claw_numbers) > 1 else ''} {', '.join(claw_numbers)}"


def _straightened(offers: Offers) -> None:
    """Bent claws, while the stone is out."""
    numbers = wanted(offers, WANTS_TIGHTENING)
    if numbers:
        offers.add(
            "straighten-claws",
            "bent",
            (offers.grip,),
            f"Straighten {_named(numbers)} while the stone is out; ease nothing that holds.",
            "upright, as the others from every side",
            stage=MEND,
            after=("pickle-tips", "pickle-new-claws"),
        )


def _tighten(offers: Offers) -> None:
    head = (offers.grip,)
    numbers = wanted(offers, WANTS_TIGHTENING) or ["all"]
    offers.add(
        "clean-up",
        "head",
        head,
        f"Clean first: dirt under the {offers.words.edge} feels like a tight stone.",
        "at eye level, front and side: which side sits low",
        stage=MEND,
        after=("chart-wear-head",),
    )
    if offers.heats:  # the stone comes out for another reason, and every claw is closed anew
        return
    offers.add(
        "close-claws",
        "tighten",
        head,
        f"Tighten {_named(numbers)}: ease nothing that holds, a little on each in turn; those across take part.",
        f"no light between claw and {offers.words.side}; the stone does not tick under the nail; a thread does not "
        "catch",
        stage=SET,
        count=len(numbers),
        after=("clean-up-head",),
    )


def _tips(offers: Offers) -> None:
    plan, head = offers.plan, (offers.grip,)
    numbers = wanted(offers, WANTS_TIP) or ["1"]
    count, width = len(numbers), claw_width_mm(plan)
    offers.stock("tips", metal=metal_of(offers), facts=("cut",))
    stock = lots.wire(plan, "New tips", "tips", width, _TIP_CUT * width, count, metal=metal_of(offers))
    offers.add(
        "cut-length",
        "tips",
        ("tips",),
        f"New tips for {_named(numbers)}: {width:.2f} mm wire of the same metal, as wide as the others.",
        "of one length",
        stage=STOCK,
        count=count,
        takes=(stock,),
    )
    offers.add(
        "file-to-shape",
        "tips",
        head,
        f"File {_named(numbers)} bright where the tip goes.",
        "bright metal, square to the claw",
        stage=MEND,
    )
    _joined(offers, "tips", ("head", "tips"), count, ("cut-length-tips", "file-to-shape-tips"))
    stays = _TIP_SHARE * offers.volumes["claws"] / max(len(plan.shape.places), 1) * count if offers.volumes else 0.0
    offers.add(
        "file-to-shape",
        "new-tips",
        ("tips",),
        "File the new tips to match the others.",
        "the same width and height as their neighbours",
        stage=MEND,
        after=("pickle-tips",),
        leaves={("tips",): stays} if offers.volumes else {},
    )


def _claws(offers: Offers) -> None:
    plan, head = offers.plan, (offers.grip,)
    numbers = wanted(offers, WANTS_CLAW) or ["1"]
    count, width = len(numbers), claw_width_mm(plan)
    offers.stock("new claws", metal=metal_of(offers), facts=("cut",))
    length = plan[claws.claw_length_mm] if claws.claw_length_mm in plan.figures else plan.shape.height_mm + 2 * width
    stock = lots.wire(plan, "New claws", "new claws", width, length, count, metal=metal_of(offers))
    old = offers.volumes["claws"] / max(len(plan.shape.places), 1) * count if offers.volumes else 0.0
    offers.add(
        "saw-off-stays",
        "old-claws",
        head,
        f"Saw out {_named(numbers)} at the gallery; file each notch true.",
        "bright, the width of the wire, no play",
        stage=MEND,
        count=count,
        gives=lots.back("Old claws", lots.wire(plan, "Old claws", "head", width, length, count), old, count),
    )
    offers.add(
        "cut-length",
        "new-claws",
        ("new claws",),
        f"New claws: {width:.2f} mm wire of the same metal, a touch long.",
        "fitted without play before any solder",
        stage=MEND,
        count=count,
        takes=(stock,),
        after=("saw-off-stays-old-claws",),
    )
    _joined(offers, "new-claws", ("head", "new claws"), count, ("cut-length-new-claws", "saw-off-stays-old-claws"))
    offers.add(
        "file-to-shape",
        "new-claws",
        ("new claws",),
        "File the new claws to match the old ones, tops level with them.",
        "straight down: evenly spaced, of one height",
        stage=MEND,
        after=("pickle-new-claws",),
        leaves={("new claws",): old} if offers.volumes else {},
    )


def _joined(offers: Offers, target: str, on: tuple[str, str], count: int, after: tuple[str, ...]) -> None:
    """New metal on an old head: by the easiest solder, the old joints shielded, pickled and looked at."""
    offers.add(
        "solder",
        target,
        on,
        f"Easy solder, easier than every joint that stays; {count} joint{'s' if count > 1 else ''}. Old solder is not "
        "known: test, shield those next to it, hold everything so that spacing and height cannot move.",
        "run through, no pit, no gap, under the loupe",
        stage=MEND,
        count=count,
        makes=("joined",),
        after=after,
        takes=(lots.solder(offers.plan, on[1], metal_of(offers), "easy", count),),
    )
    offers.add(
        "pickle",
        target,
        on,
        "Quench, pickle, look at every joint under the loupe.",
        stage=MEND,
        after=(f"solder-{target}",),
    )


def metal_of(offers: Offers) -> str:
    """The metal as tested, or the head's."""
    repair = offers.plan.job.repair
    return offers.plan.job.head.metal if repair is None or repair.metal is None else repair.metal


def stones_out(offers: Offers) -> None:
    """A stone that came in the piece comes out before any torch, once its claws are charted; runs last."""
    job = offers.plan.job
    if job.stone.state == ABSENT or not offers.heats:
        return
    part = "head" if offers.head_there else OLD if OLD in offers.parts else "shank"
    offers.before_heat(
        "take-stone-out",
        "stone",
        (part,),
        out_text(offers),
        f"no chip on the {offers.words.edge}; its papers and its bag are marked",
        stage=TAKE_IN,
        after=("chart-wear-head", "measure-part-old-head"),
    )


def out_text(offers: Offers) -> str:
    """Which stones come out, and why."""
    from yarvel.planning.repair import before_heat

    return before_heat(offers.plan)
