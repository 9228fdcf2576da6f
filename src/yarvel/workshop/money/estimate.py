"""What a docket takes: its tasks from the plan or the repair chosen, and its price from time and metal."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import date

from msgspec import Struct

from yarvel.figures.rules import HouseRules
from yarvel.metals.alloys import alloy_of
from yarvel.operations.register import REGISTER
from yarvel.planning.plan import Plan
from yarvel.planning.weighing import weighed
from yarvel.route.balance import added_g
from yarvel.route.card import CHECK, sections, tasks
from yarvel.workshop.dockets.records import Docket
from yarvel.workshop.money.amounts import written
from yarvel.workshop.money.pricing import approval, bill_of
from yarvel.workshop.work.docket_work import way_of, work_of
from yarvel.workshop.work.standards import STANDARDS, Standard, base_of
from yarvel.workshop.work.tasks import Wanted


def tasks_of(
    plan: Plan | None, docket: Docket, rules: HouseRules, standards: Mapping[str, Standard] = STANDARDS
) -> list[Wanted]:
    """Parts of the work in its order with their standard minutes, at the workshop's pace, their waits and stations: the
    route's, of a repair the chosen way's. Without a plan only the check before release."""
    if plan is None:
        return [Wanted(CHECK, REGISTER["release"].minutes)]
    work = work_of(plan, docket, rules)
    return [
        Wanted(
            section.key,
            round(section.minutes * standards[base_of(section.key)].pace / 100, 1),
            section.wait_minutes,
            section.station,
        )
        for section in tasks(sections(work.route, work.plan))
    ]


STALE_DAYS = 7
"""Metal prices older than this are told as stale; our own choice."""


class Estimate(Struct, frozen=True, kw_only=True):
    """A price from time and metal, in the workshop's own money: minutes, g by alloy; ``unpriced`` the alloys that have
    no price yet; ``prices_on`` the day of the metal prices, where they came from a file; ``own_stone`` whether the
    stone is the customer's, who brought it in the piece that is mended."""

    minutes: float
    labour: float
    metal: float
    unpriced: tuple[str, ...]
    prices_on: str = ""
    own_stone: bool = False

    @property
    def total(self) -> float:
        """Labour and metal; stones and margin come on top."""
        return self.labour + self.metal

    def kept(self, day: date) -> dict[str, object]:
        """As it stands on a docket."""
        return {
            "minutes": round(self.minutes, 1),
            "labour": round(self.labour, 6),  # money is rounded once, where it becomes a line
            "metal": round(self.metal, 6),
            "unpriced": list(self.unpriced),
            "on": day.isoformat(),
            **({"prices_on": self.prices_on} if self.prices_on else {}),
            **({"own_stone": True} if self.own_stone else {}),
        }


def price_text(docket: Docket, rules: HouseRules) -> str:
    """The price on a docket in a line, its stones included; "" where none was worked out."""
    bill = bill_of(docket, rules)
    if bill is None:
        return ""
    open_ones = f". No price yet for {', '.join(bill.open)}" if bill.open else ""
    prices_on = str(docket.estimate.get("prices_on", ""))
    if prices_on:
        stale = " (stale)" if is_stale(prices_on, str(docket.estimate.get("on", ""))) else ""
        open_ones += f", metal at prices of {prices_on}{stale}"
    parts = " + ".join(f"{word} {written(amount, bill.currency)}" for word, amount in bill.lines)
    tax = f", with {bill.tax_percent:g} % tax {written(bill.total, bill.currency)}" if bill.tax_percent else ""
    approved, house, on = approval(docket, bill), ", ".join(bill.house), docket.estimate.get("on", "")
    return (
        f"{parts} = {written(bill.net, bill.currency)}{tax} ({house}){open_ones}. Worked out on {on}."
        f"{f' {approved}' if approved else ''}"
    )


def is_stale(prices_on: str, on: str) -> bool:
    """Whether metal prices are too old on a day, both ISO; what is no day is."""
    try:
        return (date.fromisoformat(on) - date.fromisoformat(prices_on)).days > STALE_DAYS
    except ValueError:
        return True


def estimate(plan: Plan | None, docket: Docket, wanted: Sequence[Wanted], rules: HouseRules) -> Estimate:
    """The price of these tasks and of the metal that the route adds to the piece."""
    minutes = sum(wanted_task.minutes for wanted_task in wanted)
    metal, unpriced = 0.0, []
    if plan is not None:
        for key, grams in added_g(work_of(weighed(plan), docket, rules).route).items():
            alloy = alloy_of(key, plan.rules)
            metal += grams * alloy.price_per_g
            if alloy.price_per_g == 0:
                unpriced.append(alloy.label)
    labour = minutes / 60 * rules.hour_rate
    return Estimate(
        minutes=minutes,
        labour=labour,
        metal=metal,
        unpriced=tuple(unpriced),
        prices_on=rules.custom.prices_on,
        own_stone=bool(way_of(docket)),
    )
