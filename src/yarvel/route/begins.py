"""How the work on a plan begins: what is there already, what is made, what makes room for something else."""

from __future__ import annotations

from collections.abc import Mapping

from yarvel.heads.styles import STYLES
from yarvel.planning.plan import Plan
from yarvel.shanks import cast_on


class Beginning:
    """What a plan says of its beginning."""

    def __init__(self, plan: Plan) -> None:
        self.plan = plan

    @property
    def comes(self) -> str:
        """How the head's style comes to be."""
        return STYLES[self.plan.job.head.style].COMES

    @property
    def exists(self) -> bool:
        """Whether the ring is there already: an old slot, another size."""
        return self.plan.job.ring_exists

    @property
    def makes_head(self) -> bool:
        """Whether the head is made here, or picked as its style says."""
        return not self.plan.job.head_exists and self.plan.job.way != "new-head-bought"

    @property
    def one_piece(self) -> bool:
        """Whether head and band are cast in one piece."""
        fit = self.plan.job.fit
        return fit is not None and fit.method == cast_on.METHOD and self.plan.job.shank is not None

    @property
    def replaces(self) -> bool:
        """Whether an old head makes room for another."""
        job = self.plan.job
        slot = None if job.fit is None else job.fit.slot
        return (slot is not None or job.way.startswith("new-head")) and not job.head_exists

    @property
    def head_there(self) -> bool:
        """Whether the head is there already: nothing of it is made."""
        return self.plan.job.head_exists

    @property
    def volumes(self) -> Mapping[str, float]:
        """Volumes of the bodies' parts, mm³; empty while the plan is not weighed."""
        return self.plan.volumes
