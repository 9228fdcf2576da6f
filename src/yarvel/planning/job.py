"""The job: what was measured and chosen. Frozen; an edit is a new job.

The document form (a dict, as in the job file) holds only what was given. What each field accepts stands in its
annotation, where the job file's reader, its schema, and the window's fields find it.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, fields, is_dataclass
from functools import cache
from typing import Annotated, Any, Final, Literal, get_args, get_type_hints

from yarvel.figures.custom import CustomAlloy, CustomSpecies
from yarvel.figures.errors import JobError, Problem
from yarvel.figures.rules import HouseRules
from yarvel.heads import tapered_collet
from yarvel.heads.claws import LEAST_CLAWS, MOST_CLAWS, ORIENTATIONS
from yarvel.heads.places import usual_claws
from yarvel.heads.rings import POSTS, SECTIONS
from yarvel.heads.style import LEGS
from yarvel.heads.styles import STYLES
from yarvel.heads.vees import FOLD_METHODS, MADE_FROM
from yarvel.metals.alloys import ALLOYS
from yarvel.metals.joints import SOLDER_METHODS, STEP_DOWN
from yarvel.planning import work_methods
from yarvel.shanks import pendant, resizing
from yarvel.shanks.band import PROFILES
from yarvel.shanks.fitting import BLIND, HOLES
from yarvel.shanks.methods import METHODS, PENDANT
from yarvel.shanks.shoulders import SETTINGS
from yarvel.shanks.sizes import SYSTEMS
from yarvel.stones.cuts import CUTS
from yarvel.stones.species import ALIASES, SPECIES

FORMAT: Final = "yarvel-job/1"
LOWEST: Final = "lowest"
ALONG_FINGER, ALONG_BAND = "along-finger", "along-band"
STONE_AXES = (ALONG_FINGER, ALONG_BAND)
MENDS = TIGHTEN, RE_TIP, NEW_CLAWS = "tighten", "re-tip", "new-claws"

WAYS = (*MENDS, "new-head-bought", "new-head-made")
"""Ways out of a repair: the first three keep the head."""


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


class FrozenObject(dict[str, Any]):
    """An object of a document whose keys are words of the trade and not fields; hashable, never changed."""

    def __hash__(self) -> int:  # type: ignore[override]
        return hash(tuple(sorted(self.items())))


PlaceList = Annotated[tuple[Annotated[float, Between(-360, 360)], ...], Count(LEAST_CLAWS, MOST_CLAWS)]
_CONFIG = {"extra": "forbid", "allow_inf_nan": False}


@dataclass(frozen=True, kw_only=True)
class StoneJob:
    """The stone as measured. Lengths in mm. ``state`` is where it is as the work begins: absent (not in the piece),
    loose or held in it."""

    __pydantic_config__ = _CONFIG
    diameters_mm: Annotated[tuple[Annotated[float, Between(0.5, 40)], ...], Count(1, 12)] | None = None
    length_mm: Annotated[float, Between(0.5, 120)] | None = None
    width_mm: Annotated[float, Between(0.5, 40)] | None = None
    corner_mm: Annotated[float, Between(0.05, 15)] | None = None
    narrow_width_mm: Annotated[float, Between(0.3, 40)] | None = None
    cut: str = "round"
    species: str = "diamond"
    depth_mm: Annotated[float, Between(0.2, 40)] | None = None
    table_percent: Annotated[float, Between(30, 90)] | None = None
    girdle_mm: Annotated[float, Between(0.01, 5)] | None = None
    crown_height_mm: Annotated[float, Between(0.05, 20)] | None = None
    pavilion_depth_mm: Annotated[float, Between(0.05, 30)] | None = None
    resolution_mm: Annotated[float, Between(0.001, 0.5)] | None = None
    declared_ct: Annotated[float, Between(0.001, 500)] | None = None
    state: str = "absent"

    @property
    def across_mm(self) -> float:
        """Mean diameter, or the mean of length and width: what wires and burs are chosen by."""
        if self.diameters_mm:
            return sum(self.diameters_mm) / len(self.diameters_mm)
        return ((self.length_mm or 0.0) + (self.width_mm or 0.0)) / 2

    @property
    def least_mm(self) -> float:
        """Smallest diameter, or the width."""
        return min(self.diameters_mm) if self.diameters_mm else self.width_mm or 0.0


@dataclass(frozen=True)
class MadeJob:
    """A collet as it was measured once it was made: foot, top and height outside, wall across. Lengths in mm."""

    __pydantic_config__ = _CONFIG
    foot_mm: Annotated[float, Between(0.5, 40)]
    top_mm: Annotated[float, Between(0.5, 40)]
    height_mm: Annotated[float, Between(0.5, 30)]
    wall_mm: Annotated[float, Between(0.2, 3)]


@dataclass(frozen=True)
class TubeJob:
    """A length of tube in hand to drive a collet from, and how deep it is driven: until its foot, or its rim, measures
    so much outside; neither: as deep as the lowest seat asks. Lengths in mm."""

    __pydantic_config__ = _CONFIG
    outside_mm: Annotated[float, Between(0.8, 40)]
    wall_mm: Annotated[float, Between(0.2, 3)]
    length_mm: Annotated[float, Between(0.5, 30)]
    foot_mm: Annotated[float, Between(0.5, 40)] | None = None
    rim_mm: Annotated[float, Between(0.8, 40)] | None = None


@dataclass(frozen=True, kw_only=True)
class HeadJob:
    """The head as chosen; None is derived. Lengths in mm. ``exists``: it is made already, and nothing of it is made."""

    __pydantic_config__ = _CONFIG
    style: str = "wire-basket"
    claws: Annotated[int, Between(LEAST_CLAWS, MOST_CLAWS)] | None = None
    claw_mm: Annotated[float, Between(0.3, 3)] | None = None
    notch_ratio: Annotated[float, Between(0, 0.9)] | None = None
    orientation: str = "square"
    stone_axis: str = "along-finger"
    metal: str = "18k-yellow"
    splay_deg: Annotated[float, Between(0, 30)] | None = None
    rings: Annotated[int, Between(0, 2)] = 2
    ring_section: str = "round"
    posts: str = "grooved"
    legs: str | None = None
    ring_mm: Annotated[float, Between(0.3, 5)] | None = None
    ring_high_mm: Annotated[float, Between(0.3, 8)] | None = None
    ring_drop_mm: Annotated[float, Between(0.2, 3)] | None = None
    ring_lift_mm: Annotated[float, Between(0, 5)] | None = None
    wall_mm: Annotated[float, Between(0.3, 2)] | None = None
    outside_mm: Annotated[float, Between(0.8, 40)] | None = None
    seated: bool = False
    height_mm: Annotated[float, Between(1, 30)] | None = None
    cut: str = "bezel"
    included_angle_deg: Annotated[float, Between(4, 60)] | None = None
    made_for_mm: Annotated[float, Between(0.5, 40)] | None = None
    made_for_width_mm: Annotated[float, Between(0.5, 40)] | None = None
    label_ct: Annotated[float, Between(0.01, 100)] | None = None
    foot_mm: Annotated[float, Between(0.5, 40)] | None = None
    rail_mm: Annotated[float, Between(0.3, 30)] | None = None
    height_tip_mm: Annotated[float, Between(1, 40)] | None = None
    notched: bool = False
    opening_mm: Annotated[float, Between(0.3, 40)] | None = None
    peg_mm: Annotated[float, Between(0.3, 5)] | None = None
    trim_mm: Annotated[float, Between(0, 20)] | None = None
    school: str = "fold"
    v_from: str = "folded"
    v_foot_mm: Annotated[float, Between(0.3, 2.5)] | None = None
    claw_places_deg: PlaceList | None = None
    exists: bool = False
    made: MadeJob | None = None
    tube: TubeJob | None = None

    @property
    def seat_cut(self) -> bool:
        """Whether the seat is cut already: of a tube with its seat, of a head that is sold notched."""
        return self.seated or self.notched


@dataclass(frozen=True)
class SizeJob:
    """A finger size in its own system; ``eased_for_width`` once it allows for a wide band."""

    __pydantic_config__ = _CONFIG
    system: str
    value: str
    eased_for_width: bool = False


@dataclass(frozen=True)
class ShoulderJob:
    """Small rounds in the shoulders, the same on both sides. Lengths in mm."""

    __pydantic_config__ = _CONFIG
    diameter_mm: Annotated[float, Between(0.8, 4)] = 1.5
    count: Annotated[int, Between(1, 8)] = 1
    setting: str = "flush"


@dataclass(frozen=True)
class StockJob:
    """Stock in hand for the shank: its section and length in mm."""

    __pydantic_config__ = _CONFIG
    across_mm: Annotated[float, Between(1, 20)]
    down_mm: Annotated[float, Between(0.8, 10)]
    length_mm: Annotated[float, Between(5, 1000)]


@dataclass(frozen=True)
class BandStationJob:
    """The band's section at an angle from the head towards the back, alike on both sides; what is not given runs on
    between its neighbours. Lengths in mm."""

    __pydantic_config__ = _CONFIG
    turn_deg: Annotated[float, Between(5, 175)]
    width_mm: Annotated[float, Between(1, 15)] | None = None
    thickness_mm: Annotated[float, Between(0.8, 5)] | None = None
    profile: str | None = None


@dataclass(frozen=True, kw_only=True)
class ShankJob:
    """The shank: ``width_mm``, ``thickness_mm`` and ``profile`` all round, or at the back where the head's side is
    another; ``stations`` what it is between them; ``resized_from`` the size of a finished ring that is to become this
    one, ``resize_by`` a piece at the back or stretched (its measures are those of the ring as it is now); ``exists``:
    the band is there; ``stock`` what is in hand for it. Lengths in mm."""

    __pydantic_config__ = _CONFIG
    size: SizeJob
    width_mm: Annotated[float, Between(1, 15)] = 2.5
    thickness_mm: Annotated[float, Between(0.8, 5)] = 1.8
    profile: str = "flat"
    metal: str = "18k-yellow"
    head_width_mm: Annotated[float, Between(1, 15)] | None = None
    head_thickness_mm: Annotated[float, Between(0.8, 5)] | None = None
    head_profile: str | None = None
    stations: Annotated[tuple[BandStationJob, ...], Count(1, 8)] | None = None
    shoulder: ShoulderJob | None = None
    resized_from: SizeJob | None = None
    resize_by: str = resizing.PIECE
    exists: bool = False
    stock: StockJob | None = None


@dataclass(frozen=True)
class SlotJob:
    """The slot that an old head has left: its widths, and how far each end of the band stands above the finger; mm."""

    __pydantic_config__ = _CONFIG
    inside_mm: Annotated[float, Between(0.5, 20)]
    outside_mm: Annotated[float, Between(0.5, 25)] | None = None
    left_mm: Annotated[float, Between(0.3, 10)] | None = None
    right_mm: Annotated[float, Between(0.3, 10)] | None = None


@dataclass(frozen=True)
class BoughtBailJob:
    """A bail as it is sold, which hooks into the pendant's ring and is closed by its joint: what the chain goes
    through and what goes through the ring in mm, its mass in g, where they are known; pinched shut, or soldered."""

    __pydantic_config__ = _CONFIG
    opening_mm: Annotated[float, Between(0.8, 15)]
    wire_mm: Annotated[float, Between(0.2, 5)] | None = None
    mass_g: Annotated[float, Between(0.01, 50)] | None = None
    joint: str = pendant.PINCHED


@dataclass(frozen=True, kw_only=True)
class BailJob:
    """What a pendant hangs by: a ring of round wire above the head or hidden behind it, the end of the chain that has
    to go through it, and a bought bail between them, if any; mm."""

    __pydantic_config__ = _CONFIG
    inside_mm: Annotated[float, Between(0.8, 12)] = 3.0
    wire_mm: Annotated[float, Between(0.4, 3)] = 0.9
    chain_end_mm: Annotated[float, Between(0.3, 10)] | None = None
    height_mm: Annotated[float, Between(0, 25)] | None = None
    bought: BoughtBailJob | None = None
    place: str = pendant.ABOVE


@dataclass(frozen=True, kw_only=True)
class FitJob:
    """How the head meets the shank; ``height`` is "lowest" or the seat plane above the finger in mm; ``ring`` says
    whether an inset's ring is closed and sawn, or left an open C that the head closes."""

    __pydantic_config__ = _CONFIG
    method: str = "on-flat"
    height: Annotated[float, Between(1, 25)] | Literal["lowest"] = LOWEST
    below_ring_mm: Annotated[float, Between(2, 15)] | None = None
    hole: str = BLIND
    split_mm: Annotated[float, Between(2, 15)] | None = None
    let_mm: Annotated[float, Between(0.2, 4)] | None = None
    beside_mm: Annotated[float, Between(0.5, 8)] | None = None
    slot: SlotJob | None = None
    bail: BailJob | None = None
    ring: str = work_methods.CLOSED_RING


