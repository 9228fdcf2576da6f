"""What a docket takes: its tasks from the plan or the repair chosen, and its price from time and metal."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date

from yarvel.metals.alloys import alloy_of
from yarvel.planning.material import material
from yarvel.planning.plan import Plan
from yarvel.planning.work import work_steps
from yarvel.workshop.dockets import Docket
from yarvel.workshop.operations import OPERATIONS, Operation

CHECK = "Check before release"
_BY_REPAIR = ("Make the head", "Cut the metal", "Fit head and shank", "Hang it")
"""Steps that a repair's own task stands for."""


def tasks_of(
    plan: Plan | None, docket: Docket, operations: Mapping[str, Operation] = OPERATIONS
) -> list[tuple[str, float]]:
    """Operations in the order of the work with their standard minutes: the plan's steps, or for a repair the way out
    chosen, the seat and the finish; the check last. Without a plan only the check."""
    claws, joints = (0, 0) if plan is None else (len(plan.shape.places), len(plan.joints))
    names = [] if plan is None else [step.name for step in work_steps(plan)]
    chosen = str(docket.claw_chart.get("chosen", ""))
    minutes: dict[str, float] = {}
    if chosen in operations:
        own = docket.claw_chart.get("minutes")
        minutes[chosen] = float(own) if isinstance(own, int | float) else operations[chosen].minutes
        kept = [name for name in names if name not in _BY_REPAIR and (chosen != "Tighten" or name == "Finish")]
        names = [chosen, *[name for name in kept if chosen.startswith("New head") or name not in ("Solder",)]]
    names = [*names, CHECK]
    return [(name, minutes.get(name, operations[name].standard(claws, joints))) for name in names if name in operations]


@dataclass(frozen=True)
class Estimate:
    """A price from time and metal, in the workshop's own money: minutes, g by alloy; ``unpriced`` the alloys that have
    no price yet."""

    minutes: float
    labour: float
    metal: float
    unpriced: tuple[str, ...]

    @property
    def total(self) -> float:
        """Labour and metal; stones and margin come on top."""
        return self.labour + self.metal

    def kept(self, day: date) -> dict[str, object]:
        """As it stands on a docket."""
        return {
            "minutes": round(self.minutes, 1),
            "labour": round(self.labour, 2),
            "metal": round(self.metal, 2),
            "unpriced": list(self.unpriced),
            "on": day.isoformat(),
        }


def price_text(docket: Docket) -> str:
    """The price on a docket in a line, its stones included; "" where none was worked out."""
    held, stones = docket.estimate, docket.stones_price
    parts = {name: held.get(name) for name in ("minutes", "labour", "metal")}
    numbers = {name: float(value) for name, value in parts.items() if isinstance(value, int | float)}
    if len(numbers) < len(parts):
        return ""
    total = numbers["labour"] + numbers["metal"] + (stones or 0.0)
    unpriced = held.get("unpriced")
    missing = [str(name) for name in unpriced] if isinstance(unpriced, list) else []
    missing += ["the stones"] if stones is None else []
    open_ones = f". No price yet for {', '.join(missing)}" if missing else ""
    stones_part = "" if stones is None else f" + stones {stones:.0f}"
    return (
        f"{numbers['minutes'] / 60:.1f} h: labour {numbers['labour']:.0f} + metal {numbers['metal']:.0f}"
        f"{stones_part} = {total:.0f}{open_ones}. Worked out on {held.get('on', '')}."
    )


def estimate(plan: Plan | None, tasks: list[tuple[str, float]], hour_rate: float) -> Estimate:
    """The price of these tasks and of the plan's metal: what is issued less what comes back."""
    minutes = sum(minute for _, minute in tasks)
    metal, unpriced = 0.0, []
    if plan is not None:
        balance = material(plan)
        for key, issued in balance.issued.items():
            alloy = alloy_of(key, plan.rules)
            metal += max(issued - balance.back[key], 0.0) * alloy.price_per_g
            if alloy.price_per_g == 0:
                unpriced.append(alloy.label)
    return Estimate(minutes, minutes / 60 * hour_rate, metal, tuple(unpriced))
