"""Whether a job can be: words outside their lists, measures that contradict each other or belong to another cut."""

from __future__ import annotations

from itertools import pairwise
from typing import Any

from yarvel.figures.errors import JobError, Problem, SizeError
from yarvel.figures.rules import HouseRules
from yarvel.heads import tube
from yarvel.heads.claws import MOST_CLAWS, usual_wire_mm
from yarvel.heads.rings import DRILLED, ROUND_A_POST_MM, STRIP
from yarvel.heads.style import BOUGHT, DRIVEN, OF_TUBE, HeadChoice
from yarvel.heads.styles import STYLES, styles_for
from yarvel.heads.vees import SOLID
from yarvel.metals.joints import METHODS as SOLDERED
from yarvel.operations.joint_groups import GROUP_KEYS, key_of
from yarvel.planning.compatibility import fits_of, start_problems
from yarvel.planning.job import CHOICES, LOWEST, HeadJob, Job, ShankJob, StoneJob, choices_of, usual_claws_of
from yarvel.shanks import pendant, resizing
from yarvel.shanks.band import PROFILES
from yarvel.shanks.methods import METHODS, PENDANT
from yarvel.shanks.sizes import SYSTEMS, inside_diameter_mm
from yarvel.stones.cut import Cut, Girth, outline_of
from yarvel.stones.cuts import CUTS
from yarvel.stones.outline import Outline

MOST_SPREAD = 0.15
MOST_LEDGE = 0.3
MOST_MISFIT = 0.6
LEAST_APART_DEG = 8.0
MOST_SLOPE = 0.3
_SAME_MM = 1e-6
MEASURES = ("diameters_mm", "length_mm", "width_mm", "corner_mm", "narrow_width_mm")


def check(job: Job, rules: HouseRules) -> None:
    """Refuse a job that cannot be: words outside their lists, measures that contradict each other.

    Raises
    ------
    JobError : with every problem found, each saying where, what, and what is accepted.
    """
    problems = _word_problems(job, rules) + _stone_problems(job.stone, rules) + _head_problems(job, rules)
    problems += _size_problems(job) + _fit_problems(job) + _setting_problems(job) + _joint_problems(job)
    problems += start_problems(job)
    if problems:
        raise JobError(problems)


def _size_problems(job: Job) -> list[Problem]:
    problems: list[Problem] = []
    if job.shank is None:
        return problems
    for path, size in (("size", job.shank.size), ("resized_from", job.shank.resized_from)):
        if size is not None and size.system in SYSTEMS:
            try:
                inside_diameter_mm(size.system, size.value)
            except SizeError as error:
                problems.append(Problem(f"shank.{path}.value", error.wrong, error.accepted))
    problems += _station_problems(job.shank)
    if not problems and job.shank.resize_by == resizing.STRETCH:
        problems += _stretch_problems(job.shank)
    return problems


def _station_problems(shank: ShankJob) -> list[Problem]:
    """Sections along the band: in order from the head to the back, each with something to say, in known words."""
    problems: list[Problem] = []
    stations = shank.stations or ()
    turns = [station.turn_deg for station in stations]
    if any(later <= earlier for earlier, later in pairwise(turns)):
        problems.append(
            Problem("shank.stations", "two stand at one angle, or out of order", "rising from head to back")
        )
    for number, one in enumerate(stations):
        path = f"shank.stations.{number}"
        if (one.width_mm, one.thickness_mm, one.profile) == (None, None, None):
            problems.append(Problem(path, "says nothing of the band there", "width_mm, thickness_mm or profile"))
        if one.profile is not None and one.profile not in PROFILES:
            problems.append(
                Problem(f"{path}.profile", f"{one.profile!r} is not known", "one of " + ", ".join(PROFILES))
            )
    return problems


