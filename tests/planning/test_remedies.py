"""Remedies as offered, over random jobs of every cut, head and fit: each settles its call and makes no other as bad."""

from __future__ import annotations

from hypothesis import given, settings

from tests.strategies import jobs
from yarvel.figures.rules import HouseRules
from yarvel.planning.diagnostics.diagnostic import LEVELS, NOTE, OK, STOP
from yarvel.planning.job import Job, from_document, merge_patch, to_document
from yarvel.planning.plan import plan
from yarvel.planning.proving import joined, proven
from yarvel.planning.weighing import weighed

RULES = HouseRules()
RANK = {level: place for place, level in enumerate(reversed(LEVELS))}


@settings(max_examples=6)
@given(jobs())
def test_every_remedy_settles_its_call_and_spoils_no_other(job: Job) -> None:
    """By plans and closed bodies of the job that the remedy makes."""
    made = proven(weighed(plan(job, RULES, 400)))
    before: dict[str, int] = {}
    for call in made.diagnostics:
        before[call.code] = max(before.get(call.code, 0), RANK[call.level])
    for call in made.diagnostics:
        if call.remedy is None or call.level == OK:
            continue
        after = weighed(plan(from_document(merge_patch(to_document(job), call.remedy)), RULES, 400))
        settled = RANK[OK] if call.level == NOTE else RANK[NOTE]
        assert all(RANK[other.level] <= settled for other in after.diagnostics if other.code == call.code), call
        spoilt = [
            other.code
            for other in after.diagnostics
            if other.code != call.code and other.level == STOP and before.get(other.code, 0) < RANK[STOP]
        ]
        assert not spoilt, (call.code, call.remedy, spoilt)


def test_patches_together_keep_what_each_removes() -> None:
    first = {"head": {"claws": 6, "height_mm": None}, "fit": {"method": "inset"}}
    then = {"fit": {"height": 3.2, "method": "on-flat"}}
    both = joined(first, then)
    document = {"head": {"claws": 4, "height_mm": 5.0}, "fit": {"method": "peg"}}
    assert merge_patch(document, both) == merge_patch(merge_patch(document, first), then)
