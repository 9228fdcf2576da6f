"""What is made already is as it is: a remedy that would have it otherwise asks for another instead."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace
from typing import Any

from yarvel.heads.tapered_collet import BY_MEASURE
from yarvel.planning.calls.call import Call
from yarvel.planning.job import LOWEST, Job


def for_made(calls: Iterable[Call], job: Job) -> list[Call]:
    """Calls, those of a measured collet with remedies that a collet which is made can have."""
    return list(calls) if job.head.made is None else [_other(call) for call in calls]


def _other(call: Call) -> Call:
    if call.remedy is None or not _makes_anew(call.remedy):
        return call
    return replace(call, remedy={"head": {"made": None}}, remedy_label="Make another collet")


def _makes_anew(remedy: dict[str, Any]) -> bool:
    """Whether it asks for another height, wall, angle or ledge than the collet has."""
    height = (remedy.get("fit") or {}).get("height", LOWEST)
    return height != LOWEST or bool({"height_mm", *BY_MEASURE} & set(remedy.get("head") or {}))