def _stretch_problems(shank: ShankJob) -> list[Problem]:
    """A ring that is stretched has a size, a smaller one, and its own plain band."""
    old = shank.resized_from
    if old is None:
        return [Problem("shank.resize_by", "there is no size to stretch it from", "shank.resized_from beside it")]
    now, then = (inside_diameter_mm(size.system, size.value) for size in (old, shank.size))
    if then <= now:
        return [Problem("shank.resize_by", "stretching makes a ring larger only", resizing.PIECE)]
    return []


def _fit_problems(job: Job) -> list[Problem]:
    """A method that the head cannot be fitted by; a ring that is to hang, or a pendant that is to be worn."""
    fit = job.fit
    if fit is None or job.head.style not in STYLES:
        return []
    if fit.method == PENDANT:
        return _pendant_problems(job)
    if job.shank is None or fit.method not in METHODS:
        return []
    comes = STYLES[job.head.style].COMES
    own = job.head.height_mm is not None and comes == OF_TUBE
    if own and fit.height != LOWEST:
        return [
            Problem("fit.height", "the tube's length is given, and its height follows", "lowest, or no head.height_mm")
        ]
    if fit.height != LOWEST and job.head.made is not None:
        return [Problem("fit.height", "the collet is made, and the height follows", "lowest, or no head.made")]
    if fit.height != LOWEST and job.head.trim_mm and comes == BOUGHT:
        return [Problem("fit.height", "what is trimmed is given, and the height follows", "lowest, or no head.trim_mm")]
    if fit.method not in fits_of(job.head.style):
        return [
            Problem(
                "fit.method",
                f"{METHODS[fit.method].LABEL.lower()}: not for {STYLES[job.head.style].LABEL.lower()}",
                "one of " + ", ".join(fits_of(job.head.style)),
            )
        ]
    if fit.slot is not None and fit.method != "inset":
        return [Problem("fit.slot", "a slot is for a head that is let into it", "inset as the method")]
    return []


def _pendant_problems(job: Job) -> list[Problem]:
    """A ring that is to hang; a hidden ring at a height of its own, or with a bail that shows."""
    bail = None if job.fit is None else job.fit.bail
    if job.shank is not None:
        return [Problem("fit.method", "a pendant has no shank", "pendant without a shank, or another method")]
    if bail is None or bail.place != pendant.BEHIND:
        return []
    problems = []
    if bail.height_mm is not None:
        problems.append(Problem("fit.bail.height_mm", "what the stone hides decides the height", "no value"))
    if bail.bought is not None:
        problems.append(
            Problem("fit.bail.bought", "a bail in a hidden ring would show", f"no value, or {pendant.ABOVE}")
        )
    return problems


def _joint_problems(job: Job) -> list[Problem]:
    """An order of groups that no head and no fit has."""
    asked = () if job.joints is None else job.joints.order or ()
    keys = GROUP_KEYS
    unknown = [group for group in asked if key_of(group) not in keys]
    problems = [
        Problem(f"joints.order.{asked.index(group)}", f"unknown group of joints {group!r}", f"one of {', '.join(keys)}")
        for group in unknown
    ]
    grades = {} if job.joints is None else job.joints.grades or {}
    for group, grade in grades.items():
        if group not in keys:
            problems.append(
                Problem(f"joints.grades.{group}", f"unknown group of joints {group!r}", f"one of {', '.join(keys)}")
            )
        elif grade not in SOLDERED:
            problems.append(
                Problem(f"joints.grades.{group}", f"unknown grade {grade!r}", f"one of {', '.join(SOLDERED)}")
            )
    return problems


def _setting_problems(job: Job) -> list[Problem]:
    heights = None if job.setting is None else job.setting.table_heights_mm
    if heights is None or max(heights) - min(heights) <= MOST_SLOPE * job.stone.across_mm:
        return []
    return [
        Problem(
            "setting.table_heights_mm",
            f"heights from {min(heights):g} to {max(heights):g} mm are too far apart",
            f"heights within {MOST_SLOPE * job.stone.across_mm:.2f} mm of each other",
        )
    ]


