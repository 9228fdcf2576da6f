"""Seats and closing in words: by the cut, the stone, the metal and the methods chosen."""

from __future__ import annotations

from yarvel.heads import notches, seats, style
from yarvel.heads.places import numbers
from yarvel.heads.vees import FOLD
from yarvel.metals.alloys import alloy_of
from yarvel.planning.compute import species_of
from yarvel.planning.plan import Plan
from yarvel.planning.work_methods import (
    BALL_FIRST,
    BLOCK,
    BRASS,
    DOWN,
    FILE_FIRST,
    LEATHER,
    NYLON,
    PLIERS,
    PLIERS_PUSHER,
    PUNCH,
    PUSHER,
    ROCKER,
    SIDEWAYS,
)
from yarvel.shanks import basket_point
from yarvel.stones.cuts import CUTS
from yarvel.stones.words import words_of

_QUARTERS = "north, south, east and west"


def tips_text(plan: Plan) -> str:
    """How the tips are made ready before the stone goes in."""
    alloy = alloy_of(plan.job.head.metal, plan.rules)
    if alloy.soft:
        return (
            f"Round the tips against a safe edge before the stone goes in and leave them thick: {alloy.label.lower()} "
            "is soft. Burnish them hard once they are down."
        )
    if plan.claw_mm is None:
        return "Thin and round the tips against a safe edge before the stone goes in."
    thick = plan.rules.tip_thinned_share * plan.claw_mm
    return f"Thin and round the tips to {thick:.2f} against a safe edge before the stone goes in."


def closing_order(plan: Plan) -> str:
    """Opposite pairs by their numbers, each pair as far from the one before as there is."""
    azimuths = [place.azimuth_deg for place in plan.shape.places]
    left = sorted(range(len(azimuths)), key=lambda claw: (90.0 - azimuths[claw]) % 360.0)
    ordered: list[int] = []
    while left:
        last = azimuths[ordered[-1]] if ordered else None
        following = left[0]
        if last is not None and len(ordered) % 2 == 1:
            following = max(left, key=lambda claw: _apart(azimuths[claw], last))
        elif ordered:
            following = max(left, key=lambda claw: min(_apart(azimuths[claw], azimuths[done]) for done in ordered))
        ordered.append(following)
        left.remove(following)
    words = [str(numbers(plan.shape.places)[claw]) for claw in ordered]
    pairs = [words[place : place + 2] for place in range(0, len(words), 2)]
    return ", then ".join(" and ".join(pair) for pair in pairs)


def _corner_order(plan: Plan) -> str:
    """Both claws of a corner, then both of the one across: a corner lies in each quarter of the outline."""
    corners: dict[tuple[bool, bool], list[int]] = {}
    for place, called in sorted(
        zip(plan.shape.places, numbers(plan.shape.places), strict=True), key=lambda one: one[1]
    ):
        corners.setdefault((place.x_mm > 0, place.y_mm > 0), []).append(called)
    order = [
        corner
        for corner_pair in list(corners)[:2]
        for corner in (corner_pair, (not corner_pair[0], not corner_pair[1]))
    ]
    return ", then ".join(" and ".join(str(called) for called in corners[corner]) for corner in order)


def _apart(one: float, other: float) -> float:
    return abs((one - other + 180.0) % 360.0 - 180.0)


def folding_text(plan: Plan) -> str:
    """How Vs go home over their points, by the method chosen."""
    fold = (
        "Fold each V over its point whole, from both sides towards the middle"
        if plan.job.head.school == FOLD
        else "Fold the two tabs of each V over their own sides, never over the corner"
    )
    return f"{fold}; no pressure on the corner itself, never across two corners."


