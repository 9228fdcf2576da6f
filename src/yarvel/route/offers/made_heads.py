"""Heads that come in one piece: bought ones, and castings."""

from __future__ import annotations

from yarvel.heads import bought, style
from yarvel.operations.piece import BOUGHT, CASTING
from yarvel.planning.compatibility import goes_uncut
from yarvel.route import lots
from yarvel.route.offer import CLAWS, HEAD, STOCK, TAKE_IN, Offers

WHOLE = ("head",)


def offer(offers: Offers) -> None:
    """A bought head is picked by the stone and trimmed; a casting is cleaned, annealed and its claws curved."""
    if offers.plan.job.way == "new-head-bought" or (offers.comes == style.BOUGHT and offers.makes_head):
        _bought(offers)
    elif offers.comes == style.CAST and offers.makes_head:
        _cast(offers)


def _bought(offers: Offers) -> None:
    job = offers.plan.job
    offers.stock("head", metal=job.head.metal, cast=True, origin=BOUGHT)
    offers.zone(CLAWS, "head")
    offers.add(
        "pick-bought",
        "head",
        WHOLE,
        "Hold the stone over the head: made for {head.made_for}, the stone takes {seat.notch_ratio} of the claw."
        if bought.MADE_FOR in offers.plan.figures
        else "Choose it in the drawer against the stone itself, {stone.depth} deep, before the old head comes out.",
        "claws straight and evenly spaced, no pits",
        stage=TAKE_IN,
        after=("chart-wear-head",),
        takes=(lots.bought(offers.plan, "Bought head", "head", _sold(offers) + _trimmed(offers)),),
    )
    if _trim_mm(offers):
        offers.add(
            "trim-base",
            "head",
            WHOLE,
            "Trim the base by {head.trim} to a height of {head.fixed_height}, foot to seat.",
            "foot level, the base ring still closed",
            stage=HEAD,
            after=("pick-bought-head",),
            off={"head": _trimmed(offers)},
        )


def _cast(offers: Offers) -> None:
    job, rules = offers.plan.job, offers.plan.rules
    volumes = {"head": _sold(offers)}
    if offers.one_piece:
        later = ("shank", "bored", "carved", "small seats")  # a casting is drilled and cut for small rounds afterwards
        volumes["shank"] = sum(offers.volumes.get(name, 0.0) for name in later)
    what = tuple(volumes)
    offers.stock(*what, metal=job.head.metal, cast=True, origin=CASTING)
    offers.zone(CLAWS, "head")
    cast = "the ring, head and band in one," if offers.one_piece else "the head"
    called = "Ring, cast in one piece" if offers.one_piece else "Head, cast"
    share = rules.cast_melt_share
    melts = {part: lots.melt(offers.plan, called, part, share * volume) for part, volume in volumes.items()}
    lost = {part: rules.cast_loss_share * melt.volume_mm3 for part, melt in melts.items()}
    grams = sum(melt.grams for melt in melts.values())
    offers.add(
        "cast-part",
        "head",
        what,
        f"Cast {cast} from {grams:.2f} g of clean metal; sprue and button come back.",
        stage=STOCK,
        takes=tuple(melts.values()),
        gives=tuple(
            back
            for part, melt in melts.items()
            for back in lots.back("Sprue and button", melt, melt.volume_mm3 - lost[part] - volumes[part])
        ),
        off=lost,
    )
    offers.add(
        "clean-up",
        "casting",
        what,
        "Clean up the casting; file the claws to {head.claw}, tips thinner.",
        "no pits at the roots of the claws",
        stage=HEAD,
        after=("cast-part-head",),
    )
    if offers.one_piece:
        offers.add(
            "check-size",
            "shank",
            ("shank",),
            "True the band on the mandrel and file it up. Size: {shank.inside_circumference} round the inside.",
            "no pit in the band, no light between ring and mandrel",
            stage=HEAD,
            after=("clean-up-casting",),
        )
    offers.add(
        "anneal",
        "casting",
        what,
        "Anneal: cast metal is brittle.",
        stage=HEAD,
        after=("clean-up-casting", "check-size-shank"),
    )
    _curved(offers, what)


def _curved(offers: Offers, what: tuple[str, ...]) -> None:
    """Claws curved to the dome; without a notch they are annealed once more, for they are still to be closed."""
    job = offers.plan.job
    offers.add(
        "curve-claws",
        "head",
        (CLAWS,),
        "Curve every claw to about {head.dome_radius}; try one first. Annealed it bears down to "
        "{head.least_bend_radius}.",
        "it lies against the dome along its length",
        stage=HEAD,
        count=len(offers.plan.shape.places),
        after=("anneal-casting",),
    )
    if goes_uncut(job.head):
        offers.add(
            "anneal",
            "claws-again",
            what,
            "Anneal once more: curving has hardened the claws, and they are still to be closed.",
            stage=HEAD,
            after=("curve-claws-head",),
        )


def _sold(offers: Offers) -> float:
    """Metal of the whole head before its seat is cut and before anything is fitted, mm³."""
    return offers.volumes.get("bare", 0.0)


def _trim_mm(offers: Offers) -> float:
    """What is trimmed off the base, as it is told: by the job, or for the height that the seat was asked at."""
    trim = offers.plan.figures.get(bought.trim_mm)
    return 0.0 if trim is None else max(round(float(trim.value), 2), 0.0)


def _trimmed(offers: Offers) -> float:
    """What trimming takes off the foot of the claws, mm³."""
    plan, trim = offers.plan, _trim_mm(offers)
    if not trim or plan.claw_mm is None:
        return 0.0
    return len(plan.shape.places) * lots.round_mm2(plan.claw_mm) * trim