def _word_problems(job: Job, rules: HouseRules) -> list[Problem]:
    problems = []
    for path in CHOICES:
        words = choices_of(path, rules)
        part: Any = job
        for name in path.split("."):
            part = getattr(part, name) if part is not None else None
        if part is not None and part not in words:
            problems.append(Problem(path, f"unknown {path.rsplit('.', 1)[1]} {part!r}", "one of " + ", ".join(words)))
    return problems


def _stone_problems(stone: StoneJob, rules: HouseRules) -> list[Problem]:
    if stone.cut not in CUTS:
        return []
    problems = _outline_problems(stone)
    if problems:
        return problems
    least, mean = stone.least_mm, stone.across_mm if stone.diameters_mm else stone.least_mm
    girdle = stone.girdle_mm if stone.girdle_mm is not None else 0.03 * mean
    if stone.depth_mm is None:
        return problems
    if stone.depth_mm > least:
        problems.append(
            Problem(
                "stone.depth_mm",
                f"{stone.depth_mm:g} mm is more than the stone is wide, {least:g} mm",
                "a depth up to the smallest width",
            )
        )
    parts = girdle + (stone.crown_height_mm or 0) + (stone.pavilion_depth_mm or 0)
    both = stone.crown_height_mm is not None and stone.pavilion_depth_mm is not None
    if not both and stone.depth_mm < parts + 0.05 * mean:
        problems.append(
            Problem(
                "stone.depth_mm",
                f"{stone.depth_mm:g} mm leaves nothing beside the parts measured, {parts:.2f} mm",
                f"at least {parts + 0.05 * mean:.2f} mm with these parts",
            )
        )
    elif both and stone.depth_mm <= girdle:
        problems.append(
            Problem(
                "stone.depth_mm",
                f"{stone.depth_mm:g} mm is no more than the girdle {girdle:.2f} mm",
                "more than the girdle",
            )
        )
    return problems


def _outline_problems(stone: StoneJob) -> list[Problem]:
    """What the cut is measured by, and nothing else; measures that make an outline of that cut."""
    cut = CUTS[stone.cut]
    problems = [
        Problem(f"stone.{name}", f"not a measure of the {cut.label.lower()}", ", ".join(cut.fields))
        for name in MEASURES
        if name not in cut.fields and getattr(stone, name) is not None
    ]
    problems += [
        Problem(f"stone.{name}", "missing", f"a measure of the {cut.label.lower()} in mm")
        for name in cut.fields[: 1 if cut.is_round else 2]
        if getattr(stone, name) is None
    ]
    if problems:
        return problems
    if stone.diameters_mm:
        least, most = min(stone.diameters_mm), max(stone.diameters_mm)
        if (most - least) / stone.across_mm > MOST_SPREAD:
            return [
                Problem(
                    "stone.diameters_mm",
                    f"readings from {least:g} to {most:g} mm are too far apart",
                    f"readings within {MOST_SPREAD:.0%} of each other for a round stone",
                )
            ]
        return []
    length, width = stone.length_mm or 0.0, stone.width_mm or 0.0
    low, high = cut.aspect
    if not low - 1e-9 <= length / width <= high + 1e-9:
        return [
            Problem(
                "stone.length_mm",
                f"{length:g} mm does not go with a width of {width:g} mm for this cut",
                f"{low * width:.2f} to {high * width:.2f} mm; the length is the longer side",
            )
        ]
    for name, value, most in (
        ("corner_mm", stone.corner_mm, 0.55 * min(width, length)),
        ("narrow_width_mm", stone.narrow_width_mm, 0.97 * width),
    ):
        if value is not None and not (0.3 * width if name == "narrow_width_mm" else 0.0) <= value <= most:
            problems.append(
                Problem(
                    f"stone.{name}",
                    f"{value:g} mm does not go with a width of {width:g} mm",
                    f"up to {most:.2f} mm" if name == "corner_mm" else f"{0.3 * width:.2f} to {most:.2f} mm",
                )
            )
    if cut.domed and stone.table_percent is not None:
        problems.append(Problem("stone.table_percent", "a cabochon has no table", "nothing"))
    return problems