def closing_text(plan: Plan) -> str:
    """How the claws go home, by what they hold and the method chosen."""
    method = closing_method_of(plan)
    home = "Home, round by round: half-way down first, then look straight down"
    if method == PLIERS_PUSHER:
        home = "A notched pusher over each claw, round by round"
    if plan.paired:
        return (
            "Press each claw of a pair sideways against its own side, then bring the tips over; never across two "
            f"corners. {home}."
        )
    if plan.shape.vees is not None:
        return f"The claws beside the V. {home}."
    return f"{home}; in the same order."


def leaning_text(plan: Plan) -> str:
    """First round: which tool, which order, how hard."""
    order = f", corner by corner: {_corner_order(plan)}" if plan.paired else f": {closing_order(plan)}"
    return f"{_jaws(plan)} Lean every claw until it just touches{order}."


def rim_text(plan: Plan) -> str:
    """How a rim is brought over, by the method chosen."""
    method = closing_method_of(plan)
    if method == PUNCH:
        return "Hollow punch a touch wider than the rim, upright over it: turn and press, tap lightly, look, again."
    tool = f"A rocker: at {_QUARTERS}, rolled from the outside inwards" if method == ROCKER else _jaws(plan)[:-1]
    return f"{tool}. Press the rim over at 12, 6, 3 and 9 until the stone cannot turn, then between, little by little."


def closing_method_of(plan: Plan) -> str:
    """The closing method chosen, or the usual one."""
    return PUSHER if plan.job.setting is None else plan.job.setting.closing


def _jaws(plan: Plan) -> str:
    """Tool and pressure by method, hardness and cleavage."""
    species = species_of(plan.job, plan.rules)
    method = closing_method_of(plan)
    cornered = plan.shape.vees is not None or plan.paired
    pliers = _pliers(plan)
    if method == PLIERS_PUSHER:
        tool = (
            f"{pliers} to contact, one jaw low at the foot, the other on the claw, one at a time; never squeezed across"
        )
    elif method == PLIERS and cornered:
        tool = (
            f"{pliers} with one jaw low at the foot, the other on the claw: one corner at a time, little by little, "
            "never squeezed across a diagonal"
        )
    elif method == PLIERS and plan.shape.places:
        parallel = "smooth parallel jaws" if pliers == _PLIERS else "the jaws parallel"
        tool = f"{pliers} across each pair, {parallel}, both claws moved together"
    elif method == BLOCK:
        tool = (
            "A block of hard wood clamped upright: the tip of a claw against it, the piece held by its band and rocked "
            "towards the stone, so that the wood lays the claw over, little by little; then the one across"
        )
    else:
        where = "each claw" if plan.shape.places else "the rim"
        tool = f"A pusher with a smooth face, from the outside of {where}, the head held in a clamp or shellac"
    words = words_of(CUTS[plan.job.stone.cut])
    soft = species.hardness < plan.rules.soft_stone_mohs
    if "cleavage" in species.note:
        care = f"{species.label} cleaves: light pressure, never a knock, none along the {words.edge}"
    elif soft:
        care = f"{species.label} is softer than steel dust and burs: brass or boxwood faces, no steel on the stone"
    else:
        care = f"{species.label} bears steady pressure on its {words.side}, none on an edge or a corner"
    return f"{tool}. {care}."


_PLIERS = "Pliers"


def _pliers(plan: Plan) -> str:
    """The pliers by their jaws."""
    setting = plan.job.setting
    jaws = None if setting is None else setting.jaws
    faced = {BRASS: "Pliers with brass jaws", LEATHER: "Pliers faced with leather", NYLON: "Pliers with nylon jaws"}
    return faced.get(jaws or "", _PLIERS)


def first_cut_text(plan: Plan) -> str:
    """The first cut, with the bur that touches first where there is one."""
    figures = plan.figures
    first = f"First cut {figures[notches.first_cut_mm].text()} at the line, no more"
    touching = [(size, cut) for size, cut in bur_cuts(plan) if cut > 0]
    if not touching:
        return f"{first}."
    size, cut = touching[0]
    first = f"First cut with the bur of {size:.1f}, the first that touches: it takes {cut:.2f} mm a side"
    if cut > figures[notches.first_cut_mm].value + 0.02:
        first += f", more than {figures[notches.first_cut_mm].text()}: let it touch lightly, look, go on"
    return f"{first}."


