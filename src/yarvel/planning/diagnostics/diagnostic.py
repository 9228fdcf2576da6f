"""What a call is, and what it is made from."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from msgspec import Struct

from yarvel.figures.figure import Figure, FigureKey
from yarvel.figures.rules import HouseRules
from yarvel.heads import bought, notches
from yarvel.heads.shape import HeadShape
from yarvel.heads.style import HeadStyle, StoneFacts
from yarvel.heads.styles import STYLES
from yarvel.metals.alloys import Alloy
from yarvel.metals.joints import Joint
from yarvel.operations.joint_groups import SHANK_SEAM
from yarvel.planning.compatibility import fields_of
from yarvel.planning.job import Job
from yarvel.planning.work_methods import OPEN_RING
from yarvel.shanks.band import Band
from yarvel.shanks.joinery import Joinery
from yarvel.stones.species import Species

STOP, CAUTION, NOTE, OK = "stop", "caution", "note", "ok"
LEVELS = (STOP, CAUTION, NOTE, OK)


class Situation(Struct, frozen=True, kw_only=True):
    """All that a judgement may look at."""

    job: Job
    rules: HouseRules
    figures: dict[FigureKey, Figure]
    joints: tuple[Joint, ...]
    bur_steps_mm: tuple[float, ...]
    band: Band | None
    species: Species
    alloy: Alloy
    facts: StoneFacts
    shape: HeadShape
    method: str | None
    joinery: Joinery | None
    conditions: Mapping[str, float]

    @property
    def diameter(self) -> float:
        """What wires and burs are chosen by, mm: the mean diameter, or the mean of length and width."""
        return self.facts.nominal_diameter_mm

    @property
    def claws_heated(self) -> bool:
        """Whether a torch joint heats the claws before the stone goes in: what is soldered is annealed by it."""
        return any(joint.group != SHANK_SEAM for joint in self.joints)

    def has(self, key: FigureKey) -> bool:
        """Whether the plan has this figure."""
        return key in self.figures

    @property
    def shallowest(self) -> FigureKey:
        """Key of the notch that holds least: a bought head's claws may each take another."""
        return bought.shallowest_ratio if self.has(bought.shallowest_ratio) else notches.notch_ratio

    @property
    def style(self) -> HeadStyle:
        """The head's style."""
        return STYLES[self.job.head.style]

    def can_set(self, field: str) -> bool:
        """Whether the head's style reads this field of the job."""
        return field in fields_of(self.job.head)

    @property
    def open_ring(self) -> bool:
        """Whether the ring is bent as an open C to its head: nothing is sawn out of it."""
        return self.job.fit is not None and self.job.fit.ring == OPEN_RING

    def wider_band(self, width_mm: float) -> dict[str, Any]:
        """The patch that makes the band this wide at the head."""
        return {"shank": {self._at_head("width_mm"): width_mm}}

    def thicker_band(self, thickness_mm: float) -> dict[str, Any]:
        """The patch that makes the band this thick at the head."""
        return {"shank": {self._at_head("thickness_mm"): thickness_mm}}

    def _at_head(self, name: str) -> str:
        given = self.job.shank is not None and getattr(self.job.shank, f"head_{name}") is not None
        return f"head_{name}" if given else name

    def __getitem__(self, key: FigureKey) -> float:
        return self.figures[key].value


class Diagnostic(Struct, frozen=True, kw_only=True):
    """One judgement.

    ``figure`` stands against ``limit`` in ``unit`` (None where a judgement has no number); ``of`` is the plan's figure
    that it judges, ``about`` names the place on the drawing; ``remedy`` is a merge patch for the job, ``remedy_label``
    what its button says; ``at`` the key of the operation that it belongs to. ``accepted_by`` and ``accepted_why`` tell
    who takes it as it is.
    """

    code: str
    level: str
    title: str
    message: str
    figure: float | None = None
    limit: float | None = None
    unit: str = ""
    about: str = ""
    of: FigureKey | None = None
    remedy: dict[str, Any] | None = None
    remedy_label: str = ""
    at: str = ""
    accepted_by: str = ""
    accepted_why: str = ""

    @property
    def figure_key(self) -> str:
        """Key of the figure that stands there, as in the plan document; empty where it is none of the plan's."""
        return "" if self.of is None else self.of.key

    @property
    def place(self) -> str:
        """Where it is said: at an operation, or of a figure, or of a place on the drawing."""
        return self.at or self.figure_key or self.about

    @property
    def open(self) -> bool:
        """Whether it still asks for something: it does not hold, and nobody takes it as it is."""
        return self.level != OK and not self.accepted_by
