"""What a call is, and what it is made from."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from yarvel.figures.figure import Figure
from yarvel.figures.rules import HouseRules
from yarvel.heads.styles import STYLES
from yarvel.metals.alloys import Alloy
from yarvel.metals.joints import Joint
from yarvel.planning.job import Job
from yarvel.shanks.blanks import Band
from yarvel.stones.species import Species

STOP, CAUTION, NOTE, OK = "stop", "caution", "note", "ok"
LEVELS = (STOP, CAUTION, NOTE, OK)


@dataclass(frozen=True)
class Situation:
    """All that a judgement may look at."""

    job: Job
    rules: HouseRules
    figures: dict[str, Figure]
    joints: tuple[Joint, ...]
    bur_steps_mm: tuple[float, ...]
    band: Band | None
    species: Species
    alloy: Alloy
    diameter: float
    method: str | None

    def has(self, key: str) -> bool:
        """Whether the plan has this figure."""
        return key in self.figures

    def can_set(self, field: str) -> bool:
        """Whether the head's style reads this field of the job."""
        return field in STYLES[self.job.head.style].FIELDS

    def __getitem__(self, key: str) -> float:
        return self.figures[key].value


@dataclass(frozen=True)
class Call:
    """One judgement.

    ``figure`` stands against ``limit`` in ``unit`` (None where a judgement has no number); ``about`` names the
    place on the drawing; ``remedy`` is a merge patch for the job, ``remedy_label`` what its button says.
    """

    code: str
    level: str
    title: str
    message: str
    figure: float | None = None
    limit: float | None = None
    unit: str = ""
    about: str = ""
    figure_key: str = ""
    remedy: dict[str, Any] | None = None
    remedy_label: str = ""