def seat_text(plan: Plan) -> str:
    """The seat to its depth, by the method chosen or the usual one for the cut; burs and what each takes."""
    figures, clawed = plan.figures, bool(plan.shape.places)
    edge = words_of(CUTS[plan.job.stone.cut]).edge
    parts = [
        f"A little at a time to {figures[notches.SEAT_DEPTH].text()}; {figures[notches.REMAINING].text()} stays "
        f"outside the {edge}."
    ]
    if cuts := bur_cuts(plan):
        burs = " → ".join(
            f"{size:.1f} ({f'{cut:.2f} a side' if cut > 0 else 'touches nothing yet'})" for size, cut in cuts
        )
        push = figures[seats.push_to_claw_mm]
        where = "each claw" if clawed else "the wall all round"
        worth = push.value > plan.rules.bur_slack_mm / 2
        last = f"; push the last {push.text()} towards {where} in turn" if worth else ""
        parts.append(f"Burs: {burs}{last}.")
    parts += _method_lines(plan)
    parts.append(f"Open the seat to {figures[seats.seat_opening_mm].text()}.")
    return " ".join(parts)


def _method_lines(plan: Plan) -> list[str]:
    figures = plan.figures
    if not plan.shape.places:
        return []
    asked = plan.job.setting.seat if plan.job.setting is not None else None
    round_stone = plan.facts.cut.is_round
    method = asked if asked is not None else DOWN if round_stone else SIDEWAYS
    if method in (DOWN, BALL_FIRST) and not round_stone:
        return ["A round bur does not fit this outline: hart bur at the scribed line, claw by claw; touch up between."]
    if method == SIDEWAYS:
        size = f"{plan.rules.hart_bur_mm:.1f} mm, or larger where the crown's slope asks for it"
        return [f"Hart bur of {size}, sideways at the scribed line, claw by claw."]
    if method == FILE_FIRST:
        return [
            "Open each notch at the line with a taper bur or a three-square file, which cannot rip around the claw, to "
            f"{figures[notches.first_cut_mm].text()}; then the bur."
        ]
    if method == BALL_FIRST:
        return ["A ball bur to its widest at the line in every claw; then the setting bur, only just turned."]
    return []


def _from_below(plan: Plan) -> str:
    """Where the line is measured from below: claws that run on to a point have no foot that a rule could be held to."""
    if basket_point.BELOW_RING not in plan.figures:
        return "from the foot"
    return f"above the {plan.shape.rings[-1].name}'s underside"


def scribe_text(plan: Plan) -> str:
    """How the girdle's line is scribed: every seat starts with it."""
    figures, clawed = plan.figures, bool(plan.shape.places)
    where = "on all claws, inside and outside" if clawed else "inside the wall, all round"
    tops, along = ("tops", "along the claw") if clawed else ("rim", "up the wall")
    edge = words_of(CUTS[plan.job.stone.cut]).edge
    foot = f"{figures[seats.line_from_foot_mm].text()} {_from_below(plan)}, {along}"
    if seats.line_from_top_mm not in figures:
        return f"Scribe one line at the {edge} {where}: {foot}."
    return (
        f"Dividers to {figures[seats.line_from_top_mm].text()}: scribe the {edge}'s line from the {tops} {where}; it "
        f"lies {foot}."
    )


def bur_cuts(plan: Plan) -> tuple[tuple[float, float], ...]:
    """Each setting bur with what it cuts a side, mm: half of what it is wider than the opening."""
    if plan.job.head.seat_cut or style.INNER_OPENING not in plan.figures:
        return ()
    opening = plan[style.INNER_OPENING]
    return tuple((size, max((size - opening) / 2, 0.0)) for size in plan.bur_steps_mm)
