"""The job: what was measured and chosen. Frozen; an edit is a new job.

The document form (a dict, as in the job file) holds only what was given. What each field accepts stands in its
annotation, where the job file's reader, its schema, and the window's fields find it.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, fields, is_dataclass
from functools import cache
from typing import Annotated, Any, Final, Literal, get_args, get_type_hints

from yarvel.figures.errors import JobError, Problem, SizeError
from yarvel.figures.rules import HouseRules
from yarvel.heads import bought, tapered_collet, tube
from yarvel.heads.claws import LEAST_CLAWS, MOST_CLAWS, ORIENTATIONS, usual_wire_mm
from yarvel.heads.style import HeadChoice
from yarvel.heads.styles import STYLES
from yarvel.metals.alloys import ALLOYS
from yarvel.shanks.blanks import PROFILES
from yarvel.shanks.methods import METHODS
from yarvel.shanks.sizes import SYSTEMS, inside_diameter_mm
from yarvel.stones.cuts import CUTS
from yarvel.stones.species import ALIASES, SPECIES

FORMAT: Final = "yarvel-job/1"
LOWEST: Final = "lowest"
MOST_SPREAD = 0.15
MOST_LEDGE = 0.3
MOST_MISFIT = 0.6


class Between:
    """What a number may be, both ends included; understood by the job file's reader and by the window's fields."""

    def __init__(self, low: float, high: float) -> None:
        self.low, self.high = low, high

    def __get_pydantic_core_schema__(self, source: Any, handler: Callable[[Any], dict[str, Any]]) -> dict[str, Any]:
        """The same for the reader."""
        return {**handler(source), "ge": self.low, "le": self.high}


class Count:
    """How many a list may hold, both ends included."""

    def __init__(self, least: int, most: int) -> None:
        self.least, self.most = least, most

    def __get_pydantic_core_schema__(self, source: Any, handler: Callable[[Any], dict[str, Any]]) -> dict[str, Any]:
        """The same for the reader."""
        return {**handler(source), "min_length": self.least, "max_length": self.most}


_CONFIG = {"extra": "forbid", "allow_inf_nan": False}


@dataclass(frozen=True)
class StoneJob:
    """The stone as measured. Lengths in mm."""

    __pydantic_config__ = _CONFIG
    diameters_mm: Annotated[tuple[Annotated[float, Between(0.5, 40)], ...], Count(1, 12)]
    cut: str = "round"
    species: str = "diamond"
    depth_mm: Annotated[float, Between(0.2, 40)] | None = None
    table_percent: Annotated[float, Between(30, 90)] | None = None
    girdle_mm: Annotated[float, Between(0.01, 5)] | None = None
    crown_height_mm: Annotated[float, Between(0.05, 20)] | None = None
    pavilion_depth_mm: Annotated[float, Between(0.05, 30)] | None = None
    resolution_mm: Annotated[float, Between(0.001, 0.5)] | None = None
    declared_ct: Annotated[float, Between(0.001, 500)] | None = None


@dataclass(frozen=True)
class HeadJob:
    """The head as chosen; None is derived. Lengths in mm."""

    __pydantic_config__ = _CONFIG
    style: str = "wire-basket"
    claws: Annotated[int, Between(LEAST_CLAWS, MOST_CLAWS)] = 4
    claw_mm: Annotated[float, Between(0.3, 3)] | None = None
    notch_ratio: Annotated[float, Between(0.05, 0.9)] | None = None
    orientation: str = "square"
    stone_axis: str = "along-finger"
    metal: str = "18k-yellow"
    splay_deg: Annotated[float, Between(0, 30)] | None = None
    ring_mm: Annotated[float, Between(0.3, 3)] | None = None
    ring_drop_mm: Annotated[float, Between(0.2, 3)] | None = None
    wall_mm: Annotated[float, Between(0.3, 2)] | None = None
    seated: bool = False
    height_mm: Annotated[float, Between(1, 30)] | None = None
    cut: str = "bezel"
    included_angle_deg: Annotated[float, Between(4, 60)] | None = None
    made_for_mm: Annotated[float, Between(0.5, 40)] | None = None
    opening_mm: Annotated[float, Between(0.3, 40)] | None = None
    peg_mm: Annotated[float, Between(0.3, 5)] | None = None
    trim_mm: Annotated[float, Between(0, 20)] | None = None


@dataclass(frozen=True)
class SizeJob:
    """A finger size in its own system; ``eased_for_width`` once it allows for a wide band."""

    __pydantic_config__ = _CONFIG
    system: str
    value: str
    eased_for_width: bool = False


@dataclass(frozen=True)
class ShankJob:
    """The shank. Lengths in mm."""

    __pydantic_config__ = _CONFIG
    size: SizeJob
    width_mm: Annotated[float, Between(1, 15)] = 2.5
    thickness_mm: Annotated[float, Between(0.8, 5)] = 1.8
    profile: str = "flat"
    metal: str = "18k-yellow"


@dataclass(frozen=True)
class FitJob:
    """How the head meets the shank; ``height`` is "lowest" or the seat plane above the finger in mm."""

    __pydantic_config__ = _CONFIG
    method: str = "on-flat"
    height: Annotated[float, Between(1, 25)] | Literal["lowest"] = LOWEST


@dataclass(frozen=True)
class Job:
    """One head for one stone, with its shank where it has one."""

    __pydantic_config__ = _CONFIG
    format: Literal["yarvel-job/1"]
    stone: StoneJob
    head: HeadJob = HeadJob()
    shank: ShankJob | None = None
    fit: FitJob | None = None


CHOICES: dict[str, tuple[str, ...]] = {
    "stone.cut": tuple(CUTS),
    "stone.species": (*SPECIES, *ALIASES),
    "head.style": tuple(STYLES),
    "head.cut": (tapered_collet.BEZEL, tapered_collet.CLAWS),
    "head.orientation": ORIENTATIONS,
    "head.stone_axis": ("along-finger", "along-band"),
    "head.metal": tuple(ALLOYS),
    "shank.metal": tuple(ALLOYS),
    "shank.profile": PROFILES,
    "shank.size.system": tuple(SYSTEMS),
    "fit.method": tuple(METHODS),
}
"""Fields that take one word of a list, and the list."""


_ALWAYS = {("Job", "format"), ("StoneJob", "cut")}
"""Fields that a document names even where they hold their default."""


def to_document(job: Job) -> dict[str, Any]:
    """The job as its document; what was not given is left out."""
    return _document(job)


def _document(part: Any) -> dict[str, Any]:
    found: dict[str, Any] = {}
    for item in fields(part):
        value = getattr(part, item.name)
        if value is None:
            continue
        if is_dataclass(value):
            found[item.name] = _document(value)
        elif isinstance(value, tuple):
            found[item.name] = list(value)
        elif (type(part).__name__, item.name) in _ALWAYS or value != item.default:
            found[item.name] = value
    return found


def from_document(document: dict[str, Any]) -> Job:
    """A job from a document that was checked when it was stored (a foreign one goes through ``exchange``).

    Raises
    ------
    JobError : a part is not whole; two windows can bring that about, each by a change that was right by itself.
    """
    try:
        job: Job = _build(Job, document)
    except TypeError as error:
        raise JobError([Problem("job", f"a part of it is not whole ({error})", "see yarvel plan --schema")]) from error
    return job


@cache
def _parts(kind: Any) -> dict[str, Any]:
    """Fields of a dataclass that are dataclasses themselves, with their kind."""
    found = {}
    for name, hint in get_type_hints(kind).items():
        arms = [arm for arm in (hint, *get_args(hint)) if is_dataclass(arm)]
        if arms:
            found[name] = arms[0]
    return found


def _build(kind: Any, document: dict[str, Any]) -> Any:
    parts = _parts(kind)
    given: dict[str, Any] = {}
    for name, value in document.items():
        if name in parts and isinstance(value, dict):
            given[name] = _build(parts[name], value)
        else:
            given[name] = tuple(value) if isinstance(value, list) else value
    return kind(**given)


def merge_patch(document: dict[str, Any], patch: dict[str, Any]) -> dict[str, Any]:
    """Apply an RFC 7396 merge patch: null removes, objects merge, all else replaces."""
    merged = dict(document)
    for name, value in patch.items():
        if value is None:
            merged.pop(name, None)
        elif isinstance(value, dict):
            held = merged.get(name)
            merged[name] = merge_patch(held if isinstance(held, dict) else {}, value)
        else:
            merged[name] = value
    return merged


def patch_between(before: dict[str, Any], after: dict[str, Any]) -> dict[str, Any]:
    """The merge patch that turns one document into the other."""
    patch: dict[str, Any] = {name: None for name in before if name not in after}
    for name, value in after.items():
        held = before.get(name)
        if isinstance(value, dict) and isinstance(held, dict):
            if inner := patch_between(held, value):
                patch[name] = inner
        elif value != held:
            patch[name] = value
    return patch


def check(job: Job, rules: HouseRules) -> None:
    """Refuse a job that cannot be: words outside their lists, measures that contradict each other.

    Raises
    ------
    JobError : with every problem found, each saying where, what, and what is accepted.
    """
    problems = _word_problems(job) + _stone_problems(job.stone, rules) + _head_problems(job, rules)
    if job.shank is not None and job.shank.size.system in SYSTEMS:
        try:
            inside_diameter_mm(job.shank.size.system, job.shank.size.value)
        except SizeError as error:
            problems.append(Problem("shank.size.value", error.wrong, error.accepted))
    if problems:
        raise JobError(problems)


def _word_problems(job: Job) -> list[Problem]:
    problems = []
    for path, words in CHOICES.items():
        part: Any = job
        for name in path.split("."):
            part = getattr(part, name) if part is not None else None
        if part is not None and part not in words:
            problems.append(Problem(path, f"unknown {path.rsplit('.', 1)[1]} {part!r}", "one of " + ", ".join(words)))
    return problems


def _stone_problems(stone: StoneJob, rules: HouseRules) -> list[Problem]:
    problems = []
    least, most = min(stone.diameters_mm), max(stone.diameters_mm)
    mean = sum(stone.diameters_mm) / len(stone.diameters_mm)
    if (most - least) / mean > MOST_SPREAD:
        problems.append(Problem("stone.diameters_mm", f"readings from {least:g} to {most:g} mm are too far apart",
                                f"readings within {MOST_SPREAD:.0%} of each other for a round stone"))
    girdle = stone.girdle_mm if stone.girdle_mm is not None else 0.03 * mean
    if stone.depth_mm is None:
        return problems
    if stone.depth_mm > least:
        problems.append(Problem("stone.depth_mm", f"{stone.depth_mm:g} mm is more than the diameter {least:g} mm",
                                "a depth up to the smallest diameter"))
    parts = girdle + (stone.crown_height_mm or 0) + (stone.pavilion_depth_mm or 0)
    both = stone.crown_height_mm is not None and stone.pavilion_depth_mm is not None
    if not both and stone.depth_mm < parts + 0.05 * mean:
        problems.append(Problem("stone.depth_mm", f"{stone.depth_mm:g} mm leaves nothing beside the parts measured, "
                                f"{parts:.2f} mm", f"at least {parts + 0.05 * mean:.2f} mm with these parts"))
    elif both and stone.depth_mm <= girdle:
        problems.append(Problem("stone.depth_mm", f"{stone.depth_mm:g} mm is no more than the girdle {girdle:.2f} mm",
                                "more than the girdle"))
    return problems


def _head_problems(job: Job, rules: HouseRules) -> list[Problem]:
    head, mean = job.head, sum(job.stone.diameters_mm) / len(job.stone.diameters_mm)
    if head.style in (tube.STYLE, tapered_collet.STYLE):
        ledge = tube.ledge_asked_mm(mean, HeadChoice(head.style, head.claws, head.orientation, wall_mm=head.wall_mm,
                                                     notch_ratio=head.notch_ratio), rules)
        if ledge > mean * MOST_LEDGE:
            return [Problem("head.wall_mm", f"a ledge of {ledge:.2f} mm leaves too small a bore under a stone of "
                            f"{mean:g} mm", f"a wall whose ledge is up to {mean * MOST_LEDGE:.2f} mm")]
    claw = head.claw_mm if head.claw_mm is not None else usual_wire_mm(mean, head.claws, rules)
    if head.style == bought.STYLE:
        return _bought_problems(head, mean)
    if claw > mean / 3:
        return [Problem("head.claw_mm", f"claw wire of {claw:g} mm is too thick for a stone of {mean:g} mm",
                        f"up to a third of the stone, {mean / 3:.2f} mm")]
    return []


def _bought_problems(head: HeadJob, mean: float) -> list[Problem]:
    problems = []
    made_for = head.made_for_mm if head.made_for_mm is not None else mean
    for path, value in (("head.made_for_mm", head.made_for_mm), ("head.opening_mm", head.opening_mm)):
        if value is not None and not MOST_MISFIT * mean <= value <= mean / MOST_MISFIT:
            problems.append(Problem(path, f"{value:g} mm is for another stone altogether than one of {mean:g} mm",
                                    f"{MOST_MISFIT * mean:.2f} to {mean / MOST_MISFIT:.2f} mm"))
    if head.claw_mm is not None and head.claw_mm > made_for / 3:
        problems.append(Problem("head.claw_mm", f"claw wire of {head.claw_mm:g} mm is too thick for a head made for "
                                f"{made_for:g} mm", f"up to a third of it, {made_for / 3:.2f} mm"))
    if head.trim_mm and head.height_mm is not None and head.trim_mm > head.height_mm - 1:
        problems.append(Problem("head.trim_mm", f"{head.trim_mm:g} mm leaves less than 1 mm of {head.height_mm:g} mm",
                                f"up to {max(head.height_mm - 1, 0):.2f} mm"))
    return problems