def _head_problems(job: Job, rules: HouseRules) -> list[Problem]:
    head, across = job.head, job.stone.across_mm
    cut = CUTS.get(job.stone.cut)
    if cut is None or head.style not in STYLES or not across or _outline_problems(job.stone):
        return []
    if not STYLES[head.style].suits(cut):
        return [
            Problem(
                "head.style",
                f"{STYLES[head.style].LABEL.lower()}: not for the {cut.label.lower()}",
                "one of " + ", ".join(styles_for(cut)),
            )
        ]
    mean = job.stone.least_mm if not job.stone.diameters_mm else across
    if STYLES[head.style].COMES in (OF_TUBE, DRIVEN):
        ledge = tube.ledge_asked_mm(
            mean,
            HeadChoice(
                style=head.style,
                claws=4,
                orientation=head.orientation,
                wall_mm=head.wall_mm,
                notch_ratio=head.notch_ratio,
            ),
            rules,
        )
        if ledge > mean * MOST_LEDGE:
            return [
                Problem(
                    "head.wall_mm",
                    f"a ledge of {ledge:.2f} mm leaves too small a bore under a stone of {mean:g} mm",
                    f"a wall whose ledge is up to {mean * MOST_LEDGE:.2f} mm",
                )
            ]
    if problems := _points_problems(job, cut):
        return problems
    if STYLES[head.style].COMES == BOUGHT:
        return _bought_problems(job, cut, mean)
    return _claw_problems(job, mean, rules)


def _points_problems(job: Job, cut: Cut) -> list[Problem]:
    """Fewer claws than the stone has points."""
    count = usual_claws_of(job)
    points = 0 if cut.is_round or cut.cornered else len(_outline(job.stone, cut).corners)
    if "claws" not in STYLES[job.head.style].FIELDS or count >= points:
        return []
    lead = f"{count} claws leave a point of the stone uncovered"
    return [Problem("head.claws", lead, f"a whole number, {points} to {MOST_CLAWS}")]


def _claw_problems(job: Job, mean: float, rules: HouseRules) -> list[Problem]:
    head, count = job.head, usual_claws_of(job)
    if head.claw_places_deg is not None and head.claws not in (None, len(head.claw_places_deg)):
        return [
            Problem(
                "head.claw_places_deg",
                f"{len(head.claw_places_deg)} places for {head.claws} claws",
                f"a list of {head.claws} places",
            )
        ]
    if head.claw_places_deg is not None and _crowded(head.claw_places_deg):
        return [
            Problem("head.claw_places_deg", "two claws in one place", f"places at least {LEAST_APART_DEG:g}° apart")
        ]
    if problems := _post_problems(head):
        return problems
    claw = head.claw_mm if head.claw_mm is not None else usual_wire_mm(job.stone.across_mm, count, rules, mean)
    if claw > mean / 3 + _SAME_MM and head.claw_mm is not None:
        return [
            Problem(
                "head.claw_mm",
                f"claw wire of {claw:g} mm is too thick for a stone of {mean:g} mm",
                f"up to a third of the stone, {mean / 3:.2f} mm",
            )
        ]
    thin = head.v_foot_mm
    if thin is not None and head.v_from == SOLID and head.claw_mm is not None and thin > head.claw_mm + _SAME_MM:
        return [Problem("head.v_foot_mm", "thicker at the foot than at the top", f"up to {head.claw_mm:g} mm")]
    return []


def _post_problems(head: HeadJob) -> list[Problem]:
    """A ring that posts are drilled into, too narrow for them; a strip on edge, that no slanting hole stays within."""
    if head.posts == DRILLED and head.ring_section == STRIP and "posts" in STYLES[head.style].FIELDS:
        return [Problem("head.posts", "a slanting hole runs out of the side of a strip on edge", "grooved")]
    if (
        head.posts != DRILLED
        or head.ring_mm is None
        or head.claw_mm is None
        or "posts" not in STYLES[head.style].FIELDS
    ):
        return []
    least = head.claw_mm + ROUND_A_POST_MM
    if head.ring_mm >= least - 1e-9:
        return []
    return [Problem("head.ring_mm", f"too narrow for holes of {head.claw_mm:g} mm", f"{least:.2f} mm or more")]


