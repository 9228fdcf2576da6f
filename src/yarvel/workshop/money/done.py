"""What is done for the money, as a customer reads it: a few words from the work itself."""

from __future__ import annotations

from collections.abc import Sequence

from yarvel.heads.style import BOUGHT, CAST
from yarvel.heads.styles import STYLES
from yarvel.planning.job import NEW_CLAWS, RE_TIP, TIGHTEN
from yarvel.planning.plan import Plan
from yarvel.route.card import sections
from yarvel.shanks import cast_on
from yarvel.workshop.dockets.records import Docket
from yarvel.workshop.work.docket_work import way_of, work_of

_OF_WAYS = {
    TIGHTEN: "claws tightened",
    RE_TIP: "worn claws re-tipped",
    NEW_CLAWS: "claws renewed",
    "new-head-bought": "new head",
    "new-head-made": "new head",
}

_HEADS = {BOUGHT: "bought head", CAST: "head cast to order"}
"""How a head comes that nobody makes here."""

_AT_LAST = {"set": "stone set", "finish": "finished and polished"}


def done_words(plan: Plan | None, docket: Docket) -> str:
    """What is done to a piece, in its order; "" where there is no plan. Nothing is made that is there or bought."""
    if plan is None:
        return ""
    work = work_of(plan, docket, plan.rules)
    keys = {section.key for section in sections(work.route, work.plan)}
    job, way = work.plan.job, way_of(docket)
    cast_whole = job.fit is not None and job.fit.method == cast_on.METHOD
    words = []
    if job.shank is not None and not job.ring_exists:
        words.append("shank cast with its head" if cast_whole else "shank made")
    if job.shank is not None and job.shank.resized_from is not None:
        words.append("ring sized")
    if way:
        words.append(_OF_WAYS[way])
    elif not job.head_exists and not cast_whole:
        words.append(_HEADS.get(STYLES[job.head.style].COMES, "head made"))
    if "fit" in keys and not job.head_exists:
        words.append("head and shank joined" if job.shank is not None else "made to hang")
    words += [said for key, said in _AT_LAST.items() if key in keys]
    return _sentence(words)


def _sentence(words: Sequence[str]) -> str:
    text = ", ".join(words)
    return f"{text[:1].upper()}{text[1:]}." if text else ""
