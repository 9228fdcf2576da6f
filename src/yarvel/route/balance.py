"""What a route takes of metal, and what becomes of it: sums over its operations, nothing else."""

from __future__ import annotations

from collections import defaultdict

from msgspec import Struct

from yarvel.operations.lot import Lot
from yarvel.route.running import Route


class RouteBalance(Struct, frozen=True):
    """Of one metal, g: issued (solder too), in the finished piece (of what was there already only what was added, less
    what was taken off), back as offcuts, and what the operations made dust of."""

    issue_g: float
    finished_g: float
    back_g: float
    filings_g: float

    @property
    def open(self) -> float:
        """What does not add up, g."""
        return self.issue_g - self.finished_g - self.back_g - self.filings_g


def taken(route: Route) -> tuple[Lot, ...]:
    """Everything that is taken from stock, in working order."""
    return tuple(lot for step in route.steps for lot in step.operation.takes)


def given_back(route: Route) -> tuple[Lot, ...]:
    """Everything that comes back in one piece, in working order."""
    return tuple(lot for step in route.steps for lot in step.operation.gives)


def added_g(route: Route) -> dict[str, float]:
    """What is added of each metal to the piece, g: what a customer pays. An old part that is taken off is theirs."""
    found: dict[str, float] = defaultdict(float)
    for part in route.done.parts.values():
        found[part.metal.key] += max(part.volume_mm3, 0.0) * part.metal.density_g_cm3 / 1000
    return {metal: grams for metal, grams in found.items() if grams > 0}


def balances(route: Route) -> dict[str, RouteBalance]:
    """The balance of every metal that is issued, comes back or is filed, by alloy."""
    issue: dict[str, float] = defaultdict(float)
    back: dict[str, float] = defaultdict(float)
    filings: dict[str, float] = defaultdict(float)
    finished: dict[str, float] = defaultdict(float)
    for lot in taken(route):
        issue[lot.metal] += lot.grams
    for lot in given_back(route):
        back[lot.metal] += lot.grams
    for step in route.steps:
        for metal, grams in step.lost_g.items():
            filings[metal] += grams
    for part in route.done.parts.values():
        finished[part.metal.key] += part.volume_mm3 * part.metal.density_g_cm3 / 1000
    return {
        metal: RouteBalance(issue[metal], finished[metal], back[metal], filings[metal])
        for metal in dict.fromkeys((*issue, *back, *filings))
    }