@dataclass(frozen=True)
class JointsJob:
    """How it is soldered: the school; an order of the groups of joints where it is not to be hottest first; and, by
    group, the grade of its solder, or fused, or welded."""

    __pydantic_config__ = _CONFIG
    school: str = STEP_DOWN
    order: Annotated[tuple[str, ...], Count(1, 40)] | None = None
    grades: dict[str, str] | None = None


@dataclass(frozen=True, kw_only=True)
class SettingJob:
    """How it is set: the schools of closing (and the pliers' ``jaws``; None: smooth steel), of cutting the notch (None:
    as is usual for the cut), of the tips (made ready before the stone, or trimmed after), of the laser at a loose
    joint; and heights of the table in mm over any level line, read at the claws in their order, counter-clockwise from
    along the band."""

    __pydantic_config__ = _CONFIG
    closing: str = work_methods.PUSHER
    jaws: str | None = None
    seat: str | None = None
    corner: str = work_methods.DRILLED
    tips: str = work_methods.TIPS_BEFORE
    tack: str | None = None
    table_heights_mm: Annotated[tuple[Annotated[float, Between(0, 60)], ...], Count(3, MOST_CLAWS)] | None = None


@dataclass(frozen=True)
class RouteJob:
    """What a person changed of the work's order: operations by key, each pair's first to come right after its second;
    operations left out; operations added, each a kind, the part that it is done to, and what it comes right after; and,
    by an operation's key, the kind that is done instead."""

    __pydantic_config__ = _CONFIG
    after: Annotated[tuple[tuple[str, str], ...], Count(1, 80)] | None = None
    without: Annotated[tuple[str, ...], Count(1, 80)] | None = None
    added: Annotated[tuple[tuple[str, str, str], ...], Count(1, 40)] | None = None
    methods: dict[str, str] | None = None