def _outline(stone: StoneJob, cut: Cut) -> Outline:
    width = stone.width_mm or 1.0
    return outline_of(
        cut,
        Girth(
            stone.length_mm or width,
            width,
            stone.corner_mm or cut.corner * width,
            stone.narrow_width_mm or cut.narrow * width,
        ),
    )


def _crowded(places_deg: tuple[float, ...]) -> bool:
    ordered = sorted(place % 360 for place in places_deg)
    following = [*ordered[1:], ordered[0] + 360]
    return min(b - a for a, b in zip(ordered, following, strict=True)) < LEAST_APART_DEG


def _bought_problems(job: Job, cut: Cut, mean: float) -> list[Problem]:
    head, stone = job.head, job.stone
    length = mean if cut.is_round else stone.length_mm or mean
    width = mean if cut.is_round else stone.width_mm or mean
    sizes = (("made_for_mm", length), ("made_for_width_mm", width), ("opening_mm", min(length, width)))
    problems = [
        Problem(
            f"head.{name}",
            f"{given:g} mm is for another stone altogether than one of {own:g} mm",
            f"{MOST_MISFIT * own:.2f} to {own / MOST_MISFIT:.2f} mm",
        )
        for name, own in sizes
        if (given := getattr(head, name)) is not None and not MOST_MISFIT * own <= given <= own / MOST_MISFIT
    ]
    if cut.is_round and head.made_for_width_mm is not None:
        problems.append(Problem("head.made_for_width_mm", "a round head has one size", "no value, or made_for_mm"))
    if head.made_for_mm is not None and head.label_ct is not None:
        problems.append(Problem("head.label_ct", "its size is given twice", "made_for_mm, or label_ct"))
    across = min(width, length if head.made_for_mm is None else head.made_for_mm)
    if head.claw_mm is not None and head.claw_mm > across / 3 + _SAME_MM:
        problems.append(
            Problem(
                "head.claw_mm",
                f"claw wire of {head.claw_mm:g} mm is too thick for a head made for {across:g} mm",
                f"up to a third of it, {across / 3:.2f} mm",
            )
        )
    return problems or _bought_heights(head, across)


def _bought_heights(head: HeadJob, across: float) -> list[Problem]:
    """What was measured on a bought head's side: once each, and in the order in which it lies there."""
    tall = head.height_tip_mm if head.height_mm is None else head.height_mm
    if head.height_mm is not None and head.height_tip_mm is not None:
        return [Problem("head.height_tip_mm", "its height is given twice", "height_mm, foot to seat, or height_tip_mm")]
    problems = []
    if head.trim_mm and tall is not None and head.trim_mm > tall - 1:
        problems.append(
            Problem(
                "head.trim_mm",
                f"{head.trim_mm:g} mm leaves less than 1 mm of {tall:g} mm",
                f"up to {max(tall - 1, 0):.2f} mm",
            )
        )
    if head.rail_mm is not None and tall is None:
        problems.append(
            Problem("head.rail_mm", "lies on a head of unknown height", "height_mm or height_tip_mm with it")
        )
    elif head.rail_mm is not None and tall is not None and not (head.trim_mm or 0) < head.rail_mm < tall:
        problems.append(
            Problem(
                "head.rail_mm",
                f"{head.rail_mm:g} mm does not lie on a head of {tall:g} mm",
                f"more than what is trimmed, less than {tall:g} mm",
            )
        )
    most = across + 2 * (head.claw_mm or across / 3)
    if head.foot_mm is not None and head.foot_mm > most:
        problems.append(
            Problem("head.foot_mm", f"{head.foot_mm:g} mm is wider than its claws", f"up to {most:.2f} mm across")
        )
    return problems
