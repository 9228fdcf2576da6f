"""What is done for the money, as a customer reads it: a few words from the work itself."""

from __future__ import annotations

from collections.abc import Sequence

from yarvel.planning.job import NEW_CLAWS, RE_TIP, TIGHTEN
from yarvel.planning.plan import Plan
from yarvel.route.card import sections
from yarvel.workshop.dockets.records import Docket
from yarvel.workshop.work.docket_work import way_of, work_of

_OF_WAYS = {
    TIGHTEN: "claws tightened",
    RE_TIP: "worn claws re-tipped",
    NEW_CLAWS: "claws renewed",
    "new-head-bought": "new head",
    "new-head-made": "new head",
}
_OF_SECTIONS = {
    "shank": "shank made",
    "head": "head made",
    "mend": "head mended",
    "fit": "head and shank joined",
    "set": "stone set",
    "finish": "finished and polished",
}

_SAID = frozenset({"mend", "head"})
"""Sections that go without saying where a way of mending says what is done to the head."""


def done_words(plan: Plan | None, docket: Docket) -> str:
    """What is done to a piece, in its order; "" where there is no plan."""
    if plan is None:
        return ""
    way = way_of(docket)
    work = work_of(plan, docket, plan.rules)
    keys = [section.key for section in sections(work.route, work.plan)]
    words = [_OF_WAYS[way]] if way else []
    words += [_OF_SECTIONS[key] for key in keys if key in _OF_SECTIONS and not (way and key in _SAID)]
    return _sentence(list(dict.fromkeys(words)))


def _sentence(words: Sequence[str]) -> str:
    text = ", ".join(words)
    return f"{text[:1].upper()}{text[1:]}." if text else ""
