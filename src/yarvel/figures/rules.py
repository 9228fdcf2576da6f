"""House rules: every value of common practice or memory, with its default, in one place.

A workshop changes them in the window (Docket menu, *House rules*); a plan takes them as an argument.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, field, fields, replace
from typing import Any

from msgspec import Struct, structs

from yarvel.figures.custom import (
    CustomAlloy,
    CustomSpecies,
    metals_document,
    metals_from,
    species_document,
    species_from,
)
from yarvel.figures.errors import JobError, Problem
from yarvel.figures.figure import COMMON_PRACTICE, FROM_MEMORY


def _rule(default: Any, label: str, unit: str, low: float, high: float, origin: str = COMMON_PRACTICE) -> Any:
    meta = {"label": label, "unit": unit, "low": low, "high": high, "origin": origin}
    return field(default=default, metadata=meta)


class WorkshopData(Struct, frozen=True, kw_only=True):
    """What a workshop has of its own, which is no rule.

    ``burs_mm`` setting burs of its drawer, mm, ascending; empty: the usual sizes. ``plate_mm`` holes of its draw plate,
    mm; empty: those of a usual one. ``alloys`` numbers of alloys that it has changed: alloy, name (see
    ``ALLOY_NUMBERS``), value. ``prices_on`` the day of its metal prices (ISO), where they came from a
    file; ``currency`` and ``letterhead`` (lines) as they stand on papers; ``zone`` in which its days begin, by the
    IANA's name ("": each machine's own); ``metals`` and ``species`` that nobody else knows.
    """

    burs_mm: tuple[float, ...] = ()
    plate_mm: tuple[float, ...] = ()
    alloys: tuple[tuple[str, str, float], ...] = ()
    prices_on: str = ""
    currency: str = ""
    letterhead: str = ""
    zone: str = ""
    metals: tuple[CustomAlloy, ...] = ()
    species: tuple[CustomSpecies, ...] = ()

    @property
    def letterhead_lines(self) -> tuple[str, ...]:
        """Its letterhead as papers bear it: no empty lines."""
        return tuple(line.strip() for line in self.letterhead.splitlines() if line.strip())


@dataclass(frozen=True, kw_only=True)
class HouseRules:
    """The workshop's own defaults and limits. Lengths in mm, angles in degrees, ratios as fractions."""

    gauge_resolution_mm: float = _rule(0.01, "Gauge reads to, either way", "mm", 0.001, 0.5, FROM_MEMORY)
    notch_target: float = _rule(0.33, "Notch ratio aimed at", "", 0.2, 0.5)
    notch_caution: float = _rule(0.40, "Notch ratio: caution above", "", 0.2, 0.6)
    notch_stop: float = _rule(0.50, "Notch ratio: stop above", "", 0.3, 0.7)
    notch_least: float = _rule(0.20, "Notch ratio: does not hold below", "", 0.05, 0.3)
    first_cut_ratio: float = _rule(0.25, "First cut, share of the claw", "", 0.1, 0.4)
    claw_upto_3_mm: float = _rule(0.7, "Claw wire, stones under 3", "mm", 0.3, 3)
    claw_upto_4_5_mm: float = _rule(0.8, "Claw wire, stones 3 to 4.5", "mm", 0.3, 3)
    claw_upto_6_mm: float = _rule(0.95, "Claw wire, stones 4.5 to 6", "mm", 0.3, 3)
    claw_upto_8_mm: float = _rule(1.05, "Claw wire, stones 6 to 8", "mm", 0.3, 3)
    claw_upto_10_mm: float = _rule(1.15, "Claw wire, stones 8 to 10", "mm", 0.3, 3)
    claw_over_10_mm: float = _rule(1.2, "Claw wire, stones over 10", "mm", 0.3, 3)
    claw_most_share: float = _rule(0.3, "Claw wire at most, share of the stone", "", 0.15, 0.33, FROM_MEMORY)
    many_claws_share: float = _rule(
        0.9, "Claw wire with five or more claws, share of the four-claw wire", "", 0.5, 1, FROM_MEMORY
    )
    soft_claw_share: float = _rule(
        1.05, "Claw wire in platinum and high-carat gold, share of the usual", "", 1, 1.4, FROM_MEMORY
    )
    claw_least_share: float = _rule(0.8, "Claw too thin below this share of the usual wire", "", 0.4, 1, FROM_MEMORY)
    splay_deg: float = _rule(12.0, "Splay of the claws from upright", "°", 0, 30, FROM_MEMORY)
    foot_share: float = _rule(0.45, "Foot radius kept, share of the radius at the girdle", "", 0.3, 0.9, FROM_MEMORY)
    ring_wire_share: float = _rule(0.9, "Ring wire, share of the claw wire", "", 0.5, 1.2, FROM_MEMORY)
    ring_strip_high_share: float = _rule(2.0, "Ring of strip, high, per mm across", "", 0.5, 5, FROM_MEMORY)
    ring_drop_mm: float = _rule(0.5, "Upper ring's top below the girdle", "mm", 0.2, 2)
    dome_drop_mm: float = _rule(0.05, "Upper ring's top below a cabochon's base", "mm", 0, 1, FROM_MEMORY)
    v_leg_share: float = _rule(1.5, "V: leg along the stone's side, share of its metal", "", 1, 4, FROM_MEMORY)
    v_cover_most_share: float = _rule(0.45, "V: legs cover at most, share of the side", "", 0.2, 0.9, FROM_MEMORY)
    corner_relief_mm: float = _rule(0.15, "V: corner of the stone free by", "mm", 0.02, 0.6, FROM_MEMORY)
    relief_left_mm: float = _rule(0.3, "V: left outside the relief hole, at least", "mm", 0.1, 1)
    out_of_square: float = _rule(0.005, "Mark the direction from out of square", "", 0, 0.1, FROM_MEMORY)
    hart_bur_mm: float = _rule(1.3, "Hart bur for seats that are not round", "mm", 0.5, 3)
    ring_taken_share: float = _rule(0.45, "Upper ring: share the pavilion may take", "", 0.1, 0.9, FROM_MEMORY)
    contact_mm2: float = _rule(0.2, "Bearing of the stone a claw, at least", "mm²", 0, 3, FROM_MEMORY)
    shoulder_apart_mm: float = _rule(1.0, "Shoulders: between stones, and to the head", "mm", 0.1, 3)
    shoulder_lip_mm: float = _rule(0.35, "Shoulders: lip of a little bezel", "mm", 0.15, 1, FROM_MEMORY)
    shoulder_ledge_share: float = _rule(
        0.12, "Shoulders: ledge in a little bezel, share of the stone", "", 0.03, 0.3, FROM_MEMORY
    )
    shoulder_let_mm: float = _rule(1.0, "Shoulders: little bezel let in by, at most", "mm", 0.2, 3, FROM_MEMORY)
    shoulder_let_share: float = _rule(
        0.6, "Shoulders: little bezel let in by, share of the band at most", "", 0.1, 0.9, FROM_MEMORY
    )
    shoulder_under_mm: float = _rule(
        0.3, "Shoulders: wall of a carved bezel under the girdle", "mm", 0, 1.5, FROM_MEMORY
    )
    shoulder_neck_mm: float = _rule(0.8, "Shoulders: left between two carved bezels", "mm", 0, 3, FROM_MEMORY)
    shoulder_pilot_share: float = _rule(0.6, "Shoulders: first hole, share of the stone", "", 0.3, 0.9, FROM_MEMORY)
    shoulder_sink_share: float = _rule(0.25, "Shoulders: bur sunk, share of the stone", "", 0.1, 0.5, FROM_MEMORY)
    shoulder_beside_mm: float = _rule(0.5, "Shoulders: metal beside a stone, at least", "mm", 0.1, 2, FROM_MEMORY)
    shoulder_most_deg: float = _rule(75.0, "Shoulders: stones up to this far round", "°", 20, 120, FROM_MEMORY)
    ring_hidden_mm: float = _rule(0.15, "Upper ring inside the stone's edge by", "mm", 0, 0.5)
    groove_share: float = _rule(1 / 3, "Claw groove, share of the ring wire", "", 0.2, 0.5)
    rings_apart_share: float = _rule(0.5, "Daylight between the rings, share of the ring wire", "", 0, 3, FROM_MEMORY)
    tip_cover_share: float = _rule(1.0, "Tip over the crown, share of the claw", "", 0.3, 1.5)
    tip_to_table_share: float = _rule(0.75, "Tip: most of the way to the table", "", 0.3, 0.95, FROM_MEMORY)
    tip_thinned_share: float = _rule(0.5, "Tip thinned to, share of the claw", "", 0.3, 1)
    bend_allowance_mm: float = _rule(0.4, "Claw length lost in the bend", "mm", 0, 2, FROM_MEMORY)
    file_allowance_mm: float = _rule(0.5, "Claw length left to file", "mm", 0, 3, FROM_MEMORY)
    handling_mm: float = _rule(11.5, "U-piece: leg left below the head to hold it by", "mm", 0, 30)
    bend_radius_mm: float = _rule(0.8, "Inside radius of a closed claw", "mm", 0.1, 3, FROM_MEMORY)
    collet_angle_deg: float = _rule(17.0, "Collet: included angle", "°", 4, 60)
    tube_wall_mm: float = _rule(0.8, "Tube wall", "mm", 0.4, 2, FROM_MEMORY)
    tube_ledge_share: float = _rule(0.2, "Tube: ledge at most, share of the stone", "", 0.05, 0.3, FROM_MEMORY)
    tube_lip_mm: float = _rule(0.4, "Tube: wall left outside the girdle", "mm", 0.2, 0.8)
    tube_lip_least_mm: float = _rule(0.2, "Tube: wall left outside the girdle, at least", "mm", 0.05, 0.5, FROM_MEMORY)
    tube_ledge_least_mm: float = _rule(0.1, "Tube: ledge under the stone, at least", "mm", 0.02, 0.5, FROM_MEMORY)
    tube_rim_mm: float = _rule(0.4, "Tube: rim above the girdle", "mm", 0.2, 1)
    seat_room_mm: float = _rule(0.05, "Seat opened over the girdle by", "mm", 0, 0.3, FROM_MEMORY)
    culet_clearance_mm: float = _rule(0.3, "Culet above the finger or the band", "mm", 0.1, 2)
    culet_least_mm: float = _rule(0.1, "Culet clear at least, whatever the readings hide", "mm", 0, 1)
    weight_gap: float = _rule(0.06, "Weights: second look above a gap of", "", 0.01, 0.3)
    out_of_round: float = _rule(0.02, "Out of round above", "", 0.005, 0.1, FROM_MEMORY)
    proportions_slack_mm: float = _rule(
        0.05, "Crown, girdle and pavilion against the depth: within", "mm", 0.01, 0.5, FROM_MEMORY
    )
    let_in_share: float = _rule(0.5, "Head let into the band by, share of its thickness", "", 0.1, 0.9, FROM_MEMORY)
    let_out_mm: float = _rule(0.5, "Seat of a head that is let in, over the band, at least", "mm", 0, 3, FROM_MEMORY)
    band_least_mm: float = _rule(1.0, "Band left under a flat or a recess, at least", "mm", 0.3, 2, FROM_MEMORY)
    wide_band_mm: float = _rule(6.0, "Wide band from", "mm", 4, 12)
    saw_allowance_mm: float = _rule(0.3, "Saw allowance on a blank", "mm", 0, 2, FROM_MEMORY)
    collet_rim_opens: float = _rule(0.042, "Driven collet: rim opened by the punch", "", 0, 0.2)
    saw_kerf_mm: float = _rule(0.25, "Saw cut, as wide as", "mm", 0.1, 0.8, FROM_MEMORY)
    solder_chip_g: float = _rule(0.004, "Solder a joint", "g", 0.0005, 0.05, FROM_MEMORY)
    cast_loss_share: float = _rule(0.01, "Melt that is lost in casting", "", 0, 0.1, FROM_MEMORY)
    cast_melt_share: float = _rule(
        1.5, "Metal molten for a casting, shares of the finished head", "", 1, 3, FROM_MEMORY
    )
    solder_step_c: float = _rule(20.0, "Least step between solder grades", "°C", 5, 100, FROM_MEMORY)
    bur_angle_deg: float = _rule(45.0, "Setting bur: angle under the girdle", "°", 20, 70, FROM_MEMORY)
    lip_gap_mm: float = _rule(0.05, "Gap at the seat's lip that passes", "mm", 0, 0.3, FROM_MEMORY)
    coarse_wheel_mohs: float = _rule(9.0, "Coarse rubber wheels are safe from hardness", "", 6, 10)
    soft_stone_mohs: float = _rule(7.0, "Soft stone below hardness", "", 4, 9, FROM_MEMORY)
    open_arc_deg: float = _rule(180.0, "Open arc: the stone can leave from", "°", 120, 180)
    bur_slack_mm: float = _rule(0.03, "Bur counted as on size within", "mm", 0, 0.1, FROM_MEMORY)
    foot_left_share: float = _rule(
        0.5, "Foot cut by the finger: ring wire left, at least, share", "", 0.1, 1, FROM_MEMORY
    )
    base_cut_share: float = _rule(
        0.6, "Base hollowed to the band: ring wire filed off at most, share", "", 0.1, 0.9, FROM_MEMORY
    )
    gap_most_deg: float = _rule(60.0, "Gap: arc taken out, caution above", "°", 20, 150, FROM_MEMORY)
    gap_stop_deg: float = _rule(100.0, "Gap: arc taken out, stop above", "°", 40, 170, FROM_MEMORY)
    beside_head_mm: float = _rule(0.8, "Band left beside a head or a hole, at least", "mm", 0.3, 3, FROM_MEMORY)
    peg_mm: float = _rule(1.0, "Peg under a head", "mm", 0.4, 3, FROM_MEMORY)
    hole_left_mm: float = _rule(0.6, "Band left under a blind hole", "mm", 0.2, 2, FROM_MEMORY)
    below_ring_mm: float = _rule(6.0, "Basket point: claws below the lower ring", "mm", 3, 15)
    point_sunk_share: float = _rule(0.5, "Basket point: sunk, share of the band", "", 0.2, 0.9, FROM_MEMORY)
    split_from_mm: float = _rule(5.0, "Split shoulders: split from the middle", "mm", 2, 15)
    split_beyond_mm: float = _rule(1.0, "Split shoulders: saw cut ends beyond the head by", "mm", 0.2, 5, FROM_MEMORY)
    branch_least_mm: float = _rule(1.5, "Split shoulders: branch before filing, at least", "mm", 0.5, 4)
    branch_meets_deg: float = _rule(42.0, "Split shoulders: branch meets the bezel at", "°", 20, 70, FROM_MEMORY)
    bezel_notch_share: float = _rule(
        0.3, "Split shoulders: notch for the bezel, share of the branch", "", 0.1, 0.6, FROM_MEMORY
    )
    heat_reach_mm: float = _rule(15.0, "Solder: heat reaches joints within", "mm", 2, 60, FROM_MEMORY)
    cut_square_mm: float = _rule(0.05, "Gap cut square: off by", "mm", 0, 0.5, FROM_MEMORY)
    neighbour_room_mm: float = _rule(0.15, "Head above a band worn beside it", "mm", 0, 1, FROM_MEMORY)
    resize_most_mm: float = _rule(1.7, "Resizing with the head in: diameter by at most", "mm", 0.2, 5, FROM_MEMORY)
    resize_stretch_mm: float = _rule(0.45, "Resizing by stretching: diameter by at most", "mm", 0.1, 2, FROM_MEMORY)
    resize_gap_mm: float = _rule(0.03, "Resizing: foot and band apart by", "mm", 0, 0.3, FROM_MEMORY)
    slot_play_mm: float = _rule(0.05, "Slot: play that solder fills", "mm", 0, 0.3, FROM_MEMORY)
    worn_ends_mm: float = _rule(0.1, "Slot: ends of unequal height by", "mm", 0, 1, FROM_MEMORY)
    point_widest_deg: float = _rule(80.0, "Basket point: angle at most", "°", 30, 150, FROM_MEMORY)
    chain_room_mm: float = _rule(0.3, "Pendant: room round the chain's end, at least", "mm", 0, 3, FROM_MEMORY)
    hangs_within_deg: float = _rule(3.0, "Pendant: hangs straight within", "°", 0, 20, FROM_MEMORY)
    retip_share: float = _rule(1 / 3, "Re-tip below, share of the claw", "", 0.1, 0.6)
    retip_mm: float = _rule(0.4, "Re-tip below", "mm", 0.1, 1)
    inspect_after_months: float = _rule(12.0, "Inspect a mended head after at most", "months", 1, 60, FROM_MEMORY)
    metal_loss_percent: float = _rule(0.0, "Metal that is lost at the bench, on top", "%", 0, 50)
    markup_percent: float = _rule(0.0, "Mark-up on metal, stones and outside work", "%", 0, 300)
    tax_percent: float = _rule(0.0, "Tax on what is sold", "%", 0, 50)
    hour_rate: float = _rule(60.0, "An hour at the bench, in the workshop's money", "", 0, 1000, FROM_MEMORY)
    release_size_mm: float = _rule(0.1, "Release: inside diameter within", "mm", 0.01, 1, FROM_MEMORY)
    release_weight_share: float = _rule(0.1, "Release: weight within, share", "", 0.01, 0.5, FROM_MEMORY)
    release_spacing_deg: float = _rule(3.0, "Release: a claw out of its place by", "°", 0.5, 15, FROM_MEMORY)
    loss_allowance: float = _rule(0.03, "Fine book: loss allowed, share of what was worked", "", 0, 0.3, FROM_MEMORY)
    level_within_deg: float = _rule(1.0, "Table level within", "°", 0.1, 5, FROM_MEMORY)
    draw_from_mm: float = _rule(2.5, "Wire: drawn from rod of", "mm", 1, 6, FROM_MEMORY)
    draw_over: float = _rule(1.03, "Wire: drawn a touch over, then stretched", "", 1, 1.1)
    point_and_tongs_mm: float = _rule(25.0, "Wire: point and what the tongs hold, a size", "mm", 5, 80, FROM_MEMORY)
    rod_least_mm: float = _rule(40.0, "Wire: shortest rod that can be drawn", "mm", 15, 150, FROM_MEMORY)
    square_from_mm: float = _rule(3.0, "Wire: rod rolled square first from", "mm", 1.5, 10, FROM_MEMORY)
    roll_from_share: float = _rule(
        0.95, "Band: rolled from square stock, share of its width", "", 0.6, 1.3, FROM_MEMORY
    )
    roll_loss: float = _rule(0.1, "Rolling: thickness lost a pass", "", 0.03, 0.3, FROM_MEMORY)
    density_gap: float = _rule(0.03, "Alloy: density and mixture apart by", "", 0.005, 0.2, FROM_MEMORY)
    top_heavy_ratio: float = _rule(2.5, "Top-heavy above height to band width", "", 1, 5, FROM_MEMORY)

    custom: WorkshopData = field(default_factory=WorkshopData)
    """What stands beside the rules: burs, plate and alloys of this workshop."""

    def but(self, **values: Any) -> HouseRules:
        """The same rules, but for these."""
        return replace(self, **values)


