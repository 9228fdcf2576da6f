"""What is made already is as it is: a remedy that would have it otherwise asks for another instead."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from msgspec.structs import replace

from yarvel.heads.tapered_collet import BY_MEASURE, BY_TUBE
from yarvel.planning.diagnostics.diagnostic import Diagnostic
from yarvel.planning.job import LOWEST, Job


def for_made(calls: Iterable[Diagnostic], job: Job) -> list[Diagnostic]:
    """Calls, those of a measured collet with remedies that a collet which is made can have."""
    if job.head.made is None and job.head.tube is None:
        return list(calls)
    return [_other(call, job) for call in calls]


def _other(call: Diagnostic, job: Job) -> Diagnostic:
    if job.head.tube is not None and job.head.made is None:
        by_tube = set(BY_TUBE) & set((call.remedy or {}).get("head") or {})
        return replace(call, remedy={"head": {"tube": None}}, remedy_label="Another tube") if by_tube else call
    if call.remedy is None or not _makes_anew(call.remedy):
        return call
    return replace(call, remedy={"head": {"made": None}}, remedy_label="Make another collet")


def _makes_anew(remedy: dict[str, Any]) -> bool:
    """Whether it asks for another height, wall, angle or ledge than the collet has."""
    height = (remedy.get("fit") or {}).get("height", LOWEST)
    return height != LOWEST or bool({"height_mm", *BY_MEASURE} & set(remedy.get("head") or {}))
