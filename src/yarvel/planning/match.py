"""Bought heads against a stone: all heads of a stock at once, by the same functions that make a plan of one."""

from __future__ import annotations

import numpy as np
from msgspec import Struct
from msgspec.structs import replace
from numpy.typing import NDArray

from yarvel.figures.figure import Ledger, Number, format_number
from yarvel.figures.rules import HouseRules
from yarvel.heads import bought, claws, notches, vees
from yarvel.heads.bought import Bought
from yarvel.heads.places import POINT
from yarvel.heads.style import HeadChoice, StoneFacts, places_of
from yarvel.planning import sampling
from yarvel.planning.checking import check
from yarvel.planning.compute import band_of, facts_of
from yarvel.planning.job import FitJob, Job, usual_claws_of
from yarvel.planning.trimming import Under, clearance, foot_is_sound, most_trim
from yarvel.stones import stone as stones
from yarvel.stones.cuts import CUTS

Column = NDArray[np.float64]
FITS, SMALL, LARGE, LOW, CUT, TIGHT = "fits", "too small", "too large", "too low", "foot cut away", "tight"
_SAMPLES = 400


class Stock(Struct, frozen=True, kw_only=True):
    """Bought heads, one a row: ``codes`` and columns of the same length, lengths in mm; NaN where it is not known.

    ``made_for`` a diameter or length, ``width`` the width beside it, ``label`` the weight in ct that those without a
    size are sold by; ``height`` from foot to seat or ``tip`` from foot to tip; ``foot`` across the foot; ``rail`` the
    upper rail's top over the foot; ``held`` how many there are. ``cuts`` the stones that they are made for; None: round
    ones, all of them."""

    codes: tuple[str, ...]
    made_for: Column
    claw: Column
    claws: Column
    opening: Column
    height: Column
    cuts: tuple[str, ...] | None = None
    width: Column | None = None
    tip: Column | None = None
    foot: Column | None = None
    rail: Column | None = None
    held: Column | None = None
    label: Column | None = None

    inside: Column | None = None
    """Inside diameter in mm of the ring that a ready mount has; NaN of a head by itself."""

    def __len__(self) -> int:
        return len(self.codes)

    def column(self, name: str, rows: NDArray[np.intp]) -> Column:
        """A column's numbers in these rows (n,), shape (n,), mm; NaN where the stock has none."""
        stored_column: Column | None = getattr(self, name)
        return np.full(len(rows), np.nan) if stored_column is None else stored_column[rows]


class Matches(Struct, frozen=True, kw_only=True):
    """Every head of a stock against one stone, in the stock's order.

    ``notch_ratio`` what the stone takes of the claw; ``culet_clearance`` room under the culet in mm; ``trim`` what
    could come off the base in mm; ``covered`` how much of the stone's face the tips hide,
        as a share; ``verdict`` one word a head; ``cost`` the lower the better, for ranking;
        ``resize`` by how much in mm a ready mount's ring is to become larger inside, NaN of a head by itself.
    """

    notch_ratio: Column
    culet_clearance: Column
    trim: Column
    covered: Column
    verdict: NDArray[np.str_]
    cost: Column
    resize: Column

    def best(self, count: int) -> list[int]:
        """Row numbers of the best heads, best first; equals stay in the stock's order."""
        rows: list[int] = np.argsort(self.cost, kind="stable")[:count].tolist()
        return rows


def same_outline(cut: str) -> tuple[str, ...]:
    """The cuts whose heads take a stone of this cut: those of the same outline."""
    return next((kin for kin in _KIN if cut in kin), (cut,))


_KIN = (("round", "round-cabochon"), ("oval", "oval-cabochon"))


