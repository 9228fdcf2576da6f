"""What a house rule changes on the piece in hand: found by changing it a little and planning again."""

from __future__ import annotations

from typing import Any

from yarvel.figures.errors import JobError
from yarvel.figures.lookup import first_of
from yarvel.figures.rules import RULES, HouseRules
from yarvel.planning.job import Job
from yarvel.planning.plan import Plan, plan

_NUDGE_SHARE = 0.08


def effects(job: Job, rules: HouseRules, name: str) -> tuple[list[str], list[str]]:
    """Labels of the figures, and titles of the calls, that a little more of this rule changes on this job."""
    info = first_of(rule for rule in RULES if rule.name == name)
    now = float(getattr(rules, name))
    step = max(_NUDGE_SHARE * (info.high - info.low), 1e-3)
    other = now + step if now + step <= info.high else now - step
    try:
        before = plan(job, rules, samples=0)
        nudged: dict[str, Any] = {name: other}
        after = plan(job, rules.but(**nudged), samples=0)
    except JobError:
        return [], []
    return _figures(before, after), _calls(before, after)


def _figures(before: Plan, after: Plan) -> list[str]:
    changed_labels = []
    for key, figure in before.figures.items():
        other = after.figures.get(key)
        if other is None or abs(other.value - figure.value) > 1e-9 * max(abs(figure.value), 1.0):
            changed_labels.append(figure.label)
    return list(dict.fromkeys(changed_labels))


def _calls(before: Plan, after: Plan) -> list[str]:
    calls_before = {call.code: (call.level, call.limit, call.figure) for call in after.diagnostics}
    changed = [
        call.title
        for call in before.diagnostics
        if calls_before.get(call.code) != (call.level, call.limit, call.figure)
    ]
    return list(dict.fromkeys(changed))
