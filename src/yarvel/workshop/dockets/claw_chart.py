"""The claw chart of a docket: what was found on each claw, as it is stored; how fast claws wear between visits."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, datetime
from typing import Any, Protocol

from msgspec.structs import replace

from yarvel.clock import local
from yarvel.figures.rules import HouseRules
from yarvel.heads.wear import FINDINGS, FORMER_FINDINGS, SOUND, ClawFound, least_tip_mm, next_inspection, wear_mm_a_year

MEASURES = ("width", "tip", "behind")
MOST_MM = 5.0


class Charted(Protocol):
    """A docket with a claw chart."""

    @property
    def claw_chart(self) -> dict[str, Any]: ...
    @property
    def created_at(self) -> datetime: ...


def found_on(docket: Charted, count: int) -> tuple[ClawFound, ...]:
    """What was found on each of ``count`` claws; those not looked at yet are sound and unmeasured."""
    claw_rows = docket.claw_chart.get("claws")
    rows: list[Any] = claw_rows if isinstance(claw_rows, list) else []
    return tuple(
        _found(rows[place]) if place < len(rows) and isinstance(rows[place], dict) else ClawFound()
        for place in range(count)
    )


def _found(row: dict[str, Any]) -> ClawFound:
    finding = finding_key(row.get("finding"))
    measures = {name: float(row[name]) for name in MEASURES if isinstance(row.get(name), int | float)}
    others = row.get("also")
    also = [finding_key(other) for other in others] if isinstance(others, list) else []
    return ClawFound(SOUND, **measures, also=()).having(key for key in dict.fromkeys((finding, *also)) if key != SOUND)


def measured(claw: ClawFound, name: str, value: float | None) -> ClawFound:
    """A claw with one of its ``MEASURES`` read, mm, or no longer known."""
    changes: dict[str, Any] = {name: value}
    return replace(claw, **changes)


def finding_key(written: object) -> str:
    """A finding's key as a chart holds it, also by its former name; what is no finding is sound."""
    key = FORMER_FINDINGS.get(str(written), str(written))
    return key if key in FINDINGS else SOUND


def chart_with(chart: dict[str, Any], found: tuple[ClawFound, ...], seen: date) -> dict[str, Any]:
    """The chart with these claws, looked at on this day; what else it holds stays."""
    rows = [
        {
            "finding": claw.finding,
            **({"also": list(claw.also)} if claw.also else {}),
            **{name: getattr(claw, name) for name in MEASURES if getattr(claw, name) is not None},
        }
        for claw in found
    ]
    return {**chart, "claws": rows, "seen": seen.isoformat()}


def seen_on(docket: Charted) -> date:
    """The day on which the claws were looked at: as noted, or when the docket was taken in."""
    try:
        return date.fromisoformat(str(docket.claw_chart.get("seen", "")))
    except ValueError:
        return local(docket.created_at).date()


def wear_since(docket: Charted, before: Sequence[Charted], count: int) -> float | None:
    """Fastest wear of a tip in mm a year, against the newest earlier visit that measured it; None where none did."""
    now, today = found_on(docket, count), seen_on(docket)
    rates = []
    for place, claw in enumerate(now):
        for visit in before:
            then = found_on(visit, count)[place]
            if claw.tip is not None and then.tip is not None:
                rate = wear_mm_a_year(seen_on(visit), then.tip, today, claw.tip)
                rates += [] if rate is None else [rate]
                break
    return max(rates) if rates else None


def inspect_next(
    docket: Charted, before: Sequence[Charted], count: int, width: float, rules: HouseRules
) -> date | None:
    """When to look at the head again, by its thinnest tip and its fastest wear; None where no tip was measured."""
    tips = [
        (claw.tip, claw.width if claw.width is not None else width)
        for claw in found_on(docket, count)
        if claw.tip is not None
    ]
    if not tips:
        return None
    wear = wear_since(docket, before, count)
    return min(next_inspection(seen_on(docket), tip, least_tip_mm(wide, rules), wear, rules) for tip, wide in tips)