def match(job: Job, rules: HouseRules, stock: Stock) -> Matches:
    """Judge every head of a stock for the stone (and shank) of a job.

    Raises
    ------
    JobError : the job is impossible.
    """
    check(job, rules)
    count = len(stock)
    matches = Matches(
        notch_ratio=np.full(count, np.nan),
        culet_clearance=np.full(count, np.nan),
        trim=np.zeros(count),
        covered=np.full(count, np.nan),
        verdict=np.full(count, OTHER, dtype="U16"),
        cost=np.full(count, _OTHER_COST),
        resize=_resize_mm(job, stock),
    )
    kin = same_outline(job.stone.cut)
    if stock.cuts is None:  # all of them round
        alike = np.full(count, CUTS[job.stone.cut].is_round)
    else:
        alike = np.array([cut in kin for cut in stock.cuts], dtype=bool)
    facts = facts_of(job, rules)
    points = sum(place.kind == POINT for place in places_of(_choice(job, usual_claws_of(job)), facts))
    left_open = _left_open(job, rules, float(facts.stone.pavilion_depth_mm))
    for number in np.unique(stock.claws[alike]).astype(int).tolist():
        for ready in (False, True):
            rows = np.flatnonzero(alike & (stock.claws == number) & (~np.isnan(matches.resize) == ready))
            if number >= points and len(rows):
                _judge(job, rules, stock, rows, facts, left_open, matches)
    if stock.held is not None:
        matches.cost[stock.held == 0] += _NONE_HELD
    return matches


def _resize_mm(job: Job, stock: Stock) -> Column:
    """By how much the rings of ready mounts are to become larger inside; 0 where the job asks for no size."""
    inside = np.full(len(stock), np.nan) if stock.inside is None else stock.inside
    wanted = inside if job.shank is None else band_of(job.shank).inside_diameter_mm
    return np.asarray(wanted - inside, dtype=float)


OTHER, OTHER_SIZE = "another cut", "another size"
_OTHER_COST, _NONE_HELD, _A_MM_OFF = 1e5, 50.0, 4.0

RESIZED_FROM_MM = 0.05
"""A ring that is off its size by less is left as it is."""
"""None in stock ranks below all that hold the stone and are there."""


_VERDICTS = np.array([FITS, SMALL, LARGE, LOW, CUT, OTHER_SIZE, TIGHT], dtype="U16")

_WRONG = np.array([0.0, 1000.0, 1000.0, 100.0, 100.0, 100.0, 10.0])
"""What each costs in the ranking: what can be mended is better than what holds no stone."""


def _judge(
    job: Job,
    rules: HouseRules,
    stock: Stock,
    rows: NDArray[np.intp],
    facts: StoneFacts,
    left_open: float,
    found: Matches,
) -> None:
    """Judge these rows, which have as many claws as one another."""
    heads = _taken(job, rules, stock, rows, facts)
    height = np.asarray(heads.fixed_height, dtype=float)
    band = None if job.shank is None else band_of(job.shank)
    method = None if band is None else (job.fit or FitJob()).method
    ready = not np.isnan(found.resize[rows[0]])  # a ready mount stands on its band: nothing of it rises into the head
    method = None if ready else method
    under = Under(float(facts.stone.pavilion_depth_mm), left_open, band, method, rules)
    deepest, least = (np.asarray(seat / heads.claw_mm) for seat in (heads.seat_most, heads.seat_least))
    clear = np.asarray(clearance(heads, under, height), dtype=float)
    sound = foot_is_sound(heads, under, height)
    verdict = np.select(
        [
            deepest > rules.notch_stop,
            least < rules.notch_least,
            clear - under.least_mm < -1e-9,
            ~sound,
            np.abs(found.resize[rows]) > rules.resize_most_mm,
            deepest > rules.notch_caution,
        ],
        range(1, len(_VERDICTS)),
        0,
    )
    wrong = _WRONG[verdict]
    target = rules.notch_target
    off = (np.abs(deepest - target) + np.abs(least - target)) / 2
    cover = np.asarray(_cover(heads, rules))
    found.notch_ratio[rows], found.culet_clearance[rows] = deepest, clear
    fits = rows[verdict == 0]
    if len(fits) and not ready:  # nothing comes off a mount, nor off what does not hold the stone as it is
        found.trim[fits] = most_trim(_taken(job, rules, stock, fits, facts), under)
    found.covered[rows] = len(heads.places) * heads.claw_mm * cover / facts.outline.area
    found.verdict[rows] = _VERDICTS[verdict]
    found.cost[rows] = wrong + off * (10 + heads.claw_mm) + np.maximum(clear - under.wanted_mm, 0) * 0.2
    found.cost[rows] += _A_MM_OFF * np.abs(found.resize[rows]) if ready else 0.0