class AlloyNumber(Struct, frozen=True):
    """A number of an alloy that a workshop may change: its name for people, unit, and what it may be."""

    label: str
    unit: str
    low: float
    high: float


ALLOY_NUMBERS: dict[str, AlloyNumber] = {
    "density": AlloyNumber("Density", "g/cm³", 4, 23),
    "elongation_drawn": AlloyNumber("Bears, drawn", "", 0.005, 0.5),
    "elongation_annealed": AlloyNumber("Bears, annealed", "", 0.02, 0.8),
    "elongation_cast": AlloyNumber("Bears, cast", "", 0.005, 0.6),
    "flow_hard_c": AlloyNumber("Hard flows", "°C", 400, 1900),
    "flow_medium_c": AlloyNumber("Medium flows", "°C", 400, 1900),
    "flow_easy_c": AlloyNumber("Easy flows", "°C", 400, 1900),
    "anneal_loss": AlloyNumber("Anneal at a loss of", "", 0.1, 0.9),
    "price_per_g": AlloyNumber("Price a gram", "", 0, 10000),
}


class RuleInfo(Struct, frozen=True, kw_only=True):
    """How one house rule is named, measured, limited and founded."""

    name: str
    label: str
    unit: str
    low: float
    high: float
    origin: str
    default: float


