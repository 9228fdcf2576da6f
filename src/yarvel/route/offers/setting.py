"""The seat and the stone: levelled, scribed, cut, tried; the stone in, level, held by the school."""

from __future__ import annotations

from yarvel.planning.closing import tips_text
from yarvel.planning.compute import species_of
from yarvel.route.offer import CLEAN, SEAT, SET, Offers


def offer(offers: Offers) -> None:
    """Every head's seat and closing."""
    count, clawed = len(offers.plan.shape.places), bool(offers.plan.shape.places)
    grip = (offers.grip,)
    ready = (
        "pickle-head-to-shank",
        "saw-claws-collet",
        "pickle-hanging-ring",
        "look-three-ways-head",
        "look-three-ways-hanging",
    )
    _seat(offers, grip, count, ready)
    stone = species_of(offers.plan.job).label.lower()
    offers.add(
        "clean-up",
        "seat",
        grip,
        "Bur and file marks out.",
        "no burr where the stone will lie",
        stage=CLEAN + SEAT,
        after=("cut-seat-stone",),
    )
    offers.add(
        "seat-stone",
        "stone",
        grip,
        f"Set the {stone} into its seat.",
        "girdle down in every seat, table level",
        stage=SET,
        after=("clean-up-seat",),
    )
    if clawed:
        _claws(offers, grip, count)
    else:
        _rim(offers, grip)


def _seat(offers: Offers, grip: tuple[str, ...], count: int, ready: tuple[str, ...]) -> None:
    plan = offers.plan
    tops, along = ("tops", "along the claw") if count else ("rim", "up the wall")
    offers.add(
        "level-tops",
        "head",
        grip,
        f"Level the {tops}.",
        "a plate laid on touches all round",
        stage=SEAT,
        after=ready,
        leaves={offers.head_parts: offers.volumes["raw"]} if offers.volumes else {},
    )
    offers.add(
        "scribe-girdle",
        "head",
        grip,
        f"Dividers to {{seat.line_from_top}}: scribe the girdle's line from the {tops}; it lies "
        f"{{seat.line_from_foot}} from the foot, {along}."
        if "seat.line_from_top" in plan.figures
        else f"Scribe the girdle's line {{seat.line_from_foot}} from the foot, {along}.",
        "one line all round, inside and outside",
        stage=SEAT,
        after=ready,
    )
    _cut(offers, grip, count)


def _cut(offers: Offers, grip: tuple[str, ...], count: int) -> None:
    """Guide, corners, seat; only tried where the head comes with it."""
    plan, cut = offers.plan, "claw" if count else "wall"
    if plan.job.head.seated:
        offers.add(
            "cut-seat",
            "stone",
            grip,
            "The seat comes cut: try the stone in it.",
            "level and without force",
            stage=SEAT,
        )
        return
    offers.add(
        "guide-cut",
        "head",
        grip,
        "First cut {seat.first_cut} at the line, no more.",
        f"the line stands in every {cut}",
        stage=SEAT,
        count=max(count, 1),
    )
    _corners(offers, grip, count)
    offers.add(
        "cut-seat",
        "stone",
        grip,
        "A little at a time to {seat.depth}, the stone offered between; {seat.remaining} stays outside the girdle. "
        "Open it to {seat.opening}.",
        "the stone sits level, no light under the girdle",
        stage=SEAT,
        count=max(count, 1),
        off={grip[0]: max(offers.volumes["raw"] - offers.volumes["head"], 0.0)} if offers.volumes else {},
    )
    if "head.gallery_skim" in plan.figures and plan["head.gallery_skim"] > 0.005:
        offers.add(
            "skim-gallery",
            "head",
            grip,
            "Skim the gallery behind each corner by {head.gallery_skim}.",
            "the corners hang in the air",
            stage=SEAT,
            after=("cut-seat-stone",),
        )


def _corners(offers: Offers, grip: tuple[str, ...], count: int) -> None:
    """Relief and keel of every V."""
    plan = offers.plan
    if plan.shape.vees is not None:
        offers.add(
            "relieve-corner",
            "head",
            grip,
            "Free every corner: relief of {head.relief_hole}, {head.left_behind_relief} stays behind it.",
            "light behind the corner, none through it",
            stage=SEAT,
            count=len(plan.shape.vees.places),
        )
        offers.add(
            "clear-keel",
            "head",
            grip,
            "Channel from the corner towards the culet, {head.keel_cut} below the girdle; "
            "{head.left_behind_relief} stays.",
            stage=SEAT,
            count=count,
        )


def _claws(offers: Offers, grip: tuple[str, ...], count: int) -> None:
    plan = offers.plan
    strains = [plan[key] for key in ("head.bend_strain", "head.bend_notch") if key in plan.figures]
    if not set(grip) & offers.heated:
        offers.add("anneal", "claws-before-setting", grip, "Anneal the claws.", stage=SEAT)
    offers.add("thin-tips", "claws", grip, tips_text(plan), stage=SEAT, count=count, after=("cut-seat-stone",))
    offers.add(
        "lean-claws",
        "claws",
        grip,
        "Lean every claw until it just touches, opposite ones in turn.",
        "the stone has not crept to one side",
        stage=SET,
        count=count,
    )
    offers.add(
        "level-stone",
        "stone",
        grip,
        "Low side: ease that claw, tighten the one across.",
        "table level from the front and the side",
        stage=SET,
    )
    folded = plan.shape.vees is not None
    offers.add(
        "fold-vs" if folded else "close-claws",
        "claws",
        grip,
        "Fold the Vs whole over the points, little by little." if folded else "Close them home, round by round.",
        "no light between claw and crown; the stone does not tick under the nail",
        stage=SET,
        count=count,
        strain=min(strains, default=0.0),
    )
    offers.add(
        "round-tips",
        "claws",
        grip,
        "Round the tips against a safe edge.",
        "nothing catches a thread",
        stage=SET,
        count=count,
        after=("close-claws-claws", "fold-vs-claws"),
    )


def _rim(offers: Offers, grip: tuple[str, ...]) -> None:
    offers.add(
        "level-stone",
        "stone",
        grip,
        "Level the stone before the first pressure: a tilted one breaks.",
        "dead level from the front and the side",
        stage=SET,
        after=("seat-stone-stone",),
    )
    offers.add(
        "press-bezel",
        "rim",
        grip,
        "Press the rim at 12, 6, 3 and 9, then between, little by little.",
        "the stone cannot turn",
        stage=SET,
    )
    offers.add("burnish", "rim", grip, "Burnish the rim down to the crown.", "no light under the rim", stage=SET)
