"""House rules: every value of common practice or memory, with its default, in one place.

A workshop changes them in the window (Docket menu, *House rules*); a plan takes them as an argument.
"""

from __future__ import annotations

from dataclasses import dataclass, field, fields
from typing import Any

from yarvel.figures.errors import JobError, Problem
from yarvel.figures.figure import COMMON_PRACTICE, FROM_MEMORY


def _rule(default: Any, label: str, unit: str, low: float, high: float, origin: str = COMMON_PRACTICE) -> Any:
    meta = {"label": label, "unit": unit, "low": low, "high": high, "origin": origin}
    return field(default=default, metadata=meta)


@dataclass(frozen=True)
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
    many_claws_share: float = _rule(0.9, "Claw wire with five or more claws, share of the four-claw wire", "",
                                    0.5, 1, FROM_MEMORY)
    claw_least_share: float = _rule(0.8, "Claw too thin below this share of the usual wire", "", 0.4, 1, FROM_MEMORY)
    splay_deg: float = _rule(12.0, "Splay of the claws from upright", "°", 0, 30, FROM_MEMORY)
    foot_share: float = _rule(0.45, "Foot radius kept, share of the radius at the girdle", "", 0.3, 0.9, FROM_MEMORY)
    ring_wire_share: float = _rule(0.9, "Ring wire, share of the claw wire", "", 0.5, 1.2, FROM_MEMORY)
    ring_drop_mm: float = _rule(0.5, "Upper ring's top below the girdle", "mm", 0.2, 2)
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
    tube_rim_mm: float = _rule(0.4, "Tube: rim above the girdle", "mm", 0.2, 1)
    seat_room_mm: float = _rule(0.05, "Seat opened over the girdle by", "mm", 0, 0.3, FROM_MEMORY)
    culet_clearance_mm: float = _rule(0.3, "Culet above the finger or the band", "mm", 0.1, 2)
    weight_gap: float = _rule(0.06, "Weights: second look above a gap of", "", 0.01, 0.3)
    out_of_round: float = _rule(0.02, "Out of round above", "", 0.005, 0.1, FROM_MEMORY)
    proportions_slack_mm: float = _rule(0.05, "Crown, girdle and pavilion against the depth: within", "mm", 0.01, 0.5,
                                        FROM_MEMORY)
    band_least_mm: float = _rule(1.0, "Band left under a flat, at least", "mm", 0.3, 2, FROM_MEMORY)
    wide_band_mm: float = _rule(6.0, "Wide band from", "mm", 4, 12)
    saw_allowance_mm: float = _rule(0.3, "Saw allowance on a blank", "mm", 0, 2, FROM_MEMORY)
    solder_step_c: float = _rule(20.0, "Least step between solder grades", "°C", 5, 100, FROM_MEMORY)
    bur_angle_deg: float = _rule(45.0, "Setting bur: angle under the girdle", "°", 20, 70, FROM_MEMORY)
    lip_gap_mm: float = _rule(0.05, "Gap at the seat's lip that passes", "mm", 0, 0.3, FROM_MEMORY)
    coarse_wheel_mohs: float = _rule(9.0, "Coarse rubber wheels are safe from hardness", "", 6, 10)
    soft_stone_mohs: float = _rule(7.0, "Soft stone below hardness", "", 4, 9, FROM_MEMORY)
    open_arc_deg: float = _rule(180.0, "Open arc: the stone can leave from", "°", 120, 180)
    bur_slack_mm: float = _rule(0.03, "Bur counted as on size within", "mm", 0, 0.1, FROM_MEMORY)
    top_heavy_ratio: float = _rule(2.5, "Top-heavy above height to band width", "", 1, 5, FROM_MEMORY)


@dataclass(frozen=True)
class RuleInfo:
    """How one house rule is named, measured, limited and founded."""

    name: str
    label: str
    unit: str
    low: float
    high: float
    origin: str
    default: float


RULES: tuple[RuleInfo, ...] = tuple(
    RuleInfo(item.name, item.metadata["label"], item.metadata["unit"], item.metadata["low"], item.metadata["high"],
             item.metadata["origin"], float(item.default))  # type: ignore[arg-type]
    for item in fields(HouseRules)
)


def rules_from(changed: dict[str, float]) -> HouseRules:
    """House rules with some of them changed.

    Raises
    ------
    JobError : a rule that does not exist, or a value outside what it accepts.
    """
    known = {info.name: info for info in RULES}
    problems = []
    for name, value in changed.items():
        info = known.get(name)
        if info is None:
            problems.append(Problem(f"rules.{name}", "no such house rule", "one of " + ", ".join(known)))
        elif not info.low <= value <= info.high:
            problems.append(Problem(f"rules.{name}", f"{value:g} is outside its range",
                                    f"{info.low:g} to {info.high:g} {info.unit}".rstrip()))
    if problems:
        raise JobError(problems)
    return HouseRules(**changed)


def changed_rules(rules: HouseRules) -> dict[str, float]:
    """Only the rules that differ from their defaults, for storing."""
    return {info.name: getattr(rules, info.name) for info in RULES if getattr(rules, info.name) != info.default}