RULES: tuple[RuleInfo, ...] = tuple(
    RuleInfo(
        name=item.name,
        label=item.metadata["label"],
        unit=item.metadata["unit"],
        low=item.metadata["low"],
        high=item.metadata["high"],
        origin=item.metadata["origin"],
        default=float(item.default),  # type: ignore[arg-type]
    )
    for item in fields(HouseRules)
    if item.metadata
)


def with_drawer(rules: HouseRules, burs_mm: tuple[float, ...], plate_mm: tuple[float, ...]) -> HouseRules:
    """The same rules with the burs and the draw plate of this drawer, mm."""
    return rules.but(custom=structs.replace(rules.custom, burs_mm=burs_mm, plate_mm=plate_mm))


_DAY = re.compile(r"\d{4}-\d{2}-\d{2}")
_ZONE = re.compile(r"[A-Za-z0-9_+/-]{0,40}")
_WORDS = ("currency", "letterhead", "zone")

_GONE = (
    "minutes_tighten",
    "minutes_retip",
    "minutes_new_claw",
    "minutes_bought_head",
    "minutes_own_head",
    "bench_hours",
)
"""Rules of before that a route tells now, by its operations' minutes, or the workshop's hours: read, and of no
effect."""


def rules_from(changed: dict[str, Any]) -> HouseRules:
    """House rules with some of them changed; ``alloys`` as {alloy: {name: value}}, ``metals`` and ``species`` of the
    workshop's own as ``figures.custom`` stores them.

    Raises
    ------
    JobError : a rule that does not exist, or a value outside what it accepts.
    """
    known = {info.name: info for info in RULES}
    given = {name: value for name, value in changed.items() if name not in _GONE}
    alloys, problems = _alloy_changes(given.pop("alloys", {}))
    metals, wrong_metals = metals_from(given.pop("metals", {}))
    species, wrong_species = species_from(given.pop("species", {}))
    problems += [*wrong_metals, *wrong_species]
    prices_on = str(given.pop("prices_on", ""))
    words = {name: str(given.pop(name, "")) for name in _WORDS}
    if prices_on and not _DAY.fullmatch(prices_on):
        problems.append(Problem("rules.prices_on", f"{prices_on!r} is no day", "a day such as 2031-04-09"))
    if not _ZONE.fullmatch(words["zone"]):
        problems.append(Problem("rules.zone", f"{words['zone']!r} is no zone", "a name such as Europe/Lisbon"))
    for name, value in given.items():
        info = known.get(name)
        if info is None:
            problems.append(Problem(f"rules.{name}", "no such house rule", "one of " + ", ".join(known)))
            continue
        accepted = f"{info.low:g} to {info.high:g} {info.unit}".rstrip()
        if isinstance(value, bool) or not isinstance(value, int | float):
            problems.append(Problem(f"rules.{name}", f"{value!r} is no number", accepted))
        elif not info.low <= value <= info.high:
            problems.append(Problem(f"rules.{name}", f"{value:g} is outside its range", accepted))
    if problems:
        raise JobError(problems)
    return HouseRules(
        **given,
        custom=WorkshopData(
            burs_mm=(), plate_mm=(), alloys=alloys, prices_on=prices_on, **words, metals=metals, species=species
        ),
    )