@dataclass(frozen=True)
class RepairJob:
    """A head that came back: what was found, by the claw's number; the way out chosen; the metal as tested (None: as
    the head's)."""

    __pydantic_config__ = _CONFIG
    claws: dict[str, tuple[str, ...]]
    way: str | None = None
    metal: str | None = None


@dataclass(frozen=True)
class AcceptedJob:
    """A call that somebody takes as it is: by its code and place, with the figure that it had; name and reason."""

    __pydantic_config__ = _CONFIG
    code: str
    by: str
    why: str
    place: str = ""
    figure: float | None = None


@dataclass(frozen=True, kw_only=True)
class Job:
    """One head for one stone, with its shank where it has one."""

    __pydantic_config__ = _CONFIG
    format: Literal["yarvel-job/1"]
    stone: StoneJob
    head: HeadJob = HeadJob()
    shank: ShankJob | None = None
    fit: FitJob | None = None
    joints: JointsJob | None = None
    setting: SettingJob | None = None
    route: RouteJob | None = None
    repair: RepairJob | None = None
    accepted: Annotated[tuple[AcceptedJob, ...], Count(1, 80)] | None = None

    @property
    def way(self) -> str:
        """The way out of a repair; "" where it is none."""
        return "" if self.repair is None or self.repair.way is None else self.repair.way

    @property
    def ring_exists(self) -> bool:
        """Whether the ring is there already: an old head's slot, another size, a repair, a ready band. Nothing of it is
        made anew, and a stone may be in it."""
        if self.shank is None:
            return False
        slot = None if self.fit is None else self.fit.slot
        return slot is not None or self.shank.resized_from is not None or self.shank.exists or self.way != ""

    @property
    def hangs_hidden(self) -> bool:
        """Whether it is a pendant on a ring that its stone hides."""
        return self.fit is not None and self.fit.bail is not None and self.fit.bail.place == pendant.BEHIND

    @property
    def head_exists(self) -> bool:
        """Whether the head is there already: as told, or in a repair that mends it."""
        return self.head.exists or self.way in MENDS