def _taken(job: Job, rules: HouseRules, stock: Stock, rows: NDArray[np.intp], facts: StoneFacts) -> Bought:
    """These rows as heads taken for the stone: what :func:`yarvel.heads.bought.begin` makes of one."""
    choice = _choice(job, int(stock.claws[rows[0]]))
    places, stone = places_of(choice, facts), facts.stone
    claw, made_for, opening = (stock.column(name, rows) for name in ("claw", "made_for", "opening"))
    label, slim = stock.column("label", rows), bought.slim_of(facts)
    by_label = np.asarray(bought.labelled_mm(label, *bought.usual_of(facts.cut, slim)), dtype=float)
    across = made_for = np.where(np.isnan(made_for), by_label, made_for)
    if not facts.cut.is_round:
        width = stock.column("width", rows)
        usual = np.asarray(bought.made_for_width_mm(made_for, stone.width_mm, stone.length_mm), dtype=float)
        across = np.where(np.isnan(width), usual, width)
    made = np.asarray(notches.made_for_opening_mm(across, rules.notch_target, claw), dtype=float)
    opening = np.where(np.isnan(opening), made, opening)
    seats = bought.seats_mm(facts, places, opening, made_for, across)
    foot, rail = stock.column("foot", rows), stock.column("rail", rows)
    leg = vees.leg_mm(rules.v_leg_share, claw)
    heads = Bought(
        choice=choice,
        facts=facts,
        rules=rules,
        places=places,
        claw_mm=claw,
        opening_mm=opening,
        seats_mm=seats,
        sold_mm=None,
        foot_mm=foot,
        rail_mm=rail,
        leg_mm=leg,
    )
    above = bought.above_seat_mm(
        stone.girdle_mm,
        _cover(heads, rules),
        facts.crown_angle_deg,
        rules.bend_allowance_mm,
        rules.file_allowance_mm,
    )
    height = stock.column("height", rows)
    by_tip = np.asarray(bought.sold_height_mm(stock.column("tip", rows), above), dtype=float)
    return replace(heads, sold_mm=np.where(np.isnan(height), by_tip, height))


def _cover(heads: Bought, rules: HouseRules) -> Number:
    stone = heads.facts.stone
    share, way = rules.tip_cover_share, rules.tip_to_table_share
    return claws.tip_cover_mm(heads.claw_mm, share, way, stone.table_share, stone.diameter)


def _choice(job: Job, count: int) -> HeadChoice:
    """A bought head of so many claws, turned as the job says."""
    return HeadChoice(style=bought.STYLE, claws=count, orientation=job.head.orientation)


def _left_open(job: Job, rules: HouseRules, pavilion: float) -> float:
    """How far in mm the readings leave the pavilion's depth open, with 95 % of what they may hide."""
    readings = sampling.sampled(job.stone, rules, _SAMPLES)
    samples = stones.measure(Ledger(), readings, CUTS[job.stone.cut].domed).pavilion_depth_mm
    return float(np.quantile(np.abs(np.asarray(samples) - pavilion), 0.95))


def why(matches: Matches, row: int, rules: HouseRules) -> str:
    """In one sentence, what speaks for or against a head."""
    ratio, verdict = format_number(float(matches.notch_ratio[row]), 2), matches.verdict[row]
    if verdict == OTHER:
        return "made for a stone of another outline"
    if verdict == SMALL:
        return f"notch {ratio} of the claw, over {rules.notch_stop:.2f}: it would be overcut"
    if verdict == LARGE:
        return f"notch {ratio} of the claw, under {rules.notch_least:.2f}: it would not hold"
    if verdict == LOW:
        return (
            f"the culet has {matches.culet_clearance[row]:.2f} mm below it, too little for what the readings leave "
            "open: the head is too low"
        )
    if verdict == TIGHT:
        return f"notch {ratio} of the claw, over {rules.notch_caution:.2f}: it holds, but leaves little behind"
    if verdict == CUT:
        return "the curve under it takes too much of its base ring: it needs a flat, or a smaller foot"
    off = float(matches.resize[row])
    if verdict == OTHER_SIZE:
        small = "small" if off > 0 else "large"
        return f"its ring is {abs(off):.2f} mm too {small} inside: further than it may be resized"
    if abs(off) > RESIZED_FROM_MM:
        larger = "larger" if off > 0 else "smaller"
        return f"notch {ratio} of the claw; its ring is to become {abs(off):.2f} mm {larger}"
    if matches.trim[row] > 0:
        return f"notch {ratio} of the claw; {matches.trim[row]:.2f} mm taller than it needs to be"
    return f"notch {ratio} of the claw"