_IN_PARTS = ("alloys", "metals", "species")


def readable(stored: Mapping[str, Any]) -> tuple[dict[str, Any], dict[str, Any]]:
    """What of stored house rules can be read, and what cannot: whatever stands there, a workshop opens, and the usual
    value counts for the rest."""
    good: dict[str, Any] = {}
    bad: dict[str, Any] = {}
    for name, value in stored.items():
        if name in _IN_PARTS and isinstance(value, Mapping):
            parts = {key: _can_be_read({name: {key: part}}) for key, part in value.items()}
            good |= {name: {key: value[key] for key, read in parts.items() if read}} if any(parts.values()) else {}
            bad |= {f"{name}.{key}": value[key] for key, read in parts.items() if not read}
        else:
            (good if _can_be_read({name: value}) else bad)[name] = value
    return good, bad


def _can_be_read(changed: dict[str, Any]) -> bool:
    try:
        rules_from(changed)
    except (JobError, TypeError, ValueError, AttributeError):
        return False
    return True


def _alloy_changes(changes: dict[str, dict[str, float]]) -> tuple[tuple[tuple[str, str, float], ...], list[Problem]]:
    found, problems = [], []
    for key, numbers in sorted(changes.items()):
        for name, value in sorted(numbers.items()):
            number = ALLOY_NUMBERS.get(name)
            if number is None:
                problems.append(
                    Problem(
                        f"rules.alloys.{key}.{name}", "no such number of an alloy", "one of " + ", ".join(ALLOY_NUMBERS)
                    )
                )
            elif not number.low <= value <= number.high:
                problems.append(
                    Problem(
                        f"rules.alloys.{key}.{name}",
                        f"{value:g} is outside its range",
                        f"{number.low:g} to {number.high:g} {number.unit}".rstrip(),
                    )
                )
            else:
                found.append((key, name, float(value)))
    return tuple(found), problems


def changed_rules(rules: HouseRules) -> dict[str, Any]:
    """Only what differs from the defaults, for storing."""
    changed: dict[str, Any] = {
        info.name: getattr(rules, info.name) for info in RULES if getattr(rules, info.name) != info.default
    }
    alloys: dict[str, dict[str, float]] = {}
    for key, name, value in rules.custom.alloys:
        alloys.setdefault(key, {})[name] = value
    for name in ("prices_on", *_WORDS):
        if getattr(rules.custom, name):
            changed[name] = getattr(rules.custom, name)
    documents = {
        "alloys": alloys,
        "metals": metals_document(rules.custom.metals),
        "species": species_document(rules.custom.species),
    }
    return {**changed, **{name: document for name, document in documents.items() if document}}