CHOICES: dict[str, tuple[str, ...]] = {
    "stone.cut": tuple(CUTS),
    "stone.species": (*SPECIES, *ALIASES),
    "head.style": tuple(STYLES),
    "head.cut": (tapered_collet.BEZEL, tapered_collet.CLAWS),
    "head.orientation": ORIENTATIONS,
    "head.ring_section": tuple(SECTIONS),
    "head.posts": tuple(POSTS),
    "head.legs": tuple(LEGS),
    "head.school": tuple(FOLD_METHODS),
    "head.v_from": tuple(MADE_FROM),
    "head.stone_axis": STONE_AXES,
    "head.metal": tuple(ALLOYS),
    "shank.metal": tuple(ALLOYS),
    "shank.profile": PROFILES,
    "shank.head_profile": PROFILES,
    "shank.shoulder.setting": SETTINGS,
    "shank.size.system": tuple(SYSTEMS),
    "shank.resized_from.system": tuple(SYSTEMS),
    "shank.resize_by": tuple(resizing.WAYS),
    "fit.method": (*METHODS, PENDANT),
    "fit.hole": HOLES,
    "joints.school": tuple(SOLDER_METHODS),
    "setting.closing": tuple(work_methods.CLOSINGS),
    "setting.jaws": tuple(work_methods.JAWS),
    "setting.seat": tuple(work_methods.SEATS),
    "setting.corner": tuple(work_methods.CORNERS),
    "setting.tips": tuple(work_methods.TIPS),
    "setting.tack": tuple(work_methods.TACKS),
    "stone.state": tuple(work_methods.STONE_STATES),
    "fit.ring": tuple(work_methods.RINGS),
    "fit.bail.place": tuple(pendant.PLACES),
    "fit.bail.bought.joint": pendant.BAIL_JOINTS,
    "repair.way": WAYS,
    "repair.metal": tuple(ALLOYS),
}
"""Fields that take one word of a list, and the list: what everybody knows."""
METAL_FIELDS = tuple(path for path in CHOICES if path.endswith(".metal"))

