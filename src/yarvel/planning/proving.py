"""Remedies that were tried: what a call offers settles it and makes nothing else worse, by plan and by bodies; or it is
not offered. A remedy that only moves the trouble takes the next one along."""

from __future__ import annotations

from typing import Any

from msgspec.structs import replace

from yarvel.figures.errors import JobError
from yarvel.planning.bodies import bodies, judge
from yarvel.planning.diagnostics.diagnostic import CAUTION, LEVELS, NOTE, OK, STOP, Diagnostic
from yarvel.planning.job import from_document, merge_patch, to_document
from yarvel.planning.plan import Plan, plan

_SAMPLES, _MOST_TOGETHER = 400, 4
Patch = dict[str, Any]


def proven(judged: Plan) -> Plan:
    """A plan that its bodies have judged, with every remedy tried: made whole, or withdrawn."""
    calls = tuple(
        call if call.remedy is None or call.level == OK else _proven(judged, call) for call in judged.diagnostics
    )
    return replace(judged, diagnostics=calls)


def _proven(judged: Plan, call: Diagnostic) -> Diagnostic:
    """A call with a remedy that settles it, or with none."""
    before = _levels(judged.diagnostics)
    patch, label = dict(call.remedy or {}), call.remedy_label
    for _ in range(_MOST_TOGETHER):
        after = _tried(judged, patch)
        if after is None:
            break
        in_the_way = _in_the_way(call, before, after.diagnostics)
        if not in_the_way:
            return replace(call, remedy=patch, remedy_label=label)
        further = next((other for other in in_the_way if other.remedy is not None), None)
        if further is None:
            break
        wider = joined(patch, further.remedy or {})
        if wider == patch:
            break
        patch, label = wider, _both(label, further.remedy_label)
    return replace(call, remedy=None, remedy_label="")


def _tried(judged: Plan, patch: Patch) -> Plan | None:
    """The plan of the job with this patch, judged by its bodies; None where the job cannot be."""
    try:
        plan_tried = plan(from_document(merge_patch(to_document(judged.job), patch)), judged.rules, _SAMPLES)
    except JobError:
        return None
    report = judge(plan_tried, bodies(plan_tried), judged.rules)
    return plan_tried.judged(report.figures, report.diagnostics)


def _in_the_way(call: Diagnostic, before: dict[str, int], calls: tuple[Diagnostic, ...]) -> list[Diagnostic]:
    """What is not settled by a remedy: its own call, or others that it has made as bad as the one it is for."""
    settled = LEVELS.index(OK if call.level == NOTE else NOTE)
    bad = LEVELS.index(STOP if call.level == STOP else CAUTION)
    found = []
    for other in calls:
        level = LEVELS.index(other.level)
        if other.code == call.code:
            if level < settled:
                found.append(other)
        elif level <= bad and level < before.get(other.code, len(LEVELS)):
            found.append(other)
    return found


def _levels(calls: tuple[Diagnostic, ...]) -> dict[str, int]:
    """The worst level of each code, as its place among the levels."""
    level_by_code: dict[str, int] = {}
    for call in calls:
        place = LEVELS.index(call.level)
        level_by_code[call.code] = min(place, level_by_code.get(call.code, place))
    return level_by_code


def joined(first: Patch, then: Patch) -> Patch:
    """Both merge patches as one, the later winning; what they remove stays removed."""
    patch = dict(first)
    for name, value in then.items():
        value_before = patch.get(name)
        patch[name] = (
            joined(value_before, value) if isinstance(value_before, dict) and isinstance(value, dict) else value
        )
    return patch


def _both(label: str, further: str) -> str:
    return label if further in label else f"{label}, {further[:1].lower()}{further[1:]}"