CUSTOM_FIELDS = (*METAL_FIELDS, "stone.species")
"""Fields that take a workshop's own too."""


def choices_of(path: str, rules: HouseRules) -> tuple[str, ...]:
    """The words that a field takes in this workshop."""
    own: tuple[CustomAlloy, ...] | tuple[CustomSpecies, ...] = ()
    if path in CUSTOM_FIELDS:
        own = rules.custom.metals if path in METAL_FIELDS else rules.custom.species
    return (*CHOICES[path], *(custom_choice.key for custom_choice in own))


_ALWAYS = {("Job", "format"), ("StoneJob", "cut")}
"""Fields that a document names even where they hold their default."""


def to_document(job: Job) -> dict[str, Any]:
    """The job as its document; what was not given is left out."""
    return _document(job)


def _document(part: Any) -> dict[str, Any]:
    document: dict[str, Any] = {}
    for item in fields(part):
        value = getattr(part, item.name)
        if value is None:
            continue
        if is_dataclass(value):
            document[item.name] = _document(value)
        elif isinstance(value, tuple):
            document[item.name] = [_document(part) if is_dataclass(part) else part for part in value]
        elif isinstance(value, dict):
            document[item.name] = dict(value)
        elif (type(part).__name__, item.name) in _ALWAYS or value != item.default:
            document[item.name] = value
    return document


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
    values_by_name = {}
    for name, hint in get_type_hints(kind).items():
        inner = [arm for kept in get_args(hint) for arm in get_args(kept)]
        arms = [arm for arm in (hint, *get_args(hint), *inner) if is_dataclass(arm)]
        if arms:
            values_by_name[name] = arms[0]
    return values_by_name


def _build(kind: Any, document: dict[str, Any]) -> Any:
    parts = _parts(kind)
    given: dict[str, Any] = {}
    for name, value in document.items():
        if name in parts and isinstance(value, dict):
            given[name] = _build(parts[name], value)
        elif name in parts and isinstance(value, list | tuple):
            given[name] = tuple(_build(parts[name], part) if isinstance(part, dict) else part for part in value)
        else:
            given[name] = _frozen(value)
    return kind(**given)


def _frozen(value: Any) -> Any:
    if isinstance(value, list | tuple):
        return tuple(_frozen(part) for part in value)
    if isinstance(value, dict):
        return FrozenObject((name, _frozen(part)) for name, part in value.items())
    return value


def merge_patch(document: dict[str, Any], patch: dict[str, Any]) -> dict[str, Any]:
    """Apply an RFC 7396 merge patch: null removes, objects merge, all else replaces."""
    merged = dict(document)
    for name, value in patch.items():
        if value is None:
            merged.pop(name, None)
        elif isinstance(value, dict):
            value_before = merged.get(name)
            merged[name] = merge_patch(value_before if isinstance(value_before, dict) else {}, value)
        else:
            merged[name] = value
    return merged


def patch_between(before: dict[str, Any], after: dict[str, Any]) -> dict[str, Any]:
    """The merge patch that turns one document into the other."""
    patch: dict[str, Any] = {name: None for name in before if name not in after}
    for name, value in after.items():
        value_before = before.get(name)
        if isinstance(value, dict) and isinstance(value_before, dict):
            if inner := patch_between(value_before, value):
                patch[name] = inner
        elif value != value_before:
            patch[name] = value
    return patch


def usual_claws_of(job: Job) -> int:
    """How many claws a job's head has: as given, as many as places are given, or as its cut usually has."""
    if job.head.claw_places_deg is not None:
        return len(job.head.claw_places_deg)
    return usual_claws(CUTS[job.stone.cut], job.stone.across_mm) if job.head.claws is None else job.head.claws


def is_measured(stone: dict[str, Any]) -> bool:
    """Whether the stone of a document is measured across, so that a plan can be made."""
    cut = CUTS.get(stone.get("cut", StoneJob.cut))
    needed = ("diameters_mm",) if cut is None or cut.is_round else ("length_mm", "width_mm")
    return all(stone.get(name) for name in needed)


def stand_in(stone: dict[str, Any]) -> dict[str, Any]:
    """Measures for a stone that is not measured yet, so that the rest of its job can be checked."""
    cut = CUTS.get(stone.get("cut", StoneJob.cut))
    if cut is None or cut.is_round:
        return {"diameters_mm": [5.0]}
    low, high = cut.aspect
    usual = min(max(1.0, low), high)
    width = stone.get("width_mm") or (stone.get("length_mm") or 5.0) / usual
    return {"width_mm": width, "length_mm": stone.get("length_mm") or width * usual}
